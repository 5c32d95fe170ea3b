"""One document that cannot be read hides none of the others."""

import contextlib
import shutil
from pathlib import Path

import pytest
from fastapi.testclient import TestClient

from flinz.errors import DocumentError
from flinz.store import pulls, recipes, sheets, unreadable
from flinz.store.database import connect, migrate
from tests.server.apps import ready_app

KEPT = Path(__file__).parents[1] / "kept" / "v1"


@pytest.fixture
def folder(tmp_path):
    """A store of version 1 in which a sheet's newest step, a pull and a recipe are broken."""
    shutil.copy(KEPT / "flinz.sqlite3", tmp_path)
    with contextlib.closing(connect(tmp_path / "flinz.sqlite3")) as db:
        for change in (
            # Its dials are out of bounds, but what it is called can be told.
            "UPDATE step SET document_json ="
            " json_set(document_json, '$.plates[0].tone.contrast', 9)"
            " WHERE sheet_id = 2 AND number = (SELECT step FROM sheet WHERE id = 2)",
            "UPDATE step SET document_json = 'not json' WHERE sheet_id = 3",
            "UPDATE pull SET document_json = json_set(document_json, '$.plates', json('[]'))",
            "UPDATE recipe SET document_json = json_remove(document_json, '$.plates')",
        ):
            db.execute(change)
    return tmp_path


@pytest.fixture
def db(folder):
    with contextlib.closing(connect(folder / "flinz.sqlite3")) as db:
        migrate(db)
        yield db


def test_the_rest_opens_and_what_is_broken_is_named(db):
    whole = {record.id for record in sheets.every(db)}

    found = {(each.kind, each.id): each for each in unreadable.every(db)}

    assert whole and not whole & {2, 3}
    assert set(found) >= {("sheet", 2), ("sheet", 3), ("pull", 1), ("recipe", 1)}
    assert "contrast is 9" in found["sheet", 2].why
    assert found["sheet", 3].title == "sheet 3" and "not a JSON" in found["sheet", 3].why
    assert pulls.every(db, 1) == []
    assert all(not record.own for record in recipes.every(db))


def test_a_new_recipe_can_be_kept_beside_a_broken_one(db):
    plain = next(record.recipe for record in recipes.every(db))

    assert recipes.add(db, plain).own


def test_a_broken_sheet_goes_back_to_its_last_good_step(db):
    with pytest.raises(DocumentError, match="contrast is 9"):
        sheets.one(db, 2)

    back = sheets.undo(db, 2)

    assert back.id in {record.id for record in sheets.every(db)}
    with pytest.raises(DocumentError, match="contrast is 9"):
        sheets.redo(db, 2)
    assert sheets.one(db, 2) == back


def test_nothing_of_what_is_broken_is_changed(folder):
    def texts():
        with contextlib.closing(connect(folder / "flinz.sqlite3")) as db:
            tables = ("step", "pull", "recipe")
            return [tuple(row) for t in tables for row in db.execute(f"SELECT * FROM {t}")]

    before = texts()
    with TestClient(ready_app(folder), base_url="http://localhost") as client:
        listed = client.get("/api/sheets").json()
        named = client.get("/api/unreadable").json()
        assert listed and len(named) >= 4
        assert client.get("/api/sheets/2").status_code == 422
        assert client.get("/api/sheets/2/picture").status_code == 422

    assert texts() == before
