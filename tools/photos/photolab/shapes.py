"""Solid shapes: distance functions, their surfaces as meshes, and meshes with a colour a vertex."""

from dataclasses import dataclass, field

import numpy as np
from skimage.measure import marching_cubes


@dataclass
class Mesh:
    """Triangles with a colour (linear RGB) at each vertex."""

    points: np.ndarray
    faces: np.ndarray
    colour: np.ndarray = field(default=None)

    def normals(self):
        """Unit normals at the vertices, weighted by area."""
        a, b, c = (self.points[self.faces[:, k]] for k in range(3))
        across = np.cross(b - a, c - a)
        total = np.zeros_like(self.points)
        for k in range(3):
            for axis in range(3):
                total[:, axis] += np.bincount(
                    self.faces[:, k], across[:, axis], minlength=len(self.points)
                )
        return total / np.maximum(np.linalg.norm(total, axis=1, keepdims=True), 1e-12)

    def pushed(self, amount):
        """The mesh with every vertex moved along its normal by amount (N,)."""
        moved = self.points + self.normals() * np.asarray(amount)[:, None]
        return Mesh(moved.astype(np.float32), self.faces, self.colour)


def length(p):
    """Euclidean length of rows."""
    return np.sqrt((p * p).sum(-1))


def ball(p, centre, radius):
    """Distance to a ball."""
    return length(p - np.asarray(centre)) - radius


def egg(p, centre, radii):
    """Distance (approximate) to an ellipsoid."""
    q = p - np.asarray(centre)
    radii = np.asarray(radii)
    k = length(q / radii)
    return k * (k - 1) / np.maximum(length(q / radii**2), 1e-6)


def rod(p, a, b, radius_a, radius_b=None):
    """Distance to a rod from a to b whose radius goes from radius_a to radius_b."""
    a, b = np.asarray(a, float), np.asarray(b, float)
    radius_b = radius_a if radius_b is None else radius_b
    axis = b - a
    t = np.clip(((p - a) @ axis) / (axis @ axis), 0, 1)
    return length(p - a - t[..., None] * axis) - (radius_a + (radius_b - radius_a) * t)


def box(p, centre, half, rounding=0.0):
    """Distance to a box with rounded edges."""
    q = np.abs(p - np.asarray(centre)) - (np.asarray(half) - rounding)
    return length(np.maximum(q, 0)) + np.minimum(q.max(-1), 0) - rounding


def join(a, b, blend=0.0):
    """Union, melted together over the length blend."""
    if blend <= 0:
        return np.minimum(a, b)
    h = np.clip(0.5 + 0.5 * (b - a) / blend, 0, 1)
    return b * (1 - h) + a * h - blend * h * (1 - h)


def carve(a, b, blend=0.0):
    """a with b taken away."""
    return -join(-a, b, blend)


def turned(p, axis, degrees, centre=(0, 0, 0)):
    """Points turned about an axis, for placing shapes at an angle."""
    k = {"x": 0, "y": 1, "z": 2}[axis]
    i, j = [n for n in range(3) if n != k]
    angle = np.deg2rad(degrees) * (-1 if axis == "y" else 1)
    q = p - np.asarray(centre, np.float32)
    out = q.copy()
    out[..., i] = np.cos(angle) * q[..., i] + np.sin(angle) * q[..., j]
    out[..., j] = -np.sin(angle) * q[..., i] + np.cos(angle) * q[..., j]
    return out + np.asarray(centre, np.float32)


def surface(distance, low, high, cell, refine=1):
    """The surface where distance(points) is zero, as a mesh snapped onto it."""
    low, high = np.asarray(low, float), np.asarray(high, float)
    axes = [np.arange(low[k], high[k] + cell, cell, dtype=np.float32) for k in range(3)]
    field_ = np.empty([len(a) for a in axes], np.float32)
    grid_y, grid_z = np.meshgrid(axes[1], axes[2], indexing="ij")
    for i, x in enumerate(axes[0]):
        slab = np.stack([np.full_like(grid_y, x), grid_y, grid_z], -1).reshape(-1, 3)
        field_[i] = distance(slab).reshape(grid_y.shape)
    points, faces, _, _ = marching_cubes(field_, 0.0, spacing=(cell, cell, cell))
    mesh = Mesh((points + low).astype(np.float32), faces[:, ::-1].astype(np.int64))
    for _ in range(refine):
        mesh = subdivided(mesh)
        mesh = snapped(mesh, distance, cell * 0.2)
    return outward(mesh, distance, cell)


