"""Noise that is fixed to the paper: the same spot has the same grain at any scale."""

import functools
import math
from typing import Any

import numpy as np
from numba import njit, prange
from numpy.typing import NDArray

from flinz.core.planes.filters import Plane
from flinz.core.planes.flow import Field
from flinz.core.scale import Frame

TILE_PX_PER_MM = 8.0
GRAIN_TILE_PX = 1024
STROKE_TILE_PX = 512
STROKE_ANGLES = 48
SIZES_AN_OCTAVE = 4
LEVELS_AN_OCTAVE = 2
BROAD = 6.0


def paper_grain(frame: Frame, grain_mm: float, seed: int, offset_mm: float = 0.0) -> Plane:
    """Grain in a frame, (H, W) float32 0..1, mean one half.

    grain_mm: size of a grain; seed: which paper; offset_mm: which place of it lies in the
    corner, for several that are not alike at the cost of one. Shrinking a large picture of it
    gives the small picture: the noise is averaged, not thinned out.
    """
    # A grain between two sizes is the nearer one, stretched: turning a dial meets few tiles.
    made_mm = 2 ** (round(SIZES_AN_OCTAVE * math.log2(grain_mm)) / SIZES_AN_OCTAVE)
    step = TILE_PX_PER_MM / frame.px_per_mm * made_mm / grain_mm
    # Where a grain is many pixels wide there is nothing to average.
    shrink = _shrink(step) if step * BROAD > made_mm * TILE_PX_PER_MM else 1.0
    tile = _tiles(seed, made_mm, 0.0, GRAIN_TILE_PX, 1, shrink)[0]
    away = offset_mm * frame.px_per_mm * step
    down = step / frame.stretch
    left, top = _start(frame.left, step), _start(frame.top, down)
    grain = _sampled(tile, left + away, top + away, step, down, frame.width, frame.height)
    return np.asarray(grain, np.float32)


def paper_strokes(
    frame: Frame, form: Field, width_mm: float, length_mm: float, seed: int, draft: bool = False
) -> Plane:
    """Strokes along the form, (H, W) float32 0..1, mean one half, fixed to the paper.

    width_mm and length_mm: of a stroke (the length is two standard deviations each way). Noise
    smeared in many directions beforehand; each place takes the nearest. Neighbouring directions
    differ so little that no seam shows. A draft is averaged a little less, so that few tiles, each
    a quarter of a second's work, do for all drafts.
    """
    step, down = (TILE_PX_PER_MM / each for each in frame.per_mm)
    shrink = _shrink(step, 1 if draft else LEVELS_AN_OCTAVE)
    tiles = _tiles(seed, width_mm, length_mm / 4, STROKE_TILE_PX, STROKE_ANGLES, shrink)
    strokes = _sampled_along(
        tiles,
        _turns(form.directions, STROKE_ANGLES),
        form.place(frame),
        _start(frame.left, step),
        _start(frame.top, down),
        step,
        down,
        frame.width,
        frame.height,
    )
    return np.asarray(strokes, np.float32)


def _shrink(step: float, levels: int = LEVELS_AN_OCTAVE) -> float:
    # A zoom then meets few of them, and linear sampling does the rest.
    return float(2 ** (math.floor(levels * math.log2(max(step, 1.0)) + 0.01) / levels))


def _start(side: int, step: float) -> float:
    return (side + 0.5) * step - 0.5


@functools.lru_cache(maxsize=32)
def _tiles(
    seed: int, grain_mm: float, smear_mm: float, side: int, angles: int, shrink: float
) -> NDArray[np.uint8]:
    """(angles, side, side) uint8: seamless band-passed noise, evenly spread, smeared by angle.

    Angle k smears along k / angles of a half turn. shrink: how many tile pixels an output pixel
    covers; that much is averaged beforehand.
    """
    white = _white(seed, side)
    fy = (np.fft.fftfreq(side) * TILE_PX_PER_MM).astype(np.float32)
    fx = (np.fft.rfftfreq(side) * TILE_PX_PER_MM).astype(np.float32)
    average_mm = 0.45 * math.sqrt(max(0.0, shrink**2 - 1)) / TILE_PX_PER_MM
    tiles = np.empty((angles, side, side), np.uint8)
    for k in range(angles):
        angle = math.pi * k / angles
        way = np.array([math.cos(angle), math.sin(angle)], np.float32)
        sizes = np.array([grain_mm, smear_mm, average_mm], np.float32)
        spectrum, power = _passed(white, fx, fy, way, sizes)
        # Parseval: the spread of the noise before averaging, without a transform.
        spread = math.sqrt(float(power.sum())) / side**2
        noise = np.fft.irfft2(spectrum, s=(side, side))
        tiles[k] = _bytes_below(noise, np.float32(1 / spread / math.sqrt(2)))
    return tiles


