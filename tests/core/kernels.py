"""Prints the kernels that drawing still compiles after a warm-up; run as a process of its own."""

import importlib
import pkgutil

import numpy as np
from numba.core.dispatcher import Dispatcher

import flinz.core
from flinz.core.document import builtin
from flinz.core.planes.photo import Photo
from flinz.core.press import fitting
from flinz.core.press.framing import whole
from flinz.core.press.press import Press
from flinz.core.press.warm import warm_up
from flinz.core.scale import region_frame
from flinz.core.stages.tone import Pull, Tone


def compiled() -> set[str]:
    """Every kernel of the core, with the types it is compiled for."""
    found = set()
    for module in pkgutil.walk_packages(flinz.core.__path__, "flinz.core."):
        for name, value in vars(importlib.import_module(module.name)).items():
            if isinstance(value, Dispatcher):
                found |= {f"{module.name}.{name} {types}" for types in value.signatures}
    return found


def draw() -> None:
    """Every look on photos of 8 and 16 bits, whole and in part, as drafts and settled."""
    y, x = np.mgrid[0:240, 0:320].astype(np.float32)
    rings = 127.5 + 127.5 * np.sin(np.hypot(x - 150, y - 110) / 9 + x * y / 4000)
    pixels = np.stack([rings, np.roll(rings, 40, 1), x / 320 * 255], -1).astype(np.uint8)
    press = Press()
    for photo in (Photo(pixels, "bytes"), Photo(pixels.astype(np.uint16) * 257, "words")):
        for recipe in builtin.plain().values():
            sheet = fitting.fitted(press, photo, recipe.on(photo.key, ""))
            plate = sheet.plates[0].model_copy(
                update={"tone": Tone(hues=(Pull(hue=0, pull=0.3),), highlights=-0.2)}
            )
            sheet = sheet.model_copy(update={"plates": [plate]})
            for edge in (160, 320, 500):
                frame = whole(sheet, photo, edge)
                press.proof(photo, sheet, frame, draft=True, exact=True)
                press.proof(photo, sheet, region_frame(frame, (0.4, 0.4, 0.5, 0.5)))


if __name__ == "__main__":
    for _ in warm_up():
        pass
    before = compiled()
    draw()
    print("\n".join(sorted(compiled() - before)))
