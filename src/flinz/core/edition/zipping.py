"""A ZIP that is written as it is read: nothing of it lies on disk or in memory."""

import io
import zipfile
from collections.abc import Iterator
from pathlib import Path
from typing import Any

from flinz.core.document.sheet_file import part_named

CHUNK_BYTES = 1_000_000


def zipped(files: list[tuple[str, Path]]) -> Iterator[bytes]:
    """The bytes of a ZIP of files under names, as they are asked for: equal files, equal bytes."""
    written = _Written()
    with zipfile.ZipFile(written, "w") as archive:
        for name, path in files:
            entry = part_named(name, zipfile.ZIP_STORED)
            with archive.open(entry, "w", force_zip64=True) as part, path.open("rb") as file:
                while chunk := file.read(CHUNK_BYTES):
                    part.write(chunk)
                    yield written.taken()
    yield written.taken()


class _Written(io.RawIOBase):
    """Takes what is written, until it is asked for; it cannot be gone back in."""

    def __init__(self) -> None:
        self._parts: list[bytes] = []

    def writable(self) -> bool:
        return True

    def write(self, data: Any) -> int:
        self._parts.append(bytes(data))
        return len(data)

    def taken(self) -> bytes:
        """What was written since it was asked last."""
        found = b"".join(self._parts)
        self._parts.clear()
        return found
