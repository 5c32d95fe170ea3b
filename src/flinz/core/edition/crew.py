"""Draws tasks in worker processes of this machine: one dead costs its photo a second try."""

import contextlib
import os
import threading
import time
from collections.abc import Callable, Iterable
from dataclasses import dataclass
from pathlib import Path
from typing import Literal

from flinz.core.edition.task import Task
from flinz.core.edition.worker import fault_of
from flinz.core.edition.workers import IDLE, Worker
from flinz.core.press.stopping import Stop

# What a worker may come to, and the share of the machine's memory that all may take.
WORKER_BYTES, MEMORY_SHARE = 1_200_000_000, 0.6
MOST_TRIES = 2
LOOK_SECONDS = 0.1
DIED = (
    "The process that drew this ended twice, most likely for want of memory. Choose fewer dots an "
    "inch, or let fewer photos be drawn at once."
)

State = Literal["running", "done", "failed", "stopped"]


@dataclass(frozen=True)
class Work:
    """A task by its number, made when its turn comes, and where its file is to lie."""

    number: int
    # Raises FlinzError, such as for a photo that has gone; that is this photo's fault alone.
    load: Callable[[], Task]
    path: Path

    def __post_init__(self) -> None:
        # A worker that was kept may have begun in another folder.
        object.__setattr__(self, "path", self.path.absolute())

    @property
    def part(self) -> Path:
        """Beside it, where it lies until it is whole."""
        return self.path.with_name(f".{self.path.name}.part")


@dataclass(frozen=True)
class Told:
    """What became of a work: the share done, the seconds it took, and a sentence if it failed."""

    number: int
    state: State
    share: float = 0.0
    seconds: float = 0.0
    message: str = ""


Tell = Callable[[Told], None]


def hands_here(wanted: int | None = None) -> int:
    """How many processes draw at once: as many as there are cores, and memory for."""
    if wanted is not None:
        return max(1, wanted)
    cores = len(os.sched_getaffinity(0)) if hasattr(os, "sched_getaffinity") else os.cpu_count()
    fitting = cores or 1
    with contextlib.suppress(ValueError, OSError, AttributeError):
        memory = os.sysconf("SC_PAGE_SIZE") * os.sysconf("SC_PHYS_PAGES")
        fitting = min(fitting, int(memory * MEMORY_SHARE / WORKER_BYTES))
    return max(1, fitting)


def draw(works: Iterable[Work], tell: Tell, stop: Stop, hands: int | None = None) -> None:
    """Draw all works in as many processes as hands; returns when all have ended.

    A file is there in full or not at all. tell is called from several threads, one at a time. Once
    stop() is true what is under way ends at once, and what has not begun is not told of.
    """
    waiting, lock, telling = iter(works), threading.Lock(), threading.Lock()

    def next_work() -> Work | None:
        with lock:
            return None if stop() else next(waiting, None)

    def tell_one(told: Told) -> None:
        with telling:
            tell(told)

    crew = [_Hand(next_work, tell_one, stop) for _ in range(hands_here(hands))]
    for hand in crew:
        hand.start()
    try:
        while any(hand.is_alive() for hand in crew):
            crew[0].join(LOOK_SECONDS)
            crew[-1].join(LOOK_SECONDS)
            if stop():
                for hand in crew:
                    hand.let_go()
    finally:
        for hand in crew:
            hand.let_go()
            hand.join()
    for hand in crew:
        if hand.mistake is not None:
            raise hand.mistake


class _Hand(threading.Thread):
    """Feeds one worker process until nothing is left."""

    def __init__(self, next_work: Callable[[], Work | None], tell: Tell, stop: Stop) -> None:
        super().__init__(name="edition-hand")
        self._next_work, self._tell, self._is_over = next_work, tell, stop
        self._worker: Worker | None = None
        self._is_let_go = False
        self.mistake: Exception | None = None

    def run(self) -> None:
        try:
            while (work := self._next_work()) is not None:
                self._tell(self._ended(work))
        except Exception as error:
            self.mistake = error
        finally:
            worker, self._worker = self._worker, None
            if worker is not None and worker.is_alive and not self._is_let_go:
                IDLE.put_back(worker)
            elif worker is not None:
                worker.end()

    def let_go(self) -> None:
        """End the process, whatever it is at."""
        self._is_let_go = True
        worker = self._worker
        if worker is not None:
            worker.kill()

    def _ended(self, work: Work) -> Told:
        began = time.monotonic()
        self._tell(Told(work.number, "running"))
        try:
            task = work.load()
            for _ in range(MOST_TRIES):
                said = self._said(task, work)
                if said is not None or self._is_over() or self._is_let_go:
                    break
            if said is not None and said[0] == "done":
                work.part.replace(work.path)
        except Exception as error:
            said = "failed", fault_of(error)
        finally:
            with contextlib.suppress(OSError):
                work.part.unlink(missing_ok=True)
        seconds = time.monotonic() - began
        if said is None:
            if self._is_over() or self._is_let_go:
                return Told(work.number, "stopped", seconds=seconds, message="Stopped.")
            said = "failed", DIED
        is_done = said[0] == "done"
        state: State = "done" if is_done else "failed"
        return Told(work.number, state, float(is_done), seconds, said[1])

    def _said(self, task: Task, work: Work) -> tuple[str, str] | None:
        """How a task ended, as its worker says; None where that one died."""
        if self._worker is None:
            self._worker = IDLE.taken()
            # Whoever let go before it was there could not end it.
            if self._is_let_go:
                self._worker.kill()
        said = self._worker.said(
            task, work.part, lambda share: self._tell(Told(work.number, "running", share))
        )
        if said is None:
            worker, self._worker = self._worker, None
            worker.end()
        return said
