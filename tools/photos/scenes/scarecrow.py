"""The scarecrow on plot nine: a carved face under a felt hat, straw hair, knitted scarf."""

import itertools

import numpy as np

from photolab import backdrop, darkroom, shapes, strands
from photolab.camera import Scene
from photolab.noise import cells, fbm, mix, step
from photolab.shapes import Mesh, ball, carve, egg, join, rod

SIZE = (2000, 1500)
SAMPLES = 24
TITLE = "Old Barnaby, plot nine"
EYES = np.array([[-0.0375, -0.087, 0.0165], [0.0385, -0.0865, 0.0185]], np.float32)
EYE_RADIUS = 0.0205


def head(p):
    """The carved head; crooked on purpose."""
    q = p.copy()
    q[:, 0] += 0.05 * p[:, 2] + 0.012 * np.sin(11 * p[:, 2])
    d = egg(q, (0, 0, 0), (0.094, 0.104, 0.134))
    d = join(d, ball(q, (-0.056, -0.070, -0.030), 0.031), 0.035)
    d = join(d, ball(q, (0.058, -0.068, -0.026), 0.030), 0.035)
    d = join(d, ball(q, (0.004, -0.082, -0.104), 0.031), 0.030)
    d = join(d, rod(q, (-0.068, -0.080, 0.036), (-0.012, -0.104, 0.040), 0.011, 0.012), 0.016)
    d = join(d, rod(q, (0.012, -0.104, 0.043), (0.068, -0.078, 0.047), 0.012, 0.010), 0.016)
    for centre in EYES:
        d = carve(d, egg(q, centre + np.array((0, -0.014, 0.0)), (0.029, 0.024, 0.021)), 0.010)
    d = join(d, rod(q, (0.000, -0.102, 0.024), (0.006, -0.136, -0.028), 0.010, 0.0165), 0.014)
    d = join(d, ball(q, (-0.012, -0.116, -0.034), 0.0115), 0.008)
    d = join(d, ball(q, (0.022, -0.115, -0.033), 0.0115), 0.008)
    for x in (-0.006, 0.016):
        d = carve(d, egg(q, (x, -0.130, -0.044), (0.0055, 0.007, 0.006)), 0.004)
    mouth = [
        (-0.046, -0.092, -0.062),
        (-0.022, -0.108, -0.074),
        (0.006, -0.113, -0.077),
        (0.030, -0.104, -0.070),
        (0.048, -0.088, -0.055),
    ]
    for a, b in itertools.pairwise(mouth):
        lip = np.array((0, 0.004, 0.010))
        d = join(d, rod(q, np.array(a) + lip, np.array(b) + lip, 0.0075), 0.010)
        d = join(
            d,
            rod(q, np.array(a) - lip * (1, -1, 1.1), np.array(b) - lip * (1, -1, 1.1), 0.0085),
            0.010,
        )
    for a, b in itertools.pairwise(mouth):
        d = carve(
            d, rod(q, np.array(a) - (0, 0.006, 0), np.array(b) - (0, 0.006, 0), 0.0048), 0.005
        )
    for side, tilt in zip(EYES, (0.10, -0.06), strict=True):
        r = p - side
        shell = np.maximum(
            shapes.length(r) - EYE_RADIUS * 1.16, EYE_RADIUS * 0.98 - shapes.length(r)
        )
        upper = np.maximum(shell, -(r[:, 2] - 0.0088 + 0.25 * (r[:, 1] + 0.018) + tilt * r[:, 0]))
        lower = np.maximum(shell, r[:, 2] + 0.0092 - tilt * r[:, 0])
        d = join(d, join(upper, lower), 0.0035)
    for k, (x, z) in enumerate(((-0.05, 0.075), (0.01, 0.07), (0.05, 0.078))):
        d = carve(
            d, rod(q, (x - 0.03, -0.088, z), (x + 0.03, -0.092, z + 0.006 * (k - 1)), 0.003), 0.006
        )
    return join(d, rod(p, (0, 0.01, -0.10), (0, 0.02, -0.24), 0.045), 0.02)


