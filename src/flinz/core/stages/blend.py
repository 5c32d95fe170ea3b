"""Blend modes: W3C Compositing and Blending Level 1, and sum and difference of densities."""

from enum import StrEnum
from typing import Any

import numpy as np
from numba import njit
from numpy.typing import NDArray

from flinz.core.planes.filters import Plane

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


# What compiled code knows a mode by.
NUMBERS = {mode: number for number, mode in enumerate(Blend)}
MULTIPLY, NORMAL, SCREEN = (NUMBERS[each] for each in (Blend.MULTIPLY, Blend.NORMAL, Blend.SCREEN))
OVERLAY, DARKEN, LIGHTEN = (NUMBERS[each] for each in (Blend.OVERLAY, Blend.DARKEN, Blend.LIGHTEN))
DODGE, BURN, HARD = (
    NUMBERS[each] for each in (Blend.COLOR_DODGE, Blend.COLOR_BURN, Blend.HARD_LIGHT)
)
SOFT, DIFFERENCE, EXCLUSION = (
    NUMBERS[each] for each in (Blend.SOFT_LIGHT, Blend.DIFFERENCE, Blend.EXCLUSION)
)
SUM, HUE, SATURATION, COLOR = (
    NUMBERS[each] for each in (Blend.SUM, Blend.HUE, Blend.SATURATION, Blend.COLOR)
)


def blended(under: Values, source: Values, mode: Blend) -> Values:
    """B(under, source) of a mode, float32 0..1, sRGB-encoded, of the shape of under.

    source: of that shape, or one colour for all. The modes of BY_COLOUR need (..., 3). sum adds
    densities and density-difference takes one from the other, where density is 1 - value, the share
    of paper white that is lost.
    """
    return mixed(under, source, np.ones((1, 1), np.float32), mode)


def mixed(under: Values, source: Values, alpha: Plane, mode: Blend, times: int = 1) -> Values:
    """A sheet with something blended into it: under (1 - a) + a B(under, source), so many times one
    after the other.

    under, source: as in blended. alpha: (H, W) 0..1, or (1, 1) for one share everywhere.
    """
    channels = source.shape[-1] if under.ndim == 3 else 1
    sheet, given, share = _listed(under, channels), _listed(source, channels), _listed(alpha, 1)
    for _ in range(times):
        out = np.empty_like(sheet)
        _mix(sheet, given, share, NUMBERS[mode], mode in BY_COLOUR, out)
        sheet = out
    return sheet.reshape(under.shape)


def _listed(values: Values, channels: int) -> Values:
    """(N, channels), pixel by pixel."""
    return np.ascontiguousarray(values, np.float32).reshape(-1, channels)


@njit(cache=True, nogil=True, error_model="numpy")
def _mix(under, source, alpha, mode, by_colour, out) -> None:  # type: ignore[no-untyped-def]
    """What has one row for all is the same everywhere."""
    many, channels = under.shape
    to_source, to_alpha = min(len(source) - 1, 1), min(len(alpha) - 1, 1)
    if mode == NORMAL:
        for i in range(many):
            share = alpha[i * to_alpha, 0]
            for c in range(channels):
                # Exactly itself where all of it is taken.
                out[i, c] = under[i, c] * (1 - share) + share * source[i * to_source, c]
        return
    if by_colour:
        met = np.empty(3, np.float64)
        for i in range(many):
            share = alpha[i * to_alpha, 0]
            _by_colour(under[i], source[i * to_source], mode, met)
            for c in range(channels):
                out[i, c] = under[i, c] + share * (met[c] - under[i, c])
        return
    for i in range(many):
        share = alpha[i * to_alpha, 0]
        for c in range(channels):
            value = _met(under[i, c], source[i * to_source, c], mode)
            out[i, c] = under[i, c] + share * (min(max(value, 0.0), 1.0) - under[i, c])


@njit(cache=True, nogil=True, error_model="numpy")
def _met(b, s, mode) -> Any:  # type: ignore[no-untyped-def]
    """B of one channel; b lies beneath."""
    if mode == MULTIPLY:
        return b * s
    if mode == SCREEN:
        return b + s - b * s
    if mode == DARKEN:
        return min(b, s)
    if mode == LIGHTEN:
        return max(b, s)
    if mode == DODGE:
        return 0.0 if b <= 0 else 1.0 if s >= 1 else min(1.0, b / (1 - s))
    if mode == BURN:
        return 1.0 if b >= 1 else 0.0 if s <= 0 else 1 - min(1.0, (1 - b) / s)
    if mode == OVERLAY:
        return _hard(s, b)
    if mode == HARD:
        return _hard(b, s)
    if mode == SOFT:
        deep = ((16 * b - 12) * b + 4) * b if b <= 0.25 else np.sqrt(b)
        return b - (1 - 2 * s) * b * (1 - b) if s <= 0.5 else b + (2 * s - 1) * (deep - b)
    if mode == DIFFERENCE:
        return abs(b - s)
    if mode == EXCLUSION:
        return b + s - 2 * b * s
    if mode == SUM:
        return b + s - 1
    return 1 - abs(b - s)


@njit(inline="always")
def _hard(b, s) -> Any:  # type: ignore[no-untyped-def]
    return 2 * b * s if s <= 0.5 else b + (2 * s - 1) - b * (2 * s - 1)


@njit(cache=True, nogil=True, error_model="numpy")
def _by_colour(b, s, mode, met) -> None:  # type: ignore[no-untyped-def]
    """B of a whole colour, into met."""
    if mode == HUE:
        _give_saturation(s, max(b[0], b[1], b[2]) - min(b[0], b[1], b[2]), met)
        _give_lum(met, _lum(b), met)
    elif mode == SATURATION:
        _give_saturation(b, max(s[0], s[1], s[2]) - min(s[0], s[1], s[2]), met)
        _give_lum(met, _lum(b), met)
    elif mode == COLOR:
        _give_lum(s, _lum(b), met)
    else:
        _give_lum(b, _lum(s), met)


@njit(inline="always")
def _lum(colour) -> Any:  # type: ignore[no-untyped-def]
    return 0.3 * colour[0] + 0.59 * colour[1] + 0.11 * colour[2]


@njit(cache=True, nogil=True, error_model="numpy")
def _give_saturation(colour, saturation, out) -> None:  # type: ignore[no-untyped-def]
    low = min(colour[0], colour[1], colour[2])
    span = max(colour[0], colour[1], colour[2]) - low
    for c in range(3):
        out[c] = (colour[c] - low) * saturation / span if span > 0 else 0.0


@njit(cache=True, nogil=True, error_model="numpy")
def _give_lum(colour, lum, out) -> None:  # type: ignore[no-untyped-def]
    by = lum - _lum(colour)
    for c in range(3):
        out[c] = colour[c] + by
    low, high = min(out[0], out[1], out[2]), max(out[0], out[1], out[2])
    # Clipped towards the luminosity, so that it stays what it is.
    if low < 0:
        for c in range(3):
            out[c] = lum + (out[c] - lum) * lum / max(lum - low, 1e-9)
    if high > 1:
        for c in range(3):
            out[c] = lum + (out[c] - lum) * (1 - lum) / max(high - lum, 1e-9)
