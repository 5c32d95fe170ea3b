"""Marks of documents: what may be kept under one shows the same for ever."""

from hashlib import sha256

from flinz import __version__


def mark_of(document_json: str) -> str:
    """A mark of a stored document. A later Flinz, which may draw otherwise, has another one."""
    return sha256(f"{__version__} {document_json}".encode()).hexdigest()[:24]