@njit(parallel=True, fastmath=True, cache=True)
def _passed(white, fx, fy, way, sizes) -> Any:  # type: ignore[no-untyped-def]
    # The spectrum of smeared grain, averaged; and its power before averaging, a sum a row.
    grain_mm, smear_mm, average_mm = sizes
    out = np.empty(white.shape, np.complex64)
    power = np.zeros(white.shape[0], np.float64)
    half, two = np.float32(0.5), np.float32(2.0)
    smear = np.float32(np.pi) * smear_mm
    average = np.float32(np.pi) * average_mm
    last = white.shape[1] - 1
    for row in prange(white.shape[0]):
        total = 0.0
        for column in range(white.shape[1]):
            away2 = fx[column] * fx[column] + fy[row] * fy[row]
            # Grain has a size: neither finer dust nor broad clouds. Centred on one period a grain.
            off = (np.sqrt(away2) * grain_mm - np.float32(0.7)) / np.float32(0.35)
            along = smear * (fx[column] * way[0] + fy[row] * way[1])
            value = white[row, column] * np.exp(-half * off * off - two * along * along)
            size2 = value.real * value.real + value.imag * value.imag
            # Half of the spectrum is not held, but for the columns it has in common.
            total += size2 if column == 0 or column == last else 2.0 * size2
            out[row, column] = value * np.exp(-two * average * average * away2)
        power[row] = total
    return out, power


@njit(parallel=True, fastmath=True, cache=True)
def _bytes_below(noise, scale) -> Any:  # type: ignore[no-untyped-def]
    # The normal distribution function in steps of 1/255, by Abramowitz and Stegun 7.1.27 (within
    # 5e-4).
    one, half = np.float32(1.0), np.float32(0.5)
    out = np.empty(noise.shape, np.uint8)
    for row in prange(noise.shape[0]):
        for column in range(noise.shape[1]):
            size = abs(noise[row, column]) * scale
            inner = np.float32(0.000972) + size * np.float32(0.078108)
            inner = np.float32(0.230389) + size * inner
            series = one + size * (np.float32(0.278393) + size * inner)
            tail = half / (series * series * series * series)
            below = one - tail if noise[row, column] > 0 else tail
            out[row, column] = np.uint8(np.float32(255) * below + half)
    return out


@functools.lru_cache(maxsize=8)
def _white(seed: int, side: int) -> NDArray[np.complex64]:
    rng = np.random.default_rng(seed)
    noise = np.fft.rfft2(rng.standard_normal((side, side), dtype=np.float32))
    return np.asarray(noise, np.complex64)


# Places on a tile are whole numbers of 1/65,536 pixel, quick to wrap and to part. In 32 bits they
# reach four metres of paper before they wrap, which the tile does anyway.
ONE = 65_536


@njit(inline="always")
def _linear(tile, x, y) -> Any:  # type: ignore[no-untyped-def]
    # The tile's side is a power of two, so that wrapping round is one operation.
    wrap = tile.shape[0] - 1
    x0, y0 = (x >> 16) & wrap, (y >> 16) & wrap
    x1, y1 = (x0 + 1) & wrap, (y0 + 1) & wrap
    u, v = (x >> 8) & 255, (y >> 8) & 255
    top = np.int32(tile[y0, x0]) * (256 - u) + np.int32(tile[y0, x1]) * u
    low = np.int32(tile[y1, x0]) * (256 - u) + np.int32(tile[y1, x1]) * u
    return np.float32(top * (256 - v) + low * v) * np.float32(1 / (255 * 65_536))


@njit(inline="always")
def _fixed(place) -> Any:  # type: ignore[no-untyped-def]
    return np.int32(np.int64(np.floor(place * ONE)) & 0x7FFF_FFFF)


@njit(parallel=True, fastmath=True, cache=True)
def _sampled(tile, left, top, step, down, width, height) -> Any:  # type: ignore[no-untyped-def]
    out = np.empty((height, width), np.float32)
    for row in prange(height):
        y = _fixed(top + row * down)
        for column in range(width):
            x = _fixed(left + column * step)
            out[row, column] = _linear(tile, x, y)
    return out


@njit(parallel=True, fastmath=True, cache=True)
def _turns(directions, angles) -> Any:  # type: ignore[no-untyped-def]
    # Directions as numbers 0..angles of a half turn.
    out = np.empty(directions.shape[:2], np.float32)
    per_radian = np.float32(angles / np.pi)
    for row in prange(out.shape[0]):
        for column in range(out.shape[1]):
            turn = _angle(directions[row, column, 0], directions[row, column, 1]) * per_radian
            out[row, column] = turn if turn >= 0 else turn + np.float32(angles)
    return out


@njit(inline="always")
def _angle(x, y) -> Any:  # type: ignore[no-untyped-def]
    # The angle of a line, -pi/2..pi/2, within 0.004 radians: of 48 directions any shows the same.
    # After S. Rajan et al. (2006), "Efficient approximations for the arctangent function".
    if abs(x) >= abs(y):
        slope = y / x
        return slope * (np.float32(1.0584) - np.float32(0.273) * abs(slope))
    slope = x / y
    rest = slope * (np.float32(1.0584) - np.float32(0.273) * abs(slope))
    return (np.float32(np.pi / 2) if slope >= 0 else np.float32(-np.pi / 2)) - rest


@njit(parallel=True, fastmath=True, cache=True)
def _sampled_along(  # type: ignore[no-untyped-def]
    tiles, turns, place, left, top, step, down, width, height
) -> Any:
    to_x, from_x, to_y, from_y = place
    field_h, field_w = turns.shape
    angles = tiles.shape[0]
    out = np.empty((height, width), np.float32)
    for row in prange(height):
        y = _fixed(top + row * down)
        fy = min(max(int(row * to_y + from_y), 0), field_h - 1)
        for column in range(width):
            fx = min(max(int(column * to_x + from_x), 0), field_w - 1)
            turn = turns[fy, fx]
            nearest = int(turn + np.float32(0.5))
            if nearest >= angles:
                nearest -= angles
            x = _fixed(left + column * step)
            out[row, column] = _linear(tiles[nearest], x, y)
    return out
