"""Compare what two checkouts draw, to the last bit.

python tools/same_pictures.py FOLDER draws every recipe on three photos here and by the checkout in
FOLDER (with this one's Python and packages), as a proof, a detail, a draft and an export, and
prints those that differ. With --quality also every picture that `flinz quality` draws. Takes some
minutes for each checkout.
"""

import argparse
import hashlib
import os
import subprocess
import sys
import tempfile
from pathlib import Path
from typing import TextIO

import numpy as np

from flinz.core.document.builtin import built_in
from flinz.core.planes.decoding import decode
from flinz.core.press.fitting import fitted
from flinz.core.press.framing import whole
from flinz.core.press.press import Press
from flinz.core.scale import region_frame
from flinz.demo.scenario import picture

PHOTOS = ("hedgehog", "snail", "boots")


def said(array: np.ndarray) -> str:
    """The shape of a picture and a hash of its bytes."""
    data = np.ascontiguousarray(array).tobytes()
    return f"{array.shape} {hashlib.blake2b(data, digest_size=12).hexdigest()}"


def write_recipes(out: TextIO) -> None:
    """A line for each picture of every recipe."""
    for name in PHOTOS:
        photo = decode(picture(f"{name}.jpg"), name)
        for ref, recipe in built_in().items():
            press = Press()
            sheet = fitted(press, photo, recipe.on(photo.key, ""))
            proof, large = (whole(sheet, photo, edge) for edge in (700, 2000))
            detail, part = region_frame(proof, (0.4, 0.4, 0.6, 0.6)), (0.3, 0.3, 0.6, 0.7)
            drawn = {
                "proof": press.proof(photo, sheet, proof),
                "detail": press.proof(photo, sheet, detail),
                "draft": press.proof(
                    photo, sheet, whole(sheet, photo, 400), draft=True, exact=True
                ),
                "export": press.proof(photo, sheet, region_frame(large, part), exact=True),
            }
            for kind, pixels in drawn.items():
                print(f"{name} {ref} {kind} {said(pixels)}", file=out)
            print(f"{name} {ref} {press.figures(photo, sheet, proof)}", file=out)


def write_quality(out: TextIO) -> None:
    """A line for each picture that flinz quality draws."""
    from flinz.quality import table

    plain_proof, plain_cover = Press.proof, Press.cover

    def proof(self, *arguments, **options):
        drawn = plain_proof(self, *arguments, **options)
        print(f"quality proof {said(drawn)}", file=out)
        return drawn

    def cover(self, *arguments, **options):
        drawn = plain_cover(self, *arguments, **options)
        print(f"quality cover {said(drawn)}", file=out)
        return drawn

    Press.proof, Press.cover = proof, cover
    table.run()


def lines_of(checkout: Path, quality: bool) -> list[str]:
    """What a checkout draws, a line a picture."""
    with tempfile.NamedTemporaryFile("r") as file:
        command = [sys.executable, __file__, "--write", file.name, *(["--quality"] * quality)]
        env = {**os.environ, "PYTHONPATH": str(checkout / "src")}
        subprocess.run(command, env=env, check=True, stdout=subprocess.DEVNULL)
        return file.read().splitlines()


def main() -> None:
    """Compare, or write what this checkout draws."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("other", type=Path, nargs="?", help="the other checkout")
    parser.add_argument("--quality", action="store_true")
    parser.add_argument("--write", type=Path, help="only write what is drawn here to a file")
    chosen = parser.parse_args()
    if chosen.write is not None:
        with chosen.write.open("w") as out:
            write_recipes(out)
            if chosen.quality:
                write_quality(out)
        return
    if chosen.other is None:
        parser.error("name the other checkout")
    here = Path(__file__).parents[1]
    ours, theirs = (lines_of(each, chosen.quality) for each in (here, chosen.other.resolve()))
    differing = [line for line, other in zip(ours, theirs, strict=True) if line != other]
    print("\n".join(differing))
    print(f"{len(ours) - len(differing)} of {len(ours)} are the same.")
    sys.exit(1 if differing else 0)


if __name__ == "__main__":
    main()
