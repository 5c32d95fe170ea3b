"""What was told of a sheet's plates already: worked out once for all that asks for it."""

from collections.abc import Callable, Hashable
from typing import Any, TypeVar

T = TypeVar("T")

# Of one sheet; a long piece of work may ask by ever new objects.
MOST = 1000


class Told:
    """Answers about objects that never change, which are known by themselves and not by what they
    say: to compare that would take as long as to answer again. They are kept alive for it.
    """

    def __init__(self) -> None:
        self._known: dict[tuple[Any, ...], tuple[tuple[object, ...], Any]] = {}

    def get(self, what: Hashable, about: tuple[object, ...], tell: Callable[[], T]) -> T:
        """What is told of these objects, by tell if nobody asked before."""
        key = what, *map(id, about)
        found = self._known.get(key)
        if found is None:
            found = about, tell()
            if len(self._known) >= MOST:
                self._known.clear()
            self._known[key] = found
        told: T = found[1]
        return told
