"""Out-of-focus gardens: leaves and light painted in linear light, blurred with a disc."""

import cv2
import numpy as np
from scipy.signal import fftconvolve


def garden(width, height, rng, *, sky=0.35, blur=0.03, warmth=1.0, palette=None, gaps=60):
    """A blurred garden, (height, width, 3) float32, linear light.

    sky: how far down (share of the height) light comes through; blur: disc radius as a share of
    the width; gaps: bright gaps in the leaves that become discs of light.
    """
    scale = 800 / width
    w, h = 800, round(height * scale)
    if palette is None:
        palette = [(0.035, 0.06, 0.02), (0.07, 0.12, 0.03), (0.12, 0.17, 0.05), (0.16, 0.13, 0.06)]
    down = np.linspace(0, 1, h, dtype=np.float32)[:, None, None]
    top = np.array([0.62, 0.72, 0.80], np.float32) * np.array([warmth, 1, 1 / warmth])
    low = np.array([0.10, 0.09, 0.05], np.float32)
    light = np.clip(1 - down / max(sky, 1e-3), 0, 1)
    picture = (top * light + low * (1 - light)) * np.ones((h, w, 1), np.float32)
    picture = np.ascontiguousarray(picture, np.float32)
    for _ in range(1400):
        x, y = rng.random() * w, rng.random() ** 0.9 * h
        if y < sky * h and rng.random() < 0.75 - 0.6 * y / (sky * h + 1):
            continue
        size = np.exp(rng.normal(2.6, 0.6))
        colour = np.array(palette[rng.integers(len(palette))]) * np.exp(rng.normal(0, 0.55))
        axes = (max(1, int(size)), max(1, int(size * rng.uniform(0.2, 0.8))))
        cv2.ellipse(
            picture,
            (int(x), int(y)),
            axes,
            rng.uniform(0, 180),
            0,
            360,
            tuple(map(float, colour)),
            -1,
            cv2.LINE_AA,
        )
    for _ in range(gaps):
        x, y = rng.random() * w, rng.random() ** 1.6 * h
        glow = np.array([1.0, 0.95, 0.75]) * rng.uniform(0.6, 3.5)
        cv2.circle(picture, (int(x), int(y)), int(rng.integers(1, 4)), tuple(map(float, glow)), -1)
    radius = max(1, int(blur * w))
    disc = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (2 * radius + 1,) * 2).astype(np.float32)
    disc /= disc.sum()
    padded = cv2.copyMakeBorder(picture, *([radius] * 4), cv2.BORDER_REFLECT)
    soft = np.stack([fftconvolve(padded[..., k], disc, mode="valid") for k in range(3)], -1)
    soft = np.maximum(soft, 0.0).astype(np.float32)
    return cv2.resize(soft, (width, height), interpolation=cv2.INTER_CUBIC)


def surroundings(rng, *, sky=1.0, ground=(0.10, 0.09, 0.06), hedge=(0.05, 0.08, 0.03), warm=1.0):
    """An environment of sky, hedge and ground, (128, 256, 3) float32, linear light, z up."""
    h, w = 128, 256
    elevation = (0.5 - (np.arange(h) + 0.5) / h) * np.pi
    picture = np.zeros((h, w, 3), np.float32)
    up = np.clip(np.sin(elevation), 0, 1)[:, None, None]
    blue = np.array([0.55, 0.75, 1.05], np.float32)
    pale = np.array([1.0, 0.98, 0.94], np.float32) * np.array([warm, 1, 1 / warm])
    picture[:] = sky * (blue * up + pale * (1 - up))
    ridge = 0.20 + 0.12 * np.cumsum(rng.normal(0, 0.12, w))
    ridge = np.clip(ridge - ridge.mean() + 0.22, 0.05, 0.5)
    below = elevation[:, None] < ridge[None]
    picture[below] = np.asarray(hedge) * np.exp(rng.normal(0, 0.3, (below.sum(), 1)))
    picture[elevation < 0] = ground
    return cv2.GaussianBlur(picture, (0, 0), 1.5)
