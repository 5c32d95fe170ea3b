"""Outline: even-width contours round the shapes, to be traced by hand on a light box."""

from typing import Any, Literal

import cv2
import numpy as np
from numba import njit, prange
from numpy.typing import NDArray

from flinz.core.cutting import cut_at, flattened, flattened_reach_mm
from flinz.core.dial import Dial
from flinz.core.filters import Plane, blurred
from flinz.core.looks.desk import Desk
from flinz.core.looks.look import Look, LookSettings
from flinz.core.scale import Frame

SURVEY_PX_PER_MM = 2.0
FAR_PX = 1e6
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
    distance. A border where the tone hardly changes is no edge of anything and is left out.
    """
    smoothing = settings.smoothing
    flat = desk.keep("flat", smoothing, lambda: flattened(tone, frame, smoothing))
    shares = tuple(k / (round(settings.shapes) + 1) for k in range(1, round(settings.shapes) + 1))
    levels = desk.keep("levels", (smoothing, shares), lambda: _levels(desk, smoothing, shares))
    distance = desk.keep(
        "distance",
        (smoothing, shares, settings.crumbs),
        lambda: _distances(flat, levels, frame, settings.crumbs),
    )
    step = desk.keep("step", smoothing, lambda: _steps(flat, frame))
    half_px = np.float32(frame.px(settings.nib) / 2)
    faintest = np.float32(0.010 + 0.30 * (1 - settings.detail) ** 2)
    return np.asarray(_lines(distance, step, half_px, faintest), np.float32)


def _levels(desk: Desk, smoothing: float, shares: tuple[float, ...]) -> NDArray[np.float64]:
    whole, grid = desk.whole(SURVEY_PX_PER_MM)
    darkest, lightest = np.quantile(flattened(whole, grid, smoothing), ENDS)
    return np.asarray(darkest + (lightest - darkest) * np.array(shares))


def _distances(flat: Plane, levels: NDArray[np.float64], frame: Frame, crumbs: float) -> Plane:
    nearest = np.full(flat.shape, FAR_PX, np.float32)
    for level in levels:
        inside = cut_at(flat, float(level), frame, crumbs) >= 0.5
        if inside.all() or not inside.any():
            continue
        mask = inside.astype(np.uint8)
        within = cv2.distanceTransform(mask, cv2.DIST_L2, 5)
        without = cv2.distanceTransform(1 - mask, cv2.DIST_L2, 5)
        # A pixel's centre lies half a pixel from its border; the blur takes the stairs away.
        signed = blurred(np.asarray(within - without, np.float32), 0.8)
        nearest = np.minimum(nearest, np.abs(signed))
    return nearest


def _steps(flat: Plane, frame: Frame) -> Plane:
    """The step in tone across a millimetre, at its largest within half a millimetre."""
    across_x = cv2.Scharr(flat, cv2.CV_32F, 1, 0, scale=frame.px_per_mm / 32)
    across_y = cv2.Scharr(flat, cv2.CV_32F, 0, 1, scale=frame.px_per_mm / 32)
    side = 2 * max(1, round(frame.px(0.5))) + 1
    largest = cv2.dilate(cv2.magnitude(across_x, across_y), np.ones((side, side), np.uint8))
    return blurred(np.asarray(largest, np.float32), frame.px(0.8))


@njit(parallel=True, fastmath=True, cache=True)
def _lines(distance, step, half_px, faintest) -> Any:  # type: ignore[no-untyped-def]
    out = np.empty_like(distance)
    for row in prange(distance.shape[0]):
        for column in range(distance.shape[1]):
            near = half_px - distance[row, column] + np.float32(0.5)
            seen = (step[row, column] - faintest) / (np.float32(0.15) * faintest) + np.float32(0.5)
            value = min(near, np.float32(1.0)) * min(max(seen, np.float32(0.0)), np.float32(1.0))
            out[row, column] = max(value, np.float32(0.0))
    return out


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
)