def outward(mesh, distance, cell):
    """The mesh with its faces turned so that normals leave the solid."""
    sample = mesh.points[:: max(1, len(mesh.points) // 2000)]
    normal = mesh.normals()[:: max(1, len(mesh.points) // 2000)]
    inside = distance(sample - normal * cell).mean()
    outside = distance(sample + normal * cell).mean()
    return mesh if outside > inside else Mesh(mesh.points, mesh.faces[:, ::-1], mesh.colour)


def snapped(mesh, distance, h):
    """Vertices moved onto the zero of distance by two Newton steps."""
    points = mesh.points
    for _ in range(2):
        value = distance(points)
        slope = np.stack(
            [(distance(points + h * e) - value) / h for e in np.eye(3, dtype=np.float32)], -1
        )
        steepness = np.maximum((slope**2).sum(-1), 0.25)
        points = points - np.clip(value / steepness, -4 * h, 4 * h)[:, None] * slope
    return Mesh(points.astype(np.float32), mesh.faces, mesh.colour)


def subdivided(mesh):
    """Every triangle split into four at the midpoints of its edges."""
    edges = np.sort(mesh.faces[:, [[0, 1], [1, 2], [2, 0]]].reshape(-1, 2), 1)
    key = edges[:, 0] * len(mesh.points) + edges[:, 1]
    unique, where = np.unique(key, return_inverse=True)
    ends = np.stack([unique // len(mesh.points), unique % len(mesh.points)], 1)
    middle = mesh.points[ends].mean(1)
    m = where.reshape(-1, 3) + len(mesh.points)
    a, b, c = mesh.faces.T
    faces = np.concatenate(
        [
            np.stack(three, 1)
            for three in (
                (a, m[:, 0], m[:, 2]),
                (b, m[:, 1], m[:, 0]),
                (c, m[:, 2], m[:, 1]),
                (m[:, 0], m[:, 1], m[:, 2]),
            )
        ]
    )
    return Mesh(np.concatenate([mesh.points, middle]).astype(np.float32), faces)


def sheet(x, y, height):
    """A height field z = height(points) over a grid of x and y, as a mesh."""
    gx, gy = np.meshgrid(x, y, indexing="ij")
    points = np.stack([gx, gy, np.zeros_like(gx)], -1).reshape(-1, 3).astype(np.float32)
    points[:, 2] = height(points)
    n = len(y)
    i, j = np.meshgrid(np.arange(len(x) - 1), np.arange(n - 1), indexing="ij")
    a = (i * n + j).ravel()
    faces = np.concatenate([np.stack([a, a + n, a + n + 1], 1), np.stack([a, a + n + 1, a + 1], 1)])
    return Mesh(points, faces)


def lathe(profile, turns=256):
    """A solid of revolution about z from (radius, height) rows, open at the ends."""
    profile = np.asarray(profile, np.float32)
    angle = np.linspace(0, 2 * np.pi, turns, endpoint=False)
    ring = np.stack([np.cos(angle), np.sin(angle)], -1)
    points = np.concatenate(
        [np.column_stack([ring * r, np.full(turns, z)]) for r, z in profile]
    ).astype(np.float32)
    return Mesh(points, grid_faces(len(profile), turns))


def grid_faces(rows, around):
    """Faces of a tube of rows rings with around vertices each."""
    i, j = np.meshgrid(np.arange(rows - 1), np.arange(around), indexing="ij")
    a = (i * around + j).ravel()
    b = (i * around + (j + 1) % around).ravel()
    return np.concatenate(
        [np.stack([a, b, b + around], 1), np.stack([a, b + around, a + around], 1)]
    )


def hollow(mesh, distance, h):
    """How enclosed a vertex lies: 0 open, 1 deep in a hollow, by sampling outside the surface."""
    normals = mesh.normals()
    near = distance(mesh.points + normals * h) / h
    far = distance(mesh.points + normals * 2.5 * h) / (2.5 * h)
    return np.clip(1 - 0.5 * (near + far), 0, 1)


def merged(meshes):
    """Several coloured meshes as one."""
    offset, faces = 0, []
    for mesh in meshes:
        faces.append(mesh.faces + offset)
        offset += len(mesh.points)
    return Mesh(
        np.concatenate([m.points for m in meshes]),
        np.concatenate(faces),
        np.concatenate([m.colour for m in meshes]),
    )