def carved_head():
    """The head with chisel marks, cracks, worn paint."""
    mesh = shapes.surface(head, (-0.14, -0.17, -0.20), (0.14, 0.14, 0.16), 0.0022, refine=2)
    p = mesh.points
    grain = fbm(p * (1, 1, 0.16), 90, 4, 0.6, seed=3)
    fine = fbm(p * (1, 1, 0.10), 420, 3, 0.6, seed=4)
    crack = step(0.86, 0.97, fbm(p * (1, 1, 0.13), 17, 3, 0.35, seed=12, ridged=True) / 1.35)
    crack *= step(-0.15, 0.25, fbm(p, 14, 2, seed=8))
    pits = step(0.22, 0.05, cells(p, 130, 5)[0]) * step(0.1, 0.4, fbm(p, 20, 2, seed=9))
    chisel = cells(p * (1, 1, 0.7), 62, 6)
    depth = shapes.hollow(mesh, head, 0.008)
    near_eye = np.min([shapes.length(p - c) for c in EYES], 0)
    calm = step(0.021, 0.030, near_eye)
    mesh = mesh.pushed(
        0.0005 * grain
        + 0.00025 * fine
        + calm * (-0.0030 * crack - 0.0011 * pits + 0.0014 * (chisel[0] - 0.5))
    )
    wood = mix((0.20, 0.135, 0.08), (0.36, 0.27, 0.18), step(-0.6, 0.7, grain))
    wood = mix(wood, (0.25, 0.235, 0.21), step(-0.2, 0.5, fbm(p, 9, 3, seed=21)) * 0.6)
    wear = fbm(p, 26, 4, 0.6, seed=33) + 0.9 * (p[:, 1] < -0.126) - 0.5 * depth + 0.25 * grain
    painted = step(0.30, 0.18, wear)
    rim = step(0.16, 0.20, wear) * step(0.33, 0.27, wear)
    paint = mix((0.62, 0.47, 0.33), (0.72, 0.60, 0.46), step(-0.5, 0.5, fbm(p, 7, 2, seed=2)))
    for cheek in ((-0.058, -0.092, -0.024), (0.060, -0.09, -0.02)):
        rosy = step(0.034, 0.006, shapes.length(p - np.array(cheek))) * 0.75
        paint = mix(paint, (0.55, 0.15, 0.09), rosy)
    lips = step(0.016, 0.006, np.abs(p[:, 2] + 0.074 - 6.0 * p[:, 0] ** 2))
    lips *= (np.abs(p[:, 0]) < 0.045) * (p[:, 1] < -0.085)
    paint = mix(paint, (0.40, 0.10, 0.07), lips * 0.8)
    brow = np.minimum(
        rod(p, (-0.068, -0.090, 0.040), (-0.016, -0.114, 0.046), 0.004),
        rod(p, (0.010, -0.114, 0.049), (0.066, -0.088, 0.051), 0.004),
    )
    paint = mix(paint, (0.05, 0.035, 0.025), step(0.007, 0.001, brow + 0.002 * grain) * 0.9)
    colour = mix(wood, paint, painted * 0.92)
    colour = mix(colour, colour * 0.45, rim)
    colour *= np.exp(0.16 * grain + 0.14 * fine)[:, None]
    colour = mix(colour, (0.035, 0.026, 0.018), crack * calm)
    colour = mix(colour, (0.05, 0.035, 0.025), pits * 0.8)
    colour = mix(colour, (0.05, 0.04, 0.028), np.clip(depth * 1.5 - 0.45, 0, 0.8))
    moss = step(0.25, 0.5, fbm(p, 34, 4, seed=70) + 0.5 * depth - 0.6 + 2.2 * np.abs(p[:, 0]))
    mesh.colour = mix(colour, (0.10, 0.13, 0.035), moss * 0.55).astype(np.float32)
    return mesh


