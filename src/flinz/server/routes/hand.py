"""Hand work: pieces sent once under the hash of their bytes, and edits of lists of strokes."""

from functools import partial
from sqlite3 import Connection
from typing import Annotated

import numpy as np
from fastapi import APIRouter, Body, Path, Request, Response
from pydantic import BaseModel, Field
from starlette.concurrency import run_in_threadpool

from flinz.core.document.plate import BlobId
from flinz.core.hand import pieces as lists
from flinz.core.hand.strokes import MAX_POINTS, Brush, Stroke
from flinz.core.judge.opening import opened
from flinz.core.press.painting import apart, on_photo
from flinz.core.press.taking import pieces_at
from flinz.errors import DocumentError
from flinz.server.pictures import FOR_EVER
from flinz.server.routes.judging import gone
from flinz.server.said import OnSheet, SaidStroke
from flinz.server.studio import Db, Id, TheStudio
from flinz.store import pieces, sheets
from flinz.store.database import transaction

router = APIRouter(prefix="/api/hand", tags=["hand work"])

MAX_ANNOUNCED = 10_000
# A brush as fine as this spreads a piece by nothing.
LEAST_SPREAD_MM = 0.25
PieceId = Annotated[str, Path(pattern=r"^[0-9a-f]{64}$")]
Point = tuple[float, float, float]


class Announced(BaseModel):
    """Ids of pieces that a document will name."""

    ids: list[BlobId] = Field(max_length=MAX_ANNOUNCED)


class Missing(BaseModel):
    """Those of them that must be sent first."""

    missing: list[BlobId]


class NewStroke(BaseModel):
    """A stroke: points of x and y in shares of the photo's long edge, and of pressure 0..1."""

    brush: Brush
    points: list[Point] = Field(min_length=1, max_length=MAX_POINTS)


class Edit(BaseModel):
    """Strokes taken out of a list, by number, and strokes added at its end; None: a new list."""

    of: BlobId | None = None
    without: list[int] = Field(default=[], max_length=lists.MAX_STROKES)
    add: list[NewStroke] = Field(default=[], max_length=lists.MAX_STROKES)


class StrokeList(BaseModel):
    """A list of strokes, for a document to name, and how many there are."""

    id: BlobId
    count: int


class Painted(SaidStroke):
    """A stroke on a sheet; by piece: of the whole piece of finished ink or paper at its first
    point, spread by half its size; by alike: of all pieces like that one.
    """

    sheet_id: Id


class Area(BaseModel):
    """An area of a sheet, corner by corner in shares of it, and how soft its seam is."""

    sheet_id: Id
    plate: str
    soft_mm: float = Field(1.0, gt=0, le=200, allow_inf_nan=False)
    points: list[OnSheet] = Field(min_length=3, max_length=MAX_POINTS)


class SetApart(BaseModel):
    """Lists of strokes at Ink: of the plate that prints beside an area, and of that within."""

    beside: StrokeList
    within: StrokeList


class LostSpot(BaseModel):
    """A spot of a sheet where detail is lost, in shares of it."""

    sheet_id: Id
    plate: str
    x: float = Field(ge=0, le=1, allow_inf_nan=False)
    y: float = Field(ge=0, le=1, allow_inf_nan=False)


class Opened(StrokeList):
    """What opened it, by how many stops; and how much of the detail there was and is lost."""

    verb: str
    stops: float
    before: float
    after: float


@router.post("/paint", status_code=201)
def paint(request: Request, db: Db, studio: TheStudio, painted: Painted) -> StrokeList:
    """A stage's strokes with one more, as the sheet lies now; the sheet itself is not changed.

    A stroke of no sheet's verb at that stage is refused.
    """
    painted.check()
    sheet = sheets.one(db, painted.sheet_id).sheet
    photo, of = studio.photo_of(sheet), painted.list_in(sheet)
    if painted.by in ("piece", "alike"):
        plate, (x, y, _) = sheet.plate(painted.plate), painted.points[0]
        spread = painted.size_mm / 2 if painted.size_mm > LEAST_SPREAD_MM else 0.0
        all_alike = painted.by == "alike"
        found = pieces_at(
            studio.press,
            photo,
            sheet,
            plate,
            (x, y),
            spread,
            all_alike=all_alike,
            stop=gone(request),
        )
        outlines = [np.column_stack([places, np.ones(len(places))]) for places in found]
        return _kept(
            db, of, [painted.stroke(studio.press, photo, sheet, each) for each in outlines]
        )
    return _kept(db, of, [painted.stroke(studio.press, photo, sheet)])


