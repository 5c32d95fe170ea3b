"""Sheets: begin, change, undo, show, take off the shelf."""

from typing import Annotated, Any, Literal

from fastapi import APIRouter, File, Query, Request, Response, UploadFile, WebSocket
from pydantic import BaseModel, Field

from flinz.core.document.reading import parsed
from flinz.core.document.recipe import Tones
from flinz.core.document.sheet import Sheet
from flinz.core.document.sheet_file import MAX_BYTES, MEDIA_TYPE, SUFFIX, packed, unpacked
from flinz.core.looks.registry import look_of
from flinz.core.press import fitting, picking
from flinz.core.press.counting import sized_for
from flinz.core.stages.grey import hue_of
from flinz.core.stages.ink import hex_of
from flinz.errors import DocumentError
from flinz.server import live
from flinz.server.files import attachment
from flinz.server.pictures import FOR_EVER
from flinz.server.routes.judging import gone
from flinz.server.studio import Db, Id, TheStudio, studio_of
from flinz.store import photos, pulls, sheets
from flinz.store import recipes as book
from flinz.store.database import transaction
from flinz.store.sheets import SheetRecord, StepRecord

router = APIRouter(prefix="/api/sheets", tags=["sheets"])


class NewSheet(BaseModel):
    """A recipe to put on a photo."""

    photo: str
    recipe: str = "pencil"
    title: str | None = Field(None, max_length=200)


class Change(BaseModel):
    """A changed document, the revision it was made from, and what was done, in words."""

    base: int
    sheet: dict[str, Any]
    words: str = Field(max_length=200)
    gesture: str = Field("", max_length=80)


class Copy(BaseModel):
    """A document to begin a sheet with, as it is."""

    sheet: dict[str, Any]


class Direction(BaseModel):
    """A recipe to put in place of a sheet's plates; the plates are kept as a pull."""

    base: int
    recipe: str


class OtherPhoto(BaseModel):
    """A photo to put under a finished sheet, and whether dials of tone are matched to it."""

    base: int
    photo: str
    tones: Tones = "matched"


class Swapped(BaseModel):
    """The sheet on its other photo, and which dials were fitted to it anew: "plate: dial"."""

    record: SheetRecord
    refitted: list[str]


class MarksWanted(BaseModel):
    """How many marks a plate is to have."""

    plate: str
    count: int = Field(ge=1, le=10_000_000)


class MarksFound(BaseModel):
    """The dial that decides it, its value, and how many marks there are then."""

    dial: str
    value: float
    marks: int


class Place(BaseModel):
    """A place on a sheet in shares 0..1, and what is looked at there."""

    x: float = Field(ge=0, le=1, allow_inf_nan=False)
    y: float = Field(ge=0, le=1, allow_inf_nan=False)
    of: Literal["photo", "sheet"] = "photo"


class ColourFound(BaseModel):
    """A colour, #rrggbb, and its hue in degrees; None where it is next to grey."""

    colour: str
    hue: float | None


@router.get("")
def list_sheets(db: Db) -> list[SheetRecord]:
    """All sheets, last touched first."""
    return sheets.every(db)


@router.post("", status_code=201)
def begin_sheet(db: Db, studio: TheStudio, new: NewSheet) -> SheetRecord:
    """Begin a sheet with a recipe, its dials fitted to the photo."""
    photo = photos.one(db, new.photo)
    record = book.one(db, new.recipe)
    recipe = record.recipe
    # Names that Flinz brings are written as words, as the page does; own ones stay as they are.
    name = recipe.name if record.own else recipe.name.replace("-", " ")
    title = new.title or f"{photo.title}, {name}"
    return sheets.add(db, fitting.on_photo(studio.press, studio.photo(photo.id), recipe, title))


@router.post("/copy", status_code=201)
def copy_sheet(db: Db, copy: Copy) -> SheetRecord:
    """Begin a sheet with a document as it is, such as a change that came too late."""
    sheet = parsed(Sheet, copy.sheet)
    photos.one(db, sheet.picture.photo)
    return sheets.add(db, sheet)


@router.post("/open", status_code=201)
def open_sheet_file(db: Db, file: Annotated[UploadFile, File()]) -> SheetRecord:
    """Put a sheet file on the shelf."""
    if file.size is not None and file.size > MAX_BYTES:
        raise DocumentError(
            f"The file has {file.size / 1e6:.0f} MB; sheet files may have {MAX_BYTES / 1e6:.0f} MB."
        )
    return sheets.add_file(db, unpacked(file.file.read()))


@router.get("/{sheet_id}/file", response_class=Response)
def sheet_file(db: Db, sheet_id: Id) -> Response:
    """The sheet with its photos as a sheet file, for another machine."""
    file = sheets.as_file(db, sheet_id)
    headers = attachment(file.sheet.title, SUFFIX)
    return Response(packed(file), media_type=MEDIA_TYPE, headers=headers)


@router.post("/{sheet_id}/direction")
def change_direction(db: Db, studio: TheStudio, sheet_id: Id, direction: Direction) -> SheetRecord:
    """Draw the sheet by another recipe; what it was is kept as a pull."""
    present = sheets.one(db, sheet_id)
    recipe = book.one(db, direction.recipe).recipe
    photo = studio.photo_of(present.sheet)
    changed = fitting.over_sheet(studio.press, photo, recipe, present.sheet)
    with transaction(db):
        # Refused as a whole, where the sheet has changed since.
        record = sheets.change(db, sheet_id, direction.base, changed, f"Direction: {recipe.name}")
        pulls.keep(db, sheet_id, f"Before {recipe.name}", present.sheet)
    return record


