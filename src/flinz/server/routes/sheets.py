"""Sheets: begin, change, undo, show, take off the shelf."""

from typing import Annotated, Any

from fastapi import APIRouter, File, Query, Response, UploadFile, WebSocket
from pydantic import BaseModel, Field

from flinz.core.document.picture import Picture
from flinz.core.document.reading import parsed
from flinz.core.document.sheet import Sheet
from flinz.core.document.sheet_file import MAX_BYTES, MEDIA_TYPE, SUFFIX, packed, unpacked
from flinz.core.press import fitting
from flinz.errors import DocumentError
from flinz.server import live
from flinz.server.files import attachment
from flinz.server.pictures import FOR_EVER
from flinz.server.studio import Db, Id, TheStudio, studio_of
from flinz.store import photos, pulls, sheets
from flinz.store import recipes as book
from flinz.store.database import transaction
from flinz.store.sheets import SheetRecord

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
    """A photo to put under a finished sheet."""

    base: int
    photo: str


class Swapped(BaseModel):
    """The sheet on its other photo, and which dials were fitted to it anew: "plate: dial"."""

    record: SheetRecord
    refitted: list[str]


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
    sheet = recipe.on(photo.id, new.title or f"{photo.title}, {name}")
    return sheets.add(db, fitting.fitted(studio.press, studio.photo(db, photo.id), sheet))


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
    changed = recipe.over(present.sheet)
    changed = fitting.fitted(studio.press, studio.photo_of(db, changed), changed)
    with transaction(db):
        # Refused as a whole, where the sheet has changed since.
        record = sheets.change(db, sheet_id, direction.base, changed, f"Direction: {recipe.name}")
        pulls.keep(db, sheet_id, f"Before {recipe.name}", present.sheet)
    return record


@router.post("/{sheet_id}/photo")
def swap_photo(db: Db, studio: TheStudio, sheet_id: Id, other: OtherPhoto) -> Swapped:
    """Put another photo under a sheet. Suggested values are fitted anew, set ones stay."""
    present = sheets.one(db, sheet_id)
    photo = photos.one(db, other.photo)
    picture = Picture(photo=photo.id, position=present.sheet.picture.position)
    moved = present.sheet.model_copy(update={"picture": picture, "watch": []})
    fitted = fitting.fitted(studio.press, studio.photo(db, photo.id), moved)
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


@router.get("/{sheet_id}/picture", response_class=Response)
def sheet_picture(
    db: Db,
    studio: TheStudio,
    sheet_id: Id,
    long_edge_px: Annotated[int, Query(ge=16, le=2000)] = 480,
    mark: str | None = None,
) -> Response:
    """The sheet as it is now, small, as PNG. With its mark it may be kept for ever."""
    record = sheets.one(db, sheet_id)
    data = studio.small_picture(studio.photo_of(db, record.sheet), record.sheet, long_edge_px)
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
