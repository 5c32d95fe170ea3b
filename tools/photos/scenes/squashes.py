"""A slatted crate of squashes under an even grey sky: flat light, round striped forms."""

import numpy as np

from photolab import backdrop, blades, darkroom, shapes, strands
from photolab.camera import Scene
from photolab.noise import cells, fbm, mix, step
from photolab.shapes import Mesh

SIZE = (2000, 1500)
SAMPLES = 10
TITLE = "Squashes, weighed in"


def squash(centre, radius, flat, ribs, depth, palette, seed, tilt, striped=0.7):
    """A ribbed squash. palette: two skin colours and a stripe colour."""
    down = np.linspace(0.012, np.pi - 0.012, 260)
    around = 520
    phi = np.linspace(0, 2 * np.pi, around, endpoint=False)
    theta, turn = np.repeat(down, around), np.tile(phi, len(down))
    warp = 0.12 * np.sin(turn * 2 + seed) + 0.06 * np.sin(turn * 5 + 2 * seed)
    rib = np.abs(np.sin((turn * ribs + warp * 3) / 2)) ** 0.65
    body = np.sin(theta) ** 0.86
    r = radius * body * (1 - depth * (1 - rib) * body) * (1 + 0.05 * np.sin(turn + seed))
    z = radius * flat * np.cos(theta) * (1 - 0.55 * np.exp(-((np.sin(theta) / 0.35) ** 2)))
    points = np.column_stack([r * np.cos(turn), r * np.sin(turn), z])
    mesh = Mesh(points.astype(np.float32), shapes.grid_faces(len(down), around))
    p = mesh.points
    broad = fbm(p, 3.0 / radius, 3, seed=seed)
    fine = fbm(p, 26 / radius, 4, 0.6, seed=seed + 1)
    mesh = mesh.pushed(radius * (0.020 * broad + 0.0035 * fine))
    low, high, stripe = palette
    colour = mix(low, high, step(-0.5, 0.5, broad + 0.4 * fine))
    ragged = rib + 0.30 * fbm(p * (1, 1, 0.5), 9 / radius, 3, 0.6, seed=seed + 2)
    colour = mix(colour, stripe, step(0.62, 0.30, ragged) * striped)
    fleck = step(0.26, 0.12, cells(p, 22 / radius, seed + 3)[0])
    colour = mix(colour, np.asarray(high) * 1.25, fleck * 0.35)
    wart = step(0.25, 0.05, cells(p, 8 / radius, seed + 4)[0]) * (seed % 3 == 0)
    mesh = Mesh(mesh.points, mesh.faces).pushed(radius * 0.03 * wart)
    scar = step(0.93, 1.0, fbm(p, 5 / radius, 3, seed=seed + 5, ridged=True) / 1.4)
    mesh.colour = mix(colour, (0.42, 0.36, 0.27), scar * 0.55).astype(np.float32)
    stem = stalk(radius, flat, seed)
    whole = shapes.merged([mesh, stem])
    q = shapes.turned(shapes.turned(whole.points, "x", tilt[0]), "y", tilt[1])
    whole.points = (q + np.asarray(centre)).astype(np.float32)
    return whole


def stalk(radius, flat, seed):
    """A ridged, twisted stem that flares where it sits."""
    rows, around = 70, 90
    t = np.linspace(0, 1, rows)
    phi = np.linspace(0, 2 * np.pi, around, endpoint=False)
    wide = radius * (0.10 + 0.16 * np.exp(-t * 9) + 0.03 * t)
    ridge = 1 + 0.22 * np.cos(5 * (phi[None] + 1.4 * t[:, None] + seed))
    bend = radius * 0.30 * t**2
    x = wide[:, None] * ridge * np.cos(phi) + (bend * np.cos(seed))[:, None]
    y = wide[:, None] * ridge * np.sin(phi) + (bend * np.sin(seed))[:, None]
    z = np.broadcast_to((radius * flat * 0.42 + radius * 0.62 * t)[:, None], x.shape)
    points = np.column_stack([x.ravel(), y.ravel(), z.ravel()]).astype(np.float32)
    mesh = Mesh(points, shapes.grid_faces(rows, around))
    rough = fbm(points, 30 / radius, 3, 0.6, seed=seed + 9)
    mesh = mesh.pushed(radius * 0.012 * rough)
    mesh.colour = mix((0.17, 0.15, 0.08), (0.40, 0.35, 0.22), step(-0.6, 0.6, rough)).astype(
        np.float32
    )
    return mesh


def plank(low, high, seed):
    """A rough-sawn slat between two corners."""
    low, high = np.asarray(low, float), np.asarray(high, float)
    centre, half = (low + high) / 2, (high - low) / 2
    longest = int(np.argmax(half))
    stretch = np.ones(3)
    stretch[longest] = 0.06

    def shape(p):
        return shapes.box(p, centre, half, 0.002) + 0.0012 * fbm(p * stretch, 60, 3, seed=seed)

    mesh = shapes.surface(shape, low - 0.006, high + 0.006, 0.0038, refine=1)
    grain = fbm(mesh.points * stretch, 150, 4, 0.65, seed=seed + 1)
    knot = step(0.16, 0.05, cells(mesh.points * np.where(stretch < 1, 0.35, 1), 9, seed)[0])
    mesh = mesh.pushed(0.0005 * grain)
    colour = mix((0.27, 0.225, 0.17), (0.50, 0.44, 0.35), step(-0.7, 0.7, grain))
    mesh.colour = mix(colour, (0.13, 0.09, 0.06), knot * 0.7).astype(np.float32)
    return mesh


