"""A garden snail on the mossy brick by the water butt, after rain, light from the side."""

import numpy as np

from photolab import backdrop, blades, darkroom, shapes, strands
from photolab.camera import Scene
from photolab.noise import cells, fbm, mix, step
from photolab.shapes import Mesh, ball, box, egg, join, rod

SIZE = (2000, 1500)
SAMPLES = 10
TITLE = "After rain, by the water butt"


def shell():
    """A coiled shell: a tube that grows along a logarithmic spiral, banded and ribbed."""
    turns, rings, around = 4.1, 1500, 160
    angle = np.linspace(0, turns * 2 * np.pi, rings)
    grow = np.exp(0.158 * (angle - angle[-1]))
    radius = 0.0112 * grow
    centre = np.column_stack(
        [0.0142 * grow * np.cos(angle), 0.0142 * grow * np.sin(angle), -0.013 * grow]
    )
    phi = np.linspace(0, 2 * np.pi, around, endpoint=False)
    outward = np.column_stack([np.cos(angle), np.sin(angle), np.zeros(rings)])
    ring = np.cos(phi)[None, :, None] * outward[:, None] + np.sin(phi)[None, :, None] * np.array(
        (0, 0, 1.0)
    )
    points = (centre[:, None] + radius[:, None, None] * ring * (1.0, 1.0, 1.08)).reshape(-1, 3)
    along = np.repeat(angle, around)
    turn = np.tile(phi, rings)
    growth = fbm(
        np.column_stack([along * 3.5, np.cos(turn) * 0.3, np.sin(turn) * 0.3]), 5, 3, seed=1
    )
    rib = np.sin(along * 95 + 1.5 * growth)
    mesh = Mesh(points.astype(np.float32), shapes.grid_faces(rings, around))
    size = np.repeat(radius, around)
    mesh = mesh.pushed(size * (0.010 * rib + 0.02 * growth))
    bands = sum(
        step(w, w * 0.5, np.abs(np.angle(np.exp(1j * (turn - c)))))
        for c, w in ((0.35, 0.30), (-0.45, 0.22), (1.15, 0.26), (2.0, 0.2))
    )
    broken = step(-0.45, 0.1, growth)
    colour = mix((0.50, 0.33, 0.14), (0.66, 0.50, 0.28), step(-0.5, 0.5, growth))
    colour = mix(colour, (0.10, 0.045, 0.02), np.clip(bands, 0, 1) * broken * 0.9)
    worn = step(0.25, 0.6, fbm(mesh.points, 260, 4, 0.6, seed=7)) * step(0.0, 0.4, 1 - grow[-1])
    colour = mix(colour, (0.62, 0.55, 0.46), worn * 0.5)
    mesh.colour = (colour * (1 + 0.10 * rib)[:, None]).astype(np.float32)
    p = shapes.turned(shapes.turned(mesh.points, "z", -199), "x", -78)
    p = shapes.turned(p, "z", 14)
    mesh.points = (p + np.array((0.009, 0.004, 0.0275))).astype(np.float32)
    return mesh


def flesh_shape(p):
    """Foot, neck, head and four feelers."""
    d = egg(p, (0.008, 0.002, 0.0035), (0.030, 0.0095, 0.0052))
    d = join(d, rod(p, (0.012, 0.002, 0.004), (0.050, 0.006, 0.0012), 0.0058, 0.0008), 0.006)
    d = join(d, rod(p, (-0.012, 0.001, 0.006), (-0.031, -0.003, 0.013), 0.0075, 0.0062), 0.008)
    d = join(d, ball(p, (-0.035, -0.004, 0.0135), 0.0062), 0.005)
    for a, b, thick, end in (
        ((-0.036, -0.0065, 0.017), (-0.049, -0.013, 0.033), 0.0013, 0.0017),
        ((-0.036, -0.0005, 0.018), (-0.046, 0.006, 0.036), 0.0013, 0.0017),
        ((-0.039, -0.0065, 0.011), (-0.046, -0.010, 0.0085), 0.0010, 0.0011),
        ((-0.039, -0.0015, 0.011), (-0.047, 0.0005, 0.0095), 0.0010, 0.0011),
    ):
        bent = (np.asarray(a) + b) / 2 + (0.0012, 0, 0.001)
        d = join(d, rod(p, a, bent, thick * 1.3, thick), 0.0018)
        d = join(d, rod(p, bent, b, thick, thick * 0.8), 0.001)
        d = join(d, ball(p, b, end), 0.0012)
    return d


