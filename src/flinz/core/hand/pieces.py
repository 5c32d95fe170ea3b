"""A list of strokes in pieces named by their content, so that its versions share nearly all.

A list names pages, a page names chunks, a chunk holds strokes: an edit writes one of each anew.
"""

import hashlib
import struct
from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass

from flinz.core.hand import strokes
from flinz.core.hand.strokes import Stroke
from flinz.errors import DocumentError

MAX_STROKES = 2000
# A chunk is full at either of these; a page at this many chunks.
CHUNK_STROKES, CHUNK_BYTES, PAGE_CHUNKS = 16, 16_384, 32
# Of one piece: a chunk that is not full, and the longest stroke that there can be.
MAX_PIECE_BYTES = 262_144
LIST, PAGE, CHUNK = b"flinz-list1", b"flinz-page1", b"flinz-ink01"
KINDS = {LIST: PAGE, PAGE: CHUNK}
MARK_BYTES = len(LIST)
ENTRY = struct.Struct("<32sI")
SIZE = struct.Struct("<I")

# The bytes of a piece by its id. Raises for one that is not there.
Get = Callable[[str], bytes]


@dataclass(frozen=True)
class Part:
    """A page or chunk as its holder names it: its id, and how many strokes lie in it."""

    id: str
    count: int


@dataclass(frozen=True)
class Edited:
    """A list after an edit: its id, how many strokes it has, and the new pieces by id."""

    id: str
    count: int
    new: Mapping[str, bytes]


def id_of(data: bytes) -> str:
    """The id that bytes are named by: their SHA-256."""
    return hashlib.sha256(data).hexdigest()


def read(list_id: str, get: Get) -> list[Stroke]:
    """All strokes of a list, in order. Raises DocumentError if a piece is damaged."""
    return [
        strokes.unpacked(data)
        for page in _parts(get(list_id), LIST)
        for chunk in _parts(get(page.id), PAGE)
        for data in _strokes(get(chunk.id))
    ]


def count_of(list_id: str, get: Get) -> int:
    """How many strokes a list has. Raises DocumentError if it is damaged."""
    return _count(_pages_of(list_id, get))


def appended(list_id: str | None, more: Sequence[Stroke], get: Get) -> Edited:
    """A list with strokes added at its end; None is the empty list.

    Raises DocumentError if it would have too many, or one is not allowed.
    """
    pages, new = _pages_of(list_id, get), _New()
    waiting = [strokes.packed(stroke) for stroke in more]
    _refuse_too_many(_count(pages) + len(waiting))
    # The last page and its last chunk are written anew as far as there is room in them.
    chunks = _parts(get(pages.pop().id), PAGE) if pages else []
    held = _strokes(get(chunks.pop().id)) if chunks else []
    chunks += [new.chunk(lot) for lot in _lots([*held, *waiting])]
    return new.list([*pages, *new.pages(chunks)])


def replaced(list_id: str, others: Mapping[int, Sequence[Stroke]], get: Get) -> Edited:
    """A list in which strokes, by number, have given way to others, or to none.

    Raises DocumentError if there is no such stroke, or there would be too many.
    """
    pages, new = _pages_of(list_id, get), _New()
    count = _count(pages)
    if any(not 0 <= number < count for number in others):
        raise DocumentError(f"There are {count} strokes; one that is not there was asked for.")
    _refuse_too_many(count + sum(len(lot) - 1 for lot in others.values()))
    kept: list[Part] = []
    for page, first in _numbered(pages):
        if not _touched(others, first, page.count):
            kept.append(page)
            continue
        chunks: list[Part] = []
        for chunk, start in _numbered(_parts(get(page.id), PAGE), first):
            if not _touched(others, start, chunk.count):
                chunks.append(chunk)
                continue
            left: list[bytes] = []
            for number, data in enumerate(_strokes(get(chunk.id)), start):
                taken = others.get(number)
                left += [data] if taken is None else [strokes.packed(each) for each in taken]
            chunks += [new.chunk(lot) for lot in _lots(left)]
        kept += new.pages(chunks)
    return new.list(kept)


