"""Muddy boots on the shed step, portrait format; black leather whose detail is easily lost."""

import itertools

import numpy as np

from photolab import backdrop, blades, darkroom, shapes, strands
from photolab.camera import Scene
from photolab.noise import cells, fbm, mix, step
from photolab.shapes import Mesh, box, carve, egg, join, rod

SIZE = (1500, 2000)
SAMPLES = 10
TITLE = "Left on the shed step"


def boot_shape(p):
    """A lace-up boot, toe towards -y, with creases where it bends."""
    q = p.copy()
    q[:, 0] -= 0.012 * np.sin(7 * q[:, 1])
    foot = egg(q, (0, -0.085, 0.052), (0.048, 0.105, 0.047))
    foot = join(foot, egg(q, (0, 0.055, 0.058), (0.041, 0.062, 0.055)), 0.05)
    shaft = rod(q, (0.0, 0.045, 0.06), (0.004, 0.060, 0.262), 0.049, 0.060)
    d = join(foot, shaft, 0.045)
    d = np.maximum(d, q[:, 2] - 0.262 - 0.10 * (q[:, 1] - 0.05) - 0.004 * np.sin(30 * q[:, 0]))
    d = carve(d, rod(q, (0.002, 0.056, 0.10), (0.005, 0.064, 0.36), 0.040, 0.0545), 0.004)
    opening = egg(q, (0.002, -0.018, 0.215), (0.012, 0.060, 0.105))
    d = carve(d, np.maximum(opening, -(q[:, 1] - 0.055)), 0.004)
    creases = 0.0022 * np.sin(230 * (q[:, 1] + 0.35 * q[:, 2]) + 5 * q[:, 0] * 30)
    bend = np.exp(-(((q[:, 1] + 0.055) / 0.035) ** 2)) * step(0.045, 0.09, q[:, 2])
    ankle = np.exp(-(((q[:, 2] - 0.135) / 0.035) ** 2)) * step(0.03, -0.01, q[:, 1])
    fold = 0.0030 * np.sin(150 * q[:, 2] + 30 * q[:, 1])
    return d + creases * bend + fold * ankle + 0.0022 * fbm(p, 16, 3, seed=4)


def sole_shape(p):
    """Welt and lugged sole."""
    q = p.copy()
    q[:, 0] -= 0.012 * np.sin(7 * q[:, 1])
    outline = join(
        egg(q * (1, 1, 0), (0, -0.085, 0), (0.053, 0.112, 1)),
        egg(q * (1, 1, 0), (0, 0.058, 0), (0.046, 0.068, 1)),
        0.05,
    )
    waist = np.abs(q[:, 2] - 0.004)
    d = np.maximum(outline, waist - 0.011)
    lug = 0.0022 * np.sign(np.sin(q[:, 1] * 330)) * step(0.004, -0.004, q[:, 2])
    heel = box(q, (0, 0.068, -0.016), (0.043, 0.052, 0.012), 0.004)
    return join(d + lug, heel, 0.003)


def coloured(mesh, base, seed):
    """Worn black leather or rubber with dried and wet mud."""
    p = mesh.points
    pore = fbm(p, 900, 3, 0.6, seed=seed)
    scuff = step(0.25, 0.75, fbm(p, 60, 4, 0.65, seed=seed + 1) + 0.5 * step(-0.12, -0.17, p[:, 1]))
    colour = mix(base, np.asarray(base) * 1.8, step(-0.5, 0.8, pore))
    colour = mix(colour, (0.075, 0.060, 0.048), scuff * 0.6)
    splash = fbm(p, 34, 4, 0.65, seed=seed + 2) + 1.9 * step(0.085, -0.01, p[:, 2]) - 0.55
    splash += 0.8 * step(0.22, 0.05, cells(p, 62, seed + 3)[0]) * step(0.16, 0.03, p[:, 2])
    mud = step(0.42, 0.62, splash)
    tint = mix(
        (0.12, 0.080, 0.048), (0.29, 0.215, 0.145), step(-0.5, 0.6, fbm(p, 90, 4, 0.6, seed=7))
    )
    mesh = mesh.pushed(0.0016 * mud * (1 + fbm(p, 220, 3, 0.6, seed=9)) + 0.00012 * pore)
    mesh.colour = mix(colour, tint, mud).astype(np.float32)
    return mesh