def eye(centre, gaze):
    """A glass eye: painted iris under a clear coat."""
    mesh = shapes.surface(
        lambda p: ball(p, centre, EYE_RADIUS), centre - 0.024, centre + 0.024, 0.0011, refine=2
    )
    r = (mesh.points - centre) / EYE_RADIUS
    gaze = np.asarray(gaze) / np.linalg.norm(gaze)
    off = np.degrees(np.arccos(np.clip(r @ gaze, -1, 1)))
    side = np.cross(gaze, (0, 0, 1))
    turn = np.arctan2(r @ side, r[:, 2])
    ray = fbm(np.column_stack([np.cos(turn), np.sin(turn), off * 0.012]), 13, 3, 0.7, seed=5)
    iris = mix((0.06, 0.16, 0.20), (0.25, 0.42, 0.42), step(-0.5, 0.6, ray))
    iris = mix(iris, (0.35, 0.25, 0.09), step(24, 14, off) * 0.6)
    iris = mix(iris, (0.015, 0.03, 0.04), step(29, 34, off))
    veins = step(0.93, 1.0, fbm(mesh.points, 90, 3, seed=8, ridged=True) / 1.4)
    white = mix((0.74, 0.71, 0.64), (0.55, 0.30, 0.24), veins * step(40, 70, off) * 0.5)
    colour = mix(iris, white, step(34.0, 36.5, off))
    mesh.colour = mix((0.004, 0.004, 0.005), colour, step(14.0, 15.5, off)).astype(np.float32)
    return mesh


def hat_shape(p):
    """Brim and dented crown, tilted back and to one side."""
    q = shapes.turned(shapes.turned(p, "x", -13, (0, 0, 0.08)), "y", 7, (0, 0, 0.08))
    angle = np.arctan2(q[:, 1], q[:, 0])
    radius = np.sqrt(q[:, 0] ** 2 + q[:, 1] ** 2)
    wave = (
        0.010 * np.sin(2 * angle + 0.6)
        + 0.006 * np.sin(3 * angle + 2)
        - 0.28 * np.maximum(radius - 0.10, 0) ** 1.3
    )
    edge = 0.200 + 0.010 * np.sin(angle * 2 + 1) + 0.004 * np.sin(7 * angle)
    brim = np.maximum(np.abs(q[:, 2] - 0.075 - wave) - 0.0035, radius - edge)
    crown = egg(q, (0, 0.004, 0.105), (0.104, 0.112, 0.115))
    crown = np.maximum(crown, 0.072 - q[:, 2])
    crown = carve(crown, egg(q, (0.01, -0.02, 0.245), (0.035, 0.11, 0.05)), 0.03)
    crown = carve(crown, ball(q, (-0.085, -0.115, 0.19), 0.06), 0.03)
    d = join(brim, crown, 0.014)
    d = carve(d, egg(q, (0, 0.004, 0.06), (0.096, 0.104, 0.09)), 0.004)
    return d * 0.8


def hat(rng):
    """The felt hat: worn cloth, a sweat-dark band, fuzz."""
    mesh = shapes.surface(hat_shape, (-0.24, -0.25, 0.0), (0.24, 0.25, 0.26), 0.0027, refine=1)
    p = mesh.points
    soft = fbm(p, 12, 4, seed=40)
    felt = fbm(p, 170, 4, 0.7, seed=41)
    mesh = mesh.pushed(0.003 * soft + 0.0009 * felt)
    colour = mix((0.050, 0.038, 0.030), (0.115, 0.088, 0.062), step(-0.6, 0.6, soft))
    dust = step(0.0, 0.6, fbm(p, 30, 4, 0.6, seed=42)) * step(-0.2, 0.7, mesh.normals()[:, 2])
    colour = mix(colour, (0.20, 0.165, 0.12), dust * 0.55)
    mesh.colour = (colour * np.exp(0.25 * felt)[:, None]).astype(np.float32)
    fibres = strands.fuzz(mesh, 90_000, 0.0035, 0.00012, rng, tint=1.5)
    return mesh, fibres


def hat_band():
    """A twisted cord round the crown."""
    turn = np.linspace(0, 2 * np.pi, 700)
    paths = []
    for k in range(3):
        twist = 55 * turn + k * 2 * np.pi / 3
        r = 1 + 0.026 * np.cos(twist)
        ring = np.column_stack(
            [
                0.1055 * r * np.cos(turn),
                0.1135 * r * np.sin(turn) + 0.004,
                0.094 + 0.0035 * np.sin(twist),
            ]
        )
        ring = shapes.turned(ring, "y", -7, (0, 0, 0.08))
        paths.append(shapes.turned(ring, "x", 13, (0, 0, 0.08)))
    paths = np.array(paths)
    tint = np.array([0.40, 0.30, 0.17]) * (
        0.8 + 0.3 * np.sin(np.arange(700) * 1.9)[None, :, None] ** 2
    )
    return strands.tubes(paths, np.full((3, 700), 0.0036), np.broadcast_to(tint, (3, 700, 3)), 10)


