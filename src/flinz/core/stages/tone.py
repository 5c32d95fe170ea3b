"""Tone: how the photo's colours become one grey, and how that grey is spread."""

import math
from typing import Any

import numpy as np
from numba import njit, prange
from numpy.typing import NDArray

from flinz.core.dial import Dial, Settings, Switch
from flinz.core.filters import Plane

LUT_STEPS = 4096
STRIP_ROWS = 256
CURVE_STEPS = 65_535  # so that every 16-bit value lies on a step
MEDIAN_WANTED = 0.5


class Tone(Settings):
    """Grey by luminance, then black and white points, mid-tone, contrast, invert."""

    black: float = Dial(
        0.0,
        ge=0.0,
        le=0.95,
        high=0.6,
        step=0.005,
        label="Black point",
        hint="Tones below this become black",
    )
    white: float = Dial(
        1.0,
        ge=0.05,
        le=1.0,
        low=0.4,
        step=0.005,
        label="White point",
        hint="Tones above this become white",
    )
    middle: float = Dial(
        0.5,
        ge=0.02,
        le=0.98,
        low=0.1,
        high=0.9,
        step=0.01,
        label="Mid-tone",
        hint="Becomes middle grey; lower opens shadows",
    )
    contrast: float = Dial(
        0.0,
        ge=-1.0,
        le=1.0,
        step=0.02,
        label="Contrast",
        hint="Steeper or flatter about middle grey",
    )
    invert: bool = Switch(False, label="Invert", hint="Draw the negative")


def toned(rgb: NDArray[Any], settings: Tone) -> Plane:
    """Grey of a picture, after the curve.

    rgb: (H, W, 3) uint8, uint16 or float32 0..1, sRGB-encoded. Returns (H, W) float32, 0 black
    to 1 white, sRGB-encoded: the grey of the same luminance (IEC 61966-2-1, CIE Y). A pixel with
    R = G = B keeps exactly that value when the settings are neutral.
    """
    grey = np.asarray(_grey_of(rgb), np.float32)
    return curved(grey, settings)


def _grey_of(rgb: NDArray[Any]) -> Any:
    if rgb.dtype == np.uint8:
        return _luminance_of_bytes(rgb, _BYTE_LIGHT, _TO_VALUE)
    if rgb.dtype == np.float32:
        return _luminance(rgb, _TO_LIGHT, _TO_VALUE)
    height, width = rgb.shape[:2]
    grey = np.empty((height, width), np.float32)
    for top in range(0, height, STRIP_ROWS):
        # Divided, not multiplied by a reciprocal: v / 65535 must be the nearest float to it.
        strip = rgb[top : top + STRIP_ROWS].astype(np.float32) / np.float32(65535)
        grey[top : top + STRIP_ROWS] = _luminance(strip, _TO_LIGHT, _TO_VALUE)
    return grey


def curved(grey: Plane, settings: Tone) -> Plane:
    """The curve of Tone on a grey plane (H, W); neutral settings leave values untouched."""
    if settings == Tone():
        return grey
    table = _curve(np.linspace(0, 1, CURVE_STEPS + 1), settings).astype(np.float32)
    return np.asarray(_looked_up(grey, table), np.float32)


def _curve(value: NDArray[np.float64], settings: Tone) -> NDArray[np.float64]:
    black, white = settings.black, max(settings.white, settings.black + 0.01)
    out = np.clip((value - black) / (white - black), 0, 1)
    out = out ** (math.log(0.5) / math.log(settings.middle))
    if settings.contrast > 0:
        half = 0.5 * (2 * np.minimum(out, 1 - out)) ** (2 ** (2 * settings.contrast))
        out = np.where(out < 0.5, half, 1 - half)
    else:
        out = 0.5 + (out - 0.5) * (1 + 0.9 * settings.contrast)
    return 1 - out if settings.invert else out


@njit(parallel=True, fastmath=True, cache=True)
def _looked_up(grey, table) -> Any:  # type: ignore[no-untyped-def]
    last = table.shape[0] - 1
    out = np.empty_like(grey)
    for row in prange(grey.shape[0]):
        for column in range(grey.shape[1]):
            place = grey[row, column] * np.float32(last)
            k = min(int(place), last - 1)
            out[row, column] = table[k] + (place - k) * (table[k + 1] - table[k])
    return out


def suggested(grey: Plane) -> dict[str, float]:
    """Black and white points and mid-tone that suit a grey plane before the curve.

    Points at the 0.5 and 99.5 percentiles; the mid-tone goes halfway to a median of one half,
    so that a picture that is meant to be dark stays dark.
    """
    low, median, high = (float(v) for v in np.percentile(grey, (0.5, 50, 99.5)))
    if high - low < 0.02:
        return {"black": 0.0, "white": 1.0, "middle": MEDIAN_WANTED}
    centre = (median - low) / (high - low)
    middle = min(0.8, max(0.2, 0.5 * (centre + MEDIAN_WANTED)))
    return {"black": round(low, 3), "white": round(high, 3), "middle": round(middle, 2)}


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
def _luminance_of_bytes(rgb, byte_light, to_value) -> Any:  # type: ignore[no-untyped-def]
    height, width = rgb.shape[0], rgb.shape[1]
    out = np.empty((height, width), np.float32)
    for row in prange(height):
        for column in range(width):
            red = rgb[row, column, 0]
            green = rgb[row, column, 1]
            blue = rgb[row, column, 2]
            if red == green and green == blue:
                out[row, column] = np.float32(green) / np.float32(255)
                continue
            light = np.float32(0.2126) * byte_light[red] + np.float32(0.7152) * byte_light[green]
            light += np.float32(0.0722) * byte_light[blue]
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
