"""Ink line: connected lines of a chosen nib along the edges that matter, with solid blacks."""

from typing import Any, Literal

import cv2
import numpy as np
from numba import njit, prange

from flinz.core import flow
from flinz.core.dial import Dial, Switch
from flinz.core.filters import Plane, blurred, smoothstep
from flinz.core.lattice import coarser, resampled
from flinz.core.looks.desk import Desk
from flinz.core.looks.look import Look, LookSettings
from flinz.core.scale import Frame

# A line drawn by a difference of Gaussians is about this many sigmas wide.
NIB_SIGMAS = 2.6
WIDE = 1.6
BLACKEST_LEVEL = 0.52
FED_BACK = 0.7
FEEDS = 0.01
# A line goes on through what is this share as dark as it must be to begin.
CONTINUES = 0.45
# From this hardness on edges are as hard as pixels allow.
CRISP = 0.8
# Edges this hard make a two-tone drawing.
HARD = 0.6
# Where lines may be is told from a grid on which a nib is this wide.
SEARCH_PX_PER_NIB = 1.4
SEAM = 0.26


class InkLine(LookSettings):
    """Pen lines that swell and thin, and shadows filled with ink."""

    look: Literal["ink-line"] = "ink-line"
    nib: float = Dial(
        0.35,
        ge=0.05,
        le=4.0,
        low=0.1,
        high=1.5,
        step=0.01,
        unit="mm",
        label="Nib",
        hint="Width of the lines",
    )
    detail: float = Dial(
        0.6,
        ge=0.0,
        le=1.0,
        step=0.01,
        label="Detail",
        hint="How faint an edge may be to be drawn",
    )
    flow: float = Dial(
        2.0,
        ge=0.1,
        le=15.0,
        low=0.2,
        high=8.0,
        step=0.1,
        unit="mm",
        label="Flow",
        hint="How far lines run on along the form",
    )
    blacks: float = Dial(
        0.3,
        ge=0.0,
        le=1.0,
        step=0.01,
        label="Solid blacks",
        hint="From lines only to whole shadows filled",
    )
    hardness: float = Dial(
        0.85,
        ge=0.0,
        le=1.0,
        step=0.01,
        label="Edge hardness",
        hint="From a soft brush to a hard pen",
    )
    shortest: float = Dial(
        3.0,
        ge=0.0,
        le=60.0,
        high=20.0,
        step=0.5,
        unit="mm",
        label="Shortest",
        hint="Lines shorter than this are left out",
    )
    again: bool = Switch(True, label="Second pass", hint="Closes gaps in the lines")


def draw(tone: Plane, settings: InkLine, frame: Frame, desk: Desk) -> Plane:
    """Lines as ink 0..1.

    A difference of Gaussians, averaged along the edge flow, and a soft threshold: H. Kang,
    S. Lee and C. Chui (2007) and H. Winnemöller, J. Kyprianidis and S. Olsen (2012). Lines and
    blacks have a threshold each here, so that either can be turned without the other. The
    second pass draws from the photo with the first pass's lines laid over it.
    """
    nib, run = settings.nib, settings.flow
    faintest = _faintest(settings)
    # Softer edges show more of what is too faint for a line.
    searched = faintest * np.float32(0.4 if settings.hardness >= HARD else 0.1)
    # Steps as long as a line is wide: along it nothing changes faster.
    step = max(min(nib, run / 6), run / flow.MOST_SAMPLES)
    form = desk.keep("form", nib, lambda: form_of(tone, frame, nib))
    along = desk.keep("curves", (nib, run), lambda: flow.curves(form, run / 2, step))
    dark_side = desk.keep(
        "first", (nib, run, searched), lambda: dark_sides(tone, frame, along, nib, searched)
    )
    if settings.again:
        lines = smoothstep(float(faintest) - FEEDS, float(faintest) + FEEDS, dark_side)
        fed = tone * (1 - np.float32(FED_BACK) * lines)
        dark_side = desk.keep(
            "second",
            (nib, run, searched, settings.detail),
            lambda: dark_sides(fed, frame, along, nib, searched),
        )
    shortest = frame.area_px(nib * settings.shortest)
    linked = desk.keep(
        "linked",
        (nib, run, searched, settings.detail, settings.again, settings.shortest),
        lambda: _linked(dark_side, faintest, shortest),
    )
    shade = desk.keep("shade", nib, lambda: blurred(tone, frame.px(0.6 * nib)))
    # Below full hardness an edge goes from paper to ink over a range of tone.
    soft = np.float32(max(0.0, CRISP - settings.hardness) / CRISP)
    level = np.float32(settings.blacks * BLACKEST_LEVEL if settings.blacks > 0 else -1.0)
    inked = _crisp(linked, shade, faintest, level, 2 * faintest * soft, np.float32(0.25) * soft)
    return np.asarray(inked, np.float32)