def straw(rng):
    """Tufts under the brim, a few strands over the brow, bristles at the collar."""
    parts = []
    for count, low, high, length, place in (
        (1500, -0.9, 0.62, 0.13, "side"),
        (90, 0.75, 1.57, 0.030, "brow"),
        (420, -0.6, 0.9, 0.10, "collar"),
    ):
        clump = rng.integers(0, 46, count)
        angle = rng.uniform(low, high, 46)[clump] + rng.normal(0, 0.09, count)
        side = np.where(rng.random(46) < 0.5, -1, 1)[clump]
        z = 0.058 if place != "collar" else -0.150
        ring = 0.094 if place != "collar" else 0.075
        roots = np.column_stack(
            [
                side * ring * np.cos(angle),
                -ring * 1.05 * np.sin(angle),
                z + rng.normal(0, 0.010, count),
            ]
        )
        out = roots * (1, 1, 0)
        out /= np.linalg.norm(out, axis=1, keepdims=True)
        fall = {"side": -0.75, "brow": -0.9, "collar": 0.10}[place]
        directions = out + np.array([0, 0, fall]) + rng.normal(0, 0.25, (46, 3))[clump]
        directions += rng.normal(0, 0.16, (count, 3))
        directions /= np.linalg.norm(directions, axis=1, keepdims=True)
        lengths = length * np.exp(rng.normal(0, 0.35, count))
        paths = strands.grown(roots, directions, lengths, rng, bend=0.28, droop=0.35, curl=0.1)
        tint = strands.shaded(count, 8, (0.30, 0.20, 0.08), (0.70, 0.54, 0.26), rng, 0.33)
        radius = strands.tapered(count, 8, 0.00085, rng, tip=0.5, spread=0.35)
        parts.append(strands.tubes(paths, radius, tint))
    return shapes.merged(parts)


def knitted(path, radius, rows, columns, colours, seed):
    """A knitted tube along path (K, 3), with real stitches in its surface."""
    count, around = len(path), columns * 10
    along = np.gradient(path, axis=0)
    along /= np.linalg.norm(along, axis=1, keepdims=True)
    side = np.cross(along, (0.05, 0.1, 1.0))
    side /= np.linalg.norm(side, axis=1, keepdims=True)
    other = np.cross(along, side)
    turn = np.linspace(0, 2 * np.pi, around, endpoint=False)
    u = np.repeat(np.linspace(0, 1, count), around)
    v = np.tile(np.arange(around) / 10, count)
    column = np.abs(v % 1 - 0.5) * 2
    row = (u * rows + column * 0.75) % 1
    height = (np.sin(np.pi * row) ** 0.7) * np.sqrt(np.clip(np.sin(np.pi * column), 0, 1) + 0.02)
    outward = (
        np.cos(turn)[None, :, None] * side[:, None] + np.sin(turn)[None, :, None] * other[:, None]
    ).reshape(-1, 3)
    centre = np.repeat(path, around, 0)
    sag = fbm(centre + outward * radius, 22, 3, seed=seed)
    points = centre + outward * (radius * (0.94 + 0.12 * sag) + 0.0042 * height)[:, None]
    stripe = (u * rows / 9).astype(int) % len(colours)
    tint = np.asarray(colours)[stripe] * (0.35 + 0.75 * height)[:, None]
    tint = tint * np.exp(0.18 * fbm(points, 300, 3, seed=seed + 1))[:, None]
    return Mesh(
        points.astype(np.float32), shapes.grid_faces(count, around), tint.astype(np.float32)
    )


