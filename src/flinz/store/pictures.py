"""Small pictures kept in files beside the store, so that a shelf shows at once after a restart."""

import contextlib
import hashlib
import os
import threading
from collections.abc import Callable
from pathlib import Path

from flinz.core.document.sheet import Sheet
from flinz.version import VERSION

FOLDER = "pictures"
# A shelf of some thousand sheets.
MOST_BYTES = 200_000_000
# Below this the oldest are taken away at once, so that it is not looked through every time.
LEFT_BYTES = 150_000_000


def key_of(photo_id: str, sheet: Sheet, long_edge_px: int) -> str:
    """What decides a small picture of a sheet, the version of Flinz included, as a name."""
    said = f"{VERSION}\0{photo_id}\0{long_edge_px}\0{sheet.seen.model_dump_json()}"
    return hashlib.sha256(said.encode()).hexdigest()


class KeptPictures:
    """Pictures by their key in a folder of files, bounded in bytes; the oldest go first.

    What cannot be read or written is drawn again each time: it is only kept to save that.
    """

    def __init__(self, folder: Path, most_bytes: int = MOST_BYTES) -> None:
        self._folder, self._most = folder, most_bytes
        self._lock = threading.Lock()
        self._bytes: int | None = None

    def get(self, key: str, make: Callable[[], bytes]) -> bytes:
        """The picture of a key, made where it is not there."""
        path = self._folder / key
        with contextlib.suppress(OSError):
            data = path.read_bytes()
            # Read lately, it goes last.
            os.utime(path)
            return data
        data = make()
        self.put(key, data)
        return data

    def put(self, key: str, data: bytes) -> None:
        """Keep a picture."""
        part = self._folder / f".{key}.{threading.get_ident()}"
        with contextlib.suppress(OSError):
            self._folder.mkdir(parents=True, exist_ok=True)
            part.write_bytes(data)
            part.replace(self._folder / key)
            self._make_room(len(data))
        with contextlib.suppress(OSError):
            part.unlink(missing_ok=True)

    def _make_room(self, added: int) -> None:
        with self._lock:
            if self._bytes is not None:
                self._bytes += added
                if self._bytes <= self._most:
                    return
            files = [(path, path.stat()) for path in self._folder.iterdir()]
            self._bytes = sum(found.st_size for _, found in files)
            if self._bytes <= self._most:
                return
            for path, found in sorted(files, key=lambda each: each[1].st_mtime):
                if self._bytes <= self._most * LEFT_BYTES / MOST_BYTES:
                    return
                path.unlink(missing_ok=True)
                self._bytes -= found.st_size
