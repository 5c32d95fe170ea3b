"""Make docs/looks/*.png, one small drawing a look: python tools/look_pictures.py."""

from pathlib import Path

import numpy as np
from PIL import Image

from flinz.core.document import builtin
from flinz.core.looks.registry import LOOKS
from flinz.core.planes.decoding import decode
from flinz.core.planes.photo import Photo
from flinz.core.press import fitting
from flinz.core.press.framing import whole
from flinz.core.press.press import Press
from flinz.core.scale import region_frame
from flinz.demo.scenario import picture

FOLDER = Path(__file__).parents[1] / "docs" / "looks"
LONG_EDGE_PX = 1100
# Each look on a photo that shows what it is good at, and the part of the sheet that is shown.
EYES = (0.28, 0.18, 0.72, 0.62)
SHOWN = {
    "contour-hatch": ("scarecrow.jpg", EYES),
    "crosshatch": ("scarecrow.jpg", EYES),
    "cut-paper": ("scarecrow.jpg", (0.1, 0.0, 0.9, 0.8)),
    "dot-screen": ("snail.jpg", (0.2, 0.2, 0.7, 0.7)),
    "flat-tones": ("squashes.jpg", (0.1, 0.1, 0.9, 0.9)),
    "ink-line": ("hedgehog.jpg", (0.2, 0.2, 0.75, 0.75)),
    "line-screen": ("boots.jpg", (0.1, 0.3, 0.9, 0.9)),
    "loose-hatch": ("pears.jpg", (0.1, 0.1, 0.9, 0.9)),
    "outline": ("boots.jpg", (0.1, 0.2, 0.9, 0.95)),
    "pencil": ("scarecrow.jpg", EYES),
    "photocopy": ("boots.jpg", (0.1, 0.3, 0.9, 0.9)),
    "stipple": ("snail.jpg", (0.2, 0.2, 0.7, 0.7)),
    "threshold": ("sunflower.jpg", (0.1, 0.1, 0.9, 0.9)),
    "undrawn": ("pears.jpg", (0.1, 0.1, 0.9, 0.9)),
    "woodcut": ("sunflower.jpg", (0.1, 0.1, 0.9, 0.9)),
}
GREYS = 16


def drawn(press: Press, photo: Photo, look: str, region: tuple[float, ...]) -> Image.Image:
    """Part of a sheet in a look at its starting values, as few greys as it needs."""
    sheet = fitting.fitted(press, photo, builtin.named(look).on(photo.key, look))
    left, top, right, bottom = region
    # Every picture is as wide as the next, however much of the sheet it shows.
    edge = round(0.55 * LONG_EDGE_PX / (right - left))
    frame = region_frame(whole(sheet, photo, edge), (left, top, right, bottom))
    proof = press.proof(photo, sheet, frame)
    steps = np.rint(proof * (GREYS - 1)) * (255 / (GREYS - 1))
    return Image.fromarray(steps.astype(np.uint8)).quantize(GREYS)


def main() -> None:
    """One picture for every look there is."""
    FOLDER.mkdir(exist_ok=True)
    press = Press()
    for look in LOOKS:
        name, region = SHOWN.get(look, ("scarecrow.jpg", EYES))
        photo = decode(picture(name), name)
        path = FOLDER / f"{look}.png"
        drawn(press, photo, look, region).save(path, optimize=True)
        print(path)


if __name__ == "__main__":
    main()
