"""A hedgehog behind the compost bays, on leaf litter, nose to camera."""

import numpy as np

from photolab import backdrop, blades, darkroom, shapes, strands
from photolab.camera import Scene
from photolab.noise import fbm, mix, step
from photolab.shapes import ball, egg, join, rod

SIZE = (2000, 1500)
SAMPLES = 18
TITLE = "Visitor at the compost bays"


def body(p):
    """Body and snout."""
    d = egg(p, (0.0, 0.035, 0.058), (0.080, 0.112, 0.062))
    d = join(d, egg(p, (0.004, -0.070, 0.046), (0.047, 0.050, 0.042)), 0.03)
    d = join(d, rod(p, (0.004, -0.095, 0.040), (0.010, -0.149, 0.033), 0.024, 0.0085), 0.02)
    for x in (-0.028, 0.040):
        d = join(d, egg(p, (x, -0.078, 0.010), (0.012, 0.022, 0.010)), 0.008)
    return d


def skin():
    """Furry hide: dark mask round the eyes, pale cheeks."""
    mesh = shapes.surface(body, (-0.11, -0.18, -0.02), (0.12, 0.18, 0.14), 0.003, refine=1)
    p = mesh.points
    shade = fbm(p, 40, 3, seed=2)
    colour = mix((0.20, 0.14, 0.09), (0.34, 0.26, 0.18), step(-0.5, 0.5, shade))
    mask = step(0.030, 0.012, shapes.length(p - np.array((0.006, -0.118, 0.052))))
    colour = mix(colour, (0.06, 0.04, 0.03), mask * 0.8)
    colour = mix(colour, (0.44, 0.36, 0.26), step(0.02, 0.04, np.abs(p[:, 0])) * 0.35)
    colour = mix(colour, (0.05, 0.035, 0.03), step(-0.138, -0.150, p[:, 1]))
    mesh.colour = colour.astype(np.float32)
    return mesh


def spines(mesh, rng):
    """Banded spines over the back, crossing at random."""
    normals = mesh.normals()
    p = mesh.points
    back = step(0.020, 0.045, p[:, 2] + 0.25 * (p[:, 1] + 0.07)) * step(-0.100, -0.075, p[:, 1])
    back *= step(-0.5, 0.0, normals[:, 2])
    roots, out, _ = strands.scattered(mesh, 7800, rng, back)
    lean = out + np.array((0, 0.55, 0.12)) + rng.normal(0, 0.30, out.shape)
    lean = blades.unit(lean)
    length = 0.026 * np.exp(rng.normal(0, 0.13, len(roots)))
    paths = strands.grown(roots - out * 0.002, lean, length, rng, bend=0.06, rings=9)
    t = np.linspace(0, 1, 9)
    band = np.array([0.30, 0.75, 1.1, 1.15, 0.45, 0.10, 0.09, 0.6, 1.25])
    tint = np.array((0.52, 0.42, 0.29)) * band[None, :, None]
    tint = tint * np.exp(rng.normal(0, 0.28, (len(roots), 1, 1)))
    radius = 0.00062 * (0.5 + 0.7 * np.sin(np.pi * np.clip(t * 0.9 + 0.1, 0, 1)))[None]
    return strands.tubes(paths, np.repeat(radius, len(roots), 0), tint, 5)


def fur(mesh, rng):
    """Coarse hair on face and flanks, lying back from the nose."""
    p = mesh.points
    place = step(-0.150, -0.140, p[:, 1]) * np.clip(
        step(-0.06, -0.10, p[:, 1]) + step(0.055, 0.02, p[:, 2]), 0, 1
    )
    roots, out, colour = strands.scattered(mesh, 52_000, rng, place)
    flow = out * 0.55 + np.array((0, 0.9, -0.35)) + rng.normal(0, 0.25, out.shape)
    length = 0.0035 + 0.011 * step(-0.14, -0.05, roots[:, 1])
    length = length * np.exp(rng.normal(0, 0.25, len(roots)))
    paths = strands.grown(roots, blades.unit(flow), length, rng, bend=0.4, droop=0.25, rings=6)
    tint = colour[:, None] * np.linspace(0.7, 1.9, 6)[None, :, None]
    tint = tint * np.exp(rng.normal(0, 0.3, (len(roots), 1, 1)))
    return strands.tubes(paths, strands.tapered(len(roots), 6, 0.00016, rng), tint, 4)


def whiskers(rng):
    """A few long hairs beside the nose."""
    count = 26
    side = np.where(np.arange(count) % 2, 1.0, -1.0)
    roots = np.column_stack(
        [0.009 + side * 0.010, rng.uniform(-0.140, -0.125, count), rng.uniform(0.028, 0.038, count)]
    )
    along = np.column_stack([side, rng.normal(-0.2, 0.3, count), rng.normal(0.1, 0.3, count)])
    paths = strands.grown(roots, blades.unit(along), rng.uniform(0.02, 0.036, count), rng, bend=0.3)
    tint = strands.shaded(count, 8, (0.15, 0.1, 0.07), (0.5, 0.42, 0.3), rng)
    return strands.tubes(paths, strands.tapered(count, 8, 0.00018, rng), tint, 4)


