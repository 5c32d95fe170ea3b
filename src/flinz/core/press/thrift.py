"""Gives memory that is free again back to the system, which the C library would keep."""

import ctypes
import threading
import time

# While a hand waits for the next draft it is handed back more seldom.
EVERY_SECONDS, SELDOM_SECONDS = 1.0, 5.0
# Arguments of mallopt (malloc.h of the GNU C library): what is as large as this is taken from the
# system and given back at once; and so few threads' pools are kept.
MMAP_THRESHOLD, LARGE_BYTES = -3, 16_000_000
TRIM_THRESHOLD, LOOSE_BYTES = -1, 32_000_000
ARENA_MAX, POOLS = -8, 3

_lock = threading.Lock()
_last = [0.0]


def _gnu() -> ctypes.CDLL | None:
    try:
        library = ctypes.CDLL(None)
        # Others give large blocks back by themselves.
        return library if hasattr(library, "malloc_trim") else None
    except (OSError, TypeError):
        return None


_library = _gnu()


def be_thrifty() -> None:
    """Have large blocks given back as soon as they are free."""
    if _library is not None:
        for option, value in (
            (MMAP_THRESHOLD, LARGE_BYTES),
            (TRIM_THRESHOLD, LOOSE_BYTES),
            (ARENA_MAX, POOLS),
        ):
            _library.mallopt(option, value)


def hand_back(every_seconds: float = EVERY_SECONDS) -> None:
    """Hand back what is free, unless that was done so lately. Takes some 20 milliseconds."""
    now = time.monotonic()
    with _lock:
        if _library is None or now - _last[0] < every_seconds:
            return
        _last[0] = now
    _library.malloc_trim(0)
