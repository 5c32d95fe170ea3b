"""Threads for work that nobody's hand waits for: they give way to live pictures."""

import contextlib
import os
import threading
from collections.abc import Callable
from concurrent.futures import CancelledError, Future, ThreadPoolExecutor
from dataclasses import dataclass, field
from functools import partial
from typing import Any, TypeVar

from flinz.core.press.stopping import Stop, check
from flinz.errors import Stopped

T = TypeVar("T")

# Nice values go from -20 to 19.
NICE = 15
# How often one who waits looks whether anybody still waits for him.
LOOK_SECONDS = 0.25


def quiet_pool(name: str, threads: int = 1) -> ThreadPoolExecutor:
    """Threads of low priority, whose kernels' own threads inherit it.

    Only Linux gives threads a priority of their own; elsewhere it is a thread like any other.
    """
    return ThreadPoolExecutor(threads, thread_name_prefix=name, initializer=give_way)


def give_way() -> None:
    """Lower the priority of the calling thread, where the system can."""
    if hasattr(os, "setpriority") and os.uname().sysname == "Linux":
        with contextlib.suppress(OSError):
            os.setpriority(os.PRIO_PROCESS, threading.get_native_id(), NICE)


@dataclass
class _Asked:
    """Work under way, and how many wait for it."""

    future: Future[Any] = field(default_factory=Future)
    waiting: int = 0


class SharedWork:
    """Slow work in quiet threads: what several ask for at once is done once, and what nobody
    waits for any more is given up.
    """

    def __init__(self, name: str, threads: int = 1) -> None:
        self._pool = quiet_pool(name, threads)
        self._lock = threading.Lock()
        self._asked: dict[str, _Asked] = {}

    def done(self, key: str, work: Callable[[Stop], T], gone: Stop) -> T:
        """What work comes to; work is told when to stop, and who asks says whether he has gone.

        Raises Stopped for one who has, and as soon as this is closed.
        """
        with self._lock:
            is_new = key not in self._asked
            asked = self._asked.setdefault(key, _Asked())
            # Before the work begins: it looks whether anybody waits.
            asked.waiting += 1
            if is_new:
                asked.future = self._pool.submit(work, partial(_is_left, asked))
        try:
            found: T = _waited(asked.future, gone)
            return found
        finally:
            with self._lock:
                asked.waiting -= 1
                if asked.waiting == 0:
                    asked.future.cancel()
                    del self._asked[key]

    def close(self) -> None:
        """Wait for what is under way; what has not begun is let go."""
        self._pool.shutdown(wait=True, cancel_futures=True)


def _waited(future: Future[Any], gone: Stop) -> Any:
    while True:
        try:
            return future.result(timeout=LOOK_SECONDS)
        except CancelledError:
            raise Stopped("Flinz is being stopped.") from None
        except TimeoutError:
            check(gone)


def _is_left(asked: _Asked) -> bool:
    return asked.waiting == 0
