"""Grey of a photo: by luminance, moved by a mix of six hues."""

from functools import cache
from typing import Any

import numpy as np
from numba import njit, prange
from numpy.typing import NDArray

from flinz.core.planes.filters import Plane

LUT_STEPS = 4096
HUES = 6
# A third of full colour counts as two thirds: skin and leaves must answer to the mix.
REACH_OF_COLOUR = 2.5


def luminance_grey(rgb: NDArray[Any]) -> Plane:
    """Grey of the same luminance (IEC 61966-2-1, CIE Y), (H, W) float32, sRGB-encoded.

    rgb: (H, W, 3) uint8, uint16 or float32 0..1, sRGB-encoded. A pixel with R = G = B keeps
    exactly that value.
    """
    return np.asarray(_grey_of(rgb), np.float32)


def mixed_grey(grey: Plane, rgb: NDArray[Any], mix: tuple[float, ...]) -> Plane:
    """Grey with colours lightened or darkened by hue.

    grey: (H, W) float32, the luminance grey of rgb. mix: -1..1 for red, yellow, green, cyan,
    blue, magenta. Weights run smoothly from one hue to the next and grow with colourfulness, so
    that neutral greys never move. -1 takes a full colour to black, 1 to white.
    """
    scale = 1.0 if rgb.dtype == np.float32 else 1.0 / np.iinfo(rgb.dtype).max
    wanted = np.array([*mix, mix[0]], np.float32)
    return np.asarray(_mixed(grey, rgb, np.float32(scale), wanted), np.float32)


@njit(parallel=True, fastmath=True, cache=True)
def _mixed(grey, rgb, scale, mix) -> Any:  # type: ignore[no-untyped-def]
    one = np.float32(1.0)
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
            k = min(int(place), HUES - 1)
            part = place - np.float32(k)
            part = part * part * (np.float32(3.0) - np.float32(2.0) * part)
            amount = mix[k] + part * (mix[k + 1] - mix[k])
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
    return _decode(np.arange(65_536) / 65_535).astype(np.float32)


def _decode(value: NDArray[np.float64]) -> NDArray[np.float64]:
    return np.where(value <= 0.04045, value / 12.92, ((value + 0.055) / 1.055) ** 2.4)


def _encode(light: NDArray[np.float64]) -> NDArray[np.float64]:
    return np.where(light <= 0.0031308, light * 12.92, 1.055 * light ** (1 / 2.4) - 0.055)


_EVEN = np.linspace(0, 1, LUT_STEPS + 1)
_TO_LIGHT = _decode(_EVEN).astype(np.float32)
_BYTE_LIGHT = _decode(np.arange(256) / 255).astype(np.float32)
# The encoding is steep near black; a table over the square root of light stays accurate.
_TO_VALUE = _encode(_EVEN**2).astype(np.float32)


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
