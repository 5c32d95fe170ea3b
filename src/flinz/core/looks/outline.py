"""Outline: even-width contours round the shapes, to be traced by hand on a light box."""

import math
from dataclasses import dataclass, replace
from typing import Literal, TypeVar

import numpy as np
from numpy.typing import NDArray

from flinz.core.dial import Dial
from flinz.core.looks.desk import Desk
from flinz.core.looks.look import LENGTHS_BY_HAND, Look, LookSettings, Suits
from flinz.core.looks.suiting import judged_at, tone_range
from flinz.core.marks.hatching import broken, read
from flinz.core.marks.pen import strokes_cover
from flinz.core.marks.runs import along_lines, clear_runs, onto_edges, thinned
from flinz.core.marks.vectors import Column, Strokes, joined
from flinz.core.planes import flow
from flinz.core.planes.filters import Plane, blurred
from flinz.core.scale import Frame
from flinz.core.shapes.contours import level_lines
from flinz.core.shapes.cutting import flattened

# Pixels of the grid on which lines are found to what is smoothed away, at most so many a mm.
GRID_PX, FINEST_PX_PER_MM = 4.0, 12.0
# Places of it at most, settled and in a draft.
MOST_CELLS, DRAFT_CELLS = 4e6, 0.6e6
SURVEY_PX_PER_MM = 1.0
# Less than this is no range of tone but noise.
LEAST_RANGE = 0.02
# Differences up to about this share of the range are one surface.
SURFACE = 0.08
# Of smoothing: the pen's way along the form, the blur before lines are found, gaps gone across,
# and how far edges lie from where tones pass their surroundings.
ALONG, NEAR, GAP, ONTO = 0.8, 0.5, 2.5, 2.0
ALONG_STEP_PX = 2.0
# How far round a place is compared, mm, for one shape.
ROUND_MM = 12.0
# An even tone lies on no line, but for rounding.
EVEN = 2e-4
# How far a hand evens out a line, from which smoothing on, and how far apart a line's points then
# are, mm.
EVENED_MM, EVENED_BY, POINTS_MM = 0.5, 0.8, 0.25
# Most of what is found on photos: a mm of line on so many mm² of sheet.
MM2_A_MM = 8.5
# Fainter edges are no contours, whatever room there is; less still where all edges are faint.
HARDLY, OF_CLEAREST, CLEAREST = 0.012, 0.08, 0.98
SUGGESTED = np.arange(0.4, 1.0001, 0.02)

D = TypeVar("D", float, NDArray[np.float64])


class Outline(LookSettings):
    """Closed lines of one width, no fills."""

    look: Literal["outline"] = "outline"
    nib: float = Dial(
        0.5,
        ge=0.1,
        le=5.0,
        high=2.0,
        step=0.02,
        unit="mm",
        label="Nib",
        hint="Width of every line",
    )
    shapes: float = Dial(
        3,
        ge=1,
        le=8,
        step=1,
        label="Shapes",
        hint="From the largest shapes only to small ones",
    )
    smoothing: float = Dial(
        0.8,
        ge=0.0,
        le=20.0,
        low=0.2,
        high=8.0,
        step=0.1,
        unit="mm",
        label="Smoothing",
        hint="Detail smaller than this is left out",
    )
    detail: float = Dial(
        0.72,
        ge=0.0,
        le=1.0,
        step=0.01,
        label="Detail",
        hint="How faint an edge may be to be drawn",
    )
    crumbs: float = Dial(
        2.5,
        ge=0.0,
        le=200.0,
        high=40.0,
        step=0.5,
        unit="mm²",
        label="Crumbs",
        hint="Shapes under this are left out",
    )


def draw(tone: Plane, settings: Outline, frame: Frame, desk: Desk) -> Plane:
    """Lines of one width as ink 0..1."""
    return strokes_cover(desk.laid(marks(settings, desk)), frame)


def marks(settings: Outline, desk: Desk) -> Strokes:
    """The lines of a whole sheet, the same whatever part of it is drawn.

    Where the flattened tone passes the mean of what lies round it there is a line: the zero
    crossings of a difference of Gaussians (D. Marr and E. Hildreth, 1980), which go all round
    shapes and lie on their edges however soft these are. Each is drawn as far as it is an edge,
    evened out as a hand would. All in shares of the sheet's range of tone, so that a pale photo
    has the lines of a strong one.
    """
    strokes: Strokes = desk.keep_whole("strokes", settings.said, lambda: _drawn(settings, desk))
    return strokes


def _drawn(settings: Outline, desk: Desk) -> Strokes:
    """The lines as far as the hand wants them so; finer and coarser ones go on elsewhere."""
    _, here = desk.form(SURVEY_PX_PER_MM)
    closer = desk.closer(here)
    if closer is None:
        return _at(settings, desk, 1.0)
    lots = []
    for way, times in LENGTHS_BY_HAND:
        chosen = np.asarray(np.rint(np.clip(closer, -1, 1)) == way, np.float32)
        if chosen.any():
            lines = _at(settings, desk, times)
            there = read(chosen, here, lines.x, lines.y) > 0.5
            lots.append(broken(lines, there, POINTS_MM))
    return joined(lots)


def _at(settings: Outline, desk: Desk, times: float) -> Strokes:
    """All lines, with lengths so many times as long: those of a sheet of that share of the size."""
    key = settings.smoothing, settings.shapes, times
    found = desk.keep_tone("found", key, lambda: _surveyed(settings, desk, times))
    return _kept(found, settings).scaled(times)


