"""Names of files that leave through the browser."""

import re
import unicodedata


def file_stem(title: str) -> str:
    """A title as a file name that every system accepts."""
    plain = unicodedata.normalize("NFKD", title).encode("ascii", "ignore").decode()
    words = re.sub(r"[^A-Za-z0-9]+", "-", plain).strip("-").lower()
    return words[:80] or "sheet"


def attachment(title: str, kind: str) -> dict[str, str]:
    """The header that makes a browser save an answer under a title."""
    return {"Content-Disposition": f'attachment; filename="{file_stem(title)}.{kind}"'}
