"""Pencil: the grey divided by its own blurred copy, with accents, shading, tooth and strokes."""

import math
from dataclasses import dataclass
from functools import partial
from typing import Any, Literal

import cv2
import numpy as np
from numba import njit, prange

from flinz.core.dial import Dial
from flinz.core.looks.desk import Desk
from flinz.core.looks.look import Look, LookSettings, Suits
from flinz.core.planes import flow
from flinz.core.planes.filters import Plane, blurred, box_mean, eased
from flinz.core.planes.grain import paper_grain, paper_strokes
from flinz.core.planes.lattice import coarser, resampled
from flinz.core.scale import Frame, whole_frame

# Lifts both sides of the division, so that noise in the blacks does not turn to scratches.
LIFT = 0.03
NEAR_MM = 0.5
SHADED_BELOW = 0.46
SHADED_FULLY = 0.06
TOOTH_MM = 0.26
STROKE_MM = 0.30
STROKE_LENGTH_MM = 5.0
FORM_MM = 1.4
HAND_DEG = 52.0
ACCENT_MM = 0.16
ACCENT_PX_PER_MM = 16.0
BROAD_MM = 1.0
ACCENT_LENGTH_MM = 0.5
# Differences of Gaussians: the faintest that is drawn, and one that is drawn fully.
FAINTEST_ACCENT = 0.006
FULL_ACCENT = 0.055
TOOTH_SEED, STROKE_SEED = 11, 12
# Drafts of a sheet as it starts, an octave apart.
SHEET_MM, DRAFTS_PX = 200.0, (150, 300, 600)
# Stands for a texture that is not wanted.
NOTHING = np.zeros((1, 1), np.float32)


@dataclass(frozen=True, eq=False)
class Coarse:
    """A plane on a coarser grid, as the press remembers it."""

    plane: Plane
    frame: Frame

    @property
    def pair(self) -> tuple[Plane, Frame]:
        """The plane and its frame."""
        return self.plane, self.frame


class Pencil(LookSettings):
    """A soft pencil that follows edges and leaves even light areas white."""

    look: Literal["pencil"] = "pencil"
    softness: float = Dial(
        2.2,
        ge=0.1,
        le=40.0,
        low=0.2,
        high=12.0,
        step=0.1,
        unit="mm",
        label="Softness",
        hint="From a fine outline to full modelling",
    )
    darkness: float = Dial(
        1.25,
        ge=0.2,
        le=6.0,
        high=4.0,
        step=0.05,
        label="Darkness",
        hint="How hard the pencil is pressed",
    )
    clean_up: float = Dial(
        0.03,
        ge=0.0,
        le=0.5,
        high=0.3,
        step=0.005,
        label="Clean-up",
        hint="Faint marks lighter than this are left out",
    )
    accents: float = Dial(
        0.36,
        ge=0.0,
        le=1.0,
        step=0.02,
        label="Edge accents",
        hint="Dark lines along the edges",
    )
    shading: float = Dial(
        0.5,
        ge=0.0,
        le=1.0,
        step=0.02,
        label="Shading",
        hint="How much of the photo's darks comes back",
    )
    tooth: float = Dial(
        0.35,
        ge=0.0,
        le=1.0,
        step=0.02,
        label="Tooth",
        hint="Paper grain that light strokes catch on",
    )
    stroke: float = Dial(
        0.55,
        ge=0.0,
        le=1.0,
        step=0.02,
        label="Stroke",
        hint="From smudged to hatched along the form",
    )
    point: float = Dial(
        0.18,
        ge=0.0,
        le=2.0,
        high=0.8,
        step=0.02,
        unit="mm",
        label="Point",
        hint="Detail finer than this is not drawn",
    )


def draw(tone: Plane, settings: Pencil, frame: Frame, desk: Desk) -> Plane:
    """Pencil strokes as ink 0..1.

    The colour dodge of the grey with its blurred inverse is min(1, g / blur(g)). Accents are a
    difference of Gaussians smoothed along the edges (after H. Kang et al., 2007); strokes are
    noise smeared along the form, with a hand's slant where the picture is flat.
    """
    # Only the strokes of a draft are its own.
    keep = partial(desk.keep, alike=True)
    point_px = frame.px(settings.point / 2)
    drawn: Plane = keep("point", settings.point, lambda: blurred(tone, point_px))
    # What is broad needs no fine grid: the same shading at a fraction of the cost.
    small, grid = keep(
        "small", settings.point, lambda: Coarse(*coarser(drawn, frame, flow.FIELD_PX_PER_MM))
    ).pair
    broad: Plane = keep(
        "softness",
        (settings.point, settings.softness),
        lambda: (
            resampled(blurred(small, grid.px(settings.softness)), grid, frame)
            if settings.softness >= BROAD_MM
            else blurred(drawn, frame.px(settings.softness))
        ),
    )
    near: Plane = keep(
        "near",
        settings.point,
        lambda: resampled(blurred(small, grid.px(NEAR_MM)), grid, frame),
    )

    def form() -> flow.Field:
        field: flow.Field = keep(
            "form",
            settings.point,
            lambda: flow.directed(flow.form_tensor(small, grid, FORM_MM), HAND_DEG, 4e-4),
        )
        return field

    lines = strokes = grain = NOTHING
    if settings.accents > 0:
        lines = keep("accents", settings.point, lambda: _edge_lines(drawn, frame, form()))
    if settings.stroke > 0:
        strokes = desk.keep(
            "strokes",
            settings.point,
            lambda: paper_strokes(
                frame, form(), STROKE_MM, STROKE_LENGTH_MM, STROKE_SEED, desk.draft
            ),
        )
    if settings.tooth > 0:
        grain = keep("tooth", None, lambda: paper_grain(frame, TOOTH_MM, TOOTH_SEED))
    amounts = (
        1 - settings.clean_up,
        settings.shading,
        settings.accents,
        settings.stroke,
        settings.tooth,
    )
    powers = _power_table(settings.darkness)
    pressed = _pressed(
        drawn, broad, near, lines, strokes, grain, powers, np.array(amounts, np.float32)
    )
    return np.asarray(pressed, np.float32)


