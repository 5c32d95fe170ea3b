"""Two pears for the autumn fair's still-life table: pale cloth, window light, high key."""

import numpy as np

from photolab import darkroom, shapes, strands
from photolab.camera import Scene
from photolab.noise import cells, fbm, mix, step
from photolab.shapes import ball, carve, egg, join, rod

SIZE = (2000, 1500)
SAMPLES = 8
TITLE = "Two pears for the seed table"


def standing(p):
    """A pear on its base, a little bent."""
    q = p - np.array((-0.036, 0.0, 0.0), np.float32)
    q[:, 0] -= 0.9 * np.maximum(q[:, 2] - 0.04, 0) ** 2 / 0.12
    q[:, 1] += 0.35 * np.maximum(q[:, 2] - 0.05, 0) ** 2 / 0.1
    return _pear(q)


def leaning(p):
    """A pear lying on its side, neck to the right and towards us."""
    q = p - np.array((0.052, -0.012, 0.0362), np.float32)
    q = shapes.turned(q, "z", 300)
    q = shapes.turned(q, "y", 82)
    q = q + np.array((0, 0, 0.036), np.float32)
    q[:, 0] -= 0.5 * np.maximum(q[:, 2] - 0.05, 0) ** 2 / 0.1
    return _pear(q, 0.96)


def _pear(q, size=1.0):
    q = q / size
    lobes = 0.0012 * np.cos(5 * np.arctan2(q[:, 1], q[:, 0]) + 1) * step(0.0, 0.03, q[:, 2])
    d = egg(q, (0, 0, 0.0375), (0.0375, 0.0365, 0.0372))
    d = join(d, ball(q, (0.001, 0, 0.078), 0.0175), 0.034)
    d = join(d, ball(q, (0.001, 0, 0.092), 0.0115), 0.02)
    d = carve(d, ball(q, (0.001, 0, 0.1095), 0.006), 0.006)
    d = carve(d, ball(q, (0, 0, -0.006), 0.010), 0.008)
    return (d + lobes) * size


def fruit(shape, inner, low, high, blush, seed):
    """The skin of a pear; inner maps world points to the pear's own axis for its colours."""
    mesh = shapes.surface(shape, low, high, 0.0012, refine=2)
    p = mesh.points
    q = inner(p)
    broad = fbm(p, 22, 3, seed=seed)
    mottle = fbm(p, 160, 4, 0.6, seed=seed + 1)
    mesh = mesh.pushed(0.0006 * broad + 0.00022 * mottle)
    colour = mix((0.46, 0.44, 0.13), (0.62, 0.54, 0.20), step(-0.5, 0.5, broad))
    colour = mix(colour, (0.36, 0.41, 0.12), step(0.05, 0.10, q[:, 2]) * 0.5)
    side = mesh.normals() @ (np.asarray(blush) / np.linalg.norm(blush))
    red = step(0.1, 0.95, side + 0.25 * fbm(p * (1, 1, 0.3), 70, 3, seed=seed + 2))
    colour = mix(colour, (0.56, 0.15, 0.05), red * 0.72)
    russet = step(
        -0.05,
        1.05,
        0.6 * fbm(p, 120, 4, 0.65, seed=seed + 3)
        + step(0.084, 0.102, q[:, 2])
        + step(0.014, 0.0, q[:, 2]),
    )
    colour = mix(colour, (0.31, 0.19, 0.07), russet * 0.5)
    near, _, label = cells(p, 400, seed + 4)
    dots = step(0.30, 0.16, near) * (label > 0.35)
    colour = mix(colour, (0.27, 0.20, 0.07), dots * 0.65)
    scar = step(0.965, 1.0, fbm(p * (1, 0.4, 1), 60, 3, seed=seed + 5, ridged=True) / 1.4)
    colour = mix(colour, (0.24, 0.15, 0.06), scar * 0.6)
    mesh.colour = (colour * np.exp(0.10 * mottle)[:, None]).astype(np.float32)
    return mesh


def stalk(a, b, bend, seed):
    """A woody stem from a to b, thicker at its end."""
    middle = (np.asarray(a) + np.asarray(b)) / 2 + np.asarray(bend)

    def shape(p):
        d = join(rod(p, a, middle, 0.0022, 0.0017), rod(p, middle, b, 0.0017, 0.0021), 0.002)
        return join(d, ball(p, b, 0.0030), 0.003)

    low = np.min([a, b, middle], 0) - 0.006
    high = np.max([a, b, middle], 0) + 0.006
    mesh = shapes.surface(shape, low, high, 0.0005, refine=1)
    rough = fbm(mesh.points, 600, 3, 0.6, seed=seed)
    mesh = mesh.pushed(0.0003 * rough)
    mesh.colour = mix((0.06, 0.035, 0.018), (0.20, 0.13, 0.07), step(-0.5, 0.6, rough)).astype(
        np.float32
    )
    return mesh


