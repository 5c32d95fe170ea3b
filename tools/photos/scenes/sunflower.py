"""One sunflower head close up: spirals of florets, saturated petals, in Display P3."""

import numpy as np

from photolab import backdrop, blades, darkroom, shapes, strands
from photolab.camera import Scene
from photolab.noise import fbm, mix, step
from photolab.shapes import egg

SIZE = (2000, 1500)
SAMPLES = 10
TITLE = "Tallest of plot two"
GOLDEN = np.pi * (3 - np.sqrt(5))
DISC = 0.075


def seat(r):
    """Height of the disc's face at radius r: a ring that bulges and a dimple in the middle."""
    return 0.016 * np.exp(-(((r - 0.045) / 0.026) ** 2)) - 0.004 * np.exp(-((r / 0.015) ** 2))


def florets(rng):
    """Buds in the middle, open florets outside, each a small tube on the golden angle."""
    count = 1500
    k = np.arange(count) + 0.5
    r = DISC * np.sqrt(k / count)
    turn = k * GOLDEN
    roots = np.column_stack([r * np.cos(turn), r * np.sin(turn), seat(r)])
    outward = np.column_stack([np.cos(turn), np.sin(turn), np.zeros(count)])
    tilt = (r / DISC)[:, None] ** 2 * 0.55
    along = blades.unit(np.array((0, 0, 1.0)) + outward * tilt + rng.normal(0, 0.06, (count, 3)))
    open_ = step(0.36, 0.52, r / DISC)
    length = (0.0050 + 0.0058 * open_) * np.exp(rng.normal(0, 0.10, count))
    t = np.linspace(0, 1, 12)
    paths = roots[:, None] + along[:, None] * (length[:, None] * t)[..., None]
    closed = np.array([0.9, 1.0, 1.06, 1.1, 1.1, 1.06, 1.0, 0.9, 0.75, 0.55, 0.34, 0.06])
    flared = np.array([0.8, 0.8, 0.78, 0.76, 0.76, 0.78, 0.85, 0.95, 1.05, 1.0, 0.7, 0.2])
    shape = closed * (1 - open_[:, None]) + flared * open_[:, None]
    radius = 0.00118 * shape * np.exp(rng.normal(0, 0.07, (count, 1)))
    inner = np.array([0.04, 0.045, 0.012]) + 0.0 * t[:, None] + np.outer(t, (0.14, 0.14, 0.03))
    outer = np.array([0.05, 0.022, 0.006]) + np.outer(t**1.5, (0.30, 0.13, 0.012))
    tint = inner * (1 - open_[:, None, None]) + outer * open_[:, None, None]
    tint = tint * np.exp(rng.normal(0, 0.18, (count, 1, 1)))
    tubes = strands.tubes(paths, radius, tint, 7)
    ripe = np.flatnonzero((r / DISC > 0.50) & (rng.random(count) < 0.85))
    tips = paths[ripe, -2]
    curl = strands.grown(tips, along[ripe], np.full(len(ripe), 0.0042), rng, bend=0.9, rings=8)
    gold = strands.shaded(len(ripe), 8, (0.45, 0.24, 0.02), (0.85, 0.55, 0.05), rng)
    return tubes, strands.tubes(curl, strands.tapered(len(ripe), 8, 0.00042, rng), gold, 5)


def petals(rng):
    """Three uneven rings of ray petals."""
    parts = []
    for ring, (count, reach, lift) in enumerate(
        ((30, 0.090, 0.10), (27, 0.098, 0.34), (20, 0.080, 0.62))
    ):
        turn = np.arange(count) / count * 2 * np.pi + ring * 0.11 + rng.normal(0, 0.055, count)
        outward = np.column_stack([np.cos(turn), np.sin(turn), np.zeros(count)])
        roots = outward * (DISC - 0.003) + np.array((0, 0, -0.002 - 0.004 * (2 - ring)))
        along = outward + np.array((0, 0, 1)) * (lift + rng.normal(0, 0.14, count))[:, None]
        up = np.array((0, 0, 1.0)) - outward * 0.3 + rng.normal(0, 0.16, (count, 3))
        length = reach * np.exp(rng.normal(0, 0.10, count))
        petal = blades.blades(
            roots,
            along,
            up,
            length,
            0.0150 * np.exp(rng.normal(0, 0.14, count)),
            (0.92, 0.52, 0.012),
            rng,
            rows=70,
            columns=31,
            bend=rng.normal(0.22, 0.22, count),
            cup=rng.normal(0.55, 0.35, count),
            ruffle=0.20,
            shape=0.74,
            blunt=0.72,
            vein=0.0,
            scale=38,
        )
        across = np.tile(np.linspace(-1, 1, 31), 70 * count)
        out = np.tile(np.repeat(np.linspace(0, 1, 70), 31), count)
        streak = fbm(
            np.column_stack(
                [across * 0.09, out * 0.006, np.repeat(np.arange(count), 70 * 31) * 0.37]
            ),
            190,
            3,
            0.6,
            seed=40 + ring,
        )
        furrow = np.cos(across * 11.5)
        petal = petal.pushed(0.00032 * furrow + 0.0002 * streak)
        base = step(0.30, 0.0, out)
        petal.colour = mix(
            petal.colour * np.exp(0.14 * streak + 0.05 * furrow)[:, None],
            (0.55, 0.13, 0.004),
            base * 0.65,
        ).astype(np.float32)
        parts.append(petal)
    return shapes.merged(parts)


