"""Noise that is fixed to the paper: the same spot has the same grain at any scale."""

import functools
import math

import cv2
import numpy as np
from numpy.typing import NDArray

from flinz.core.filters import Plane
from flinz.core.scale import Frame

TILE_PX = 1024
TILE_PX_PER_MM = 8.0


@functools.lru_cache(maxsize=16)
def _tile(seed: int, grain_mm: float) -> Plane:
    """A seamless tile of band-passed noise, evenly spread over 0..1, TILE_PX a side."""
    rng = np.random.default_rng(seed)
    spectrum = np.fft.rfft2(rng.standard_normal((TILE_PX, TILE_PX)))
    fy = np.fft.fftfreq(TILE_PX)[:, None] * TILE_PX_PER_MM
    fx = np.fft.rfftfreq(TILE_PX)[None] * TILE_PX_PER_MM
    periods = np.hypot(fx, fy) * grain_mm
    # Grain has a size: neither finer dust nor broad clouds. Centred on one period a grain.
    band = np.exp(-0.5 * ((periods - 0.7) / 0.35) ** 2)
    noise = np.fft.irfft2(spectrum * band, s=(TILE_PX, TILE_PX))
    # An error function of a normal value is evenly spread.
    spread = noise / (noise.std() * math.sqrt(2))
    # Abramowitz and Stegun 7.1.27: within 5e-4, and free of a special-function call a pixel.
    size = np.abs(spread)
    poly = 1 + size * (0.278393 + size * (0.230389 + size * (0.000972 + size * 0.078108)))
    return np.asarray(0.5 + 0.5 * np.sign(spread) * (1 - 1 / poly**4), np.float32)


@functools.lru_cache(maxsize=24)
def _level(seed: int, grain_mm: float, shrink: float) -> Plane:
    tile = _tile(seed, grain_mm)
    sigma = 0.45 * math.sqrt(max(0.0, shrink**2 - 1))
    if sigma < 0.05:
        return tile
    side = 2 * math.ceil(4 * sigma) + 1
    wide = cv2.copyMakeBorder(tile, side, side, side, side, cv2.BORDER_WRAP)
    soft = cv2.GaussianBlur(wide, (side, side), sigma)
    return np.ascontiguousarray(soft[side:-side, side:-side], np.float32)


def paper_grain(frame: Frame, grain_mm: float, seed: int) -> Plane:
    """Grain in a frame, (H, W) float32 0..1, mean one half.

    grain_mm: size of a grain; seed: which paper. Shrinking a large picture of it gives the small
    picture: the noise is averaged, not thinned out.
    """
    step = TILE_PX_PER_MM / frame.px_per_mm
    level = _level(seed, grain_mm, round(max(step, 1.0), 2))
    x = (frame.left + np.arange(frame.width, dtype=np.float64) + 0.5) * step - 0.5
    y = (frame.top + np.arange(frame.height, dtype=np.float64) + 0.5) * step - 0.5
    # One row and column more, so that linear sampling never meets the seam.
    seamless = cv2.copyMakeBorder(level, 0, 1, 0, 1, cv2.BORDER_WRAP)
    return _sampled(np.asarray(seamless, np.float32), x % TILE_PX, y % TILE_PX)


def _sampled(tile: Plane, x: NDArray[np.float64], y: NDArray[np.float64]) -> Plane:
    # x and y vary apart, so linear interpolation is two one-dimensional steps.
    ix, iy = x.astype(np.int32), y.astype(np.int32)
    u = (x - ix).astype(np.float32)
    v = (y - iy).astype(np.float32)[:, None]
    rows = tile[iy] * (1 - v) + tile[iy + 1] * v
    return np.asarray(rows[:, ix] * (1 - u) + rows[:, ix + 1] * u, np.float32)
