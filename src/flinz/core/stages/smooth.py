"""Smooth: takes away what is too fine to draw, in one of several ways."""

import math
import os
from enum import StrEnum
from typing import Annotated, Literal

import cv2
import numpy as np
from numpy.typing import NDArray
from pydantic import Field

from flinz.core.dial import Angle, Choice, Dial, Settings
from flinz.core.keeping import Keep, keep_nothing
from flinz.core.planes.curved import curves, traced
from flinz.core.planes.filters import Plane, blurred, in_strips
from flinz.core.planes.flow import DRAFT_CELLS, FIELD_PX_PER_MM, direction_field
from flinz.core.planes.guided import guided
from flinz.core.planes.smear import smeared
from flinz.core.scale import PRINTED_PX_PER_MM, Frame

CRISP_MM = 0.4
ALONG_STEP_MM = 0.2
ALONG_SEAM_MM = 0.08
WIDEST_MEDIAN_PX = 120.0


class NoSmoothing(Settings):
    """The tone passes as it is."""

    kind: Literal["none"] = "none"


class Smoothing(Settings):
    """Base of what smooths."""

    arrives: float = Dial(
        1.0,
        ge=0.0,
        le=1.0,
        step=0.01,
        label="How much arrives",
        hint="From none of this smoothing to all of it",
    )


class Gaussian(Smoothing):
    """Even blur: fine texture goes, edges soften."""

    kind: Literal["gaussian"] = "gaussian"
    radius: float = Dial(
        0.3,
        ge=0.0,
        le=20.0,
        high=3.0,
        step=0.05,
        unit="mm",
        label="Radius",
        hint="How far tone spreads",
    )


class Median(Smoothing):
    """Specks and hairs go, corners round off, edges stay crisp."""

    kind: Literal["median"] = "median"
    radius: float = Dial(
        0.4,
        ge=0.0,
        le=10.0,
        high=3.0,
        step=0.05,
        unit="mm",
        label="Radius",
        hint="Details smaller than this disappear",
    )


class EdgeKeeping(Smoothing):
    """Surfaces flatten, strong edges stay."""

    kind: Literal["edge-keeping"] = "edge-keeping"
    radius: float = Dial(
        1.0,
        ge=0.0,
        le=20.0,
        high=6.0,
        step=0.1,
        unit="mm",
        label="Radius",
        hint="How far a surface is evened out",
    )
    strength: float = Dial(
        0.1,
        ge=0.005,
        le=1.0,
        high=0.4,
        step=0.005,
        label="Strength",
        hint="Differences up to about this are evened out",
    )


class AlongForm(Smoothing):
    """Fur, hair and grain turn to a clean flow; edges across it stay."""

    kind: Literal["along-form"] = "along-form"
    length: float = Dial(
        3.0,
        ge=0.0,
        le=20.0,
        high=10.0,
        step=0.1,
        unit="mm",
        label="Length",
        hint="How far tone runs along the form",
    )
    form: float = Dial(
        0.9,
        ge=0.2,
        le=10.0,
        high=4.0,
        step=0.1,
        unit="mm",
        label="Form",
        hint="How broad a form it follows",
    )
    crisp: float = Dial(
        0.3,
        ge=0.0,
        le=1.0,
        step=0.02,
        label="Crisp",
        hint="Steeper edges across the flow",
    )


class Ways(StrEnum):
    """Which way a smear runs from where it starts."""

    BOTH = "both"
    ONE = "one"


class Smear(Smoothing):
    """Everything is dragged one way, as by a moving hand."""

    kind: Literal["smear"] = "smear"
    length: float = Dial(
        2.0,
        ge=0.0,
        le=60.0,
        high=20.0,
        step=0.1,
        unit="mm",
        label="Length",
        hint="How far it is dragged",
    )
    angle: float = Angle(0.0, hint="Which way, counter-clockwise", low=-180.0)
    ways: Ways = Choice(
        Ways.BOTH,
        label="Ways",
        hint="To both sides, or one",
        options={
            Ways.BOTH: ("To both sides", "As a hand that shook"),
            Ways.ONE: ("To one side", "As a sleeve that dragged: one edge stays sharp"),
        },
    )


Smooth = Annotated[
    NoSmoothing | Gaussian | Median | EdgeKeeping | AlongForm | Smear,
    Field(discriminator="kind"),
]
LABELS = {
    "none": "Nothing",
    "gaussian": "Gaussian",
    "median": "Median",
    "edge-keeping": "Edge-keeping",
    "along-form": "Along the form",
    "smear": "Smear",
}
KINDS: dict[str, type[Settings]] = {
    "none": NoSmoothing,
    "gaussian": Gaussian,
    "median": Median,
    "edge-keeping": EdgeKeeping,
    "along-form": AlongForm,
    "smear": Smear,
}


