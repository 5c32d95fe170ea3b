"""Blend modes: W3C Compositing and Blending Level 1, and sum and difference of densities."""

from collections.abc import Callable
from enum import StrEnum

import numpy as np
from numpy.typing import NDArray

Values = NDArray[np.float32]


class Blend(StrEnum):
    """How a plate's colour meets what is printed before it."""

    MULTIPLY = "multiply"
    NORMAL = "normal"
    SCREEN = "screen"
    OVERLAY = "overlay"
    DARKEN = "darken"
    LIGHTEN = "lighten"
    COLOR_DODGE = "color-dodge"
    COLOR_BURN = "color-burn"
    HARD_LIGHT = "hard-light"
    SOFT_LIGHT = "soft-light"
    DIFFERENCE = "difference"
    EXCLUSION = "exclusion"
    HUE = "hue"
    SATURATION = "saturation"
    COLOR = "color"
    LUMINOSITY = "luminosity"
    SUM = "sum"
    DENSITY_DIFFERENCE = "density-difference"


# What each does to ink, in words, and the name that it has elsewhere.
BLEND_WORDS: dict[Blend, tuple[str, ...]] = {
    Blend.MULTIPLY: ("Ink over ink", "Darks add up, as one ink over another", "multiply"),
    Blend.NORMAL: ("Covers", "Hides what lies beneath, as poster paint does", "normal"),
    Blend.DARKEN: ("The darker of both", "Prints only where it is darker", "darken"),
    Blend.SUM: ("All its ink on top", "Densities add: two half tones come to black", "sum"),
    Blend.COLOR_BURN: ("Burns in", "Deepens what lies beneath until it fills", "colour burn"),
    Blend.SCREEN: ("Light over dark", "Lights add up; black ink leaves no trace", "screen"),
    Blend.LIGHTEN: ("The lighter of both", "Prints only where it is lighter", "lighten"),
    Blend.COLOR_DODGE: ("Flares up", "Brightens what lies beneath, to white", "colour dodge"),
    Blend.OVERLAY: ("Strengthens", "Darks deepen and lights open, as they lie beneath", "overlay"),
    Blend.HARD_LIGHT: ("Glares", "Dark ink deepens and light ink opens", "hard light"),
    Blend.SOFT_LIGHT: ("Breathes on it", "Deepens or opens gently, never to black", "soft light"),
    Blend.DIFFERENCE: ("Turns over", "Light ink makes a negative of what it meets", "difference"),
    Blend.EXCLUSION: ("Turns over softly", "A negative whose middles go grey", "exclusion"),
    Blend.DENSITY_DIFFERENCE: ("Takes ink off ink", "Where both print alike, paper shows", ""),
    Blend.HUE: ("Only its hue", "Tone and strength of colour stay as beneath", "hue"),
    Blend.SATURATION: ("Only its strength", "Hue and tone stay as beneath", "saturation"),
    Blend.COLOR: ("Only its colour", "Tints what lies beneath; tones stay", "colour"),
    Blend.LUMINOSITY: ("Only its tone", "Colours stay as beneath", "luminosity"),
}
# These look at all three channels at once.
BY_COLOUR = (Blend.HUE, Blend.SATURATION, Blend.COLOR, Blend.LUMINOSITY)


def blended(under: Values, source: Values, mode: Blend) -> Values:
    """B(under, source) of a mode, float32 0..1, sRGB-encoded; source may be one value for all.

    The modes of BY_COLOUR need (..., 3). sum adds densities and density-difference takes one
    from the other, where density is 1 - value, the share of paper white that is lost.
    """
    if mode in BY_COLOUR:
        return np.asarray(_by_colour(under, source, mode), np.float32)
    return np.asarray(np.clip(SEPARABLE[mode](under, source), 0, 1), np.float32)


def _overlay(b: Values, s: Values) -> Values:
    return _hard_light(s, b)


def _hard_light(b: Values, s: Values) -> Values:
    return np.where(s <= 0.5, 2 * b * s, b + (2 * s - 1) - b * (2 * s - 1))


def _soft_light(b: Values, s: Values) -> Values:
    deep = np.where(b <= 0.25, ((16 * b - 12) * b + 4) * b, np.sqrt(b))
    return np.where(s <= 0.5, b - (1 - 2 * s) * b * (1 - b), b + (2 * s - 1) * (deep - b))


def _dodge(b: Values, s: Values) -> Values:
    raised = np.minimum(1, b / np.maximum(1 - s, 1e-6))
    return np.where(b <= 0, 0, np.where(s >= 1, 1, raised))


def _burn(b: Values, s: Values) -> Values:
    lowered = 1 - np.minimum(1, (1 - b) / np.maximum(s, 1e-6))
    return np.where(b >= 1, 1, np.where(s <= 0, 0, lowered))


SEPARABLE: dict[Blend, Callable[[Values, Values], Values]] = {
    Blend.MULTIPLY: lambda b, s: b * s,
    Blend.NORMAL: lambda b, s: s,
    Blend.SCREEN: lambda b, s: b + s - b * s,
    Blend.OVERLAY: _overlay,
    Blend.DARKEN: np.minimum,
    Blend.LIGHTEN: np.maximum,
    Blend.COLOR_DODGE: _dodge,
    Blend.COLOR_BURN: _burn,
    Blend.HARD_LIGHT: _hard_light,
    Blend.SOFT_LIGHT: _soft_light,
    Blend.DIFFERENCE: lambda b, s: np.abs(b - s),
    Blend.EXCLUSION: lambda b, s: b + s - 2 * b * s,
    Blend.SUM: lambda b, s: b + s - 1,
    Blend.DENSITY_DIFFERENCE: lambda b, s: 1 - np.abs(b - s),
}


def _by_colour(b: Values, s: Values, mode: Blend) -> Values:
    match mode:
        case Blend.HUE:
            return _with_lum(_with_saturation(s, _saturation(b)), _lum(b))
        case Blend.SATURATION:
            return _with_lum(_with_saturation(b, _saturation(s)), _lum(b))
        case Blend.COLOR:
            return _with_lum(s, _lum(b))
    return _with_lum(b, _lum(s))


def _lum(colour: Values) -> Values:
    return np.asarray(colour @ np.array([0.3, 0.59, 0.11], np.float32))[..., None]


def _saturation(colour: Values) -> Values:
    return np.asarray(colour.max(-1, keepdims=True) - colour.min(-1, keepdims=True))


def _with_saturation(colour: Values, saturation: Values) -> Values:
    low = colour.min(-1, keepdims=True)
    span = colour.max(-1, keepdims=True) - low
    return np.where(span > 0, (colour - low) * saturation / np.maximum(span, 1e-9), 0)


def _with_lum(colour: Values, lum: Values) -> Values:
    moved = colour + (lum - _lum(colour))
    # Clipped towards the luminosity, so that it stays what it is.
    middle = _lum(moved)
    low, high = moved.min(-1, keepdims=True), moved.max(-1, keepdims=True)
    up = middle + (moved - middle) * middle / np.maximum(middle - low, 1e-9)
    moved = np.where(low < 0, up, moved)
    down = middle + (moved - middle) * (1 - middle) / np.maximum(high - middle, 1e-9)
    return np.where(high > 1, down, moved)
