"""The errors a person at the screen can cause, each with a sentence for them.

FlinzError
├── PhotoError      a picture that cannot be brought in or drawn
├── DocumentError   a sheet, recipe or dial value that is not allowed
├── NotFoundError   something that is not there (any more)
├── StaleError      a change based on a version that is no longer the newest
├── StoreError      the database or the disk refused
├── NotReadyError   something that is still being made ready; asked again later it will be there
└── Stopped         work that was cancelled because nobody wants its result
"""

NO_MEMORY = "There is not enough memory for a picture of this size. Choose a smaller one."


class FlinzError(Exception):
    """Base of everything Flinz explains in a sentence."""


class PhotoError(FlinzError):
    """A picture that cannot be brought in or drawn."""


class DocumentError(FlinzError):
    """A sheet, recipe or dial value that is not allowed."""


class NotFoundError(FlinzError):
    """Something that is not there, or no longer."""


class StaleError(FlinzError):
    """A change that is based on a version which is no longer the newest."""


class StoreError(FlinzError):
    """The database or the disk refused."""


class NotReadyError(FlinzError):
    """Something is still being made ready."""


class Stopped(FlinzError):  # noqa: N818  (not a failure)
    """Work was cancelled because nobody wants its result."""


def explained(error: FlinzError | OSError | MemoryError) -> str:
    """Why a file could not be made, in a sentence."""
    if isinstance(error, OSError):
        return f"The file could not be written: {error.strerror or 'the disk refused'}."
    return NO_MEMORY if isinstance(error, MemoryError) else str(error)
