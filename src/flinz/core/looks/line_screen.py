"""Line screen: parallel, crossed or concentric lines that swell with the dark."""

import math
from enum import StrEnum
from typing import Literal

import numpy as np

from flinz.core.dial import Angle, Choice, Dial
from flinz.core.looks.desk import Desk
from flinz.core.looks.following import followed, overlaid
from flinz.core.looks.look import Look, Suits
from flinz.core.looks.toning import ToneWindow, wished_cover
from flinz.core.marks.hatching import (
    STEPS_PER_SPACING,
    broken,
    grid_px_per_mm,
    on_sheet,
    read,
    refuse_too_many,
    ruled,
)
from flinz.core.marks.screens import box_size, line_cover, positions
from flinz.core.marks.vectors import Strokes, joined
from flinz.core.planes.filters import Plane
from flinz.core.scale import Frame, Lay

SIZED = ("ruling",)
# Lines thinner than this share of the pitch are not drawn as strokes.
LEAST = 0.004
# Across, in pitches, a line that carries a light tone of a fifth.
LIGHT_LINE = 0.2


class Lines(StrEnum):
    """How the lines run."""

    STRAIGHT = "straight"
    CROSSED = "crossed"
    CONCENTRIC = "concentric"


class LineScreen(ToneWindow):
    """Lines at a ruling and an angle."""

    look: Literal["line-screen"] = "line-screen"
    lines: Lines = Choice(
        Lines.STRAIGHT,
        label="Lines",
        hint="How the lines run",
        options={
            Lines.STRAIGHT: ("Straight", "One set of lines that swell in the dark"),
            Lines.CROSSED: ("Crossed", "A second set crosses the first where it is dark"),
            Lines.CONCENTRIC: ("In rings", "Circles about the middle of the sheet"),
        },
    )
    ruling: float = Dial(
        10.0,
        ge=1.0,
        le=80.0,
        low=2.0,
        high=40.0,
        step=0.5,
        unit="/cm",
        label="Ruling",
        hint="Lines to a centimetre",
    )
    angle: float = Angle(45.0, hint="Direction of the lines")


def draw(tone: Plane, settings: LineScreen, frame: Frame, desk: Desk) -> Plane:
    """Lines as ink 0..1; their share of the paper is the tone's, exactly."""
    return overlaid(tone, settings, frame, desk, _drawn, SIZED)


def _drawn(tone: Plane, settings: LineScreen, frame: Frame, desk: Desk) -> Plane:
    cover = wished_cover(tone, settings)
    pitch = 10 / settings.ruling
    if settings.lines == Lines.CONCENTRIC:
        x, y = positions(frame, 0, desk.lay)
        width, height = box_size(frame, desk.lay)
        radius = np.hypot(x - width / 2, y - height / 2)
        phase = np.asarray(radius / pitch, np.float32)
        return line_cover(cover, phase, frame.finer)
    straight = _straight(cover, frame, settings.angle, pitch, desk.lay)
    if settings.lines == Lines.STRAIGHT:
        return straight
    # Two screens that overlap at random leave (1 - w)² bare.
    single = np.asarray(1 - np.sqrt(1 - cover), np.float32)
    first = _straight(single, frame, settings.angle, pitch, desk.lay)
    second = _straight(single, frame, settings.angle + 90, pitch, desk.lay)
    return np.asarray(1 - (1 - first) * (1 - second), np.float32)


def marks(settings: LineScreen, desk: Desk) -> Strokes:
    """The lines of a whole sheet as strokes whose widths are the tone's share of the pitch.

    Raises DocumentError if there would be too many points.
    """
    return followed("marks", settings, desk, _placed, SIZED)


def _placed(settings: LineScreen, desk: Desk) -> Strokes:
    pitch = 10 / settings.ruling
    whole, grid = desk.whole(grid_px_per_mm(pitch))
    refuse_too_many(grid, pitch, 2 if settings.lines == Lines.CROSSED else 1)
    cover = wished_cover(whole, settings)
    if settings.lines == Lines.CONCENTRIC:
        return _rings(cover, grid, pitch)
    if settings.lines == Lines.STRAIGHT:
        return _lines(cover, grid, settings.angle, pitch)
    single = np.asarray(1 - np.sqrt(1 - cover), np.float32)
    return joined([_lines(single, grid, settings.angle + way, pitch) for way in (0, 90)])


def _lines(cover: Plane, grid: Frame, angle: float, pitch: float) -> Strokes:
    ruling = ruled(grid, angle, pitch, margin_mm=pitch)
    lines = ruling.lines
    width = read(cover, grid, lines.x, lines.y) * np.float32(pitch)
    return broken(lines.with_width(width), width > LEAST * pitch, ruling.step)


def _rings(cover: Plane, grid: Frame, pitch: float) -> Strokes:
    middle_x = grid.full_width / grid.px_per_mm / 2
    middle_y = grid.full_height / grid.px_per_mm / 2
    step = pitch / STEPS_PER_SPACING
    lots = []
    for ring in range(1, math.ceil(math.hypot(middle_x, middle_y) / pitch) + 1):
        count = max(12, math.ceil(2 * math.pi * ring * pitch / step))
        turn = np.linspace(0, 2 * np.pi, count + 1)
        x = (middle_x + ring * pitch * np.cos(turn)).astype(np.float32)
        y = (middle_y + ring * pitch * np.sin(turn)).astype(np.float32)
        width = read(cover, grid, x, y) * np.float32(pitch)
        there = (width > LEAST * pitch) & on_sheet(x, y, grid, pitch)
        whole_ring = Strokes(x, y, width, np.array([0, count + 1], np.int64))
        lots.append(broken(whole_ring, there, step))
    return joined(lots)


def _straight(cover: Plane, frame: Frame, angle: float, pitch: float, lay: Lay | None) -> Plane:
    _, across = positions(frame, angle, lay)
    return line_cover(cover, across / np.float32(pitch), frame.finer)


LOOK = Look(
    settings=LineScreen,
    label="Line screen",
    purpose="Parallel lines that swell with the dark, for one-colour printing",
    draw=draw,
    reach_mm=lambda settings: 0.0,
    two_tone=lambda settings: True,
    proof_factor=2,
    marks=marks,
    sizes_itself=True,
    lays_itself=True,
    suits=Suits(parted=(0.5, 0.4), fine=(0.2, 0.8), led=(0.3, 0.2), spread=(0.7, 0.4)),
    pitch=lambda settings: 10 / settings.ruling,
    tone_error=0.01,
    thinnest=lambda settings: LIGHT_LINE * 10 / settings.ruling,
)
