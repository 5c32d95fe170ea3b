"""Ink: lays a plate's coverage on the sheet, in its colours and its register."""

import math
from enum import StrEnum
from typing import Any

import numpy as np
from numpy.typing import NDArray

from flinz.core.dial import Angle, Choice, Colour, Dial, Settings, Switch
from flinz.core.planes.filters import Plane, smoothstep
from flinz.core.planes.smear import moved, smeared
from flinz.core.scale import Frame
from flinz.core.stages.blend import BLEND_WORDS, BY_COLOUR, Blend


class Colouring(StrEnum):
    """Where a plate's colour comes from."""

    SINGLE = "single"
    TWO_COLOUR = "two-colour"
    PHOTO = "photo"


def _slip(label: str, hint: str) -> Any:
    return Dial(
        0.0,
        ge=-50.0,
        le=50.0,
        low=-3.0,
        high=3.0,
        step=0.05,
        unit="mm",
        label=label,
        hint=hint,
        group="Register",
    )


class Fade(StrEnum):
    """How a plate fades across the sheet."""

    NONE = "none"
    STRAIGHT = "straight"
    ROUND = "round"


def _handle(default: float, label: str, hint: str) -> Any:
    return Dial(
        default,
        ge=-1.0,
        le=2.0,
        low=0.0,
        high=1.0,
        step=0.005,
        label=label,
        hint=hint,
        group="Fade across the sheet",
        only_for={"fade": ["straight", "round"]},
    )


def _mid(number: int, colour: str) -> Any:
    counts = [str(count) for count in range(number, 7)]
    return Colour(
        colour,
        label=f"Between {number}",
        hint="Counted from the lights",
        only_for={"colouring": ["two-colour"], "between": counts},
    )