def _linked(dark_side: Plane, faintest: np.float32, least_px: float) -> Plane:
    """dark_side with faint stretches raised that join clear ones, and scraps taken away.

    What is fainter than a line should be counts if it hangs together with at least least_px of
    what is not: hysteresis, after J. Canny (1986).
    """
    low = np.float32(CONTINUES * faintest)
    _, labels = cv2.connectedComponents((dark_side > low).view(np.uint8), connectivity=8)
    clear = _clear_areas(dark_side, labels, int(labels.max()) + 1, faintest)
    raised = _raised(dark_side, labels, clear >= max(1.0, least_px), faintest - low)
    return np.asarray(raised, np.float32)


@njit(cache=True)
def _clear_areas(dark_side, labels, count, faintest) -> Any:  # type: ignore[no-untyped-def]
    areas = np.zeros(count, np.float64)
    for row in range(labels.shape[0]):
        for column in range(labels.shape[1]):
            label = labels[row, column]
            if label > 0 and dark_side[row, column] > faintest:
                areas[label] += 1
    return areas


@njit(parallel=True, cache=True)
def _raised(dark_side, labels, kept, lift) -> Any:  # type: ignore[no-untyped-def]
    out = np.empty_like(dark_side)
    for row in prange(labels.shape[0]):
        for column in range(labels.shape[1]):
            value = dark_side[row, column]
            label = labels[row, column]
            if label == 0:
                # Just outside a line the slope goes on as it was, for the sake of its edge.
                out[row, column] = min(value + lift, np.float32(0.999) * lift)
            elif kept[label]:
                out[row, column] = value + lift
            else:
                out[row, column] = np.float32(0.0)
    return out


def _faintest(settings: InkLine) -> np.float32:
    return np.float32(0.003 + 0.05 * (1 - settings.detail) ** 2)


def form_of(tone: Plane, frame: Frame, nib_mm: float) -> flow.Field:
    """The direction of the edges, as broad as a nib needs."""
    return flow.direction_field(tone, frame, max(0.5, 1.6 * nib_mm), 0.0, 2e-5)


def dark_sides(
    tone: Plane, frame: Frame, along: flow.Curves, nib_mm: float, faintest: np.float32
) -> Plane:
    """How much darker a place is than its surroundings across the form, averaged along it.

    Worked out where that may be more than faintest, which a coarser grid tells; 0 elsewhere.
    """
    sigma = frame.px(nib_mm / NIB_SIGMAS)
    difference = np.asarray(
        cv2.subtract(blurred(tone, WIDE * sigma), blurred(tone, sigma)), np.float32
    )
    small, grid = coarser(difference, frame, SEARCH_PX_PER_NIB / nib_mm)
    there = None
    if grid != frame:
        found = cv2.dilate(flow.traced(small, grid, along), np.ones((3, 3), np.uint8))
        there = resampled(np.asarray(found, np.float32), grid, frame) > faintest
    drawn = flow.traced(difference, frame, along, there)
    # Neighbouring cells of the form have curves of their own; this takes the seams away.
    return blurred(drawn, frame.px(nib_mm * SEAM))


@njit(parallel=True, fastmath=True, cache=True)
def _crisp(  # type: ignore[no-untyped-def]
    linked, shade, faintest, level, line_soft, black_soft
) -> Any:
    # Lines and blacks with edges a pixel wide, by gap over slope, or softer.
    height, width = linked.shape
    half, one, least = np.float32(0.5), np.float32(1.0), np.float32(1e-6)
    out = np.empty_like(linked)
    for row in prange(height):
        above, below = max(row - 1, 0), min(row + 1, height - 1)
        for column in range(width):
            left, right = max(column - 1, 0), min(column + 1, width - 1)
            dx = half * (linked[row, right] - linked[row, left])
            dy = half * (linked[below, column] - linked[above, column])
            slope = max(np.sqrt(dx * dx + dy * dy), max(line_soft, least))
            line = half + (linked[row, column] - faintest) / slope
            black = np.float32(0.0)
            if level > 0:
                dx = half * (shade[row, right] - shade[row, left])
                dy = half * (shade[below, column] - shade[above, column])
                slope = max(np.sqrt(dx * dx + dy * dy), max(black_soft, least))
                black = half + (level - shade[row, column]) / slope
            out[row, column] = min(max(max(line, black), np.float32(0.0)), one)
    return out


def reach_mm(settings: InkLine) -> float:
    """The form and twice the flow."""
    passes = 2 if settings.again else 1
    form = 4 * max(0.5, 1.6 * settings.nib)
    # A line may be judged by what lies a few times its least length away.
    return form + passes * (settings.flow + 3 * settings.nib) + 2 * settings.shortest


LOOK = Look(
    settings=InkLine,
    label="Ink line",
    purpose="Pen lines along the edges that matter, with shadows filled",
    draw=draw,
    reach_mm=reach_mm,
    two_tone=lambda settings: settings.hardness >= HARD,
    proof_factor=2,
)