@dataclass(frozen=True, eq=False)
class _Found:
    """All that may be lines, and how clear (P,) they are at each point: the step in tone across a
    mm, as a share of the sheet's range of tone.
    """

    lines: Strokes
    clear: Column


def _surveyed(settings: Outline, desk: Desk, times: float) -> _Found:
    def sized(tone: Plane, grid: Frame) -> tuple[Plane, Frame]:
        return tone, grid.with_scale(times)

    survey, coarse = sized(*desk.form(SURVEY_PX_PER_MM / times))
    area = survey.size / coarse.px_per_mm**2
    finest = min(GRID_PX / max(settings.smoothing, 1e-3), FINEST_PX_PER_MM)
    if desk.draft:
        finest = min(finest / 2, math.sqrt(DRAFT_CELLS / area))
    finest = min(finest, math.sqrt(MOST_CELLS / area))
    tone, grid = sized(*desk.whole(finest / times))
    found = _found(survey, tone, grid, settings)
    # An edge is as clear as it is on the sheet itself.
    return replace(found, clear=found.clear / np.float32(times))


def _found(survey: Plane, tone: Plane, grid: Frame, settings: Outline) -> _Found:
    """survey: the tone of the whole sheet, for its range; tone: the same on the grid."""
    darkest, lightest = tone_range(survey)
    tone = (tone - np.float32(darkest)) / np.float32(max(lightest - darkest, LEAST_RANGE))
    smoothing = settings.smoothing
    flat = flattened(tone, grid, smoothing, SURFACE)
    field = flow.directed(flow.form_tensor(flat, grid, max(0.5, 1.5 * smoothing)), 0.0, 2e-5)
    flat = flow.along_form(flat, grid, field, grid.px(ALONG * smoothing), step_px=ALONG_STEP_PX)
    near = blurred(flat, grid.px(NEAR * smoothing))
    off = near - blurred(near, grid.px(ROUND_MM / settings.shapes))
    x, y, first = level_lines(np.asarray(off, np.float32), EVEN)
    width = np.ones(len(x), np.float32)
    lines = Strokes(x, y, width, first).scaled(1 / grid.px_per_mm)
    onto, step = onto_edges(lines, near, grid, ONTO * smoothing)
    hand = EVENED_MM / _apart_mm(lines)
    # Neighbours are moved alike, and what is evened out besides follows smoothing.
    x, y = (
        place + along_lines(lines, moved - place, hand)
        for moved, place in ((onto.x, lines.x), (onto.y, lines.y))
    )
    moved = Strokes(x, y, width, first)
    x, y = (along_lines(moved, each, hand * min(1.0, smoothing / EVENED_BY)) for each in (x, y))
    return _Found(Strokes(x, y, width, first), along_lines(lines, step, hand))


def _apart_mm(lines: Strokes) -> float:
    """How far apart the points of lines are on average."""
    steps = _steps(lines)
    return float(steps.mean()) if steps.size else 1.0


def _steps(lines: Strokes) -> Column:
    """From each point of a line to the next, mm."""
    steps = np.hypot(np.diff(lines.x), np.diff(lines.y))
    return np.delete(steps, lines.first[1:-1] - 1)


def _kept(found: _Found, settings: Outline) -> Strokes:
    runs = clear_runs(
        found.lines,
        found.clear,
        _faintest(settings.detail),
        GAP * settings.smoothing,
        # A line as long as it is round the least shape.
        2 * math.sqrt(math.pi * settings.crumbs),
        settings.crumbs,
    )
    few = thinned(runs, max(1, round(POINTS_MM / _apart_mm(runs))))
    return few.with_width(np.full(len(few.x), settings.nib, np.float32))


def _faintest(detail: D) -> D:
    """The least step in tone across a mm, as a share of the sheet's range, that is an edge."""
    return 0.002 + 0.40 * (1 - detail) ** 2


def suggested(tone: Plane, frame: Frame) -> dict[str, float]:
    """The detail with which contours come to what a hand would trace, if there are so many."""
    usual, frame = Outline(), judged_at(frame)
    found = _found(tone, tone, frame, usual)
    if not len(found.lines):
        return {"detail": 1.0}
    hardly = min(HARDLY, OF_CLEAREST * float(np.quantile(found.clear, CLEAREST)))
    room = tone.size / frame.px_per_mm**2 / MM2_A_MM
    suits = float(SUGGESTED[0])
    for detail in SUGGESTED[_faintest(SUGGESTED) >= hardly]:
        lines = _kept(found, usual.model_copy(update={"detail": float(detail)}))
        if _steps(lines).sum() > room:
            break
        suits = float(detail)
    return {"detail": round(suits, 2)}


LOOK = Look(
    settings=Outline,
    label="Outline",
    purpose="Even-width contours without fills, to trace on a light box",
    draw=draw,
    # Lines stand where the whole sheet puts them.
    reach_mm=lambda settings: 0.0,
    two_tone=lambda settings: True,
    suggested=suggested,
    proof_factor=2,
    marks=marks,
    sizes_itself=True,
    lays_itself=True,
    draws_marks=True,
    fitted=("draw.detail",),
    suits=Suits(parted=(0.8, 0.8), fine=(0.1, 1), led=(0.6, 0.3), spread=(0.8, 0.4)),
    gaussians=60,
    thinnest=lambda settings: settings.nib,
)