class Ink(Settings):
    """The colours a plate prints in, and where it lands."""

    colouring: Colouring = Choice(
        Colouring.SINGLE,
        label="Colouring",
        hint="One ink, two by tone, or the photo's colours",
        options={
            Colouring.SINGLE: ("One ink", "Drawn in this plate's ink; bare paper between"),
            Colouring.TWO_COLOUR: (
                "Darks and lights",
                "Ink for the darks, another colour for the lights, mixed between; no bare paper",
                "duotone map",
            ),
            Colouring.PHOTO: ("The photo's colours", "Every mark takes the colour beneath it"),
        },
    )
    colour: str = Colour("#000000", label="Ink", hint="The colour this plate prints in")
    lights: str = Colour(
        "#f2d9a0",
        label="Lights",
        hint="The colour where there is no ink",
        only_for={"colouring": ["two-colour"]},
    )
    between: float = Dial(
        0,
        ge=0,
        le=6,
        step=1,
        label="Colours between",
        hint="From lights to darks; flat tones take one each",
        only_for={"colouring": ["two-colour"]},
    )
    mid_1: str = _mid(1, "#d9a25f")
    mid_2: str = _mid(2, "#b5763f")
    mid_3: str = _mid(3, "#8a5a3c")
    mid_4: str = _mid(4, "#5f4a3a")
    mid_5: str = _mid(5, "#453a33")
    mid_6: str = _mid(6, "#2e2a28")
    saturation: float = Dial(
        1.0,
        ge=0.0,
        le=3.0,
        high=2.0,
        step=0.02,
        label="Saturation",
        hint="From greys to stronger colours than the photo's",
        only_for={"colouring": ["photo"]},
    )
    opacity: float = Dial(
        1.0,
        ge=0.0,
        le=1.0,
        step=0.01,
        label="Opacity",
        hint="How much it hides what lies beneath",
    )
    times: float = Dial(
        1,
        ge=1,
        le=8,
        step=1,
        unit="×",
        label="Times printed",
        hint="Over itself, so that greys fill up",
    )
    blend: Blend = Choice(
        Blend.MULTIPLY,
        label="Meets what is beneath",
        hint="How it meets what is printed before it",
        options=BLEND_WORDS,
    )
    offset_x: float = _slip("Off to the right", "How far the plate slipped sideways")
    offset_y: float = _slip("Off downwards", "How far the plate slipped down")
    turn: float = Dial(
        0.0,
        ge=-20.0,
        le=20.0,
        low=-3.0,
        high=3.0,
        step=0.05,
        unit="°",
        label="Turned",
        group="Register",
        hint="How far the plate lies aslant",
    )
    smear: float = Dial(
        0.0,
        ge=0.0,
        le=20.0,
        high=4.0,
        step=0.05,
        unit="mm",
        label="Smear",
        group="Register",
        hint="How far wet ink was dragged",
    )
    smear_angle: float = Angle(
        0.0,
        hint="Which way, counter-clockwise",
        label="Smear angle",
        low=-180.0,
        group="Register",
        idle_at={"smear": 0},
    )
    only_from: float = Dial(
        0.0,
        ge=0.0,
        le=1.0,
        step=0.01,
        label="Only from",
        group="Which tones print",
        hint="Prints where the photo is at least this light",
    )
    only_to: float = Dial(
        1.0,
        ge=0.0,
        le=1.0,
        step=0.01,
        label="Only to",
        group="Which tones print",
        hint="Prints where the photo is at most this light",
    )
    only_soft: float = Dial(
        0.1,
        ge=0.0,
        le=0.5,
        step=0.01,
        label="Fade",
        group="Which tones print",
        hint="Over how much tone it fades out",
        idle_at={"only_from": 0, "only_to": 1},
    )
    only_beside: bool = Switch(
        False,
        label="All but these tones",
        group="Which tones print",
        hint="Turns the tones that print round",
    )
    fade: Fade = Choice(
        Fade.NONE,
        label="Fade across the sheet",
        hint="Where this plate prints fully, and where no more",
        options={
            Fade.NONE: ("None", "It prints everywhere alike"),
            Fade.STRAIGHT: ("Straight", "From one handle to the other"),
            Fade.ROUND: ("Round", "From the first handle all round, as far as the other"),
        },
    )
    fade_x: float = _handle(0.35, "Full at, across", "Share of the picture from its left edge")
    fade_y: float = _handle(0.5, "Full at, down", "Share of the picture from its top edge")
    gone_x: float = _handle(0.65, "Gone at, across", "Share of the picture from its left edge")
    gone_y: float = _handle(0.5, "Gone at, down", "Share of the picture from its top edge")
    fade_beside: bool = Switch(
        False,
        label="Fade turned round",
        group="Fade across the sheet",
        only_for={"fade": ["straight", "round"]},
        hint="Prints where it would not, and not elsewhere",
    )

    @property
    def register(self) -> tuple[float, ...]:
        """What decides where the plate's ink lands; all else is how it prints there."""
        return self.offset_x, self.offset_y, self.turn, self.smear, self.smear_angle

    @property
    def is_in_register(self) -> bool:
        """Whether the plate lands where it was drawn, unsmeared."""
        return not (self.offset_x or self.offset_y or self.turn or self.smear)

    @property
    def prints_everywhere(self) -> bool:
        """Whether the photo's tone does not matter."""
        return self.only_from <= 0 and self.only_to >= 1 and not self.only_beside

    @property
    def fading(self) -> tuple[float | str, ...]:
        """What decides its fade across the sheet; empty without one."""
        if self.fade == Fade.NONE:
            return ()
        ends = self.fade_x, self.fade_y, self.gone_x, self.gone_y
        return self.fade.value, *ends, self.fade_beside

    @property
    def by_tone(self) -> NDArray[np.float32]:
        """(K, 3) colours from no ink to full, at even steps."""
        mids = (self.mid_1, self.mid_2, self.mid_3, self.mid_4, self.mid_5, self.mid_6)
        named = (self.lights, *mids[: round(self.between)], self.colour)
        return np.stack([rgb_of(each) for each in named])

    @property
    def is_plain(self) -> bool:
        """Whether it is one ink that multiplies."""
        return self.colouring == Colouring.SINGLE and self.blend == Blend.MULTIPLY

    @property
    def hiding(self) -> float:
        """How much full ink hides of what lies beneath, 0..1, printed as often as it is."""
        return self.hiding_of(1.0)

    def hiding_of(self, share: float) -> float:
        """As hiding, of a share 0..1 of ink."""
        return float(1 - (1 - share * self.opacity) ** round(self.times))

    @property
    def is_neutral(self) -> bool:
        """Whether it prints greys onto grey."""
        single = self.colouring == Colouring.SINGLE and self.blend not in BY_COLOUR
        return single and is_grey_colour(self.colour)


