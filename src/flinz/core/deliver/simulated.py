"""A small simulated pen plotter: draws the file of one, pen by pen, before paper is spent."""

import re
from dataclasses import dataclass
from xml.etree import ElementTree

import numpy as np
from PIL import Image

from flinz.core.deliver.plotting import seconds_of, time_words
from flinz.core.marks.pen import strokes_cover
from flinz.core.marks.vectors import Strokes
from flinz.core.scale import px_for_dpi, whole_frame
from flinz.core.stages.ink import rgb_of
from flinz.errors import DocumentError

SPACE = "{http://www.w3.org/2000/svg}"
MOST_BYTES = 200_000_000
NO_FILE = "This is no file for a plotter: it needs groups of lines in an SVG as Flinz writes it."


@dataclass(frozen=True)
class Plotted:
    """The drawing, and how the machine worked: mm drawn and travelled, and how often it lifted."""

    picture: Image.Image
    drawn: float
    travelled: float
    lines: int

    @property
    def words(self) -> str:
        """What it took."""
        seconds = seconds_of(self.drawn, self.travelled, self.lines)
        return (
            f"{self.lines:,} lines, {self.drawn / 1000:.1f} m drawn, "
            f"{self.travelled / 1000:.1f} m travelled, about {time_words(seconds)}"
        )


def plotted(data: bytes, dpi: float) -> Plotted:
    """Draw a file with the pens that it names. Raises DocumentError for what is no such file."""
    if len(data) > MOST_BYTES:
        raise DocumentError(f"This file is larger than {MOST_BYTES / 1e6:.0f} MB.")
    try:
        root = ElementTree.fromstring(data)
        _, _, width, height = (float(each) for each in root.get("viewBox", "").split())
        pens = [_pen(group) for group in root.iter(f"{SPACE}g")]
    except (ElementTree.ParseError, ValueError) as error:
        raise DocumentError(NO_FILE) from error
    if not pens or not (0 < width < 5000 and 0 < height < 5000):
        raise DocumentError(NO_FILE)
    frame = whole_frame(width, px_for_dpi(width, dpi), px_for_dpi(height, dpi))
    sheet = np.ones((frame.height, frame.width, 3), np.float32)
    drawn = travelled = 0.0
    lines, at = 0, np.zeros(2)
    for colour, strokes in pens:
        sheet *= 1 - strokes_cover(strokes, frame)[..., None] * (1 - rgb_of(colour))
        points = np.column_stack([strokes.x, strokes.y]).astype(np.float64)
        steps = np.hypot(*np.diff(points, axis=0, prepend=at[None]).T)
        lifted = np.zeros(len(points), np.bool_)
        lifted[strokes.first[:-1]] = True
        drawn += float(steps[~lifted].sum())
        travelled += float(steps[lifted].sum())
        lines += len(strokes)
        at = points[-1] if len(points) else at
    picture = Image.fromarray(np.rint(sheet * 255).astype(np.uint8))
    return Plotted(picture, drawn, travelled, lines)


def _pen(group: ElementTree.Element) -> tuple[str, Strokes]:
    colour, nib = group.get("stroke", ""), float(group.get("stroke-width", ""))
    if not re.fullmatch(r"#[0-9a-f]{6}", colour) or not 0 < nib <= 10:
        raise ValueError(colour)
    x: list[float] = []
    y: list[float] = []
    first = [0]
    for line in group.iter(f"{SPACE}path"):
        words = line.get("d", "")
        if not re.fullmatch(r"M[-0-9. eLh]+", words):
            raise ValueError(words)
        numbers = [float(each) for each in re.findall(r"-?[0-9.]+(?:e-?[0-9]+)?", words)]
        if len(numbers) % 2:
            # h0: a touch.
            numbers = numbers[:2]
        x += numbers[::2]
        y += numbers[1::2]
        first.append(len(x))
    across, down = np.array(x, np.float32), np.array(y, np.float32)
    return colour, Strokes(across, down, np.full_like(across, nib), np.array(first, np.int64))
