"""Files that the command line reads and writes."""

import os
from collections.abc import Callable
from pathlib import Path

from flinz.errors import NotFoundError, PhotoError, StoreError


def read(path: Path) -> bytes:
    """The bytes of a file. Raises NotFoundError, PhotoError."""
    try:
        return path.read_bytes()
    except FileNotFoundError:
        raise NotFoundError(f"There is no file {path}.") from None
    except OSError as error:
        raise PhotoError(f"{path} cannot be read: {error.strerror}.") from error


def check_writable(path: Path) -> None:
    """Raises StoreError where a file cannot be written."""
    folder = path.parent
    if not folder.is_dir():
        raise StoreError(f"There is no folder {folder} to write to.")
    if path.is_dir():
        raise StoreError(f"{path} is a folder; name a file.")
    if not os.access(folder, os.W_OK):
        raise StoreError(f"The folder {folder} cannot be written to.")


def write_text(path: Path, text: str) -> None:
    """Write a text completely or not at all."""
    write_whole(path, lambda part: part.write_text(text))


def write_whole(path: Path, write: Callable[[Path], object]) -> None:
    """Write a file completely or not at all. write is given a path beside it to write to."""
    from flinz.store.whole import whole_file

    check_writable(path)
    with whole_file(path) as part:
        write(part)
