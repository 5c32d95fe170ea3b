"""What line looks share to suit a photo: its range of tone, and the scale it is judged at."""

import numpy as np

from flinz.core.planes.filters import Plane
from flinz.core.scale import Frame

# Shares of the sheet that are left out at both ends of its range of tone.
ENDS = (0.002, 0.998)
# Least scale at which lines of an ordinary pen can be told from a small picture of a sheet.
LEAST_PX_PER_MM = 2.4


def tone_range(tone: Plane) -> tuple[float, float]:
    """The darkest and the lightest tone of a sheet, but for what is hardly any of it."""
    darkest, lightest = np.quantile(tone, ENDS)
    return float(darkest), float(lightest)


def judged_at(frame: Frame) -> Frame:
    """The frame of a small picture of a sheet; of a large sheet as if it were a smaller one."""
    return frame.with_scale(max(1.0, LEAST_PX_PER_MM / frame.px_per_mm))
