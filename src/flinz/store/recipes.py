"""The recipe book: own recipes, beside those that Flinz brings."""

from sqlite3 import Connection, Row

from pydantic import BaseModel

from flinz.core.document import builtin
from flinz.core.document.reading import parsed
from flinz.core.document.recipe import Recipe
from flinz.errors import DocumentError, NotFoundError
from flinz.store.database import now_utc, transaction
from flinz.store.unreadable import readable

OWN = "own-"
MAX_RECIPES = 500
ADD = """
    INSERT INTO recipe (document_json, made_at, touched_at) VALUES (:document_json, :at, :at)
"""
CHANGE = "UPDATE recipe SET document_json = :document_json, touched_at = :at WHERE id = :id"
ONE = "SELECT id, document_json, touched_at FROM recipe WHERE id = :id"
ALL = """
    SELECT id, document_json, touched_at FROM recipe
    WHERE removed_at IS NULL ORDER BY touched_at DESC, id DESC
"""
COUNT = "SELECT count(*) FROM recipe WHERE removed_at IS NULL"
REMOVE = "UPDATE recipe SET removed_at = :removed_at WHERE id = :id"


class RecipeRecord(BaseModel):
    """A recipe of the book. ref names it in addresses and asks; own ones can be changed."""

    ref: str
    own: bool
    recipe: Recipe
    touched_at: str | None = None


def every(db: Connection) -> list[RecipeRecord]:
    """All recipes that can be read: own ones, last touched first, then the built-in ones."""
    own = readable(db.execute(ALL), _record)
    brought = [
        RecipeRecord(ref=name, own=False, recipe=recipe)
        for name, recipe in builtin.built_in().items()
    ]
    return own + brought


def one(db: Connection, ref: str) -> RecipeRecord:
    """The recipe of a ref. Raises NotFoundError. One off the book still answers."""
    if not ref.startswith(OWN):
        return RecipeRecord(ref=ref, own=False, recipe=builtin.named(ref))
    row = db.execute(ONE, {"id": _id(ref)}).fetchone()
    if row is None:
        raise NotFoundError("There is no such recipe in the book. It may have been deleted.")
    return _record(row)


def add(db: Connection, recipe: Recipe) -> RecipeRecord:
    """Put a recipe into the book. A name that is taken gets a number."""
    with transaction(db):
        if db.execute(COUNT).fetchone()[0] >= MAX_RECIPES:
            raise DocumentError(
                f"The book holds {MAX_RECIPES} recipes and is full. Delete one first."
            )
        named = recipe.model_copy(update={"name": _free_name(db, recipe.name)})
        row = {"document_json": named.model_dump_json(), "at": now_utc()}
        new_id = db.execute(ADD, row).lastrowid
    return one(db, f"{OWN}{new_id}")


def change(db: Connection, ref: str, name: str, purpose: str, notes: str) -> RecipeRecord:
    """Rename an own recipe and rewrite what is said of it."""
    present = _own(db, ref).recipe
    said = {"name": name, "purpose": purpose, "notes": notes}
    changed = parsed(Recipe, {**present.model_dump(mode="json"), **said})
    row = {"id": _id(ref), "document_json": changed.model_dump_json(), "at": now_utc()}
    with transaction(db):
        db.execute(CHANGE, row)
    return one(db, ref)


def set_removed(db: Connection, ref: str, removed: bool) -> None:
    """Take an own recipe out of the book, or put it back."""
    _own(db, ref)
    with transaction(db):
        db.execute(REMOVE, {"id": _id(ref), "removed_at": now_utc() if removed else None})


def _own(db: Connection, ref: str) -> RecipeRecord:
    record = one(db, ref)
    if not record.own:
        raise DocumentError(
            f"{ref!r} is one of Flinz's own recipes and stays as it is. Duplicate it, then "
            "change the copy."
        )
    return record


def _free_name(db: Connection, name: str) -> str:
    taken = {record.recipe.name for record in readable(db.execute(ALL), _record)}
    taken |= set(builtin.built_in())
    number, free = 2, name
    while free in taken:
        free = f"{name[:110]} {number}"
        number += 1
    return free


def _id(ref: str) -> int:
    digits = ref.removeprefix(OWN)
    return int(digits) if digits.isascii() and digits.isdigit() and len(digits) < 16 else 0


def _record(row: Row) -> RecipeRecord:
    recipe = parsed(Recipe, row["document_json"])
    return RecipeRecord(
        ref=f"{OWN}{row['id']}", own=True, recipe=recipe, touched_at=row["touched_at"]
    )
