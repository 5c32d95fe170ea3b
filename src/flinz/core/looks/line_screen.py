"""Line screen: parallel, crossed or concentric lines that swell with the dark."""

from enum import StrEnum
from typing import Literal

import numpy as np

from flinz.core.dial import Choice, Dial
from flinz.core.filters import Plane
from flinz.core.looks.desk import Desk
from flinz.core.looks.look import Look
from flinz.core.looks.toning import ToneWindow, wished_cover
from flinz.core.scale import Frame
from flinz.core.screens import line_cover, pixel_span, positions


class Lines(StrEnum):
    """How the lines run."""

    STRAIGHT = "straight"
    CROSSED = "crossed"
    CONCENTRIC = "concentric"


class LineScreen(ToneWindow):
    """Lines at a ruling and an angle."""

    look: Literal["line-screen"] = "line-screen"
    lines: Lines = Choice(Lines.STRAIGHT, label="Lines", hint="How the lines run")
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
    angle: float = Dial(
        45.0,
        ge=-180.0,
        le=180.0,
        low=0.0,
        high=180.0,
        step=1.0,
        unit="°",
        label="Angle",
        hint="Direction of the lines",
    )


def draw(tone: Plane, settings: LineScreen, frame: Frame, desk: Desk) -> Plane:
    """Lines as ink 0..1; their share of the paper is the tone's, exactly."""
    cover = wished_cover(tone, settings)
    pitch = 10 / settings.ruling
    if settings.lines == Lines.CONCENTRIC:
        x, y = positions(frame, 0)
        centre_x = frame.full_width / frame.px_per_mm / 2
        centre_y = frame.full_height / frame.px_per_mm / 2
        radius = np.hypot(x - centre_x, y - centre_y)
        phase = np.asarray(radius / pitch, np.float32)
        return line_cover(cover, phase, pixel_span(frame, 20, pitch))
    straight = _straight(cover, frame, settings.angle, pitch)
    if settings.lines == Lines.STRAIGHT:
        return straight
    # Two screens that overlap at random leave (1 - w)² bare.
    single = np.asarray(1 - np.sqrt(1 - cover), np.float32)
    first = _straight(single, frame, settings.angle, pitch)
    second = _straight(single, frame, settings.angle + 90, pitch)
    return np.asarray(1 - (1 - first) * (1 - second), np.float32)


def _straight(cover: Plane, frame: Frame, angle: float, pitch: float) -> Plane:
    _, across = positions(frame, angle)
    return line_cover(cover, across / np.float32(pitch), pixel_span(frame, angle, pitch))


LOOK = Look(
    settings=LineScreen,
    label="Line screen",
    purpose="Parallel lines that swell with the dark, for one-colour printing",
    draw=draw,
    reach_mm=lambda settings: 0.0,
    two_tone=lambda settings: True,
)