def cloth():
    """Linen with soft folds, bright; its weave shows near the camera."""

    def height(p):
        fold = fbm(p * (1, 0.45, 1) + (3, 1, 0), 6.5, 2, 0.4, seed=5)
        crease = fbm(p * (0.5, 1, 1), 9, 2, 0.4, seed=8, ridged=True) / 1.4
        flat = step(
            0.05,
            0.16,
            np.minimum(
                np.hypot(p[:, 0] + 0.036, p[:, 1]), np.hypot(p[:, 0] - 0.052, p[:, 1] + 0.012)
            ),
        )
        rise = 0.9 * np.maximum(p[:, 1] - 0.30, 0) ** 1.7
        return flat * (0.019 * fold + 0.011 * step(0.6, 1, crease)) - 0.0018 + rise

    mesh = shapes.sheet(np.linspace(-0.42, 0.42, 1700), np.linspace(-0.30, 0.75, 1800), height)
    p = mesh.points
    warp = np.sin(p[:, 0] * 2 * np.pi / 0.0016 + 0.8 * fbm(p, 60, 2, seed=1))
    weft = np.sin(p[:, 1] * 2 * np.pi / 0.0019 + 0.8 * fbm(p, 60, 2, seed=2))
    slub = fbm(p * (1, 0.08, 1), 300, 2, seed=3) + fbm(p * (0.08, 1, 1), 300, 2, seed=4)
    points = p.copy()
    points[:, 2] += 0.00016 * (warp * weft) + 0.00012 * slub
    mesh.points = points
    tone = 0.80 + 0.03 * warp * weft + 0.035 * slub
    mesh.colour = (tone[:, None] * np.array((1.0, 0.985, 0.95))).astype(np.float32)
    return mesh


def shoot(width, height, samples, rng):
    """The finished picture, encoded 0..1."""
    scene = Scene(width, height, (0.03, -0.60, 0.185), (0.004, 0.0, 0.040), 23.5, 0.0045, 0.605)
    skin = {"roughness": 0.42, "specular": 0.4}

    def upright(p):
        return p - np.array((-0.036, 0, 0))

    def lying(p):
        q = shapes.turned(shapes.turned(p - np.array((0.052, -0.012, 0.0362)), "z", 300), "y", 82)
        return q + np.array((0, 0, 0.036))

    scene.add(
        "first",
        fruit(standing, upright, (-0.09, -0.05, -0.01), (0.03, 0.05, 0.12), (0.8, -0.6, 0.1), 10),
        skin,
    )
    scene.add(
        "second",
        fruit(leaning, lying, (-0.06, -0.13, -0.01), (0.17, 0.10, 0.09), (-0.2, -0.5, 0.9), 30),
        skin,
    )
    scene.add(
        "stalk",
        stalk((-0.0105, -0.010, 0.100), (-0.004, -0.016, 0.131), (-0.004, 0, 0), 3),
        {"roughness": 0.8},
    )
    tip = _world_tip()
    scene.add(
        "stalk2",
        stalk(tip, tip + np.array((0.012, -0.020, 0.012)), (0.004, 0, 0.002), 7),
        {"roughness": 0.8},
    )
    linen = cloth()
    scene.add("cloth", linen, {"roughness": 0.95, "specular": 0.1, "sheen": 0.4})
    near = shapes.Mesh(linen.points, linen.faces[::7], linen.colour)
    scene.add(
        "lint", strands.fuzz(near, 25_000, 0.0022, 0.00003, rng, tint=1.05), {"roughness": 0.95}
    )
    scene.softbox("window", (-0.75, -0.25, 0.65), (0, 0, 0.03), 0.45, (20, 20.3, 21))
    scene.sky(np.full((64, 128, 3), (0.40, 0.41, 0.43), np.float32))
    light = scene.shoot(samples, np.full((height, width, 3), 0.8, np.float32))
    return darkroom.developed(light, rng, exposure=1.0, contrast=1.0, vignette=0.12, grain=0.008)


def _world_tip():
    """Where the lying pear's neck ends, in the world."""
    own = np.array([[0.012, 0, 0.1035]], np.float32) - np.array((0, 0, 0.036), np.float32)
    q = shapes.turned(shapes.turned(own, "y", -82), "z", -300)
    return (q + np.array((0.052, -0.012, 0.0362)))[0]


def finish(picture, path):
    """Write the JPEG."""
    return darkroom.save(picture, path, title=TITLE)