def flesh():
    """Wrinkled wet skin."""
    mesh = shapes.surface(
        flesh_shape, (-0.056, -0.022, -0.006), (0.058, 0.020, 0.042), 0.0007, refine=1
    )
    p = mesh.points
    first, second, _ = cells(p * (1, 1, 1.25), 620, 3)
    wrinkle = step(0.0, 0.35, second - first)
    thin = step(0.020, 0.030, p[:, 2])
    mesh = mesh.pushed((0.00055 * wrinkle - 0.0003) * (1 - 0.85 * thin))
    colour = mix((0.09, 0.075, 0.055), (0.34, 0.29, 0.22), wrinkle)
    colour = mix(colour, (0.46, 0.41, 0.31), step(0.004, 0.0, p[:, 2]) * 0.6)
    for tip in ((-0.049, -0.013, 0.033), (-0.046, 0.006, 0.036)):
        eye = step(0.0022, 0.0012, shapes.length(p - np.array(tip)))
        colour = mix(colour, (0.015, 0.012, 0.012), eye)
    mesh.colour = colour.astype(np.float32)
    return mesh


def brick_shape(p):
    """A worn brick on its bed side."""
    d = box(p, (0.01, 0.01, -0.035), (0.11, 0.052, 0.034), 0.006)
    return d + 0.0015 * fbm(p, 60, 3, seed=9) + 0.004 * np.maximum(fbm(p, 16, 2, seed=10) - 0.2, 0)


def brick():
    """Fired clay with pits, lime and green in its hollows."""
    mesh = shapes.surface(
        brick_shape, (-0.115, -0.06, -0.085), (0.135, 0.08, 0.012), 0.0014, refine=1
    )
    p = mesh.points
    grit = fbm(p, 420, 4, 0.65, seed=11)
    pits = step(0.24, 0.08, cells(p, 230, 12)[0])
    mesh = mesh.pushed(0.00035 * grit - 0.0009 * pits)
    colour = mix((0.24, 0.085, 0.045), (0.44, 0.19, 0.11), step(-0.5, 0.6, grit))
    colour = mix(colour, (0.09, 0.045, 0.03), pits * 0.8)
    lime = step(0.35, 0.7, fbm(p, 36, 4, 0.6, seed=13))
    colour = mix(colour, (0.52, 0.48, 0.42), lime * 0.7)
    mossy = moss_cover(p)
    mesh.colour = mix(colour, (0.05, 0.085, 0.015), mossy * 0.85).astype(np.float32)
    return mesh


def moss_cover(p):
    """Where moss grows: cushions on the top and the edges."""
    cushion = fbm(p, 24, 3, 0.5, seed=20) + 0.35 * (p[:, 0] > 0.03) + 0.25 * (p[:, 0] < -0.055)
    path = np.exp(-(((p[:, 1] - 0.0) / 0.016) ** 2)) * np.exp(-(((p[:, 0] + 0.005) / 0.06) ** 2))
    return step(0.02, 0.30, cushion - 0.65 * path) * step(-0.02, -0.006, p[:, 2])