@router.post("/apart", status_code=201)
def set_apart(db: Db, studio: TheStudio, area: Area) -> SetApart:
    """Strokes of two plates that share a sheet at an area: one prints only beside it, the other
    only within. The sheet itself is not changed.
    """
    sheet = sheets.one(db, area.sheet_id).sheet
    photo = studio.photo_of(sheet)
    placed = studio.press.placed(photo, sheet, sheet.plate(area.plate))
    points, size = on_photo(placed, np.array(area.points, np.float64), area.soft_mm)
    beside, within = apart(points, size)
    of = sheet.plate(area.plate).hand.get("ink")
    return SetApart(beside=_kept(db, of, beside), within=_kept(db, of, within))


@router.post("/open", status_code=201)
def open_lost(request: Request, db: Db, studio: TheStudio, spot: LostSpot) -> Opened:
    """A plate's strokes at Tone with those that open what is lost at a spot; the sheet itself is
    not changed. Refused where nothing is lost there, or Tone cannot open it.
    """
    sheet = sheets.one(db, spot.sheet_id).sheet
    judge = partial(opened, plate_id=spot.plate, at=(spot.x, spot.y))
    found = studio.judged(judge, studio.photo_of(sheet), sheet, gone(request))
    kept = _kept(db, sheet.plate(spot.plate).hand.get("tone"), found.strokes)
    return Opened(
        **kept.model_dump(),
        verb=found.verb,
        stops=found.stops,
        before=found.before,
        after=found.after,
    )


@router.get("/lists/{list_id}")
def show_list(db: Db, list_id: PieceId) -> StrokeList:
    """How many strokes a list has."""
    return StrokeList(id=list_id, count=lists.count_of(list_id, partial(pieces.get, db)))


@router.post("/announce")
def announce(db: Db, announced: Announced) -> Missing:
    """Which pieces are not here yet: what is here is not sent again."""
    return Missing(missing=pieces.announced(db, announced.ids))


@router.put("/pieces/{piece_id}", status_code=204)
async def keep_piece(db: Db, piece_id: PieceId, request: Request) -> None:
    """Keep a piece; refused where it is not what its id says."""
    data = b""
    async for part in request.stream():
        data += part
        if len(data) > lists.MAX_PIECE_BYTES:
            raise DocumentError(
                f"A piece of hand work has up to {lists.MAX_PIECE_BYTES:,} bytes; this has more."
            )
    await run_in_threadpool(pieces.put, db, piece_id, data)


@router.get("/pieces/{piece_id}", response_class=Response)
def show_piece(db: Db, piece_id: PieceId) -> Response:
    """The bytes of a piece, the same for ever."""
    headers = {"Cache-Control": FOR_EVER}
    return Response(
        pieces.get(db, piece_id), media_type="application/octet-stream", headers=headers
    )


@router.post("/strokes", status_code=201)
def edit_strokes(db: Db, edit: Annotated[Edit, Body()]) -> StrokeList:
    """A list after an edit; the list that it was made from stays as it is."""
    added = [Stroke(new.brush, np.array(new.points, np.float64)) for new in edit.add]
    get = partial(pieces.get, db)
    with transaction(db):
        of = edit.of
        if of is not None and edit.without:
            thinned = lists.replaced(of, {number: [] for number in edit.without}, get)
            pieces.put_all(db, thinned.new)
            of = thinned.id
        return _kept(db, of, added)


def _kept(db: Connection, of: str | None, more: list[Stroke]) -> StrokeList:
    """A list with more strokes at its end, kept; None is the empty list."""
    edited = lists.appended(of, more, partial(pieces.get, db))
    pieces.put_all(db, edited.new)
    return StrokeList(id=edited.id, count=edited.count)
