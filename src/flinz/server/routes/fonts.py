"""Fonts of one's own, and marks of one's own: brought in, checked, listed."""

from pathlib import PurePath
from typing import Annotated

from fastapi import APIRouter, File, UploadFile
from pydantic import BaseModel

from flinz.core.ground.faces import MAX_FONT_BYTES
from flinz.core.ground.own_marks import MAX_FILE_BYTES, mark_of
from flinz.server.studio import Db
from flinz.store import fonts
from flinz.store.fonts import FontRecord

router = APIRouter(prefix="/api", tags=["fonts and marks"])


class MarkPath(BaseModel):
    """The outline of a mark, as an SVG path in a box of 100 about its middle."""

    path: str


@router.get("/fonts")
def list_fonts(db: Db) -> list[FontRecord]:
    """All fonts that were brought, by name."""
    return fonts.every(db)


@router.post("/fonts", status_code=201)
def add_font(db: Db, file: Annotated[UploadFile, File()]) -> FontRecord:
    """Bring in a TTF, OTF or WOFF2 file."""
    return fonts.add(db, file.file.read(MAX_FONT_BYTES + 1), PurePath(file.filename or "Font").stem)


@router.post("/marks", status_code=201)
def read_mark(file: Annotated[UploadFile, File()]) -> MarkPath:
    """The mark that an SVG file draws, for a pen to strew; nothing is kept here."""
    return MarkPath(path=mark_of(file.file.read(MAX_FILE_BYTES + 1)))