@router.post("/{sheet_id}/photo")
def swap_photo(db: Db, studio: TheStudio, sheet_id: Id, other: OtherPhoto) -> Swapped:
    """Put another photo under a sheet: suggested values are fitted anew, set ones stay.

    Where tones are matched, its black, middle and white come to lie where the photo before had
    them. A title that began with that photo's begins with the other's.
    """
    present = sheets.one(db, sheet_id).sheet
    before, photo = photos.one(db, present.picture.photo), photos.one(db, other.photo)
    title = present.title
    if title.startswith(before.title):
        title = f"{photo.title}{title.removeprefix(before.title)}"[:200]
    # Strokes lie on the photo that they were made on; undo brings both back.
    moved = fitting.under(present, photo.id).model_copy(update={"title": title})
    pixels = studio.photo(photo.id)
    if other.tones == "matched":
        first = studio.press.tones(studio.photo_of(present), present)
        moved = fitting.matched(studio.press, pixels, moved, first)
    fitted = fitting.fitted(studio.press, pixels, moved)
    refitted = [
        f"{plate.name or f'plate {number}'}: {label}"
        for number, plate in enumerate(fitted.plates, start=1)
        for label in fitting.fitted_words(plate)
    ]
    record = sheets.change(db, sheet_id, other.base, fitted, f"Photo: {photo.title}")
    return Swapped(record=record, refitted=refitted)


@router.get("/{sheet_id}")
def show_sheet(db: Db, sheet_id: Id) -> SheetRecord:
    """A sheet as it is now."""
    return sheets.one(db, sheet_id)


@router.put("/{sheet_id}")
def change_sheet(db: Db, sheet_id: Id, change: Change) -> SheetRecord:
    """Save a change as one step; a change to an older revision is refused."""
    sheet = parsed(Sheet, change.sheet)
    photos.one(db, sheet.picture.photo)
    return sheets.change(db, sheet_id, change.base, sheet, change.words, change.gesture)


@router.post("/{sheet_id}/undo")
def undo(db: Db, sheet_id: Id) -> SheetRecord:
    """Go back one step."""
    return sheets.undo(db, sheet_id)


@router.post("/{sheet_id}/redo")
def redo(db: Db, sheet_id: Id) -> SheetRecord:
    """Do the next undone step again."""
    return sheets.redo(db, sheet_id)


@router.get("/{sheet_id}/steps")
def list_steps(db: Db, sheet_id: Id) -> list[StepRecord]:
    """The history of a sheet, first step first, with those that were undone."""
    return sheets.steps(db, sheet_id)


@router.post("/{sheet_id}/steps/{number}")
def go_to_step(db: Db, sheet_id: Id, number: Id) -> SheetRecord:
    """Go back or forth to a step of the history."""
    return sheets.go_to(db, sheet_id, number)


@router.post("/{sheet_id}/marks")
def marks_by_number(db: Db, studio: TheStudio, sheet_id: Id, wanted: MarksWanted) -> MarksFound:
    """The size at which a plate is drawn in so many marks; nothing is changed."""
    sheet = sheets.one(db, sheet_id).sheet
    plate = sheet.plate(wanted.plate)
    photo = studio.photo_of(sheet)
    value, marks = sized_for(studio.press, photo, sheet, plate, wanted.count)
    return MarksFound(dial=look_of(plate.draw).sized_by, value=value, marks=marks)


@router.post("/{sheet_id}/colour-at")
def colour_at(db: Db, studio: TheStudio, sheet_id: Id, place: Place) -> ColourFound:
    """The colour at a place of a sheet, or of its photo there."""
    sheet = sheets.one(db, sheet_id).sheet
    photo = studio.photo_of(sheet)
    rgb = picking.colour_at(studio.press, photo, sheet, place.x, place.y, place.of)
    return ColourFound(colour=hex_of(rgb), hue=hue_of(rgb))


@router.get("/{sheet_id}/picture", response_class=Response)
def sheet_picture(
    request: Request,
    db: Db,
    studio: TheStudio,
    sheet_id: Id,
    long_edge_px: Annotated[int, Query(ge=16, le=2000)] = 480,
    mark: str | None = None,
) -> Response:
    """The sheet as it is now, small, as PNG. With its mark it may be kept for ever."""
    record = sheets.one(db, sheet_id)
    data = studio.small_picture(
        record.sheet.picture.photo, record.sheet, long_edge_px, gone(request)
    )
    kept = FOR_EVER if mark == record.mark else "no-store"
    return Response(data, media_type="image/png", headers={"Cache-Control": kept})


@router.delete("/{sheet_id}", status_code=204)
def remove_sheet(db: Db, sheet_id: Id) -> None:
    """Take a sheet off the shelf."""
    sheets.set_removed(db, sheet_id, True)


@router.post("/{sheet_id}/restore", status_code=204)
def restore_sheet(db: Db, sheet_id: Id) -> None:
    """Put a removed sheet back."""
    sheets.set_removed(db, sheet_id, False)


@router.websocket("/live")
async def live_proofs(socket: WebSocket) -> None:
    """Proofs while dials move; see flinz.server.live."""
    await live.serve(socket, studio_of(socket))
