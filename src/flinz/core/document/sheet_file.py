"""Sheet files (.flinz): a whole sheet with its photos in one ZIP, for another machine.

docs/formats.md describes them. Equal sheets give equal bytes: no clock, one order.
"""

import io
import zipfile
import zlib
from dataclasses import dataclass, field
from hashlib import sha256
from typing import Literal

from pydantic import Field

from flinz.core.dial import Settings
from flinz.core.document.reading import parsed
from flinz.core.document.sheet import Sheet
from flinz.core.ground.faces import MAX_FONT_BYTES
from flinz.core.hand import pieces
from flinz.errors import DocumentError

SUFFIX, MEDIA_TYPE = "flinz", "application/vnd.flinz+zip"
SHEET, ABOUT, PHOTOS, HAND, FONTS = "sheet.json", "about.json", "photos/", "hand/", "fonts/"
# A file's own limits, which what is in it must keep to once it is unpacked.
MAX_BYTES = 300_000_000
MAX_JSON_BYTES = 4_000_000
MAX_ENTRIES = 10_000
# What reading a ZIP that is none, or is not whole, may raise.
DAMAGED = (
    ValueError,
    zipfile.BadZipFile,
    zlib.error,
    NotImplementedError,
    RuntimeError,
    EOFError,
    OSError,
)
# The earliest moment that a ZIP can name.
NO_TIME = (1980, 1, 1, 0, 0, 0)


class PhotoWords(Settings):
    """What is said of a photo, apart from its bytes."""

    title: str = Field(max_length=200)
    caption: str = Field("", max_length=500)


class About(Settings):
    """What a sheet file holds besides the sheet and the bytes: photos by id."""

    format: Literal["flinz-sheet-file"] = "flinz-sheet-file"
    version: Literal[1] = 1
    photos: dict[str, PhotoWords] = Field(default={})


@dataclass(frozen=True)
class PackedPhoto:
    """An original and what is said of it."""

    data: bytes
    words: PhotoWords


@dataclass(frozen=True)
class SheetFile:
    """A sheet, and by id every photo, every piece of hand work and every font of its own."""

    sheet: Sheet
    photos: dict[str, PackedPhoto]
    hand: dict[str, bytes] = field(default_factory=dict)
    fonts: dict[str, bytes] = field(default_factory=dict)


def packed(file: SheetFile) -> bytes:
    """The bytes of a sheet file."""
    about = About(photos={key: photo.words for key, photo in sorted(file.photos.items())})
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as archive:
        for name, document in ((SHEET, file.sheet), (ABOUT, about)):
            text = document.model_dump_json(indent=1) + "\n"
            add_part(archive, name, text.encode(), zipfile.ZIP_DEFLATED)
        for key, photo in sorted(file.photos.items()):
            # A photo is squeezed already.
            add_part(archive, f"{PHOTOS}{key}", photo.data, zipfile.ZIP_STORED)
        for key, piece in sorted(file.hand.items()):
            add_part(archive, f"{HAND}{key}", piece, zipfile.ZIP_STORED)
        for key, font in sorted(file.fonts.items()):
            add_part(archive, f"{FONTS}{key}", font, zipfile.ZIP_DEFLATED)
    return out.getvalue()


def unpacked(data: bytes) -> SheetFile:
    """A sheet file from its bytes, with every photo and all hand work that the sheet names.

    Raises DocumentError with a sentence if it is none, is too large once unpacked, holds names that
    lead out of it, or lacks a photo or hand work or has an altered one.
    """
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as archive:
            entries = _checked(archive)
            sheet = parsed(Sheet, _read(archive, entries, SHEET, MAX_JSON_BYTES))
            about = parsed(About, _read(archive, entries, ABOUT, MAX_JSON_BYTES))
            photos = {key: _photo(archive, entries, about, key) for key in sheet.photos}
            hand = _hand_work(archive, entries, sheet)
            fonts = {key: _font(archive, entries, key) for key in sheet.fonts}
    except DAMAGED as error:
        raise DocumentError("This is no sheet file, or it is damaged.") from error
    return SheetFile(sheet, photos, hand, fonts)


def add_part(archive: zipfile.ZipFile, name: str, data: bytes, way: int) -> None:
    """Add a part to an archive, without clock or machine in it; way: of packing it."""
    archive.writestr(part_named(name, way), data)


def part_named(name: str, way: int) -> zipfile.ZipInfo:
    """What an archive says of a part; the same on every system that writes it."""
    entry = zipfile.ZipInfo(name, NO_TIME)
    entry.compress_type = way
    entry.external_attr = 0o644 << 16
    entry.create_system = 3
    return entry


def _checked(archive: zipfile.ZipFile) -> dict[str, zipfile.ZipInfo]:
    entries = archive.infolist()
    if len(entries) > MAX_ENTRIES:
        raise DocumentError(f"This sheet file has {len(entries)} parts; {MAX_ENTRIES} are allowed.")
    if sum(entry.file_size for entry in entries) > MAX_BYTES:
        raise DocumentError(
            f"This sheet file is larger than {MAX_BYTES / 1e6:.0f} MB once it is unpacked."
        )
    for entry in entries:
        name = entry.filename
        if name.startswith("/") or "\\" in name or ":" in name or ".." in name.split("/"):
            raise DocumentError(
                "This sheet file names a place outside of itself. It was not opened."
            )
    return {entry.filename: entry for entry in entries}


def _read(
    archive: zipfile.ZipFile, entries: dict[str, zipfile.ZipInfo], name: str, most: int
) -> bytes:
    if name not in entries:
        raise DocumentError(f"This sheet file lacks {name}.")
    with archive.open(entries[name]) as part:
        # What is said of its size may be untrue.
        data = part.read(most + 1)
    if len(data) > most:
        raise DocumentError(f"{name} in this sheet file is too large.")
    return data


def _photo(
    archive: zipfile.ZipFile, entries: dict[str, zipfile.ZipInfo], about: About, key: str
) -> PackedPhoto:
    name = f"{PHOTOS}{key}"
    if name not in entries:
        raise DocumentError("This sheet file lacks the photo that its sheet is drawn from.")
    data = _read(archive, entries, name, MAX_BYTES)
    if sha256(data).hexdigest() != key:
        raise DocumentError(
            "The photo in this sheet file is not the one that its sheet names: it was altered."
        )
    return PackedPhoto(data, about.photos.get(key, PhotoWords(title="Photo")))


def _font(archive: zipfile.ZipFile, entries: dict[str, zipfile.ZipInfo], key: str) -> bytes:
    if f"{FONTS}{key}" not in entries:
        raise DocumentError("This sheet file lacks a font that its lettering is set in.")
    data = _read(archive, entries, f"{FONTS}{key}", MAX_FONT_BYTES)
    if sha256(data).hexdigest() != key:
        raise DocumentError("A font in this sheet file was altered. It was not opened.")
    return data


def _hand_work(
    archive: zipfile.ZipFile, entries: dict[str, zipfile.ZipInfo], sheet: Sheet
) -> dict[str, bytes]:
    """All that the sheet names, and what that names."""

    def get(key: str) -> bytes:
        if f"{HAND}{key}" not in entries:
            raise DocumentError("This sheet file lacks hand work that its sheet names.")
        data = _read(archive, entries, f"{HAND}{key}", pieces.MAX_PIECE_BYTES)
        if pieces.id_of(data) != key:
            raise DocumentError("Hand work in this sheet file was altered. It was not opened.")
        pieces.check(data)
        return data

    return pieces.with_parts(sheet.hand_work, get)