def scarf(rng):
    """Twice round the neck, one end hanging."""
    colours = ((0.36, 0.055, 0.035), (0.36, 0.055, 0.035), (0.58, 0.50, 0.36))
    t = np.linspace(0, 1, 1500)[:, None]
    turn = 2 * np.pi * (1.75 * t[:, 0] + 0.28)
    loop = np.column_stack(
        [
            0.088 * np.cos(turn),
            0.085 * np.sin(turn) + 0.012,
            -0.150 - 0.048 * t[:, 0] + 0.012 * np.sin(turn + 1.0),
        ]
    )
    drop = np.linspace(0, 1, 700)
    end = np.column_stack(
        [
            0.055 + 0.020 * drop + 0.01 * np.sin(5 * drop),
            -0.105 - 0.035 * np.sqrt(drop),
            -0.165 - 0.24 * drop,
        ]
    )
    parts = [knitted(loop, 0.030, 190, 15, colours, 50), knitted(end, 0.031, 62, 15, colours, 60)]
    mesh = shapes.merged(parts)
    return mesh, strands.fuzz(mesh, 130_000, 0.0055, 0.00010, rng, tint=1.5, lean=1.0)


def coat_shape(p):
    """Shoulders and chest."""
    d = egg(p, (0, 0.045, -0.36), (0.30, 0.125, 0.19))
    d = join(d, rod(p, (-0.20, 0.05, -0.29), (-0.33, 0.05, -0.42), 0.075), 0.05)
    d = join(d, rod(p, (0.20, 0.05, -0.29), (0.34, 0.05, -0.42), 0.075), 0.05)
    fold = 0.010 * np.sin(26 * p[:, 0] + 9 * np.sin(9 * p[:, 2]))
    return d + fold * step(-0.25, -0.4, p[:, 2])


def coat(rng):
    """A tweed coat."""
    mesh = shapes.surface(coat_shape, (-0.44, -0.12, -0.46), (0.44, 0.2, -0.15), 0.004, refine=1)
    p = mesh.points
    weave = np.sin(p[:, 0] * 1500) * np.sin(p[:, 2] * 1500 + 2 * np.sign(np.sin(p[:, 0] * 190)))
    slub = fbm(p, 240, 3, 0.7, seed=90)
    mesh = mesh.pushed(0.0006 * weave + 0.0008 * slub + 0.004 * fbm(p, 18, 3, seed=91))
    colour = mix((0.030, 0.034, 0.026), (0.11, 0.105, 0.072), step(-0.8, 0.9, weave + slub))
    check = (np.abs(np.sin(p[:, 0] * 55)) > 0.985) | (np.abs(np.sin(p[:, 2] * 55)) > 0.985)
    mesh.colour = mix(colour, (0.20, 0.09, 0.04), check * 0.5).astype(np.float32)
    return mesh, strands.fuzz(mesh, 90_000, 0.004, 0.0001, rng, tint=1.6)


def shoot(width, height, samples, rng):
    """The finished picture, encoded 0..1."""
    scene = Scene(width, height, (0.16, -1.20, 0.00), (0.005, 0, -0.032), 27.6, 0.010, 1.115)
    wood = {"roughness": 0.52, "specular": 0.45}
    cloth = {"roughness": 0.95, "specular": 0.15, "sheen": 0.7}
    scene.add("head", carved_head(), wood)
    for k, (centre, gaze) in enumerate(
        zip(EYES, ((0.10, -1, 0.02), (0.13, -1, 0.01)), strict=True)
    ):
        scene.add(
            f"eye{k}",
            eye(centre, gaze),
            {"roughness": 0.06, "specular": 0.6, "clearcoat": 1.0, "clearcoat_gloss": 0.97},
        )
    for name, (mesh, fibres) in {"hat": hat(rng), "scarf": scarf(rng), "coat": coat(rng)}.items():
        scene.add(name, mesh, cloth)
        scene.add(f"{name}_fuzz", fibres, cloth)
    scene.add("band", hat_band(), cloth)
    scene.add("straw", straw(rng), {"roughness": 0.45, "specular": 0.4})
    scene.softbox("key", (-0.95, -1.35, 0.42), (0, 0, -0.02), 0.62, (17, 15.2, 12.6))
    scene.softbox("rim", (0.9, 0.75, 0.55), (0, 0, 0), 0.5, (16, 15, 13))
    scene.sky(backdrop.surroundings(rng, sky=0.55, warm=1.03))
    behind = backdrop.garden(width, height, rng, sky=0.42, blur=0.035, warmth=1.03)
    light = scene.shoot(samples, behind * 0.8)
    return darkroom.developed(
        light, rng, exposure=1.5, contrast=1.10, vignette=0.3, saturation=0.92
    )


def finish(picture, path):
    """Write the JPEG."""
    return darkroom.save(picture, path, title=TITLE)