def crate():
    """Slats, corner posts and a floor."""
    parts = []
    for k, z in enumerate((0.0, 0.075, 0.150)):
        if k < 2:
            parts.append(plank((-0.36, -0.245, z), (0.36, -0.232, z + 0.060), 100 + k))
        parts.append(plank((-0.36, 0.232, z), (0.36, 0.245, z + 0.060), 110 + k))
        parts.append(plank((-0.373, -0.24, z), (-0.36, 0.24, z + 0.060), 120 + k))
        parts.append(plank((0.36, -0.24, z), (0.373, 0.24, z + 0.060), 130 + k))
    for k, (x, y) in enumerate(
        ((-0.345, -0.217), (0.345, -0.217), (-0.345, 0.217), (0.345, 0.217))
    ):
        parts.append(plank((x - 0.016, y - 0.015, -0.01), (x + 0.016, y + 0.015, 0.225), 140 + k))
    parts.append(plank((-0.36, -0.23, -0.012), (0.36, 0.23, -0.002), 150))
    return shapes.merged(parts)


def shoot(width, height, samples, rng):
    """The finished picture, encoded 0..1."""
    scene = Scene(width, height, (0.16, -1.00, 0.70), (0.0, -0.02, 0.125), 35.5, 0.004, 1.06)
    green = ((0.055, 0.105, 0.035), (0.13, 0.19, 0.065), (0.48, 0.45, 0.24))
    orange = ((0.50, 0.19, 0.04), (0.60, 0.28, 0.07), (0.36, 0.13, 0.03))
    blue = ((0.22, 0.27, 0.25), (0.32, 0.37, 0.34), (0.17, 0.21, 0.20))
    cream = ((0.58, 0.49, 0.27), (0.66, 0.58, 0.37), (0.12, 0.20, 0.06))
    waxy = {"roughness": 0.48, "specular": 0.35}
    heap = (
        ((-0.205, -0.085, 0.115), 0.128, 0.78, 10, 0.16, green, 3, (14, -10), 0.8),
        ((0.075, -0.100, 0.110), 0.118, 0.74, 12, 0.20, orange, 8, (20, 8), 0.4),
        ((0.265, 0.020, 0.130), 0.112, 0.86, 9, 0.12, cream, 5, (8, 22), 0.85),
        ((-0.060, 0.110, 0.145), 0.140, 0.66, 11, 0.17, blue, 6, (4, -6), 0.35),
        ((0.140, 0.120, 0.175), 0.098, 0.80, 10, 0.18, green, 11, (26, 14), 0.75),
        ((-0.255, 0.135, 0.155), 0.105, 0.80, 10, 0.17, orange, 14, (-8, -24), 0.45),
        ((-0.055, -0.065, 0.245), 0.088, 0.82, 9, 0.14, cream, 17, (30, -12), 0.9),
    )
    for k, item in enumerate(heap):
        scene.add(f"squash{k}", squash(*item), waxy)
    scene.add("crate", crate(), {"roughness": 0.9, "specular": 0.2})
    straw_count = 900
    roots = np.column_stack(
        [
            rng.uniform(-0.26, 0.26, straw_count),
            rng.uniform(-0.13, 0.13, straw_count),
            rng.uniform(0.0, 0.10, straw_count),
        ]
    )
    along = blades.unit(rng.normal(0, 1, (straw_count, 3)) * (1, 1, 0.35))
    paths = strands.grown(roots, along, rng.uniform(0.06, 0.16, straw_count), rng, bend=0.25)
    tint = strands.shaded(straw_count, 8, (0.42, 0.34, 0.19), (0.60, 0.50, 0.30), rng)
    radius = strands.tapered(straw_count, 8, 0.0013, rng, tip=0.8)
    scene.add("straw", strands.tubes(paths, radius, tint), {"roughness": 0.6})
    table = shapes.sheet(
        np.linspace(-1.6, 1.6, 900),
        np.linspace(-0.9, 2.4, 900),
        lambda p: (
            0.0016 * fbm(p * (0.12, 1, 1), 40, 3, seed=1)
            - 0.014
            - 0.006 * (np.abs((p[:, 1] % 0.14) - 0.07) > 0.0675)
        ),
    )
    grain = fbm(table.points * (0.06, 1, 1), 60, 4, 0.6, seed=2)
    table.colour = mix((0.25, 0.235, 0.21), (0.40, 0.38, 0.345), step(-0.7, 0.7, grain)).astype(
        np.float32
    )
    scene.add("table", table, {"roughness": 0.85, "specular": 0.25})
    scene.sky(np.full((64, 128, 3), (0.93, 0.97, 1.02), np.float32))
    behind = backdrop.garden(width, height, rng, sky=0.5, blur=0.03, gaps=0)
    light = scene.shoot(samples, behind)
    return darkroom.developed(
        light, rng, exposure=1.45, contrast=0.72, vignette=0.08, saturation=0.9, fade=0.10
    )


def finish(picture, path):
    """Write the JPEG."""
    return darkroom.save(picture, path, title=TITLE)