def _power_table(exponent: float) -> Plane:
    # The lift keeps the dodge above 0.02, where even a small power is smooth enough for a table.
    return (np.linspace(0, 1, 4097) ** exponent).astype(np.float32)


@njit(parallel=True, fastmath=True, cache=True)
def _pressed(  # type: ignore[no-untyped-def]
    drawn, broad, near, lines, strokes, grain, powers, amounts
) -> Any:
    # All that happens at one pixel, in one pass: memory costs more than arithmetic here.
    white, shading, accents, stroke, tooth = amounts
    lift = np.float32(LIFT)
    shade_span = np.float32(1.0 / (SHADED_BELOW - SHADED_FULLY))
    line_span = np.float32(1.0 / (FULL_ACCENT - FAINTEST_ACCENT))
    one = np.float32(1.0)
    last = np.float32(powers.shape[0] - 1)
    out = np.empty_like(drawn)
    for row in prange(drawn.shape[0]):
        for column in range(drawn.shape[1]):
            dodge = (drawn[row, column] + lift) / ((broad[row, column] + lift) * white)
            place = min(dodge, one) * last
            k = min(int(place), powers.shape[0] - 2)
            light = powers[k] + (place - k) * (powers[k + 1] - powers[k])
            depth = eased((np.float32(SHADED_BELOW) - near[row, column]) * shade_span)
            light *= one - shading * depth
            if accents > 0:
                line = eased((lines[row, column] - np.float32(FAINTEST_ACCENT)) * line_span)
                light *= one - accents * line
            pressure = one - light
            if stroke > 0:
                pressure = _roughened(pressure, strokes[row, column], stroke)
            if tooth > 0:
                pressure = _roughened(pressure, grain[row, column], tooth)
            out[row, column] = pressure
    return out


@njit(inline="always")
def _roughened(pressure, texture, amount) -> Any:  # type: ignore[no-untyped-def]
    # Strongest at half pressure, nothing on bare paper or in full black: tone is kept.
    swing = amount * np.float32(4.0) * pressure * (np.float32(1.0) - pressure)
    value = pressure + swing * (texture - np.float32(0.5))
    return min(max(value, np.float32(0.0)), np.float32(1.0))


def _edge_lines(drawn: Plane, frame: Frame, form: flow.Field) -> Plane:
    fine, grid = coarser(drawn, frame, ACCENT_PX_PER_MM)
    sigma = grid.px(ACCENT_MM)
    near = blurred(fine, sigma)
    # Blurring on costs less than a wider blur from the start.
    wide = blurred(near, math.sqrt(1.6**2 - 1) * sigma)
    darker = cv2.subtract(wide, near)
    dark_side = np.asarray(cv2.threshold(darker, 0, 0, cv2.THRESH_TOZERO)[1], np.float32)
    # Where there is no edge near enough there is nothing to smear in.
    there = box_mean(dark_side, round(3 * sigma)) > 0.5 * FAINTEST_ACCENT
    along = grid.px(ACCENT_LENGTH_MM)
    lines = flow.along_form(dark_side, grid, form, along, there, max(1.0, 1.1 * along))
    return resampled(lines, grid, frame)


def reach_mm(settings: Pencil) -> float:
    """How far the softness looks, and the form."""
    return 4 * max(settings.softness, FORM_MM, 0.5) + 4 * settings.point + STROKE_LENGTH_MM


def made_ready() -> None:
    """Smear the strokes of drafts beforehand: once for each octave of their scales."""
    for edge_px in DRAFTS_PX:
        frame = whole_frame(SHEET_MM, edge_px, edge_px)
        level = np.zeros((2, 2, 2), np.float32)
        level[..., 0] = 1
        form = flow.Field(level, whole_frame(SHEET_MM, 2, 2))
        paper_strokes(frame, form, STROKE_MM, STROKE_LENGTH_MM, STROKE_SEED, draft=True)


LOOK = Look(
    settings=Pencil,
    label="Pencil",
    purpose="A soft pencil drawing with modelled edges and open lights",
    draw=draw,
    reach_mm=reach_mm,
    suits=Suits(parted=(0.5, 0.3), fine=(0.7, 0.8), led=(0.5, 0.3), spread=(0.8, 0.4)),
    made_ready=made_ready,
)