def bead(centre, radius, colour):
    """A smooth ball: eye or nose."""
    centre = np.asarray(centre)
    mesh = shapes.surface(
        lambda p: ball(p, centre, radius),
        centre - 1.3 * radius,
        centre + 1.3 * radius,
        radius / 12,
        refine=1,
    )
    mesh.colour = np.tile(np.asarray(colour, np.float32), (len(mesh.points), 1))
    return mesh


def ear(x):
    """A small rounded ear."""
    shape = lambda p: np.maximum(  # noqa: E731
        egg(p, (x, -0.080, 0.078), (0.014, 0.006, 0.016)),
        -egg(p, (x, -0.087, 0.079), (0.011, 0.007, 0.012)),
    )
    mesh = shapes.surface(shape, (x - 0.02, -0.10, 0.055), (x + 0.02, -0.06, 0.10), 0.0012)
    mesh.colour = np.tile(np.float32((0.14, 0.09, 0.07)), (len(mesh.points), 1))
    return mesh


def soil():
    """Dark earth under the leaves."""
    mesh = shapes.sheet(
        np.linspace(-0.7, 0.7, 500),
        np.linspace(-0.45, 1.3, 620),
        lambda p: 0.02 * fbm(p, 8, 3, seed=3) + 0.006 * fbm(p, 70, 3, seed=4) - 0.012,
    )
    dark = fbm(mesh.points, 90, 3, 0.6, seed=5)
    mesh.colour = mix((0.018, 0.013, 0.009), (0.07, 0.05, 0.033), step(-0.6, 0.7, dark)).astype(
        np.float32
    )
    return mesh


def shoot(width, height, samples, rng):
    """The finished picture, encoded 0..1."""
    scene = Scene(width, height, (-0.10, -0.62, 0.105), (0.004, -0.03, 0.052), 28.0, 0.0058, 0.515)
    rough = {"roughness": 0.85, "specular": 0.25}
    hide = skin()
    scene.add("hide", hide, rough)
    scene.add("spines", spines(hide, rng), {"roughness": 0.42, "specular": 0.5})
    scene.add("fur", fur(hide, rng), {"roughness": 0.6, "specular": 0.3})
    scene.add("whiskers", whiskers(rng), {"roughness": 0.5})
    shiny = {"roughness": 0.07, "specular": 0.7, "clearcoat": 1.0, "clearcoat_gloss": 0.96}
    scene.add(
        "eyes",
        shapes.merged(
            [
                bead((-0.0215, -0.1065, 0.0565), 0.0068, (0.006, 0.005, 0.005)),
                bead((0.0345, -0.1055, 0.0560), 0.0068, (0.006, 0.005, 0.005)),
            ]
        ),
        shiny,
    )
    scene.add(
        "nose",
        bead((0.0105, -0.1535, 0.0345), 0.0092, (0.012, 0.010, 0.011)),
        {"roughness": 0.28, "specular": 0.6},
    )
    scene.add("ears", shapes.merged([ear(-0.036), ear(0.046)]), rough)
    scene.add("soil", soil(), {"roughness": 1.0})
    autumn = [
        (0.30, 0.15, 0.05),
        (0.22, 0.10, 0.04),
        (0.36, 0.22, 0.08),
        (0.14, 0.075, 0.035),
        (0.42, 0.30, 0.12),
        (0.27, 0.20, 0.13),
    ]
    waxy = {"roughness": 0.55, "specular": 0.4}
    scene.add(
        "leaves",
        blades.litter(
            rng, 1500, (-0.6, -0.34), (0.6, 1.0), 0.052, autumn, height=-0.016, lift=0.016
        ),
        waxy,
    )
    front = blades.litter(
        rng, 170, (-0.24, -0.31), (0.24, -0.17), 0.040, autumn, height=-0.018, lift=0.008, flat=0.22
    )
    scene.add("front", front, waxy)
    green = [(0.07, 0.14, 0.03), (0.12, 0.20, 0.05), (0.20, 0.22, 0.08)]
    scene.add("grass", blades.grass(rng, 260, (-0.6, 0.15), (0.6, 0.9), 0.10, green), rough)
    scene.softbox("key", (-0.75, -0.60, 0.75), (0, -0.05, 0.04), 0.36, (26, 23.5, 19.5))
    scene.softbox("rim", (0.65, 0.75, 0.65), (0, 0, 0.05), 0.45, (17, 16, 14))
    scene.sky(backdrop.surroundings(rng, sky=0.38, warm=1.02))
    behind = backdrop.garden(width, height, rng, sky=0.15, blur=0.04, gaps=30)
    light = scene.shoot(samples, behind * 0.5)
    return darkroom.developed(light, rng, exposure=1.9, contrast=1.10, vignette=0.32)


def finish(picture, path):
    """Write the JPEG."""
    return darkroom.save(picture, path, title=TITLE)
