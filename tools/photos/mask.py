"""Render the true mask of a scene's subject: python tools/photos/mask.py snail --to FOLDER.

The subject is white and all else black, and colour is asked for without light: a pixel is the
share of its samples that meet the subject first, through the same lens, with the same seed, hence
with the photo's own soft edges.
"""

import argparse
import importlib
import sys
from pathlib import Path

import cv2
import mitsuba as mi
import numpy as np
from PIL import Image

sys.path.insert(0, str(Path(__file__).parent))

from photolab.camera import Scene

FOLDER = Path(__file__).parents[2] / "src" / "flinz" / "quality" / "masks"
# Shipped at so many pixels of the long edge, from so many samples a pixel of the photo's size.
LONG_EDGE, SAMPLES = 1000, 32
# Beginnings of the names of what belongs to the subject, and of what is clear as water.
SUBJECTS = {
    "boots": ("leather", "rubber", "cord", "brass"),
    "hedgehog": ("hide", "spines", "fur", "whiskers", "eyes", "nose", "ears"),
    "pears": ("first", "second", "stalk"),
    "scarecrow": ("head", "eye", "hat", "scarf", "coat", "band", "straw"),
    "snail": ("shell", "flesh"),
    "squashes": ("squash",),
    "sunflower": ("tubes", "stigmas", "petals", "green"),
    "watering-can": ("can", "fittings"),
}
CLEAR = ("drops",)


class MaskDone(Exception):
    """The mask is there; the rest of the scene's work is not wanted."""

    def __init__(self, mask):
        self.mask = mask


def matt(white):
    """A material, white or black, alike on both sides."""
    colour = {"type": "rgb", "value": 1.0 if white else 0.0}
    return {"type": "twosided", "inner": {"type": "diffuse", "reflectance": colour}}


class Whitened(Scene):
    """A scene of which the subject alone is white."""

    subject = ()

    def shoot(self, samples, backdrop=None, depth=6):
        """Raise MaskDone with the mask, (height, width) 0..1."""
        things = {}
        for name, thing in self.things.items():
            if name.startswith(CLEAR) or thing["type"] != "ply":
                continue
            things[name] = {
                "type": "ply",
                "filename": thing["filename"],
                "bsdf": matt(name.startswith(self.subject)),
            }
        integrator = {"type": "aov", "aovs": "al:albedo", "path": {"type": "path", "max_depth": 1}}
        film = self._sensor()
        scene = mi.load_dict({"type": "scene", **things, "sensor": film, "integrator": integrator})
        total = sum(
            np.array(mi.render(scene, spp=4, seed=k), np.float32)[..., 4]
            for k in range(SAMPLES // 4)
        )
        raise MaskDone(np.clip(total / (SAMPLES // 4), 0, 1))


def main():
    """Parse the command line and render."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("scene", choices=sorted(SUBJECTS))
    parser.add_argument("--to", type=Path, default=FOLDER)
    chosen = parser.parse_args()
    module = importlib.import_module(f"scenes.{chosen.scene.replace('-', '_')}")
    Whitened.subject = SUBJECTS[chosen.scene]
    module.Scene = Whitened
    try:
        module.shoot(*module.SIZE, 1, np.random.default_rng(9))
    except MaskDone as done:
        share = LONG_EDGE / max(done.mask.shape)
        size = tuple(round(side * share) for side in done.mask.shape[::-1])
        mask = cv2.resize(done.mask, size, interpolation=cv2.INTER_AREA)
    chosen.to.mkdir(parents=True, exist_ok=True)
    Image.fromarray((mask * 255 + 0.5).astype(np.uint8)).save(
        chosen.to / f"{chosen.scene}.png", optimize=True
    )


if __name__ == "__main__":
    main()
