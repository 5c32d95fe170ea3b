"""The cutout of a photo: what the program finds, what strokes say, and exact strokes that win."""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import TYPE_CHECKING

import cv2
import numpy as np
from numpy.typing import NDArray

from flinz.core.dial import Dial, Settings
from flinz.core.hand.matting import Lines, lines_of
from flinz.core.hand.raster import Placing, each_swept
from flinz.core.hand.strokes import Stroke, Verb
from flinz.core.planes.filters import Plane, blurred
from flinz.core.shapes.edges import thickened
from flinz.core.shapes.islands import without_pinholes, without_specks

if TYPE_CHECKING:
    from flinz.core.hand.nearby import Colours
    from flinz.core.hand.regions import Regions

Picture = NDArray[np.float32]
Mask = NDArray[np.bool_]

# What is cut out is decided on a photo of at most this size.
WORK_PX = 900
# A stroke means the regions of which it covers this share, or those that it covers most.
TOUCHED = 0.25
# The edge of a cut without hair, in pixels of that size.
HARD_PX = 0.7
# What rough strokes say.
SAYS: dict[Verb, int] = {"keep": 1, "drop": -1}
# Strokes that win over whatever is found, and the alpha that they make.
EXACT: dict[Verb, float] = {"exactly-in": 1.0, "exactly-out": 0.0}


class Cutout(Settings):
    """How the edge between subject and backdrop runs."""

    edge: float = Dial(
        0.0,
        ge=-10.0,
        le=10.0,
        low=-2.0,
        high=2.0,
        step=0.05,
        unit="mm",
        label="Edge out",
        group="Cutout",
        hint="Moves the cut outwards; below 0 it moves in",
    )
    soft: float = Dial(
        0.0,
        ge=0.0,
        le=20.0,
        high=5.0,
        step=0.05,
        unit="mm",
        label="Softness",
        group="Cutout",
        hint="Over how far the subject fades out",
    )
    hair: float = Dial(
        1.2,
        ge=0.0,
        le=20.0,
        high=6.0,
        step=0.1,
        unit="mm",
        label="Hair",
        group="Cutout",
        hint="How far out hairs are looked for; 0 cuts hard",
    )
    islands: float = Dial(
        0.0,
        ge=0.0,
        le=10_000.0,
        high=200.0,
        step=1.0,
        unit="mm²",
        label="Islands",
        group="Cutout",
        hint="Pieces and holes under this go",
    )


@dataclass(frozen=True, eq=False)
class Studied:
    """What a photo offers to whoever cuts it out, at a size of its own.

    rgb: (H, W, 3) float32 0..1. guess: (N,) how likely each region is subject; over
    0.5 it is cut out while there is no stroke.
    """

    rgb: Picture
    regions: "Regions"
    guess: NDArray[np.float32]

    @cached_property
    def colours(self) -> "Colours":
        """The photo's colours in kinds: made when hair is first looked for."""
        from flinz.core.hand.nearby import colours_of

        return colours_of(self.rgb)

    @property
    def placing(self) -> Placing:
        """Where the photo lies in the pixels of this size."""
        height, width = self.rgb.shape[:2]
        edge = float(max(height, width))
        return Placing(np.array([[edge, 0, 0], [0, edge, 0]]), (height, width), edge)


@dataclass(frozen=True, eq=False)
class Found:
    """A cut: what is subject, and where hair is looked for whatever the width of the band.

    said: int8, 1 where keep strokes went, -1 where drop strokes did, 0 elsewhere. speaks: (N,)
    float32 -1..1, how much each region speaks for the subject, whatever lies beside it.
    """

    mask: Mask
    hairy: Mask
    said: NDArray[np.int8]
    speaks: NDArray[np.float32]


def work_size(width: int, height: int) -> tuple[int, int]:
    """Width and height in pixels at which a photo is cut out."""
    share = min(1.0, WORK_PX / max(width, height))
    return max(1, round(width * share)), max(1, round(height * share))


def studied(rgb: Picture) -> Studied:
    """A photo at its work size, made ready to be cut out."""
    # What these need takes long to import, and is not wanted where nothing is cut out.
    from flinz.core.hand.guessing import guessed
    from flinz.core.hand.parting import settled
    from flinz.core.hand.regions import regions_of

    regions = regions_of(rgb)
    return Studied(rgb, regions, settled(regions, guessed(rgb, regions)))


