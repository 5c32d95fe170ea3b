"""Hair, straw, grass and spines: thousands of thin tubes with a colour along each."""

import numpy as np

from photolab.noise import fbm
from photolab.shapes import Mesh, grid_faces


def tubes(paths, radius, colour, sides=5):
    """Tubes along paths.

    paths: (N, K, 3) points; radius: (N, K); colour: (N, K, 3) linear RGB.
    """
    paths = np.asarray(paths, np.float32)
    count, rings = paths.shape[:2]
    along = np.gradient(paths, axis=1)
    along /= np.maximum(np.linalg.norm(along, axis=-1, keepdims=True), 1e-9)
    guide = np.where(np.abs(along[:, :1, 2:3]) > 0.9, [[[1.0, 0, 0]]], [[[0, 0, 1.0]]])
    across = np.cross(along, np.broadcast_to(guide, along.shape))
    across /= np.maximum(np.linalg.norm(across, axis=-1, keepdims=True), 1e-9)
    third = np.cross(along, across)
    angle = np.linspace(0, 2 * np.pi, sides, endpoint=False)
    ring = (
        across[:, :, None] * np.cos(angle)[None, None, :, None]
        + third[:, :, None] * np.sin(angle)[None, None, :, None]
    )
    points = paths[:, :, None] + ring * np.asarray(radius)[:, :, None, None]
    faces = grid_faces(rings, sides)
    offsets = np.arange(count)[:, None, None] * rings * sides
    tint = np.broadcast_to(np.asarray(colour)[:, :, None], (count, rings, sides, 3))
    return Mesh(
        points.reshape(-1, 3).astype(np.float32),
        (faces[None] + offsets).reshape(-1, 3),
        tint.reshape(-1, 3).astype(np.float32),
    )


def grown(roots, directions, lengths, rng, *, bend=0.3, droop=0.0, curl=0.0, rings=8, seed=0):
    """Paths that leave roots along directions, bending at random and sagging along -z.

    roots, directions: (N, 3); lengths: (N,). curl adds noise that neighbours share.
    """
    count = len(roots)
    t = np.linspace(0, 1, rings)[None, :, None]
    side = rng.normal(size=(count, 1, 3))
    reach = np.asarray(lengths)[:, None, None]
    paths = roots[:, None] + directions[:, None] * t * reach
    paths = paths + side * bend * reach * t**2 * 0.5
    paths[..., 2] -= (droop * reach * t**2)[..., 0]
    if curl:
        flat = paths.reshape(-1, 3)
        scale = 2.0 / max(float(np.mean(lengths)), 1e-6)
        drift = np.stack([fbm(flat, scale, 2, seed=seed + 7 * k) for k in range(3)], -1)
        paths = paths + drift.reshape(paths.shape) * curl * reach * t
    return paths


def tapered(count, rings, radius, rng, tip=0.25, spread=0.3):
    """Radii (count, rings) that thin towards the tip, varying a strand."""
    t = np.linspace(0, 1, rings)[None]
    own = radius * np.exp(rng.normal(0, spread, (count, 1)))
    return own * (1 - (1 - tip) * t**1.5)


def shaded(count, rings, root, tip, rng, spread=0.25):
    """Colours (count, rings, 3) from root to tip with log-normal brightness a strand."""
    t = np.linspace(0, 1, rings)[None, :, None]
    base = np.asarray(root) * (1 - t) + np.asarray(tip) * t
    return base * np.exp(rng.normal(0, spread, (count, 1, 1)))


def fuzz(mesh, count, length, radius, rng, tint=1.15, lean=0.8, droop=0.0):
    """Short random fibres on a mesh, in its own colours: turns smooth cloth into wool or felt."""
    roots, normals, colour = scattered(mesh, count, rng)
    directions = normals + rng.normal(0, lean, normals.shape)
    directions /= np.linalg.norm(directions, axis=1, keepdims=True)
    lengths = length * np.exp(rng.normal(0, 0.4, count))
    paths = grown(roots, directions, lengths, rng, bend=0.9, droop=droop, rings=5)
    shades = colour[:, None] * tint * np.exp(rng.normal(0, 0.15, (count, 1, 1)))
    shades = np.broadcast_to(shades, (count, 5, 3))
    return tubes(paths, tapered(count, 5, radius, rng), shades, sides=3)


def scattered(mesh, count, rng, weight=None):
    """Random places on a mesh, even by area times weight (a vertex): points, normals, colours."""
    a, b, c = (mesh.points[mesh.faces[:, k]] for k in range(3))
    area = np.linalg.norm(np.cross(b - a, c - a), axis=1)
    if weight is not None:
        area = area * weight[mesh.faces].mean(1)
    face = rng.choice(len(area), count, p=area / area.sum())
    u, v = rng.random((2, count, 1))
    flip = (u + v) > 1
    u, v = np.where(flip, 1 - u, u), np.where(flip, 1 - v, v)

    def at(values):
        f = mesh.faces[face]
        return values[f[:, 0]] * (1 - u - v) + values[f[:, 1]] * u + values[f[:, 2]] * v

    normals = at(mesh.normals())
    normals /= np.maximum(np.linalg.norm(normals, axis=1, keepdims=True), 1e-9)
    colour = at(mesh.colour) if mesh.colour is not None else None
    return at(mesh.points), normals, colour
