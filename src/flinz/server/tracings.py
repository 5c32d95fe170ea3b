"""Sheets being traced for the page: one at a time, with progress; the last few stay in memory."""

import threading
import time
from collections.abc import Callable
from concurrent.futures import Future
from concurrent.futures import TimeoutError as TooEarly
from dataclasses import dataclass, field

from flinz.core.deliver.format import Progress
from flinz.core.deliver.shaping import TracedSheet
from flinz.core.press.stopping import Stop
from flinz.errors import NotReadyError, Stopped
from flinz.server.quiet import quiet_pool

# Of sheets that were traced; a large one takes some tens of megabytes.
KEPT = 3
# How long an answer is waited for before it is said how far it is.
WAIT_SECONDS = 0.3
# A tracing that nobody asks for in this time is given up.
LEFT_SECONDS = 4.0

Make = Callable[[Progress, Stop], TracedSheet]


@dataclass
class _Work:
    """A tracing under way or done."""

    future: Future[TracedSheet] = field(default_factory=Future)
    share: float = 0.0
    asked: float = field(default_factory=time.monotonic)
    is_stopped: bool = False

    def tell(self, share: float) -> None:
        self.share = share

    def is_left(self) -> bool:
        return self.is_stopped or time.monotonic() - self.asked > LEFT_SECONDS


class Tracings:
    """The tracings of one studio."""

    def __init__(self) -> None:
        self._pool = quiet_pool("tracing")
        self._lock = threading.Lock()
        self._works: dict[str, _Work] = {}

    def begin(self, key: str, make: Make) -> tuple[float, TracedSheet | None]:
        """How far the tracing of a key is, 0..1, and the tracing once it is there; begun where it
        is not. It waits a little for that. Raises what making it raised, once.
        """
        with self._lock:
            work = self._works.pop(key, None)
            if work is None or (not work.future.done() and work.is_left()):
                work = _Work()
                # A thread that waits its turn is not left by those who ask.
                work.future = self._pool.submit(self._made, work, make)
            work.asked = time.monotonic()
            self._works[key] = work
            self._forget_old()
        try:
            found = work.future.result(timeout=WAIT_SECONDS)
        except TooEarly:
            return work.share, None
        except Stopped:
            self._drop(key, work)
            raise NotReadyError("The tracing was stopped. Ask again to begin anew.") from None
        except BaseException:
            self._drop(key, work)
            raise
        return 1.0, found

    def held(self, key: str) -> TracedSheet | None:
        """A tracing that is in memory."""
        with self._lock:
            work = self._works.get(key)
        if work is None or not work.future.done() or work.future.exception() is not None:
            return None
        work.asked = time.monotonic()
        return work.future.result()

    def stop(self, key: str) -> None:
        """Give up the tracing of a key. One that is done stays."""
        with self._lock:
            work = self._works.get(key)
            if work is not None and not work.future.done():
                work.is_stopped = True
                del self._works[key]

    def close(self) -> None:
        """Stop everything and wait for it."""
        with self._lock:
            for work in self._works.values():
                work.is_stopped = True
        self._pool.shutdown(wait=True, cancel_futures=True)

    @staticmethod
    def _made(work: _Work, make: Make) -> TracedSheet:
        if work.is_left():
            raise Stopped("Nobody waits for this tracing any more.")
        return make(work.tell, work.is_left)

    def _drop(self, key: str, work: _Work) -> None:
        with self._lock:
            if self._works.get(key) is work:
                del self._works[key]

    def _forget_old(self) -> None:
        done = [key for key, work in self._works.items() if work.future.done()]
        for key in done[: max(0, len(done) - KEPT)]:
            del self._works[key]
