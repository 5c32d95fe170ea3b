"""A small simulated pen plotter: draws what one would, pen by pen, before paper is spent."""

import re
from dataclasses import dataclass
from xml.etree import ElementTree

import numpy as np
from numpy.typing import NDArray
from PIL import Image

from flinz.core.deliver.artwork import WHITE, Colour
from flinz.core.deliver.plotter import Plot
from flinz.core.deliver.plotting import work_words
from flinz.core.deliver.sight import Line
from flinz.core.marks.pen import strokes_cover
from flinz.core.marks.vectors import Strokes
from flinz.core.scale import Frame, px_for_dpi, whole_frame
from flinz.core.stages.ink import hex_of, rgb_of
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
        return work_words(self.lines, self.drawn, self.travelled)


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
    drawn = travelled = 0.0
    lines, at = 0, np.zeros(2)
    for _, strokes in pens:
        points = np.column_stack([strokes.x, strokes.y]).astype(np.float64)
        steps = np.hypot(*np.diff(points, axis=0, prepend=at[None]).T)
        lifted = np.zeros(len(points), np.bool_)
        lifted[strokes.first[:-1]] = True
        drawn += float(steps[~lifted].sum())
        travelled += float(steps[lifted].sum())
        lines += len(strokes)
        at = points[-1] if len(points) else at
    return Plotted(Image.fromarray(_drawn(pens, WHITE, frame)), drawn, travelled, lines)


def plotted_part(plot: Plot, frame: Frame) -> NDArray[np.uint8]:
    """A part of a plot on its paper, (H, W, 3) uint8, sRGB-encoded."""
    pens = [(hex_of(pen.colour), _strokes(pen.lines, plot.nib)) for pen in plot.pens]
    return _drawn(pens, plot.paper, frame)


def _drawn(pens: list[tuple[str, Strokes]], paper: Colour, frame: Frame) -> NDArray[np.uint8]:
    sheet = np.empty((frame.height, frame.width, 3), np.float32)
    sheet[:] = paper
    for colour, strokes in pens:
        ink = rgb_of(colour)
        # Ink lets through what lies beneath; what is lighter than the paper can only cover it.
        inked = np.where(ink > paper, ink, ink * sheet)
        sheet += strokes_cover(strokes, frame)[..., None] * (inked - sheet)
    return np.asarray(np.rint(sheet * 255), np.uint8)


def _strokes(lines: list[Line], nib: float) -> Strokes:
    points = np.concatenate([np.zeros((0, 2)), *lines]).astype(np.float32)
    first = np.cumsum([0, *(len(line) for line in lines)])
    across, down = np.ascontiguousarray(points.T)
    return Strokes(across, down, np.full_like(across, nib), first.astype(np.int64))


def _pen(group: ElementTree.Element) -> tuple[str, Strokes]:
    colour, nib = group.get("stroke", ""), float(group.get("stroke-width", ""))
    if not re.fullmatch(r"#[0-9a-f]{6}", colour) or not 0 < nib <= 10:
        raise ValueError(colour)
    lines = []
    for line in group.iter(f"{SPACE}path"):
        words = line.get("d", "")
        if not re.fullmatch(r"M[-0-9. eLh]+", words):
            raise ValueError(words)
        numbers = [float(each) for each in re.findall(r"-?[0-9.]+(?:e-?[0-9]+)?", words)]
        if len(numbers) % 2:
            # h0: a touch.
            numbers = numbers[:2]
        lines.append(np.array(numbers).reshape(-1, 2))
    return colour, _strokes(lines, nib)