def named_by(data: bytes) -> list[str]:
    """The ids of the pieces that a piece names."""
    mark = data[:MARK_BYTES]
    return [part.id for part in _parts(data, mark)] if mark in KINDS else []


def with_parts(ids: Iterable[str], get: Get) -> dict[str, bytes]:
    """Pieces by id, with all that they name."""
    found: dict[str, bytes] = {}
    waiting = list(ids)
    while waiting:
        piece_id = waiting.pop()
        if piece_id not in found:
            found[piece_id] = get(piece_id)
            waiting += named_by(found[piece_id])
    return found


def check(data: bytes) -> None:
    """Raise DocumentError if bytes are no piece that could have been written here."""
    if len(data) > MAX_PIECE_BYTES:
        raise DocumentError(
            f"A piece of hand work has {len(data):,} bytes; up to {MAX_PIECE_BYTES:,} are allowed."
        )
    mark = data[:MARK_BYTES]
    if mark in KINDS:
        _parts(data, mark)
    else:
        for stroke in _strokes(data):
            strokes.unpacked(stroke)


class _New:
    """The pieces that an edit writes."""

    def __init__(self) -> None:
        self._pieces: dict[str, bytes] = {}

    def chunk(self, lot: Sequence[bytes]) -> Part:
        data = CHUNK + b"".join(SIZE.pack(len(stroke)) + stroke for stroke in lot)
        return Part(self._put(data), len(lot))

    def pages(self, chunks: Sequence[Part]) -> list[Part]:
        lots = [chunks[k : k + PAGE_CHUNKS] for k in range(0, len(chunks), PAGE_CHUNKS)]
        return [Part(self._put(_holder(PAGE, lot)), _count(lot)) for lot in lots]

    def list(self, pages: Sequence[Part]) -> Edited:
        return Edited(self._put(_holder(LIST, pages)), _count(pages), self._pieces)

    def _put(self, data: bytes) -> str:
        name = id_of(data)
        self._pieces[name] = data
        return name


def _count(parts: Sequence[Part]) -> int:
    return sum(part.count for part in parts)


def _holder(mark: bytes, parts: Sequence[Part]) -> bytes:
    return mark + b"".join(ENTRY.pack(bytes.fromhex(part.id), part.count) for part in parts)


def _pages_of(list_id: str | None, get: Get) -> list[Part]:
    return [] if list_id is None else _parts(get(list_id), LIST)


def _parts(data: bytes, mark: bytes) -> list[Part]:
    body = data[MARK_BYTES:]
    if not data.startswith(mark) or len(body) % ENTRY.size:
        raise DocumentError(strokes.DAMAGED)
    return [Part(name.hex(), count) for name, count in ENTRY.iter_unpack(body)]


def _strokes(data: bytes) -> list[bytes]:
    """The packed strokes of a chunk."""
    if not data.startswith(CHUNK):
        raise DocumentError(strokes.DAMAGED)
    found, at = [], MARK_BYTES
    while at < len(data):
        size = SIZE.unpack_from(data, at)[0] if at + SIZE.size <= len(data) else len(data)
        at += SIZE.size + size
        if at > len(data):
            raise DocumentError(strokes.DAMAGED)
        found.append(data[at - size : at])
    return found


def _lots(packed: Sequence[bytes]) -> Iterator[list[bytes]]:
    """Packed strokes by chunks that are full, but for the last."""
    lot: list[bytes] = []
    for stroke in packed:
        lot.append(stroke)
        if len(lot) == CHUNK_STROKES or sum(map(len, lot)) >= CHUNK_BYTES:
            yield lot
            lot = []
    if lot:
        yield lot


def _numbered(parts: Sequence[Part], first: int = 0) -> Iterator[tuple[Part, int]]:
    """Parts with the number of the first stroke in each."""
    for part in parts:
        yield part, first
        first += part.count


def _touched(others: Mapping[int, Sequence[Stroke]], first: int, count: int) -> bool:
    return any(first <= number < first + count for number in others)


def _refuse_too_many(count: int) -> None:
    if count > MAX_STROKES:
        raise DocumentError(
            f"There would be {count:,} strokes; up to {MAX_STROKES:,} are allowed. "
            "Take some back first."
        )
