"""Fonts of one's own, and marks of one's own: brought in, checked, listed."""

from pathlib import PurePath
from typing import Annotated

import numpy as np
from fastapi import APIRouter, File, UploadFile
from pydantic import BaseModel, Field

from flinz.core.ground.faces import MAX_FONT_BYTES
from flinz.core.ground.own_marks import MAX_FILE_BYTES, UNITS, drawn, mark_of
from flinz.server.studio import Db
from flinz.store import fonts
from flinz.store.fonts import FontRecord

router = APIRouter(prefix="/api", tags=["fonts and marks"])

MANY_POINTS = Field(max_length=4000)


class MarkPath(BaseModel):
    """The outline of a mark, as an SVG path in a box of 100 about its middle."""

    path: str


Share = Annotated[float, Field(ge=0, le=1, allow_inf_nan=False)]
Line = Annotated[list[Annotated[list[Share], Field(min_length=2, max_length=2)]], MANY_POINTS]


class DrawnMark(BaseModel):
    """Lines drawn on a pad, in shares of it; how wide they are; whether what they go round is
    filled.
    """

    lines: list[Line] = Field(max_length=200)
    nib: float = Field(ge=0.005, le=0.5, allow_inf_nan=False)
    filled: bool = False


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


@router.post("/marks/drawn", status_code=201)
def draw_mark(mark: DrawnMark) -> MarkPath:
    """The mark that lines of a pad draw, for a pen to strew; nothing is kept here."""
    lines = [np.array(line, np.float64).reshape(-1, 2) * UNITS for line in mark.lines]
    return MarkPath(path=drawn(lines, mark.nib * UNITS, filled=mark.filled))
