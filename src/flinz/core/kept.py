"""What a press remembers of all that it draws, and under which keys."""

import hashlib
import threading
from collections import Counter
from collections.abc import Callable
from typing import Any

from pydantic import BaseModel

from flinz.core.memory import Memory

# Small copies of photos are kept in a share of the memory of their own: what another sheet draws
# shall not push them out.
PHOTOS_SHARE = 0.2


class Kept:
    """Results of steps and small copies of photos, bounded in bytes together.

    counts tells how often each kind of result was worked out, not taken from memory. Who makes a
    copy of a photo holds shrinking: that takes memory, and the next may want the same.
    """

    def __init__(self, limit_bytes: int) -> None:
        photos_bytes = int(limit_bytes * PHOTOS_SHARE)
        self.results = Memory(limit_bytes - photos_bytes)
        self.photos = Memory(photos_bytes)
        self.counts: Counter[str] = Counter()
        self.shrinking = threading.RLock()

    @property
    def held_bytes(self) -> int:
        """Bytes held now."""
        return self.results.held_bytes + self.photos.held_bytes

    def holds(self, key: str) -> bool:
        """Whether there is a result under a key."""
        return self.results.holds(key)

    def get(
        self, kind: str, key: str, make: Callable[[], Any], *, is_small_copy: bool = False
    ) -> Any:
        """The result of a kind under a key, made now if it is not held."""

        def counted() -> Any:
            self.counts[kind] += 1
            return make()

        return (self.photos if is_small_copy else self.results).get(key, counted)


def content_key(*parts: Any) -> str:
    """A key that tells parts of a result apart by what they say."""
    text = "|".join(
        f"{type(part).__name__}{part.model_dump_json()}"
        if isinstance(part, BaseModel)
        else repr(part)
        for part in parts
    )
    return hashlib.blake2b(text.encode(), digest_size=16).hexdigest()
