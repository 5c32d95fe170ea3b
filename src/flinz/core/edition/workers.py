"""Worker processes from outside: begun, asked for a file, kept a while for the next, ended."""

import atexit
import contextlib
import pickle
import subprocess
import sys
import threading
import time
from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    # Whoever begins a worker early has not waited for this yet.
    from flinz.core.edition.task import Task

# One that has nothing to do holds memory: so long it is kept for what may come next.
IDLE_SECONDS = 60.0
END_SECONDS = 5.0


class Worker:
    """A process that draws tasks, one at a time."""

    def __init__(self) -> None:
        self._process = subprocess.Popen(
            [sys.executable, "-m", "flinz.core.edition.worker"],
            stdin=subprocess.PIPE,
            stdout=subprocess.PIPE,
        )

    @property
    def is_alive(self) -> bool:
        """Whether it can be asked."""
        return self._process.poll() is None

    def said(
        self, task: "Task | None", part: Path, told: Callable[[float], None]
    ) -> tuple[str, str] | None:
        """How a task ended, "done" or "failed" with a sentence; None where the process died.

        told hears the share done, 0..1. Without a task it only says that it is ready.
        """
        to, back = self._process.stdin, self._process.stdout
        assert to and back  # noqa: S101  (PIPE gives both)
        try:
            pickle.dump((task, part), to)
            to.flush()
            while True:
                state, said = pickle.load(back)
                if state != "running":
                    return state, said
                told(said)
        except (EOFError, OSError, pickle.UnpicklingError):
            return None

    def kill(self) -> None:
        """End it, whatever it is at; may be called from another thread."""
        self._process.kill()

    def end(self) -> None:
        """End it, and wait for that."""
        for pipe in (self._process.stdin, self._process.stdout):
            with contextlib.suppress(OSError):
                pipe.close()  # type: ignore[union-attr]
        # Nothing more comes in: it ends by itself, unless something holds it up.
        with contextlib.suppress(subprocess.TimeoutExpired):
            self._process.wait(END_SECONDS)
        self._process.kill()
        self._process.wait()


class Idle:
    """Workers that have nothing to do, until they are wanted or have waited too long."""

    def __init__(self, seconds: float = IDLE_SECONDS) -> None:
        self._seconds = seconds
        self._waiting: list[tuple[Worker, float]] = []
        self._lock = threading.Lock()
        self._timer: threading.Timer | None = None

    def taken(self) -> Worker:
        """One that waits, or a new one."""
        while True:
            with self._lock:
                found = self._waiting.pop()[0] if self._waiting else None
            if found is None:
                return Worker()
            if found.is_alive:
                return found
            found.end()

    def begin(self) -> None:
        """See that one waits; a new one makes itself ready while the caller does."""
        with self._lock:
            waits = bool(self._waiting)
        if not waits:
            self.put_back(Worker())

    def put_back(self, worker: Worker) -> None:
        """Keep one that has done its work for what may come next."""
        with self._lock:
            self._waiting.append((worker, time.monotonic() + self._seconds))
            self._look_again()

    def made_ready(self, count: int) -> None:
        """Begin as many as are missing, each ready to draw."""
        with self._lock:
            missing = count - len(self._waiting)
        fresh = [Worker() for _ in range(missing)]
        for worker in fresh:
            worker.said(None, Path(), lambda share: None)
            self.put_back(worker)

    def end_all(self) -> None:
        """End every one that waits."""
        self._end(lambda until: True)

    def _end(self, is_over: Callable[[float], bool]) -> None:
        with self._lock:
            over = [worker for worker, until in self._waiting if is_over(until)]
            self._waiting = [each for each in self._waiting if not is_over(each[1])]
            if self._timer is not None:
                self._timer.cancel()
                self._timer = None
            self._look_again()
        for worker in over:
            # It has nothing to lose, and may not be ready yet.
            worker.kill()
            worker.end()

    def _look_again(self) -> None:
        """See that somebody looks when the first has waited too long."""
        if self._timer is None and self._waiting:
            left = max(0.1, min(until for _, until in self._waiting) - time.monotonic())
            self._timer = threading.Timer(
                left, self._end, [lambda until: until <= time.monotonic()]
            )
            self._timer.daemon = True
            self._timer.start()


# Of this process. Those that are left end with it.
IDLE = Idle()
atexit.register(IDLE.end_all)