def smoothed(
    tone: Plane,
    settings: Settings,
    frame: Frame,
    keep: Keep = keep_nothing,
    draft: bool = False,
) -> Plane:
    """Tone after smoothing. tone: (H, W) float32 0..1; returns the same shape and range.

    The median takes the middle of a square window on 256 tones. Edge-keeping is the guided
    filter with the picture as its own guide: K. He, J. Sun and X. Tang (2010). Along the form
    tone is averaged along the curves of the structure tensor, twice, then sharpened across: after
    J. Kyprianidis and H. Kang (2011), whose shock filter is an unsharp mask here.
    """
    match settings:
        case Gaussian(radius=radius):
            return blurred(tone, frame.px(radius))
        case Median(radius=radius):
            return _median(tone, radius, frame)
        case EdgeKeeping(radius=radius, strength=strength):
            return guided(tone, frame.px(radius), strength)
        case AlongForm():
            return _along_form(tone, settings, frame, keep, draft)
        case Smear(length=length, angle=angle, ways=ways):
            return smeared(tone, frame.px(length), angle, ways == Ways.BOTH)
    return tone


def reach_mm(settings: Settings) -> float:
    """How far away, in mm, a tone still matters to the smoothed one."""
    match settings:
        case Gaussian(radius=radius):
            return 4 * radius
        case Median(radius=radius):
            return radius + 0.5 / PRINTED_PX_PER_MM
        case EdgeKeeping(radius=radius):
            return 2 * radius
        case AlongForm(length=length, form=form):
            return 2 * length + 4 * form + 4 * CRISP_MM
        case Smear(length=length):
            return length
    return 0.0


def _along_form(tone: Plane, settings: AlongForm, frame: Frame, keep: Keep, draft: bool) -> Plane:
    if settings.length == 0:
        return tone
    values = (settings.length, settings.form)
    flowing = keep("flowing", values, lambda: _flowing(tone, settings, frame, draft))
    soft = blurred(flowing, frame.px(CRISP_MM))
    crisp = flowing + np.float32(2 * settings.crisp) * (flowing - soft)
    return np.asarray(np.clip(crisp, 0, 1), np.float32)


def _flowing(tone: Plane, settings: AlongForm, frame: Frame, draft: bool) -> Plane:
    # Two passes of sigma s / sqrt(2) reach as far as one of s, and round off its samples.
    sigma_mm = settings.length / 2 / math.sqrt(2)
    # A draft has larger cells and half as many samples.
    finest, step = FIELD_PX_PER_MM, max(sigma_mm / 4, ALONG_STEP_MM)
    if draft:
        finest, step = min(finest / 2, DRAFT_CELLS * frame.px_per_mm), 2 * step
    field = direction_field(tone, frame, settings.form, px_per_mm=finest)
    along = curves(field, sigma_mm, step)
    once = traced(tone, frame, along)
    # The pixels of a cell share a curve; this takes the seams between cells away.
    return blurred(traced(once, frame, along), frame.px(ALONG_SEAM_MM))


def is_drafted(settings: Settings) -> bool:
    """Whether a draft is smoothed otherwise than the settled picture."""
    return isinstance(settings, AlongForm)


def proof_factor(settings: Settings) -> int:
    """How many times finer a proof is drawn before it is shrunk; curves need pixels."""
    return 2 if isinstance(settings, AlongForm) else 1


def _median(tone: Plane, radius_mm: float, frame: Frame) -> Plane:
    if radius_mm == 0:
        return tone
    # A window has a pixel in its middle: as wide, in mm, as where the drawing is exported.
    reach = frame.px(radius_mm) + (frame.px_per_mm / PRINTED_PX_PER_MM - 1) / 2
    reach = min(max(reach, 0.0), WIDEST_MEDIAN_PX)
    whole = math.floor(reach)
    steps = np.rint(tone * 255).astype(np.uint8)

    def median(reach_px: int) -> Plane:
        return tone if reach_px == 0 else _middle(steps, reach_px)

    # Between two windows of whole pixels it is something of both.
    part = np.float32(reach - whole)
    near = median(whole)
    return near if part == 0 else np.asarray(near + part * (median(whole + 1) - near), np.float32)


def _middle(steps: NDArray[np.uint8], reach_px: int) -> Plane:
    """The median of 256 tones within so many pixels each way."""
    count = min(os.cpu_count() or 1, max(1, steps.shape[0] // (4 * reach_px + 1)))

    def median(part: NDArray[np.uint8]) -> NDArray[np.uint8]:
        return np.asarray(cv2.medianBlur(part, 2 * reach_px + 1), np.uint8)

    middle = in_strips(steps, reach_px, count, median)
    return np.asarray(middle, np.float32) / np.float32(255)