def laces(rng):
    """A flat lace through eyelets, ends hanging."""
    eyelets = []
    for k in range(6):
        z = 0.118 + 0.025 * k
        y = -0.028 + 0.018 * k * 0.55
        eyelets.append(((-0.024, y, z), (0.026, y, z)))
    paths = []
    for (a, b), (c, d) in itertools.pairwise(eyelets):
        for start, end in ((a, d), (b, c)):
            t = np.linspace(0, 1, 30)[:, None]
            path = np.asarray(start) * (1 - t) + np.asarray(end) * t
            path[:, 1] -= 0.010 * np.sin(np.pi * t[:, 0]) + 0.004
            paths.append(path)
    for side in (-1, 1):
        t = np.linspace(0, 1, 30)
        path = np.column_stack(
            [
                side * (0.024 + 0.035 * t),
                0.012 - 0.075 * np.sin(2.2 * t),
                0.245 - 0.15 * t**1.5 + 0.012 * np.sin(9 * t),
            ]
        )
        paths.append(path)
    paths = np.array(paths)
    count = len(paths)
    weave = 1 + 0.25 * np.sin(np.arange(30) * 2.1)
    tint = np.array((0.17, 0.13, 0.085)) * weave[None, :, None] * np.ones((count, 1, 1))
    cord = strands.tubes(paths, np.full((count, 30), 0.0024), tint, 8)
    rings = []
    for pair in eyelets:
        for place in pair:
            turn = np.linspace(0, 2 * np.pi, 30)
            rings.append(
                np.asarray(place)
                + np.column_stack(
                    [0.0042 * np.cos(turn), np.full(30, -0.004), 0.0042 * np.sin(turn)]
                )
            )
    rings = np.array(rings)
    brass = np.broadcast_to(np.float32((0.42, 0.30, 0.12)), (len(rings), 30, 3))
    return cord, strands.tubes(rings, np.full((len(rings), 30), 0.0013), brass, 8)


def placed(mesh, turn, tilt, at):
    """A mesh turned about z, tilted, and moved."""
    q = shapes.turned(shapes.turned(mesh.points, "x", tilt), "z", turn)
    return Mesh((q + np.asarray(at)).astype(np.float32), mesh.faces, mesh.colour)


def step_and_wall():
    """A worn stone step before a boarded door."""
    stone = shapes.surface(
        lambda p: (
            box(p, (0, 0.10, -0.095), (0.55, 0.30, 0.068), 0.012)
            + 0.0030 * fbm(p, 22, 4, 0.55, seed=20)
            + 0.0009 * fbm(p, 160, 3, 0.6, seed=21)
        ),
        (-0.58, -0.23, -0.18),
        (0.58, 0.42, -0.015),
        0.0052,
        refine=1,
    )
    grit = fbm(stone.points, 210, 4, 0.65, seed=22)
    colour = mix((0.21, 0.20, 0.18), (0.40, 0.385, 0.355), step(-0.7, 0.7, grit))
    wet = step(-0.05, 0.5, fbm(stone.points, 7, 3, seed=23))
    stone.colour = mix(colour, np.array((0.11, 0.10, 0.085)), wet * 0.55).astype(np.float32)
    door = shapes.sheet(
        np.linspace(-0.7, 0.7, 700),
        np.linspace(-0.3, 1.1, 700),
        lambda p: (
            0.0012 * fbm(p * (1, 0.05, 1), 90, 4, 0.6, seed=24)
            - 0.006 * (np.abs((p[:, 0] + 0.03) % 0.115 - 0.0575) > 0.0545)
        ),
    )
    p = door.points
    grain = fbm(p * (1, 0.05, 1), 130, 4, 0.65, seed=25)
    peel = step(0.05, 0.2, fbm(p * (1, 0.4, 1), 16, 4, 0.6, seed=26) + 0.3 * grain)
    paint = mix((0.10, 0.17, 0.16), (0.15, 0.235, 0.215), step(-0.5, 0.5, grain))
    door.colour = mix(paint, (0.30, 0.25, 0.19), peel * 0.85).astype(np.float32)
    door.points = np.column_stack([p[:, 0], 0.40 - p[:, 2], p[:, 1]]).astype(np.float32)
    return stone, door


