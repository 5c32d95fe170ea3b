"""Solid noise for surfaces: gradient noise in octaves and distances to scattered points."""

import numpy as np
from numba import njit, prange


@njit(inline="always")
def _hash(x, y, z, seed):
    h = np.uint32(x) * np.uint32(374761393) + np.uint32(y) * np.uint32(668265263)
    h += np.uint32(z) * np.uint32(2147483647) + np.uint32(seed) * np.uint32(2654435769)
    h = (h ^ (h >> np.uint32(13))) * np.uint32(1274126177)
    h = (h ^ (h >> np.uint32(16))) * np.uint32(2246822519)
    return h ^ (h >> np.uint32(15))


@njit(inline="always")
def _slope(x, y, z, seed, dx, dy, dz):
    h = _hash(x, y, z, seed)
    gx = (h & np.uint32(1023)) / 511.5 - 1.0
    gy = ((h >> np.uint32(10)) & np.uint32(1023)) / 511.5 - 1.0
    gz = ((h >> np.uint32(20)) & np.uint32(1023)) / 511.5 - 1.0
    return gx * dx + gy * dy + gz * dz


@njit(parallel=True, fastmath=True, cache=True)
def _octaves(points, frequency, octaves, gain, seed, ridged):
    out = np.zeros(points.shape[0], np.float32)
    for i in prange(points.shape[0]):
        total = 0.0
        weight = 1.0
        f = frequency
        for o in range(octaves):
            x = points[i, 0] * f + 17.3 * o
            y = points[i, 1] * f + 5.1 * o
            z = points[i, 2] * f - 9.7 * o
            ix = int(np.floor(x))
            iy = int(np.floor(y))
            iz = int(np.floor(z))
            dx = x - ix
            dy = y - iy
            dz = z - iz
            u = dx * dx * dx * (dx * (dx * 6 - 15) + 10)
            v = dy * dy * dy * (dy * (dy * 6 - 15) + 10)
            w = dz * dz * dz * (dz * (dz * 6 - 15) + 10)
            s = seed + 31 * o
            value = 0.0
            for cz in range(2):
                wz = w if cz else 1 - w
                for cy in range(2):
                    wy = v if cy else 1 - v
                    for cx in range(2):
                        wx = u if cx else 1 - u
                        value += (
                            wx
                            * wy
                            * wz
                            * _slope(ix + cx, iy + cy, iz + cz, s, dx - cx, dy - cy, dz - cz)
                        )
            value *= 1.4
            if ridged:
                value = 1.0 - 2.0 * abs(value)
            total += weight * value
            weight *= gain
            f *= 2.03
        out[i] = total
    return out


@njit(parallel=True, fastmath=True, cache=True)
def _nearest(points, frequency, seed):
    out = np.zeros((points.shape[0], 3), np.float32)
    for i in prange(points.shape[0]):
        x = points[i, 0] * frequency
        y = points[i, 1] * frequency
        z = points[i, 2] * frequency
        ix = int(np.floor(x))
        iy = int(np.floor(y))
        iz = int(np.floor(z))
        first = 9.0
        second = 9.0
        label = np.uint32(0)
        for cz in range(-1, 2):
            for cy in range(-1, 2):
                for cx in range(-1, 2):
                    h = _hash(ix + cx, iy + cy, iz + cz, seed)
                    px = ix + cx + (h & np.uint32(1023)) / 1023.0 - x
                    py = iy + cy + ((h >> np.uint32(10)) & np.uint32(1023)) / 1023.0 - y
                    pz = iz + cz + ((h >> np.uint32(20)) & np.uint32(1023)) / 1023.0 - z
                    d = np.sqrt(px * px + py * py + pz * pz)
                    if d < first:
                        second = first
                        first = d
                        label = h
                    elif d < second:
                        second = d
        out[i, 0] = first
        out[i, 1] = second
        out[i, 2] = (label >> np.uint32(7)) % np.uint32(4096) / 4095.0
    return out


def fbm(points, frequency, octaves=4, gain=0.5, seed=0, ridged=False):
    """Gradient noise in octaves, roughly -1..1. points: (N, 3). After K. Perlin (2002)."""
    points = np.ascontiguousarray(points, np.float32)
    return _octaves(points, float(frequency), octaves, gain, seed, ridged)


def cells(points, frequency, seed=0):
    """Distance to the nearest and second nearest scattered point, and a number 0..1 for the cell.

    After S. Worley (1996), "A cellular texture basis function". Returns three (N,) arrays.
    """
    found = _nearest(np.ascontiguousarray(points, np.float32), float(frequency), seed)
    return found[:, 0], found[:, 1], found[:, 2]


def step(low, high, value):
    """0 below low, 1 above high, smooth between."""
    t = np.clip((value - low) / (high - low), 0.0, 1.0)
    return t * t * (3 - 2 * t)


def mix(a, b, t):
    """Blend colours (…, 3) or values by t (N,)."""
    a = np.asarray(a, np.float32)
    b = np.asarray(b, np.float32)
    if a.ndim > 1 or b.ndim > 1 or a.shape == (3,):
        t = np.asarray(t)[..., None]
    return a * (1 - t) + b * t
