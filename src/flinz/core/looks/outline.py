"""Outline: even-width contours round the shapes, to be traced by hand on a light box."""

from dataclasses import dataclass
from functools import partial
from typing import Literal

import cv2
import numpy as np
from numba import njit, prange
from numpy.typing import NDArray

from flinz.core.dial import Dial
from flinz.core.looks.desk import Desk
from flinz.core.looks.look import Look, LookSettings, Suits
from flinz.core.planes.filters import Plane, blurred, distances
from flinz.core.scale import Frame
from flinz.core.shapes.cutting import cut_at, flattened, flattened_reach_mm, slope_of

SURVEY_PX_PER_MM = 2.0
# A line is drawn whole where more than this share of it is an edge, left out whole where less.
MOSTLY, HARDLY = 0.6, 0.12
# Shares of the sheet that are left out at both ends of the tones to be parted.
ENDS = (0.002, 0.998)


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
        hint="Into how many tones it is parted",
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
        3.0,
        ge=0.0,
        le=200.0,
        high=40.0,
        step=0.5,
        unit="mm²",
        label="Crumbs",
        hint="Shapes under this are left out",
    )


def draw(tone: Plane, settings: Outline, frame: Frame, desk: Desk) -> Plane:
    """Lines of one width along the borders of shapes, as ink 0..1.

    The flattened tone is parted at even steps of its range; each border is drawn by its exact
    distance. A border where the tone hardly changes is no edge of anything and is left out; but
    a line that is mostly an edge is drawn all the way round, and one that hardly is one is left
    out whole (hysteresis along a line, as J. Canny, 1986, has it).
    """
    smoothing = settings.smoothing
    flat = desk.keep("flat", smoothing, lambda: flattened(tone, frame, smoothing))
    shares = tuple(k / (round(settings.shapes) + 1) for k in range(1, round(settings.shapes) + 1))
    survey = desk.keep_whole(
        "survey", (smoothing, shares), lambda: _survey(desk, smoothing, shares)
    )
    step = desk.keep("step", smoothing, lambda: _steps(flat, frame))
    half_px = np.float32(frame.px(settings.nib) / 2)
    faintest = np.float32(0.010 + 0.30 * (1 - settings.detail) ** 2)
    lines = np.zeros_like(flat)
    slope = desk.keep("slope", smoothing, lambda: slope_of(flat))
    crumbs = settings.crumbs
    for number, level in enumerate(survey.levels):
        distance = desk.keep(
            "distance",
            (smoothing, float(level), crumbs),
            partial(_distance, flat, float(level), frame, crumbs, slope),
        )
        if distance.size:
            verdicts = _verdicts(survey, number, faintest)
            place = (frame.top, frame.left, frame.full_height, frame.full_width)
            _add_lines(lines, distance, step, verdicts, place, half_px, faintest)
    return np.asarray(lines, np.float32)


@dataclass(frozen=True, eq=False)
class _Survey:
    """The whole sheet seen coarsely: the levels it is parted at, and the lines of each."""

    levels: NDArray[np.float64]
    # Of each level: (h, w) number of the nearest line, and each line's steps in tone.
    lines: list[tuple[NDArray[np.int32], list[NDArray[np.float32]]]]

    @property
    def nbytes(self) -> int:
        """Memory held."""
        return sum(nearest.nbytes for nearest, _ in self.lines)


def _survey(desk: Desk, smoothing: float, shares: tuple[float, ...]) -> _Survey:
    whole, grid = desk.whole(SURVEY_PX_PER_MM / 2 if desk.draft else SURVEY_PX_PER_MM)
    flat = flattened(whole, grid, smoothing)
    darkest, lightest = np.quantile(flat, ENDS)
    levels = np.asarray(darkest + (lightest - darkest) * np.array(shares))
    step = _steps(flat, grid)
    return _Survey(levels, [_lines_at(flat >= level, step) for level in levels])