def shoot(width, height, samples, rng):
    """The finished picture, upright, encoded 0..1."""
    scene = Scene(width, height, (-0.36, -1.10, 0.44), (0.0, 0.02, 0.105), 29.5, 0.0055, 1.17)
    leather = coloured(
        shapes.surface(boot_shape, (-0.075, -0.21, -0.01), (0.08, 0.135, 0.29), 0.0027, refine=1),
        (0.011, 0.0105, 0.011),
        40,
    )
    rubber = coloured(
        shapes.surface(sole_shape, (-0.075, -0.215, -0.035), (0.08, 0.14, 0.025), 0.0027, refine=1),
        (0.014, 0.013, 0.012),
        60,
    )
    cord, brass = laces(rng)
    shiny = {"roughness": 0.36, "specular": 0.5, "clearcoat": 0.25, "clearcoat_gloss": 0.6}
    for name, mesh, material in (
        ("leather", leather, shiny),
        ("rubber", rubber, {"roughness": 0.7}),
        ("cord", cord, {"roughness": 0.9}),
        ("brass", brass, {"roughness": 0.35, "metallic": 0.9}),
    ):
        left = placed(mesh, 14, 0, (-0.105, 0.0, 0.0))
        right = placed(mesh, -26, 0, (0.095, 0.055, 0.0))
        scene.add(f"{name}_left", left, material)
        scene.add(f"{name}_right", right, material)
    stone, door = step_and_wall()
    scene.add("stone", stone, {"roughness": 0.75, "specular": 0.35})
    scene.add("door", door, {"roughness": 0.7, "specular": 0.3})
    clods = rng.uniform((-0.35, -0.17), (0.35, 0.15), (160, 2))
    crumbs = []
    for x, y in clods:
        size = 0.0035 * np.exp(rng.normal(0, 0.42))
        unit = shapes.lathe(
            [(np.sin(t) + 1e-3, -np.cos(t) * 0.7) for t in np.linspace(0.02, np.pi - 0.02, 10)], 14
        )
        unit.points = unit.points * size
        unit = unit.pushed(size * 0.35 * fbm(unit.points + rng.uniform(0, 9, 3), 0.8 / size, 2))
        unit.points = (unit.points + (x, y, -0.025)).astype(np.float32)
        unit.colour = np.tile(np.float32((0.15, 0.105, 0.065)), (len(unit.points), 1))
        crumbs.append(unit)
    scene.add("crumbs", shapes.merged(crumbs), {"roughness": 1.0})
    brown = [(0.26, 0.14, 0.05), (0.33, 0.21, 0.08), (0.20, 0.10, 0.04)]
    scene.add(
        "leaves",
        blades.litter(
            rng, 22, (-0.42, -0.18), (0.42, 0.25), 0.05, brown, height=-0.027, lift=0.004
        ),
        {"roughness": 0.6},
    )
    scene.softbox("key", (-1.05, -0.55, 0.85), (0, 0, 0.08), 0.55, (15, 14.2, 12.8))
    scene.softbox("rim", (1.0, 0.1, 0.75), (0, 0, 0.10), 0.45, (9, 9.5, 10.5))
    scene.sky(backdrop.surroundings(rng, sky=0.33, ground=(0.12, 0.11, 0.09)))
    light = scene.shoot(samples, np.full((height, width, 3), 0.05, np.float32))
    return darkroom.developed(light, rng, exposure=1.6, contrast=1.10, vignette=0.3)


def finish(picture, path):
    """Write the JPEG lying on its side, as a camera held upright does, with orientation 6."""
    return darkroom.save(np.rot90(picture), path, title=TITLE, orientation=6)
