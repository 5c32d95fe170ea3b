"""Runs long work one after another in a quiet thread, with progress and a stop."""

import shutil
import threading
from collections.abc import Callable
from pathlib import Path

from flinz.core.press.press import Press
from flinz.core.press.stopping import Stop
from flinz.errors import FlinzError, Stopped
from flinz.server.quiet import quiet_pool
from flinz.store import jobs
from flinz.store.database import connect

# Progress is written to the store only when it has moved by this much.
SHARE_STEP = 0.02

# Writes a file to the path; what it leaves there is only kept once it has come to its end.
Work = Callable[[Path, Press, Callable[[float], None], Stop], None]


class Jobs:
    """The jobs of one studio. Results lie in a folder that is emptied at every start.

    ready: returns once there is all that a job may need; until then it waits.
    """

    def __init__(
        self,
        database_path: Path,
        folder: Path,
        press: Press,
        ready: Callable[[Stop], None] = lambda stop: None,
    ) -> None:
        self._database_path = database_path
        self._folder = folder
        self._press = press
        self._ready = ready
        self._stops: dict[int, threading.Event] = {}
        self._pool = quiet_pool("job")
        shutil.rmtree(folder, ignore_errors=True)
        folder.mkdir(parents=True)
        db = connect(database_path)
        try:
            jobs.end_unfinished(db)
        finally:
            db.close()

    def start(self, job_id: int, work: Work) -> None:
        """Run work for a job as soon as the ones before it have ended."""
        self._stops[job_id] = threading.Event()
        self._pool.submit(self._run, job_id, work)

    def stop(self, job_id: int) -> None:
        """Ask a job to stop; it does so at its next step."""
        if job_id in self._stops:
            self._stops[job_id].set()

    def result_path(self, job_id: int) -> Path:
        """Where a finished job's file lies."""
        return self._folder / str(job_id)

    def close(self) -> None:
        """Stop everything and wait for it."""
        for stop in self._stops.values():
            stop.set()
        self._pool.shutdown(wait=True, cancel_futures=True)

    def _run(self, job_id: int, work: Work) -> None:
        stop = self._stops[job_id]
        part = self.result_path(job_id).with_suffix(".part")
        db = connect(self._database_path)
        told = 0.0

        def progress(share: float) -> None:
            nonlocal told
            if share - told >= SHARE_STEP:
                told = share
                jobs.change(db, job_id, "running", share)

        try:
            if stop.is_set():
                raise Stopped("Stopped before it began.")
            self._ready(stop.is_set)
            jobs.change(db, job_id, "running", 0.0)
            work(part, self._press, progress, stop.is_set)
            part.replace(self.result_path(job_id))
            jobs.change(db, job_id, "done", 1.0)
        except Stopped:
            jobs.change(db, job_id, "stopped", told, "Stopped. The sheet is as it was.")
        except FlinzError as error:
            jobs.change(db, job_id, "failed", told, str(error))
        except OSError as error:
            reason = error.strerror or "the disk refused"
            jobs.change(db, job_id, "failed", told, f"The file could not be written: {reason}.")
        except MemoryError:
            message = "There is not enough memory for a picture of this size. Choose a smaller one."
            jobs.change(db, job_id, "failed", told, message)
        except BaseException:
            jobs.change(db, job_id, "failed", told, "Flinz made a mistake here. The log says more.")
            raise
        finally:
            part.unlink(missing_ok=True)
            self._stops.pop(job_id, None)
            db.close()
