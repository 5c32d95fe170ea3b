"""Documents of the store that cannot be read: named, left as they are, in nobody's way."""

import json
from collections.abc import Callable, Iterable
from sqlite3 import Connection, Row
from typing import Any, Literal, TypeVar

from pydantic import BaseModel

from flinz.core.dial import Settings
from flinz.core.document.reading import parsed
from flinz.core.document.recipe import Recipe
from flinz.core.document.sheet import Sheet
from flinz.core.edition.plan import Edition
from flinz.errors import DocumentError

T = TypeVar("T")
Kind = Literal["sheet", "pull", "recipe", "edition"]
# Whatever is on the shelf or in the book: its document, its sheet, and how many steps precede it.
DOCUMENTS: tuple[tuple[Kind, type[Settings], str], ...] = (
    (
        "sheet",
        Sheet,
        """
        SELECT sheet.id, sheet.id AS sheet_id, sheet.step AS steps_back, step.document_json
        FROM sheet JOIN step ON step.sheet_id = sheet.id AND step.number = sheet.step
        WHERE sheet.removed_at IS NULL
        """,
    ),
    (
        "pull",
        Sheet,
        """
        SELECT pull.id, pull.sheet_id, 0 AS steps_back, pull.document_json
        FROM pull JOIN sheet ON sheet.id = pull.sheet_id
        WHERE pull.removed_at IS NULL AND sheet.removed_at IS NULL
        """,
    ),
    (
        "recipe",
        Recipe,
        """
        SELECT id, NULL AS sheet_id, 0 AS steps_back, document_json
        FROM recipe WHERE removed_at IS NULL
        """,
    ),
    (
        "edition",
        Edition,
        """
        SELECT edition.id, NULL AS sheet_id, edition.step AS steps_back,
            edition_step.document_json
        FROM edition JOIN edition_step
            ON edition_step.edition_id = edition.id AND edition_step.number = edition.step
        WHERE edition.removed_at IS NULL
        """,
    ),
)


class Unreadable(BaseModel):
    """A document that cannot be read, and why. steps_back: how many steps stand before it."""

    kind: Kind
    id: int
    sheet_id: int | None
    title: str
    why: str
    steps_back: int


def readable(rows: Iterable[Row], record: Callable[[Row], T]) -> list[T]:
    """The records of those rows whose documents can be read."""
    found = []
    for row in rows:
        try:
            found.append(record(row))
        except DocumentError:
            # It is named apart, by every().
            continue
    return found


def every(db: Connection) -> list[Unreadable]:
    """Every document on the shelf or in the book that cannot be read."""
    found = []
    for kind, model, query in DOCUMENTS:
        for row in db.execute(query):
            try:
                parsed(model, row["document_json"])
            except DocumentError as problem:
                said = {key: row[key] for key in ("id", "sheet_id", "steps_back")}
                title = _title(row["document_json"]) or f"{kind} {row['id']}"
                found.append(Unreadable(kind=kind, title=title, why=str(problem), **said))
    return found


def _title(text: str) -> str:
    try:
        document: Any = json.loads(text)
    except (ValueError, RecursionError):
        return ""
    if not isinstance(document, dict):
        return ""
    name = document.get("title") or document.get("name")
    return name[:200] if isinstance(name, str) else ""
