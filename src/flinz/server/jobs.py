"""Runs long work one after another in a quiet thread, with progress and a stop."""

import contextlib
import shutil
import threading
from collections.abc import Callable
from pathlib import Path
from sqlite3 import Connection

from flinz.core.press.press import Press
from flinz.core.press.stopping import Stop
from flinz.errors import FlinzError, NotReadyError, Stopped, StoreError, explained
from flinz.server.quiet import quiet_pool
from flinz.store import jobs
from flinz.store.jobs import JobRecord, State

# Progress is written to the store only when it has moved by this much.
SHARE_STEP = 0.02
# Of jobs that wait; of files that are kept, and of their bytes.
MAX_WAITING, MAX_FILES, MAX_FILE_BYTES = 40, 60, 4_000_000_000
MAX_OUTCOMES = 200

# Writes a file to the path; what it leaves there is only kept once it has come to its end.
Work = Callable[[Path, Press, Callable[[float], None], Stop], None]


class Jobs:
    """The jobs of one studio. Results lie in a folder that is emptied at every start; of more than
    MAX_FILES or MAX_FILE_BYTES the oldest go.

    ready: returns once there is all that a job may need; until then it waits.
    """

    def __init__(
        self,
        connect: Callable[[], Connection],
        folder: Path,
        press: Press,
        ready: Callable[[Stop], None] = lambda stop: None,
    ) -> None:
        self._connect = connect
        self._folder = folder
        self._press = press
        self._ready = ready
        self._stops: dict[int, threading.Event] = {}
        # How jobs ended that the store had no room to note.
        self._outcomes: dict[int, tuple[State, float, str]] = {}
        self._pool = quiet_pool("job")
        shutil.rmtree(folder, ignore_errors=True)
        with contextlib.closing(connect()) as db, contextlib.suppress(StoreError):
            jobs.end_unfinished(db)

    def start(self, job_id: int, work: Work) -> None:
        """Run work for a job as soon as the ones before it have ended."""
        self._stops[job_id] = threading.Event()
        self._pool.submit(self._run, job_id, work)

    def refuse_more(self) -> None:
        """Raise NotReadyError while as many jobs wait as may."""
        if len(self._stops) >= MAX_WAITING:
            raise NotReadyError(
                f"{MAX_WAITING} files are being made or wait for it. Try again when some are done, "
                "or stop some."
            )

    def stop(self, job_id: int) -> None:
        """Ask a job to stop; it does so at its next step. One that has ended stays as it is."""
        if job_id in self._stops:
            self._stops[job_id].set()

    def record(self, db: Connection, job_id: int) -> JobRecord:
        """What is known of a job. Raises NotFoundError."""
        found = jobs.one(db, job_id)
        if job_id in self._outcomes:
            state, share, message = self._outcomes[job_id]
            return found.model_copy(update={"state": state, "share": share, "message": message})
        return found

    def result_path(self, job_id: int) -> Path:
        """Where a finished job's file lies."""
        return self._folder / str(job_id)

    def close(self) -> None:
        """Stop everything and wait for it."""
        for stop in list(self._stops.values()):
            stop.set()
        self._pool.shutdown(wait=True, cancel_futures=True)

    def _run(self, job_id: int, work: Work) -> None:
        told = 0.0

        def progress(share: float) -> None:
            nonlocal told
            if share - told >= SHARE_STEP:
                told = share
                self._note(job_id, "running", share)

        try:
            state, share, message = self._ended(job_id, work, progress)
        except BaseException:
            self._note(job_id, "failed", told, "Flinz made a mistake here. The log says more.")
            raise
        else:
            self._note(job_id, state, told if share is None else share, message)
        finally:
            self._stops.pop(job_id, None)

    def _ended(
        self, job_id: int, work: Work, progress: Callable[[float], None]
    ) -> tuple[State, float | None, str]:
        """Run work; how it ended: state, share (None where it stopped), and what is to be said."""
        stop = self._stops[job_id]
        part = self.result_path(job_id).with_suffix(".part")
        try:
            if stop.is_set():
                raise Stopped("Stopped before it began.")
            self._ready(stop.is_set)
            self._note(job_id, "running", 0.0)
            self._folder.mkdir(parents=True, exist_ok=True)
            work(part, self._press, progress, stop.is_set)
            part.replace(self.result_path(job_id))
            self._keep_newest()
        except Stopped:
            return "stopped", None, "Stopped. The sheet is as it was."
        except (FlinzError, OSError, MemoryError) as error:
            return "failed", None, explained(error)
        finally:
            # At once: on a full disk its bytes are needed to say how it ended.
            with contextlib.suppress(OSError):
                part.unlink(missing_ok=True)
        return "done", 1.0, ""

    def _note(self, job_id: int, state: State, share: float, message: str = "") -> None:
        """In the store, or where that has no room here, so that every job is seen to end."""
        try:
            with contextlib.closing(self._connect()) as db:
                jobs.change(db, job_id, state, share, message)
            self._outcomes.pop(job_id, None)
        except StoreError:
            self._outcomes[job_id] = state, share, message
            while len(self._outcomes) > MAX_OUTCOMES:
                del self._outcomes[min(self._outcomes)]

    def _keep_newest(self) -> None:
        files = sorted(
            (path for path in self._folder.iterdir() if path.name.isdigit()),
            key=lambda path: int(path.name),
            reverse=True,
        )
        held = 0
        for number, path in enumerate(files):
            held += path.stat().st_size
            if number >= MAX_FILES or (number > 0 and held > MAX_FILE_BYTES):
                path.unlink(missing_ok=True)
