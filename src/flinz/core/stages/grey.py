"""Grey of a photo: by luminance, moved by a ring of hues."""

import colorsys
from functools import cache, lru_cache
from typing import Any

import numpy as np
from numba import njit, prange
from numpy.typing import NDArray

from flinz.core.planes.filters import Plane

LUT_STEPS = 4096
# The ring is looked up at so many places; their steps are far below one of a byte.
PLACES = 3600
# A third of full colour counts as two thirds: skin and leaves must answer to the mix.
REACH_OF_COLOUR = 2.5
# What is less colourful has no hue that anyone means.
LEAST_COLOUR = 0.04


def luminance_grey(rgb: NDArray[Any]) -> Plane:
    """Grey of the same luminance (IEC 61966-2-1, CIE Y), (H, W) float32, sRGB-encoded.

    rgb: (H, W, 3) uint8, uint16 or float32 0..1, sRGB-encoded. A pixel with R = G = B keeps
    exactly that value.
    """
    return np.asarray(_grey_of(rgb), np.float32)


def pulled_grey(
    grey: Plane, rgb: NDArray[Any], pulls: tuple[tuple[float, float, float], ...]
) -> Plane:
    """Grey with colours lightened or darkened by hue.

    grey: (H, W) float32, the luminance grey of rgb. pulls: hue 0..360°, pull -1..1 and reach in
    degrees of each point of the ring. Pulls fall off smoothly to both sides, add up where they
    meet, and grow with colourfulness, so that neutral greys never move. -1 takes a full colour to
    black, 1 to white.
    """
    scale = 1.0 if rgb.dtype == np.float32 else 1.0 / np.iinfo(rgb.dtype).max
    return np.asarray(_moved(grey, rgb, np.float32(scale), ring(pulls)), np.float32)


@lru_cache(maxsize=16)
def ring(pulls: tuple[tuple[float, float, float], ...]) -> Plane:
    """What the points of a ring come to at PLACES even steps from 0° on, and 360° again; -1..1."""
    hue = np.linspace(0, 360, PLACES + 1)
    wanted = np.zeros_like(hue)
    for at, pull, reach in pulls:
        away = np.abs((hue - at + 180) % 360 - 180)
        near = np.clip(1 - away / reach, 0, 1)
        wanted += pull * near * near * (3 - 2 * near)
    return np.clip(wanted, -1, 1).astype(np.float32)


def hue_of(rgb: NDArray[np.float32]) -> float | None:
    """The hue 0..360° of one colour, (3,) 0..1 sRGB-encoded; None where it is next to grey."""
    hue, saturation, value = colorsys.rgb_to_hsv(*(float(v) for v in rgb))
    return hue * 360 if saturation * value >= LEAST_COLOUR else None


@njit(parallel=True, fastmath=True, cache=True)
def _moved(grey, rgb, scale, wanted) -> Any:  # type: ignore[no-untyped-def]
    one = np.float32(1.0)
    sixth = np.float32((wanted.shape[0] - 1) / 6)
    out = np.empty_like(grey)
    for row in prange(grey.shape[0]):
        for column in range(grey.shape[1]):
            red = rgb[row, column, 0] * scale
            green = rgb[row, column, 1] * scale
            blue = rgb[row, column, 2] * scale
            most, least = max(red, green, blue), min(red, green, blue)
            colour = most - least
            here = grey[row, column]
            if colour < np.float32(1e-4):
                out[row, column] = here
                continue
            # Place on the hue circle, 0..6: red, yellow, green, cyan, blue, magenta.
            if most == red:
                place = (green - blue) / colour
                if place < 0:
                    place += np.float32(6.0)
            elif most == green:
                place = np.float32(2.0) + (blue - red) / colour
            else:
                place = np.float32(4.0) + (red - green) / colour
            place *= sixth
            k = min(int(place), wanted.shape[0] - 2)
            amount = wanted[k] + (place - np.float32(k)) * (wanted[k + 1] - wanted[k])
            amount *= one - (one - colour) ** np.float32(REACH_OF_COLOUR)
            if amount < 0:
                out[row, column] = here * (one + amount)
            else:
                out[row, column] = here + amount * (one - here)
    return out


def _grey_of(rgb: NDArray[Any]) -> Any:
    if rgb.dtype == np.float32:
        return _luminance(rgb, _TO_LIGHT, _TO_VALUE)
    light = _BYTE_LIGHT if rgb.dtype == np.uint8 else _word_light()
    return _luminance_of_whole(rgb, light, _TO_VALUE)


@cache
def _word_light() -> NDArray[np.float32]:
    return decoded(np.arange(65_536) / 65_535).astype(np.float32)


def decoded(value: NDArray[np.float64]) -> NDArray[np.float64]:
    """Light 0..1 of sRGB-encoded values 0..1 (IEC 61966-2-1)."""
    return np.where(value <= 0.04045, value / 12.92, ((value + 0.055) / 1.055) ** 2.4)


def encoded(light: NDArray[np.float64]) -> NDArray[np.float64]:
    """sRGB-encoded values 0..1 of light 0..1 (IEC 61966-2-1)."""
    return np.where(light <= 0.0031308, light * 12.92, 1.055 * light ** (1 / 2.4) - 0.055)


_EVEN = np.linspace(0, 1, LUT_STEPS + 1)
_TO_LIGHT = decoded(_EVEN).astype(np.float32)
_BYTE_LIGHT = decoded(np.arange(256) / 255).astype(np.float32)
# The encoding is steep near black; a table over the square root of light stays accurate.
_TO_VALUE = encoded(_EVEN**2).astype(np.float32)


@njit(inline="always")
def _encoded(light, to_value) -> Any:  # type: ignore[no-untyped-def]
    last = to_value.shape[0] - 1
    place = np.sqrt(light) * np.float32(last)
    k = min(int(place), last - 1)
    part = place - np.float32(k)
    return to_value[k] + part * (to_value[k + 1] - to_value[k])


@njit(parallel=True, cache=True)
def _luminance_of_whole(rgb, to_light, to_value) -> Any:  # type: ignore[no-untyped-def]
    height, width = rgb.shape[0], rgb.shape[1]
    last = np.float32(to_light.shape[0] - 1)
    out = np.empty((height, width), np.float32)
    for row in prange(height):
        for column in range(width):
            red = rgb[row, column, 0]
            green = rgb[row, column, 1]
            blue = rgb[row, column, 2]
            if red == green and green == blue:
                out[row, column] = np.float32(green) / last
                continue
            light = np.float32(0.2126) * to_light[red] + np.float32(0.7152) * to_light[green]
            light += np.float32(0.0722) * to_light[blue]
            out[row, column] = _encoded(light, to_value)
    return out


@njit(parallel=True, cache=True)
def _luminance(rgb, to_light, to_value) -> Any:  # type: ignore[no-untyped-def]
    height, width = rgb.shape[0], rgb.shape[1]
    last = to_light.shape[0] - 1
    weights = (np.float32(0.2126), np.float32(0.7152), np.float32(0.0722))
    out = np.empty((height, width), np.float32)
    for row in prange(height):
        for column in range(width):
            green = rgb[row, column, 1]
            if rgb[row, column, 0] == green and green == rgb[row, column, 2]:
                out[row, column] = green
                continue
            light = np.float32(0.0)
            for channel in range(3):
                place = rgb[row, column, channel] * np.float32(last)
                k = min(int(place), last - 1)
                part = place - np.float32(k)
                value = to_light[k] + part * (to_light[k + 1] - to_light[k])
                light += weights[channel] * value
            out[row, column] = _encoded(light, to_value)
    return out