def green(rng):
    """Bracts behind the petals and two leaves on the stalk."""
    turn = rng.uniform(0, 2 * np.pi, 40)
    outward = np.column_stack([np.cos(turn), np.sin(turn), np.zeros(40)])
    bracts = blades.blades(
        outward * 0.060 + (0, 0, -0.030),
        outward + (0, 0, -0.35),
        np.tile((0, 0, 1.0), (40, 1)),
        0.050,
        0.012,
        (0.07, 0.15, 0.025),
        rng,
        bend=rng.normal(-0.1, 0.3, 40),
        shape=1.3,
    )
    leaves = blades.blades(
        [(0.02, -0.16, -0.06), (-0.03, -0.20, -0.06)],
        [(0.8, -0.25, 0.25), (-0.85, -0.2, 0.2)],
        [(0.2, 0.5, 1), (-0.2, 0.5, 1)],
        0.20,
        0.075,
        (0.06, 0.15, 0.025),
        rng,
        rows=90,
        columns=61,
        bend=0.3,
        cup=0.2,
        ruffle=0.12,
        shape=1.25,
        scale=18,
    )
    back = shapes.surface(
        lambda p: egg(p, (0, 0, -0.026), (DISC, DISC, 0.020)),
        (-0.09, -0.09, -0.05),
        (0.09, 0.09, 0.02),
        0.003,
    )
    back.colour = np.tile(np.float32((0.05, 0.035, 0.012)), (len(back.points), 1))
    stem = strands.tubes(
        np.array(
            [
                [
                    (0, 0, -0.02),
                    (0, -0.02, -0.05),
                    (0, -0.08, -0.075),
                    (0.005, -0.2, -0.085),
                    (0.01, -0.5, -0.10),
                ]
            ]
        ),
        np.array([[0.016, 0.013, 0.011, 0.011, 0.012]]),
        np.full((1, 5, 3), (0.12, 0.20, 0.045)),
        40,
    )
    return shapes.merged([bracts, leaves, back, stem])


def faced(mesh):
    """The head turned from lying flat to facing the camera, a little aside and up."""
    q = shapes.turned(mesh.points, "x", -74)
    mesh.points = shapes.turned(q, "z", 12).astype(np.float32)
    return mesh


def shoot(width, height, samples, rng):
    """The finished picture, encoded 0..1, in Display P3 values."""
    scene = Scene(width, height, (0.05, -0.66, 0.02), (0.006, 0, -0.004), 32.0, 0.006, 0.655)
    tubes, stigmas = florets(rng)
    scene.add("tubes", faced(tubes), {"roughness": 0.5, "specular": 0.35})
    scene.add("stigmas", faced(stigmas), {"roughness": 0.5, "specular": 0.35})
    scene.add("petals", faced(petals(rng)), {"roughness": 0.48, "specular": 0.3, "sheen": 0.3})
    leafy = faced(green(rng))
    scene.add("green", leafy, {"roughness": 0.55, "specular": 0.3})
    scene.softbox("sun", (-0.95, -0.75, 1.0), (0, 0, 0), 0.22, (92, 84, 70))
    scene.softbox("glow", (0.7, 0.8, 0.4), (0, 0, 0), 0.5, (13, 13.5, 14))
    scene.sky(backdrop.surroundings(rng, sky=0.55, warm=1.0))
    behind = backdrop.garden(
        width,
        height,
        rng,
        sky=0.62,
        blur=0.05,
        gaps=20,
        warmth=0.93,
        palette=[(0.03, 0.09, 0.03), (0.07, 0.17, 0.04), (0.05, 0.11, 0.06)],
    )
    light = scene.shoot(samples, behind)
    return darkroom.developed(
        light, rng, exposure=1.25, contrast=1.10, vignette=0.25, saturation=1.06
    )


def finish(picture, path):
    """Write the JPEG: the same numbers mean stronger colours in Display P3 than in sRGB."""
    return darkroom.save(picture, path, title=TITLE, profile=darkroom.display_p3_profile())
