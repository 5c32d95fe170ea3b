"""What earlier versions wrote opens, draws the same pictures and undoes as it did."""

import contextlib
import json
import shutil
from pathlib import Path

import numpy as np
import pytest
from PIL import Image

from flinz.core.document.reading import read_recipe
from flinz.core.document.sheet_file import unpacked
from flinz.core.planes.decoding import decode
from flinz.core.press.framing import whole
from flinz.core.press.press import Press
from flinz.store import photos, pulls, recipes, sheets
from flinz.store.database import connect, migrate

KEPT = Path(__file__).parents[1] / "kept"
VERSIONS = sorted(folder.name for folder in KEPT.iterdir())


@pytest.fixture(params=VERSIONS)
def kept(request, tmp_path):
    """The folder of a version, and a connection to a copy of its store, brought up to date."""
    folder = KEPT / request.param
    shutil.copy(folder / "flinz.sqlite3", tmp_path)
    with contextlib.closing(connect(tmp_path / "flinz.sqlite3")) as db:
        migrate(db)
        yield folder, db


def difference(photo, sheet, path):
    """How far a drawing is from a kept picture, at most, in 255ths."""
    with Image.open(path) as picture:
        before = np.asarray(picture).astype(int)
    edge = max(before.shape[:2])
    now = np.rint(Press().proof(photo, sheet, whole(sheet, photo, edge)) * 255).astype(int)
    assert now.shape == before.shape
    return np.abs(now - before).max()


def test_every_sheet_and_pull_draws_as_it_did(kept):
    folder, db = kept
    found = sheets.every(db)
    photo = photos.loaded(db, found[0].sheet.picture.photo)

    assert {f"sheet-{record.id}.png" for record in found} == {
        path.name for path in folder.glob("sheet-*.png")
    }
    for record in found:
        assert difference(photo, record.sheet, folder / f"sheet-{record.id}.png") <= 1
    (pull,) = pulls.every(db, 1)
    assert difference(photo, pull.sheet, folder / "pull-1.png") <= 1


def test_history_goes_back_and_forth_as_it_did(kept):
    _, db = kept
    for record in sheets.every(db):
        if record.redo is None:
            continue
        contrast = [record.sheet.plates[0].tone.contrast]
        while record.undo is not None:
            record = sheets.undo(db, record.id)
            contrast.append(record.sheet.plates[0].tone.contrast)
        while record.redo is not None:
            record = sheets.redo(db, record.id)

        # The step that was undone is still there, behind the two that were one gesture.
        assert contrast == pytest.approx([0.2, 0.0])
        assert record.sheet.plates[0].tone.contrast == pytest.approx(0.3)


def test_recipes_and_what_was_removed_are_there(kept):
    folder, db = kept
    said = json.loads((folder / "recipes.json").read_text())

    for name, document in said.items():
        recipe, notes = read_recipe(json.dumps(document))
        assert (recipe.name, notes) == (name, [])
    own = [record.recipe for record in recipes.every(db) if record.own]
    assert [recipe.name for recipe in own] == ["Mine"]
    last = max(record.id for record in sheets.every(db)) + 1
    sheets.set_removed(db, last, False)
    assert sheets.one(db, last).sheet.watch[0].is_eye


def test_a_sheet_file_draws_as_it_did(kept):
    folder, _ = kept
    file = unpacked((folder / "sheet.flinz").read_bytes())
    (packed,) = file.photos.values()
    photo = decode(packed.data, file.sheet.picture.photo)
    number = max(int(path.stem.split("-")[1]) for path in folder.glob("sheet-*.png"))

    assert difference(photo, file.sheet, folder / f"sheet-{number}.png") <= 1
