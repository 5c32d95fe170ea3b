"""The zinc watering can on the slabs at noon, with herbs beside it and a hard shadow."""

import numpy as np

from photolab import backdrop, blades, darkroom, shapes, strands
from photolab.camera import Scene
from photolab.noise import cells, fbm, mix, step
from photolab.shapes import carve, join, rod

SIZE = (2000, 1500)
SAMPLES = 10
TITLE = "Zinc can at noon"


def zinc(mesh, seed):
    """Colour of old galvanised sheet: spangle, white bloom, dents' dirt, rust at the seams."""
    p = mesh.points
    spangle = cells(p + 0.004 * fbm(p, 90, 2, seed=seed)[:, None], 95, seed)[2]
    bloom = step(0.05, 0.6, fbm(p, 14, 4, 0.6, seed=seed + 1))
    colour = mix((0.34, 0.355, 0.37), (0.62, 0.64, 0.65), spangle)
    colour = mix(colour, (0.60, 0.60, 0.57), bloom * 0.5)
    dirt = step(0.10, 0.7, fbm(p * (1, 1, 0.35), 26, 4, 0.6, seed=seed + 2))
    colour = mix(colour, (0.15, 0.135, 0.11), dirt * 0.6)
    rust = step(0.42, 0.75, fbm(p, 22, 4, 0.65, seed=seed + 3) + 0.5 * step(0.03, 0.0, p[:, 2]))
    mesh.colour = mix(colour, (0.24, 0.09, 0.03), rust * 0.85).astype(np.float32)
    return mesh


def can():
    """The body: beaded cylinder with a half-covered top."""
    outer = [(0.001, 0.003), (0.108, 0.003), (0.113, 0.0), (0.1135, 0.008)]
    for z in np.linspace(0.01, 0.262, 260):
        bead = sum(
            0.0032 * np.exp(-(((z - c) / 0.0035) ** 2)) for c in (0.022, 0.085, 0.180, 0.243)
        )
        outer.append((0.1105 - 0.010 * z / 0.26 + bead, z))
    outer += [(0.1045, 0.266), (0.1020, 0.268), (0.0990, 0.264), (0.0985, 0.18)]
    mesh = shapes.lathe(outer, 900)
    p = mesh.points
    dent = -0.010 * np.exp(-((shapes.length(p - np.array((-0.045, -0.10, 0.13))) / 0.035) ** 2))
    dent -= 0.006 * np.exp(-((shapes.length(p - np.array((0.07, -0.085, 0.055))) / 0.025) ** 2))
    mesh = mesh.pushed(dent + 0.0012 * fbm(p, 11, 2, seed=3))
    return zinc(mesh, 30)


def fittings_shape(p):
    """Spout with its rose, stay, and the two handles."""
    d = rod(p, (-0.095, 0, 0.055), (-0.285, 0, 0.262), 0.024, 0.0125)
    axis = np.array((-0.68, 0, 0.74)) / np.linalg.norm((0.68, 0.74))
    tip = np.array((-0.285, 0, 0.262))
    d = join(d, rod(p, tip, tip + 0.030 * axis, 0.0125, 0.040), 0.004)
    q = p - (tip + 0.041 * axis)
    along = q @ axis
    dome = np.maximum(shapes.length(q + 0.050 * axis) - 0.066, np.abs(along) - 0.014)
    d = join(d, dome, 0.003)
    d = join(d, rod(p, (-0.10, 0, 0.235), (-0.225, 0, 0.205), 0.0042), 0.004)
    for angle in np.linspace(0.05, np.pi - 0.05, 26):
        a = np.array((0.100 * np.cos(angle), 0, 0.262 + 0.085 * np.sin(angle)))
        b = np.array((0.100 * np.cos(angle + 0.13), 0, 0.262 + 0.085 * np.sin(angle + 0.13)))
        d = np.minimum(d, rod(p, a, b, 0.0070))
    for t in np.linspace(0, 1, 18):
        angle = -1.25 + 2.5 * t
        a = np.array((0.080 + 0.085 * np.cos(angle), 0, 0.145 + 0.085 * np.sin(angle)))
        angle += 2.5 / 17
        b = np.array((0.080 + 0.085 * np.cos(angle), 0, 0.145 + 0.085 * np.sin(angle)))
        d = np.minimum(d, rod(p, a, b, 0.0075))
    face = np.abs(along - 0.012) < 0.004
    holes = np.full(len(p), 1.0)
    side = np.cross(axis, (0, 1, 0))
    flat = np.column_stack([q @ side, p[:, 1]])
    for ring, count in ((0.0, 1), (0.010, 7), (0.020, 13), (0.029, 18)):
        for k in range(count):
            turn = 2 * np.pi * k / count
            hole = np.hypot(flat[:, 0] - ring * np.cos(turn), flat[:, 1] - ring * np.sin(turn))
            holes = np.minimum(holes, hole - 0.0015)
    return np.where(face, carve(d, holes), d) * 0.9


def fittings():
    """The fittings' mesh."""
    mesh = shapes.surface(
        fittings_shape, (-0.40, -0.06, 0.02), (0.20, 0.06, 0.37), 0.0026, refine=1
    )
    return zinc(mesh, 50)


