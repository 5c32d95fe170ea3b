"""Jobs: long work and what became of it."""

from sqlite3 import Connection
from typing import Literal

from pydantic import BaseModel

from flinz.errors import NotFoundError
from flinz.store.database import now_utc, transaction

State = Literal["waiting", "running", "done", "failed", "stopped"]
ENDED: tuple[State, ...] = ("done", "failed", "stopped")

ADD = """
    INSERT INTO job (sheet_id, kind, state, share, message, file_name, made_at)
    VALUES (:sheet_id, :kind, 'waiting', 0, '', :file_name, :at)
"""
ONE = "SELECT id, sheet_id, kind, state, share, message, file_name FROM job WHERE id = :job_id"
CHANGE = "UPDATE job SET state = :state, share = :share, message = :message WHERE id = :job_id"
END_UNFINISHED = """
    UPDATE job SET state = 'failed', message = :message WHERE state IN ('waiting', 'running')
"""


class JobRecord(BaseModel):
    """A job. share is 0..1 done; message is a sentence when it failed or was stopped."""

    id: int
    sheet_id: int
    kind: str
    state: State
    share: float
    message: str
    file_name: str


def add(db: Connection, sheet_id: int, kind: str, file_name: str) -> JobRecord:
    """Note a job that waits."""
    with transaction(db):
        row = {"sheet_id": sheet_id, "kind": kind, "file_name": file_name, "at": now_utc()}
        job_id = db.execute(ADD, row).lastrowid
    return one(db, job_id or 0)


def change(db: Connection, job_id: int, state: State, share: float, message: str = "") -> None:
    """Note how far a job is."""
    with transaction(db):
        row = {"job_id": job_id, "state": state, "share": share, "message": message}
        db.execute(CHANGE, row)


def one(db: Connection, job_id: int) -> JobRecord:
    """A job."""
    row = db.execute(ONE, {"job_id": job_id}).fetchone()
    if row is None:
        raise NotFoundError(f"There is no job {job_id}.")
    return JobRecord.model_validate(dict(row))


def end_unfinished(db: Connection) -> None:
    """After a restart: say of every job that was under way that it did not finish."""
    with transaction(db):
        message = "Flinz was stopped before this was finished. Start it again."
        db.execute(END_UNFINISHED, {"message": message})
