"""The steps that led to a document: added, undone, done again; what sheets and editions share."""

from dataclasses import dataclass
from sqlite3 import Connection, Row

from flinz.core.dial import Settings
from flinz.errors import NotFoundError, StaleError
from flinz.store.database import now_utc


@dataclass(frozen=True)
class History:
    """The histories of one kind of thing: its name, which is its table's, and that of its steps."""

    thing: str
    steps: str

    @property
    def joined(self) -> str:
        """Things with the documents where they stand, and the words of undo and redo."""
        return f"""
            SELECT {self.thing}.*, here.document_json, here.words, here.gesture,
                later.words AS redo_words
            FROM {self.thing}
            JOIN {self.steps} AS here
                ON here.{self.thing}_id = {self.thing}.id AND here.number = {self.thing}.step
            LEFT JOIN {self.steps} AS later
                ON later.{self.thing}_id = {self.thing}.id
                AND later.number = {self.thing}.step + 1
        """

    def row(self, db: Connection, thing_id: int) -> Row:
        """A thing where it stands. Raises NotFoundError."""
        query = f"{self.joined} WHERE {self.thing}.id = :id"
        row: Row | None = db.execute(query, {"id": thing_id}).fetchone()
        if row is None:
            raise NotFoundError(f"There is no {self.thing} {thing_id}. It may have been deleted.")
        return row

    def begin(self, db: Connection, thing_id: int, document: Settings) -> None:
        """Note a thing's first step."""
        self._add(db, thing_id, 0, "Begin", "", document)

    def change(
        self,
        db: Connection,
        thing_id: int,
        base: int,
        document: Settings,
        words: str,
        gesture: str = "",
    ) -> None:
        """Note a change that was made to revision base, as one step.

        Steps that were undone are dropped. A change of the same gesture as the newest step becomes
        part of that step. Raises StaleError if the thing has changed since base.
        """
        present = self.row(db, thing_id)
        if present["revision"] != base:
            raise StaleError(
                f"This {self.thing} was changed elsewhere (another tab or window) since it was "
                "opened here. Nothing was overwritten. Load the newest version to go on."
            )
        number = present["step"]
        drop_later = f"DELETE FROM {self.steps} WHERE {self.thing}_id = :id AND number > :number"
        db.execute(drop_later, {"id": thing_id, "number": number})
        if gesture and gesture == present["gesture"]:
            query = f"""
                UPDATE {self.steps} SET words = :words, document_json = :document_json,
                    made_at = :at
                WHERE {self.thing}_id = :id AND number = :number
            """
            text = document.model_dump_json()
            row = {"id": thing_id, "number": number, "words": words, "document_json": text}
            db.execute(query, {**row, "at": now_utc()})
        else:
            number += 1
            self._add(db, thing_id, number, words, gesture, document)
        self._move(db, thing_id, number)

    def move_to(self, db: Connection, thing_id: int, number: int) -> str | None:
        """Go to a step: its document; None where there is no such step, and nothing changes."""
        query = f"""
            SELECT document_json FROM {self.steps}
            WHERE {self.thing}_id = :id AND number = :number
        """
        found = db.execute(query, {"id": thing_id, "number": number}).fetchone()
        if found is None:
            return None
        self._move(db, thing_id, number)
        return str(found["document_json"])

    def step_by(self, db: Connection, thing_id: int, by: int) -> str | None:
        """Go so many steps back or forth, as move_to does."""
        return self.move_to(db, thing_id, self.row(db, thing_id)["step"] + by)

    def _add(
        self,
        db: Connection,
        thing_id: int,
        number: int,
        words: str,
        gesture: str,
        document: Settings,
    ) -> None:
        query = f"""
            INSERT INTO {self.steps}
                ({self.thing}_id, number, words, gesture, document_json, made_at)
            VALUES (:id, :number, :words, :gesture, :document_json, :at)
        """
        row = {
            "id": thing_id,
            "number": number,
            "words": words,
            "gesture": gesture,
            "document_json": document.model_dump_json(),
            "at": now_utc(),
        }
        db.execute(query, row)

    def _move(self, db: Connection, thing_id: int, number: int) -> None:
        query = f"""
            UPDATE {self.thing} SET revision = revision + 1, step = :number, touched_at = :at
            WHERE id = :id
        """
        db.execute(query, {"id": thing_id, "number": number, "at": now_utc()})
