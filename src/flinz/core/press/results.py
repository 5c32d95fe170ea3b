"""What a press remembers: results of steps, and small copies of photos apart from them."""

import copy
import threading
from collections import Counter
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Any, Protocol

from flinz.core.document.sheet import Sheet
from flinz.core.hand.strokes import Stroke
from flinz.core.planes.photo import Photo
from flinz.core.press.impressions import Instead, Over
from flinz.core.press.memory import Memory
from flinz.core.press.stopping import Stop
from flinz.errors import NotFoundError

# Small copies of photos are held in a share of the memory of their own: what another sheet draws
# shall not push them out.
PHOTOS_SHARE = 0.2
# Of so many views it is known what was printed on them last.
STACKS = 200


def no_strokes(list_id: str) -> list[Stroke]:
    """The strokes where there is no hand work. Raises NotFoundError."""
    raise NotFoundError("Hand work of this sheet is not here.")


def all_made(list_id: str) -> str | None:
    """The list itself, where no stroke of it is still being made."""
    return list_id


def no_photo(photo_id: str) -> Photo:
    """The photo where there are none. Raises NotFoundError."""
    raise NotFoundError("A photo of this sheet is not here.")


def no_font(font_id: str) -> bytes:
    """The font where none was brought. Raises NotFoundError."""
    raise NotFoundError("A font of this sheet is not here. Bring it in, or choose another face.")


class ShapesOf(Protocol):
    """What is drawn in place of plates with changed shapes of a sheet that lies on another."""

    def __call__(
        self, photo: Photo, sheet: Sheet, stop: Stop, *, is_draft: bool
    ) -> Mapping[str, Instead] | None:
        """By the plate; None for a draft where that is not known yet. Raises Stopped."""


def no_shapes(
    photo: Photo, sheet: Sheet, stop: Stop, *, is_draft: bool
) -> Mapping[str, Instead] | None:
    """Nothing, where shapes are not traced."""
    return None


@dataclass(frozen=True)
class Stock:
    """What documents name, by id; each raises NotFoundError for what is not there.

    strokes_of: the strokes of a list of hand work. made_of: the list without the stroke that is
    still being made, None where that is its only one. photo_of: a photo other than the sheet's.
    font_of: the bytes of a font that was brought. shapes_of: changed shapes of sheets on others.
    """

    strokes_of: Callable[[str], list[Stroke]] = no_strokes
    photo_of: Callable[[str], Photo] = no_photo
    font_of: Callable[[str], bytes] = no_font
    made_of: Callable[[str], str | None] = all_made
    shapes_of: ShapesOf = no_shapes


NOTHING = Stock()
NONE: Mapping[str, Instead] = {}
NOT_OVER: Mapping[str, Over] = {}


class Results:
    """Results of steps and small copies of photos, bounded in bytes together.

    counts tells how often each kind of result was worked out, not taken from memory. Who makes a
    copy of a photo holds shrinking: that takes memory, and the next may want the same.
    """

    def __init__(
        self,
        limit_bytes: int,
        stock: Stock = NOTHING,
        instead: Mapping[str, Instead] = NONE,
    ) -> None:
        self.stock, self.instead = stock, instead
        self.over = NOT_OVER
        photos_bytes = int(limit_bytes * PHOTOS_SHARE)
        self._of_steps = Memory(limit_bytes - photos_bytes)
        self._of_photos = Memory(photos_bytes)
        self.counts: Counter[str] = Counter()
        # The newest keys of what was printed together, by where that was.
        self._stacks: dict[str, list[str]] = {}
        # How large things were when they were last drawn to the end.
        self._sizes: dict[str, tuple[float, ...]] = {}
        self.shrinking = threading.RLock()

    def with_over(self, over: Mapping[str, Over]) -> "Results":
        """These, with what is done to what plates leave."""
        found = copy.copy(self)
        found.over = over
        return found

    @property
    def held_bytes(self) -> int:
        """Bytes held now."""
        return self._of_steps.held_bytes + self._of_photos.held_bytes

    def stacked(self, where: str, keys: list[str]) -> list[str]:
        """Note what is printed together somewhere, and tell what was there before."""
        before = self._stacks.pop(where, [])
        self._stacks[where] = keys
        while len(self._stacks) > STACKS:
            self._stacks.pop(next(iter(self._stacks)), None)
        return before

    def settle(self, what: str, size: tuple[float, ...]) -> None:
        """Note how large something is that is drawn to the end."""
        self._sizes.pop(what, None)
        self._sizes[what] = size
        while len(self._sizes) > STACKS:
            self._sizes.pop(next(iter(self._sizes)), None)

    def settled(self, what: str) -> tuple[float, ...] | None:
        """How large it was when it was last drawn to the end, if it ever was."""
        return self._sizes.get(what)

    def holds(self, key: str) -> bool:
        """Whether there is a result under a key."""
        return self._of_steps.holds(key)

    def held(self, key: str) -> Any:
        """The result under a key; None if it is not held."""
        return self._of_steps.held(key)

    def get(
        self, kind: str, key: str, make: Callable[[], Any], *, is_small_copy: bool = False
    ) -> Any:
        """The result of a kind under a key, made now if it is not held."""

        def counted() -> Any:
            self.counts[kind] += 1
            return make()

        return (self._of_photos if is_small_copy else self._of_steps).get(key, counted)
