"""Names of an edition's files, by a pattern: as every system takes them, and no two alike."""

import re
import unicodedata
from collections.abc import Iterator, Sequence

from flinz.core.edition.fields import Table, fields_of, filled
from flinz.errors import DocumentError

USUAL = "{number} {title}"
# Of a name without its suffix, in bytes: file systems take 255 with it.
MAX_STEM = 180
# What some system does not take in a name (Windows takes least).
FORBIDDEN = re.compile(r'[<>:"/\\|?*\x00-\x1f\x7f]+')
DEVICES = re.compile(r"^(con|prn|aux|nul|com\d|lpt\d)(\.|$)", re.IGNORECASE)


def names(
    pattern: str, photos: Sequence[tuple[str, str]], table: Table | None, suffix: str
) -> list[str | DocumentError]:
    """The file name of each photo (its title and caption), or what says why it has none.

    A name that another photo has already gets a number: " 2".
    """
    taken: set[str] = set()
    found: list[str | DocumentError] = []
    for stem in _stems(pattern, photos, table):
        if isinstance(stem, DocumentError):
            found.append(stem)
            continue
        name, again = stem, 1
        while name.casefold() in taken:
            again += 1
            name = f"{stem} {again}"
        taken.add(name.casefold())
        found.append(f"{name}.{suffix}")
    return found


def shared(pattern: str, photos: Sequence[tuple[str, str]], table: Table | None) -> str | None:
    """What says that a pattern gives photos one name, None where it gives each its own."""
    first: dict[str, str] = {}
    for stem, (title, _) in zip(_stems(pattern, photos, table), photos, strict=True):
        if isinstance(stem, DocumentError):
            continue
        if stem.casefold() in first:
            return (
                f"{first[stem.casefold()]!r} and {title!r} come to one name, {stem!r}: those after "
                "the first get a number. {number} in the pattern keeps them apart."
            )
        first[stem.casefold()] = title
    return None


def _stems(
    pattern: str, photos: Sequence[tuple[str, str]], table: Table | None
) -> Iterator[str | DocumentError]:
    """What a pattern comes to for each photo, without a suffix; numbers are all as wide."""
    width = len(str(len(photos)))
    for place, (title, caption) in enumerate(photos, start=1):
        fields = fields_of(title, caption, str(place).zfill(width), table)
        try:
            yield safe_stem(filled(pattern, fields, table))
        except DocumentError as error:
            yield error


def safe_stem(text: str) -> str:
    """A text as a file's name, without suffix, as every system takes it."""
    plain = FORBIDDEN.sub(" ", unicodedata.normalize("NFC", text))
    # Windows takes no dot or space at the end, and a dot in front hides a file elsewhere.
    plain = " ".join(plain.split()).strip(". ")
    if DEVICES.match(plain):
        plain = f"_{plain}"
    while len(plain.encode()) > MAX_STEM:
        plain = plain[:-1].rstrip(". ")
    return plain or "photo"
