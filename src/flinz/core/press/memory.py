"""Remembered results, least recently used out first, bounded in bytes."""

import threading
from collections import OrderedDict
from collections.abc import Callable
from typing import Any


class Memory:
    """Results under content keys. Safe to use from several threads."""

    def __init__(self, limit_bytes: int) -> None:
        self._limit = limit_bytes
        self._held = 0
        self._items: OrderedDict[str, tuple[Any, int]] = OrderedDict()
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
            if key not in self._items:
                return None
            self._items.move_to_end(key)
            return self._items[key][0]

    def get(self, key: str, make: Callable[[], Any]) -> Any:
        """The result under key, made now if it is not held."""
        with self._lock:
            if key in self._items:
                self._items.move_to_end(key)
                return self._items[key][0]
        # Made outside the lock: two threads may make the same thing, which is only slower.
        made = make()
        self._put(key, made, _size(made))
        return made

    def _put(self, key: str, made: Any, size: int) -> None:
        if size > self._limit:
            return
        with self._lock:
            if key in self._items:
                self._held -= self._items.pop(key)[1]
            self._items[key] = (made, size)
            self._held += size
            while self._held > self._limit:
                _, (_, old) = self._items.popitem(last=False)
                self._held -= old


def _size(made: Any) -> int:
    if isinstance(made, tuple):
        return sum(_size(part) for part in made)
    if isinstance(made, bytes):
        return len(made)
    return int(getattr(made, "nbytes", 0))
