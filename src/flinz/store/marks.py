"""Marks of documents: what may be kept under one shows the same for ever."""

from hashlib import sha256

from flinz.version import VERSION


def mark_of(document_json: str) -> str:
    """A mark of a stored document. A later Flinz, which may draw otherwise, has another one."""
    return sha256(f"{VERSION} {document_json}".encode()).hexdigest()[:24]
