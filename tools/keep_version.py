"""Keep a store, recipes, a sheet file and pictures of this version of the document in tests/kept/.

python tools/keep_version.py vN is run once for a version, before the document changes. Later
versions are tested to open what is kept here, and to draw the same pictures. With --redraw it draws
those anew that a look, changed on purpose, draws otherwise now, and names them.
"""

import argparse
import contextlib
import io
import json
import shutil
import tempfile
from pathlib import Path

import numpy as np
from PIL import Image

from flinz.core.document import builtin
from flinz.core.document.picture import Crop, Picture
from flinz.core.document.recipe import recipe_of
from flinz.core.document.setting import with_value
from flinz.core.document.sheet import Sheet, WatchSpot
from flinz.core.document.sheet_file import packed
from flinz.core.planes.photo import Photo
from flinz.core.press.fitting import fitted
from flinz.core.press.framing import whole
from flinz.core.press.press import Press
from flinz.demo.scenario import picture
from flinz.store import photos, pulls, recipes, sheets
from flinz.store.database import connect, migrate

EDGE_PX = 240
# One recipe a look and those of several plates, papers and inks.
CHOSEN = [*builtin.plain(), "fair-poster-two-inks", "misprint", "two-colour-map", "soft-portrait"]
CROP = Crop(left=0.1, top=0.2, right=0.8, bottom=0.9, quarter_turns=1)
EYE = WatchSpot(name="eye", left=0.4, top=0.3, right=0.5, bottom=0.4, is_eye=True)


def small_photo() -> bytes:
    """A demo photo, small, as PNG."""
    with Image.open(io.BytesIO(picture("scarecrow.jpg"))) as large:
        small = large.convert("RGB").resize((160, 120), Image.Resampling.LANCZOS)
    out = io.BytesIO()
    small.save(out, "PNG")
    return out.getvalue()


def main() -> None:
    """Write the folder of a version, or draw its pictures anew."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("version")
    parser.add_argument("--redraw", action="store_true")
    chosen = parser.parse_args()
    folder = Path(__file__).parents[1] / "tests" / "kept" / chosen.version
    if chosen.redraw:
        redraw(folder)
    else:
        folder.mkdir(parents=True)
        keep(folder)


def keep(folder: Path) -> None:
    """Write all that is kept of a version into an empty folder."""
    with contextlib.closing(connect(folder / "flinz.sqlite3")) as db:
        migrate(db)
        record = photos.add(db, small_photo(), "Old Barnaby, small")
        photo, press = photos.loaded(db, record.id), Press()
        for name in CHOSEN:
            sheet = fitted(press, photo, builtin.named(name).on(record.id, name))
            begun = sheets.add(db, sheet)
            # A step that is done, one that is merged into it, and one that is undone.
            turned = with_value(sheet, "tone.contrast", 0.2)
            for base, gesture in ((1, "a"), (2, "a"), (3, "b")):
                turned = with_value(turned, "tone.contrast", 0.1 * base)
                sheets.change(db, begun.id, base, turned, f"Contrast {0.1 * base:.1f}", gesture)
            sheets.undo(db, begun.id)
        cropped = sheets.one(db, 1).sheet.model_copy(
            update={"picture": Picture(photo=record.id, crop=CROP), "watch": [EYE]}
        )
        sheets.add(db, cropped)
        sheets.set_removed(db, sheets.add(db, cropped).id, True)
        pulls.keep(db, 1, "Before it was darker", with_value(cropped, "paper.long_edge", 90))
        recipes.add(db, recipe_of(cropped, "Mine", "For the fair", stages=["tone", "ink"]))
        for record_of in sheets.every(db):
            draw(folder / f"sheet-{record_of.id}.png", press, photo, record_of.sheet)
        draw(folder / "pull-1.png", press, photo, pulls.one(db, 1, 1).sheet)
        (folder / "sheet.flinz").write_bytes(packed(sheets.as_file(db, len(CHOSEN) + 1)))
        said = {ref: builtin.named(ref).model_dump(mode="json") for ref in builtin.built_in()}
        (folder / "recipes.json").write_text(json.dumps(said, indent=1) + "\n")
        db.execute("PRAGMA journal_mode = DELETE")
        db.execute("VACUUM")


def redraw(folder: Path) -> None:
    """Draw the pictures anew that come out otherwise than they were kept."""
    with tempfile.TemporaryDirectory() as copy:
        shutil.copy(folder / "flinz.sqlite3", copy)
        with contextlib.closing(connect(Path(copy) / "flinz.sqlite3")) as db:
            migrate(db)
            drawn = {f"sheet-{record.id}": record.sheet for record in sheets.every(db)}
            drawn["pull-1"] = pulls.one(db, 1, 1).sheet
            press = Press()
            for name, sheet in drawn.items():
                path, photo = folder / f"{name}.png", photos.loaded(db, sheet.picture.photo)
                with Image.open(path) as picture:
                    before = np.asarray(picture).astype(int)
                now = pixels(press, photo, sheet)
                if now.shape != before.shape or np.abs(now - before).max() > 1:
                    draw(path, press, photo, sheet)
                    print(name, sheet.title)


def draw(path: Path, press: Press, photo: Photo, sheet: Sheet) -> None:
    """Write a sheet as it is drawn now."""
    Image.fromarray(pixels(press, photo, sheet)).save(path, optimize=True)


def pixels(press: Press, photo: Photo, sheet: Sheet) -> np.ndarray:
    """A sheet as it is drawn now, uint8."""
    drawn = press.proof(photo, sheet, whole(sheet, photo, EDGE_PX))
    return np.rint(drawn * 255).astype(np.uint8)


if __name__ == "__main__":
    main()