def found(photo: Studied, strokes: Sequence[Stroke], islands_px: float) -> Found:
    """The cut that keep, drop and hair strokes come to; without any, the first guess.

    Where strokes of both kinds went, the later one counts. islands_px: pieces and holes of fewer
    pixels go.
    """
    from flinz.core.hand.parting import parted

    labels = photo.regions.labels
    sizes = photo.regions.sizes
    kept, dropped = np.zeros(len(sizes), bool), np.zeros(len(sizes), bool)
    hairy, said = np.zeros(labels.shape, bool), np.zeros(labels.shape, np.int8)
    rough = (stroke for stroke in strokes if stroke.brush.verb not in EXACT)
    for stroke, cover, part in each_swept(rough, photo.placing):
        verb = stroke.brush.verb
        # However thin, and whatever its hardness.
        there = cover > 0.5 * cover.max(initial=0.0)
        if verb == "hair":
            hairy[part] |= there
            continue
        hairy[part] &= ~there
        said[part][there] = SAYS.get(verb, 0)
        touched = np.bincount(labels[part].ravel(), there.ravel(), len(sizes)) / sizes
        meant = (touched > 0) & (touched >= min(TOUCHED, touched.max() / 2))
        kept = (kept & ~meant) | (meant & (verb == "keep"))
        dropped = (dropped & ~meant) | (meant & (verb == "drop"))
    subject, speaks = parted(photo.regions, kept, dropped, photo.guess)
    mask = subject[labels]
    if islands_px > 0:
        plane = mask.astype(np.float32)
        plane = without_specks(plane, islands_px, True)
        mask = without_pinholes(plane, islands_px, True) > 0.5
    return Found(mask, hairy, said, speaks.astype(np.float32))


def hard_edge(cut: Found) -> Plane:
    """Alpha of a cut without hair."""
    return blurred(cut.mask.astype(np.float32), HARD_PX)


def edge_lines(photo: Studied, alpha: Plane) -> Lines:
    """Alpha at its work size as lines of colour, for pictures of any size."""
    return lines_of(photo.rgb, alpha)


def in_frame(lines: Lines, rgb: Picture, placing: Placing) -> Plane:
    """Alpha 0..1 in a frame, (H, W) float32.

    rgb: (H, W, 3) float32 0..1, the photo in the frame; placing: where it lies there.
    """
    edge = max(lines.offsets.shape)
    slopes, offsets = lines.slopes, lines.offsets
    coarser = edge / placing.scale
    if coarser > 1.2:
        # A smaller picture shows means.
        slopes = np.stack([blurred(slopes[..., k], 0.4 * coarser) for k in range(3)], -1)
        offsets = blurred(offsets, 0.4 * coarser)
    alpha = laid_in_frame(offsets, placing)
    for channel in range(3):
        slope = laid_in_frame(np.ascontiguousarray(slopes[..., channel]), placing)
        alpha += slope * rgb[..., channel]
    return np.clip(alpha, 0, 1, out=alpha)


def laid_in_frame(plane: NDArray[np.float32], placing: Placing) -> NDArray[np.float32]:
    """A picture of the whole photo, (h, w) or (h, w, 3), in a frame, (H, W) or (H, W, 3)."""
    height, width = placing.size
    to_frame = placing.to_frame.copy()
    to_frame[:, :2] /= max(plane.shape)
    # Middles of pixels lie half a pixel in.
    to_frame[:, 2] += to_frame[:, :2] @ (0.5, 0.5) - 0.5
    found = cv2.warpAffine(
        plane, to_frame, (width, height), flags=cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE
    )
    return np.asarray(found, np.float32)


def finished(
    alpha: Plane, settings: Cutout, px_per_mm: float, strokes: Sequence[Stroke], placing: Placing
) -> Plane:
    """Alpha in a frame with its edge moved and softened, then as exact strokes say."""
    if settings.edge != 0:
        alpha = thickened(alpha, settings.edge * px_per_mm)
    if settings.soft > 0:
        alpha = blurred(alpha, settings.soft * px_per_mm / 2)
    done = alpha.copy()
    exact = (stroke for stroke in strokes if stroke.brush.verb in EXACT)
    for stroke, cover, part in each_swept(exact, placing):
        share = cover * np.float32(stroke.brush.strength)
        done[part] += share * (np.float32(EXACT[stroke.brush.verb]) - done[part])
    return done


def reach_mm(settings: Cutout) -> float:
    """How far away, in mm, alpha still matters to the finished one."""
    return abs(settings.edge) + 2 * settings.soft
