"""Leaves, petals and grass: many thin curved sheets with a colour at each vertex."""

import numpy as np

from photolab.noise import fbm
from photolab.shapes import Mesh


def unit(vectors):
    """Rows scaled to length one."""
    return vectors / np.maximum(np.linalg.norm(vectors, axis=-1, keepdims=True), 1e-9)


def blades(
    roots,
    along,
    up,
    length,
    width,
    colour,
    rng,
    *,
    rows=14,
    columns=7,
    bend=0.3,
    cup=0.25,
    ruffle=0.06,
    shape=0.8,
    blunt=0.8,
    vein=0.25,
    edge=None,
    scale=60.0,
):
    """Blades from roots (N, 3) along unit directions (N, 3), their face towards up (N, 3).

    length, width, bend, cup: numbers or (N,). shape < 1 is widest near the tip, > 1 near the
    root; blunt < 1 rounds the outline. edge: a colour the rim takes on.
    """
    roots, along, up = (np.asarray(a, float) for a in (roots, along, up))
    count = len(roots)
    along = unit(along)
    side = unit(np.cross(along, up))
    up = np.cross(side, along)
    u = np.linspace(0, 1, rows)[None, :, None]
    v = np.linspace(-1, 1, columns)[None, None, :]
    length, width, bend, cup = (
        np.broadcast_to(np.asarray(x, float), (count,))[:, None, None]
        for x in (length, width, bend, cup)
    )
    outline = np.sin(np.pi * np.clip(u, 0.004, 0.996) ** shape) ** blunt
    across = width * outline * v
    lift = -bend * length * u**2 + cup * width * outline * v**2
    points = (
        roots[:, None, None]
        + along[:, None, None] * (length * u * np.ones_like(v))[..., None]
        + side[:, None, None] * across[..., None]
        + up[:, None, None] * lift[..., None]
    )
    wave = fbm(points.reshape(-1, 3), scale, 2, seed=5).reshape(points.shape[:3])
    points = points + up[:, None, None] * (ruffle * width * wave)[..., None]
    own = np.asarray(colour, float)
    own = np.broadcast_to(own, (count, 3)) if own.ndim == 1 else own
    own = own * np.exp(rng.normal(0, 0.16, (count, 1)))
    tint = np.broadcast_to(own[:, None, None], points.shape)
    mottle = fbm(points.reshape(-1, 3), scale * 6, 3, 0.6, seed=6).reshape(points.shape[:3])
    ribs = np.abs(((u * 8 - np.abs(v) * 1.5) % 1) - 0.5) < 0.10
    middle = np.abs(v) < 1.2 / columns
    light = 1 + 0.18 * mottle - vein * np.where(middle | (ribs & (np.abs(v) > 0.1)), 1.0, 0.0)
    tint = tint * light[..., None]
    if edge is not None:
        rim = np.clip((np.abs(v) * np.ones_like(u) - 0.55) * 1.6 + 0.5 * mottle, 0, 1)[..., None]
        tint = tint * (1 - rim) + np.asarray(edge) * rim
    i, j = np.meshgrid(np.arange(rows - 1), np.arange(columns - 1), indexing="ij")
    a = (i * columns + j).ravel()
    faces = np.concatenate(
        [
            np.stack([a, a + columns, a + columns + 1], 1),
            np.stack([a, a + columns + 1, a + 1], 1),
        ]
    )
    offsets = np.arange(count)[:, None, None] * rows * columns
    return Mesh(
        points.reshape(-1, 3).astype(np.float32),
        (faces[None] + offsets).reshape(-1, 3),
        np.clip(tint, 0.002, 1).reshape(-1, 3).astype(np.float32),
    )


def litter(rng, count, low, high, length, palette, *, height=0.0, lift=0.02, flat=0.35):
    """Fallen leaves strewn over a rectangle (x, y from low to high)."""
    place = rng.uniform(low, high, (count, 2))
    roots = np.column_stack([place, height + rng.uniform(0, lift, count)])
    turn = rng.uniform(0, 2 * np.pi, count)
    along = np.column_stack([np.cos(turn), np.sin(turn), rng.normal(0, flat, count)])
    up = np.column_stack([rng.normal(0, flat, (count, 2)), np.ones(count)])
    colour = np.asarray(palette)[rng.integers(0, len(palette), count)]
    return blades(
        roots,
        along,
        up,
        length * np.exp(rng.normal(0, 0.3, count)),
        length * 0.3 * np.exp(rng.normal(0, 0.25, count)),
        colour,
        rng,
        bend=rng.normal(0.1, 0.35, count),
        cup=rng.normal(0.2, 0.6, count),
        ruffle=0.25,
        edge=(0.10, 0.055, 0.025),
        scale=2.5 / length,
    )


def grass(rng, count, low, high, length, palette, *, height=0.0, lean=0.35):
    """Grass over a rectangle."""
    roots = np.column_stack([rng.uniform(low, high, (count, 2)), np.full(count, height)])
    along = np.column_stack([rng.normal(0, lean, (count, 2)), np.ones(count)])
    up = np.column_stack([rng.normal(0, 1, (count, 2)), np.full(count, 0.2)])
    return blades(
        roots,
        along,
        up,
        length * np.exp(rng.normal(0, 0.4, count)),
        length * 0.035,
        np.asarray(palette)[rng.integers(0, len(palette), count)],
        rng,
        rows=9,
        columns=3,
        bend=rng.normal(0.35, 0.3, count),
        shape=1.3,
        vein=0.1,
    )