def rgb_of(colour: str) -> NDArray[np.float32]:
    """(3,) float32 0..1 of #rrggbb."""
    values = [int(colour[k : k + 2], 16) for k in (1, 3, 5)]
    return np.array(values, np.float32) / np.float32(255)


def is_grey_colour(colour: str) -> bool:
    """Whether #rrggbb is a grey."""
    red, green, blue = rgb_of(colour)
    return bool(red == green == blue)


def hex_of(rgb: NDArray[np.float32] | tuple[float, float, float]) -> str:
    """#rrggbb of three values 0..1."""
    red, green, blue = (int(value) for value in np.rint(np.clip(rgb, 0, 1) * 255))
    return f"#{red:02x}{green:02x}{blue:02x}"


def registered(cover: Plane, settings: Ink, frame: Frame) -> Plane:
    """cover where the plate lands: turned about the sheet's middle, moved, smeared."""
    middle = frame.full_width / 2 - frame.left, frame.full_height / 2 - frame.top
    landed = moved(
        cover,
        frame.px(settings.offset_x),
        frame.px(settings.offset_y),
        settings.turn,
        middle,
        goes_on=False,
    )
    return smeared(landed, frame.px(settings.smear), settings.smear_angle, both_ways=False)


def reach_mm(settings: Ink, diagonal_mm: float) -> float:
    """How far ink may land from where it was drawn, on a sheet of that diagonal."""
    slipped = abs(settings.offset_x) + abs(settings.offset_y)
    return slipped + settings.smear + diagonal_mm / 2 * math.radians(abs(settings.turn))


def printing_share(grey: Plane, settings: Ink) -> Plane:
    """Where the photo's tone lets a plate print, (H, W) float32 0..1. grey: (H, W) float32."""
    share = in_window(grey, settings.only_from, settings.only_to, settings.only_soft)
    return np.asarray(1 - share if settings.only_beside else share, np.float32)


def in_window(grey: Plane, low: float, high: float, soft: float = 0.05) -> Plane:
    """The share 0..1 to which a tone lies between two, fading out over soft beyond them."""
    soft = max(soft, 1e-3)
    above = smoothstep(low - soft, low, grey)
    below = smoothstep(high + soft, high, grey)
    return np.asarray(above * below, np.float32)


def faded_share(settings: Ink, frame: Frame) -> Plane:
    """How much of a plate prints across its box, (H, W) float32 0..1. frame: of the box."""
    height = frame.full_height / frame.full_width
    # In shares of the width, so that round is round.
    begin = np.array([settings.fade_x, settings.fade_y * height])
    way = np.array([settings.gone_x, settings.gone_y * height]) - begin
    length = max(float(np.hypot(*way)), 1e-6)
    columns = (np.arange(frame.left, frame.right) + 0.5) / frame.full_width - begin[0]
    rows = (np.arange(frame.top, frame.bottom) + 0.5) / frame.full_width - begin[1]
    across, down = columns[None].astype(np.float32), rows[:, None].astype(np.float32)
    if settings.fade == Fade.STRAIGHT:
        along = (across * np.float32(way[0]) + down * np.float32(way[1])) / np.float32(length**2)
    else:
        along = np.hypot(across, down) / np.float32(length)
    share = smoothstep(1.0, 0.0, np.asarray(along, np.float32))
    return np.asarray(1 - share if settings.fade_beside else share, np.float32)