def slabs():
    """Concrete slabs with sandy joints."""

    def height(p):
        gap = np.minimum(
            np.abs((p[:, 0] + 0.03) % 0.42 - 0.21) * -1 + 0.21,
            np.abs((p[:, 1] + 0.11) % 0.42 - 0.21) * -1 + 0.21,
        )
        rough = 0.0006 * fbm(p, 130, 4, 0.65, seed=70) + 0.0012 * fbm(p, 14, 2, seed=71)
        pits = -0.0012 * step(0.20, 0.06, cells(p, 120, 72)[0])
        return rough + pits - 0.010 * step(0.007, 0.002, gap)

    mesh = shapes.sheet(np.linspace(-1.9, 1.7, 2100), np.linspace(-0.50, 3.6, 2100), height)
    p = mesh.points
    grit = fbm(p, 260, 3, 0.7, seed=73)
    colour = mix((0.30, 0.28, 0.25), (0.50, 0.475, 0.43), step(-0.7, 0.8, grit))
    stain = step(0.05, 0.6, fbm(p, 5, 4, 0.55, seed=74))
    colour = mix(colour, (0.20, 0.185, 0.155), stain * 0.55)
    lichen = step(0.20, 0.12, cells(p, 26, 75)[0]) * step(0.0, 0.3, fbm(p, 30, 3, seed=76))
    colour = mix(colour, (0.50, 0.49, 0.36), lichen * 0.7)
    mesh.colour = mix(colour, (0.10, 0.08, 0.05), step(-0.004, -0.008, p[:, 2])).astype(np.float32)
    return mesh


def herb(rng, centre, height, count, spread, palette, size):
    """A bushy herb: stems with leaves in pairs."""
    lean = rng.normal(0, spread, (count, 2))
    roots = np.asarray(centre) + np.column_stack([lean * 0.25 * height, np.zeros(count)])
    along = blades.unit(np.column_stack([lean, np.ones(count)]))
    tall = height * rng.uniform(0.6, 1.1, count)
    stems = strands.grown(roots, along, tall, rng, bend=0.25, rings=10)
    tint = strands.shaded(count, 10, (0.05, 0.08, 0.02), (0.13, 0.2, 0.06), rng)
    parts = [strands.tubes(stems, strands.tapered(count, 10, 0.0014, rng), tint, 5)]
    at = rng.integers(2, 10, count * 9)
    which = np.repeat(np.arange(count), 9)
    places = stems[which, at]
    turn = rng.uniform(0, 2 * np.pi, len(places))
    out = np.column_stack([np.cos(turn), np.sin(turn), rng.normal(0.35, 0.3, len(places))])
    up = np.column_stack([rng.normal(0, 0.35, (len(places), 2)), np.ones(len(places))])
    leaf = size * (1.15 - 0.07 * at) * np.exp(rng.normal(0, 0.2, len(places)))
    colour = np.asarray(palette)[rng.integers(0, len(palette), len(places))]
    parts.append(
        blades.blades(
            places,
            out,
            up,
            leaf,
            leaf * 0.33,
            colour,
            rng,
            bend=0.25,
            cup=0.45,
            ruffle=0.12,
            scale=1.5 / size,
        )
    )
    return shapes.merged(parts)


def shoot(width, height, samples, rng):
    """The finished picture, encoded 0..1."""
    scene = Scene(width, height, (0.18, -1.18, 0.46), (-0.045, 0.02, 0.145), 30.0, 0.004, 1.25)
    metal = {"roughness": 0.40, "metallic": 0.75, "specular": 0.5}
    scene.add("can", can(), metal)
    scene.add("fittings", fittings(), metal)
    scene.add("slabs", slabs(), {"roughness": 0.9, "specular": 0.25})
    bright = [(0.10, 0.20, 0.035), (0.16, 0.28, 0.06), (0.07, 0.14, 0.03)]
    grey = [(0.26, 0.32, 0.22), (0.33, 0.38, 0.28), (0.20, 0.26, 0.17)]
    leafy = {"roughness": 0.5, "specular": 0.35}
    scene.add("mint", herb(rng, (0.06, 0.36, 0.0), 0.26, 46, 0.42, bright, 0.042), leafy)
    scene.add("sage", herb(rng, (-0.235, 0.20, 0.0), 0.20, 44, 0.5, grey, 0.050), leafy)
    scene.add("cut", herb(rng, (0.0, 0.0, 0.20), 0.20, 26, 0.38, bright, 0.040), leafy)
    scene.add(
        "fallen",
        blades.litter(rng, 16, (-0.30, -0.30), (0.3, -0.12), 0.04, bright, lift=0.004),
        leafy,
    )
    scene.softbox("sun", (-3.0, -0.45, 2.7), (0, 0, 0.1), 0.17, (3900, 3560, 3000))
    scene.sky(backdrop.surroundings(rng, sky=0.42, ground=(0.22, 0.20, 0.17), warm=1.0))
    behind = backdrop.garden(width, height, rng, sky=0.30, blur=0.022, gaps=30)
    light = scene.shoot(samples, behind * 1.2)
    return darkroom.developed(light, rng, exposure=0.95, contrast=1.12, vignette=0.2)


def finish(picture, path):
    """Write the JPEG."""
    return darkroom.save(picture, path, title=TITLE)