def moss(mesh, rng):
    """Thousands of tiny shoots in cushions, some with spore stalks."""
    cover = moss_cover(mesh.points)
    roots, out, _ = strands.scattered(mesh, 60_000, rng, cover)
    depth = fbm(roots, 24, 3, 0.5, seed=20)
    along = blades.unit(out * 1.0 + np.array((0, 0, 0.8)) + rng.normal(0, 0.45, out.shape))
    length = (0.0022 + 0.0042 * step(0, 0.6, depth)) * np.exp(rng.normal(0, 0.35, len(roots)))
    paths = strands.grown(roots, along, length, rng, bend=0.6, rings=5)
    tint = strands.shaded(len(roots), 5, (0.03, 0.055, 0.008), (0.24, 0.36, 0.06), rng, 0.35)
    shoots = strands.tubes(paths, strands.tapered(len(roots), 5, 0.00026, rng, tip=0.4), tint, 4)
    roots, out, _ = strands.scattered(mesh, 150, rng, cover)
    along = blades.unit(np.array((0, 0, 1.0)) + rng.normal(0, 0.2, out.shape))
    paths = strands.grown(roots, along, rng.uniform(0.008, 0.015, 150), rng, bend=0.3, rings=9)
    tint = strands.shaded(150, 9, (0.25, 0.10, 0.03), (0.30, 0.20, 0.06), rng)
    radius = np.full((150, 9), 0.00013)
    radius[:, -2:] = 0.00042
    return shapes.merged([shoots, strands.tubes(paths, radius, tint, 5)])


def drops(mesh, rng, count):
    """Rain that stays as beads, flat side down."""
    roots, out, _ = strands.scattered(mesh, count, rng, step(-0.2, 0.5, mesh.normals()[:, 2]))
    profile = [(np.cos(t) + 1e-4, np.sin(t) * 0.75) for t in np.linspace(0, np.pi / 2 - 0.01, 14)]
    unit = shapes.lathe(profile, 24)
    parts = []
    for root, normal, size in zip(
        roots, out, 0.0009 * np.exp(rng.normal(0, 0.55, count)), strict=True
    ):
        side = blades.unit(np.cross(normal, (0.3, 1, 0.2)))
        turn = np.stack([side, np.cross(normal, side), normal])
        bead = Mesh((unit.points @ turn * size + root).astype(np.float32), unit.faces)
        bead.colour = np.ones((len(unit.points), 3), np.float32)
        parts.append(bead)
    return shapes.merged(parts)


def shoot(width, height, samples, rng):
    """The finished picture, encoded 0..1."""
    scene = Scene(
        width, height, (-0.055, -0.215, 0.062), (-0.002, 0.0, 0.0165), 28.5, 0.0016, 0.216
    )
    coil = shell()
    scene.add(
        "shell",
        coil,
        {"roughness": 0.30, "specular": 0.55, "clearcoat": 0.8, "clearcoat_gloss": 0.85},
    )
    scene.add(
        "flesh",
        flesh(),
        {"roughness": 0.22, "specular": 0.6, "clearcoat": 0.5, "clearcoat_gloss": 0.8},
    )
    block = brick()
    scene.add("brick", block, {"roughness": 0.55, "specular": 0.45})
    scene.add("moss", moss(block, rng), {"roughness": 0.6, "specular": 0.3})
    wet = {"roughness": 0.03, "specular": 0.5, "spec_trans": 0.95, "eta": 1.33}
    wet.pop("specular")
    scene.add("drops", shapes.merged([drops(coil, rng, 70), drops(block, rng, 260)]), wet)
    scene.softbox("key", (-0.55, -0.10, 0.30), (0, 0, 0.02), 0.16, (52, 49, 43))
    scene.softbox("rim", (0.45, 0.40, 0.25), (0, 0, 0.02), 0.25, (13, 14, 15))
    scene.sky(backdrop.surroundings(rng, sky=0.33, warm=0.98))
    behind = backdrop.garden(
        width,
        height,
        rng,
        sky=0.22,
        blur=0.055,
        gaps=90,
        palette=[(0.02, 0.05, 0.02), (0.05, 0.10, 0.03), (0.08, 0.07, 0.04)],
    )
    light = scene.shoot(samples, behind * 0.7)
    return darkroom.developed(light, rng, exposure=1.45, contrast=1.14, vignette=0.35)


def finish(picture, path):
    """Write the JPEG."""
    return darkroom.save(picture, path, title=TITLE)
