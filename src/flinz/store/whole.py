"""Files that are there in full or not at all."""

import contextlib
import tempfile
from collections.abc import Iterator
from pathlib import Path

from flinz.errors import StoreError


@contextlib.contextmanager
def whole_file(target: Path) -> Iterator[Path]:
    """A path beside the target to write to; it takes the target's place if nothing fails.

    Raises StoreError where the disk refuses; whatever was there stays.
    """
    part = None
    try:
        with tempfile.NamedTemporaryFile(dir=target.parent, prefix=".flinz-", delete=False) as file:
            part = Path(file.name)
        yield part
        part.chmod(0o644)
        part.replace(target)
    except OSError as error:
        raise StoreError(f"{target} cannot be written: {error.strerror}.") from error
    finally:
        if part is not None:
            part.unlink(missing_ok=True)
