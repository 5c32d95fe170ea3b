"""Remembered results, bounded in bytes: what is quickly made again goes first."""

import heapq
import itertools
import threading
import time
from collections.abc import Callable
from dataclasses import dataclass, fields, is_dataclass
from typing import Any

# What is smaller is worth no more for that: what it was made with takes as much.
LEAST_BYTES = 4096
# Of so many results that went it is known how often they were made, and so often that doubles
# what they are worth.
REMEMBERED, MOST_DOUBLED = 1000, 6


@dataclass
class _Item:
    made: Any
    size: int
    seconds: float
    # When it was used last, by number; older entries of the queue are void.
    used: int = 0
    # How often it was made by now.
    times: int = 1


class Memory:
    """Results under content keys. Safe to use from several threads.

    A result is worth the seconds that it took for each byte, and what was worth that much when it
    was last used; what is worth least goes first, so that among equals it is the least recently
    used (GreedyDual-Size: P. Cao and S. Irani, 1997). Sheets of many plates keep what was slow.
    What had to be made again is worth twice as much each time: a quick step of each move of a dial
    is not to give way to slow ones that nobody asks for meanwhile.
    """

    def __init__(self, limit_bytes: int, clock: Callable[[], float] = time.perf_counter) -> None:
        self._limit = limit_bytes
        self._clock = clock
        self._held = 0
        # The worth of what went last.
        self._gone = 0.0
        self._items: dict[str, _Item] = {}
        # How often what went had been made, the last ones last.
        self._made: dict[str, int] = {}
        # Worth, when it was used, key: what goes first comes first.
        self._queue: list[tuple[float, int, str]] = []
        self._uses = itertools.count()
        self._lock = threading.Lock()

    @property
    def held_bytes(self) -> int:
        """Bytes held now."""
        return self._held

    def holds(self, key: str) -> bool:
        """Whether there is a result under key."""
        with self._lock:
            return key in self._items

    def held(self, key: str) -> Any:
        """The result under key; None if it is not held."""
        with self._lock:
            item = self._items.get(key)
            return None if item is None else self._used(key, item)

    def get(self, key: str, make: Callable[[], Any]) -> Any:
        """The result under key, made now if it is not held."""
        with self._lock:
            item = self._items.get(key)
            if item is not None:
                return self._used(key, item)
        # Made outside the lock: two threads may make the same thing, which is only slower.
        began = self._clock()
        made = make()
        self._put(key, _Item(made, _size(made), self._clock() - began))
        return made

    def _used(self, key: str, item: _Item) -> Any:
        item.used = next(self._uses)
        seconds = item.seconds * 2 ** min(item.times - 1, MOST_DOUBLED)
        worth = self._gone + seconds / max(LEAST_BYTES, item.size)
        heapq.heappush(self._queue, (worth, item.used, key))
        if len(self._queue) > 4 * len(self._items) + 100:
            self._queue = [entry for entry in self._queue if self._is_valid(entry)]
            heapq.heapify(self._queue)
        return item.made

    def _is_valid(self, entry: tuple[float, int, str]) -> bool:
        item = self._items.get(entry[2])
        return item is not None and item.used == entry[1]

    def _put(self, key: str, item: _Item) -> None:
        if item.size > self._limit:
            return
        with self._lock:
            before = self._items.pop(key, None)
            self._held += item.size - (before.size if before else 0)
            item.times = self._made.pop(key, before.times if before else 0) + 1
            self._items[key] = item
            self._used(key, item)
            while self._held > self._limit:
                entry = heapq.heappop(self._queue)
                if self._is_valid(entry):
                    self._gone = entry[0]
                    gone = self._items.pop(entry[2])
                    self._held -= gone.size
                    self._made[entry[2]] = gone.times
                    if len(self._made) > REMEMBERED:
                        del self._made[next(iter(self._made))]


def _size(made: Any) -> int:
    """Bytes that a result holds: what it says itself, or all that it consists of."""
    if isinstance(made, bytes):
        return len(made)
    if isinstance(made, list | tuple):
        return sum(_size(part) for part in made)
    if hasattr(made, "nbytes"):
        return int(made.nbytes)
    if is_dataclass(made):
        return sum(_size(getattr(made, each.name)) for each in fields(made))
    return 0