def _lines_at(
    inside: NDArray[np.bool_], step: Plane
) -> tuple[NDArray[np.int32], list[NDArray[np.float32]]]:
    mask = inside.astype(np.uint8)
    border = mask - cv2.erode(mask, np.ones((3, 3), np.uint8))
    count, line = cv2.connectedComponents(border, connectivity=8)
    if count < 2:
        return np.zeros(mask.shape, np.int32), []
    # Every place belongs to the line it is nearest to.
    _, place = cv2.distanceTransformWithLabels(
        1 - border, cv2.DIST_L2, 5, labelType=cv2.DIST_LABEL_PIXEL
    )
    of_place = np.zeros(int(place.max()) + 1, np.int32)
    of_place[place[border > 0]] = line[border > 0]
    order = np.argsort(line[border > 0], kind="stable")
    ends = np.cumsum(np.bincount(line[border > 0], minlength=count))[:-1]
    steps = np.split(step[border > 0][order], ends)[1:]
    return of_place[place], [np.sort(each) for each in steps]


def _verdicts(survey: _Survey, level: int, faintest: np.float32) -> Plane:
    """Where lines are drawn whole (1), left out whole (-1), or judged place by place (0): (h, w)
    on the survey's grid.
    """
    nearest, steps = survey.lines[level]
    strong = [1 - np.searchsorted(each, faintest) / len(each) for each in steps]
    verdict = [0, *(int(share > MOSTLY) - int(share < HARDLY) for share in strong)]
    return np.array(verdict, np.float32)[nearest]


def _distance(flat: Plane, level: float, frame: Frame, crumbs: float, slope: Plane) -> Plane:
    """How far each pixel lies from the border of a level; empty where that has none."""
    inside = cut_at(flat, level, frame, crumbs, slope) >= 0.5
    if inside.all() or not inside.any():
        return np.zeros((0, 0), np.float32)
    within, without = distances(inside)
    # A pixel's centre lies half a pixel from its border; the blur takes the stairs away.
    signed = blurred(within - without, 0.8)
    return np.asarray(np.abs(signed), np.float32)


def _steps(flat: Plane, frame: Frame) -> Plane:
    """The step in tone across a millimetre, at its largest within half a millimetre."""
    across_x = cv2.Scharr(flat, cv2.CV_32F, 1, 0, scale=frame.px_per_mm / 32)
    across_y = cv2.Scharr(flat, cv2.CV_32F, 0, 1, scale=frame.px_per_mm / 32)
    side = 2 * max(1, round(frame.px(0.5))) + 1
    largest = cv2.dilate(cv2.magnitude(across_x, across_y), np.ones((side, side), np.uint8))
    return blurred(np.asarray(largest, np.float32), frame.px(0.8))


@njit(parallel=True, fastmath=True, cache=True)
def _add_lines(lines, distance, step, verdicts, place, half_px, faintest) -> None:  # type: ignore[no-untyped-def]
    top, left, full_height, full_width = place
    for row in prange(distance.shape[0]):
        for column in range(distance.shape[1]):
            near = half_px - distance[row, column] + np.float32(0.5)
            if near <= lines[row, column]:
                continue
            seen = (step[row, column] - faintest) / (np.float32(0.15) * faintest) + np.float32(0.5)
            verdict = verdicts[
                (row + top) * verdicts.shape[0] // full_height,
                (column + left) * verdicts.shape[1] // full_width,
            ]
            if verdict != 0:
                seen = verdict
            value = min(near, np.float32(1.0)) * min(max(seen, np.float32(0.0)), np.float32(1.0))
            lines[row, column] = max(value, lines[row, column])


def reach_mm(settings: Outline) -> float:
    """The flattening, and shapes a few times as long as wide."""
    return flattened_reach_mm(settings.smoothing) + 4 * float(np.sqrt(settings.crumbs)) + 3.0


LOOK = Look(
    settings=Outline,
    label="Outline",
    purpose="Even-width contours without fills, to trace on a light box",
    draw=draw,
    reach_mm=reach_mm,
    two_tone=lambda settings: True,
    proof_factor=2,
    suits=Suits(parted=(0.8, 0.8), fine=(0.1, 1), led=(0.6, 0.3), spread=(0.8, 0.4)),
    decides=True,
    gaussians=60,
    thinnest=lambda settings: settings.nib,
)
