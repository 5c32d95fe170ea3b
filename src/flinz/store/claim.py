"""One server at a time on a data folder: who is first holds it, and says where it is."""

from pathlib import Path

from filelock import FileLock, Timeout

from flinz.errors import StoreError

LOCK, ADDRESS = "flinz.lock", "flinz.address"


class Claim:
    """A data folder that is held until it is released, or the program ends however it does."""

    def __init__(self, folder: Path, address: str = "") -> None:
        """Hold a folder; address: where its server answers.

        Raises StoreError, with the holder's address, where another program holds it. A folder that
        cannot be written is not held: nobody can change anything in it.
        """
        self._address = folder / ADDRESS
        self._lock = FileLock(folder / LOCK, timeout=0, thread_local=False)
        try:
            self._lock.acquire()
        except Timeout:
            raise StoreError(
                f"Flinz is running on {folder} already{_at(self._address)}. Use that one, stop it, "
                "or name another folder with --data."
            ) from None
        except OSError:
            return
        try:
            self._address.write_text(address)
        except OSError:
            # On a full disk the folder is held all the same.
            self._address.unlink(missing_ok=True)

    def release(self) -> None:
        """Let others have the folder."""
        if self._lock.is_locked:
            self._address.unlink(missing_ok=True)
            self._lock.release()


def _at(address: Path) -> str:
    try:
        found = address.read_text()
    except OSError:
        return ""
    return f", at {found}" if found else ""
