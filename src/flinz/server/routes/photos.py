"""Photos: bring in, list, show, take off the shelf."""

from pathlib import PurePath
from typing import Annotated

from fastapi import APIRouter, File, Query, Response, UploadFile
from pydantic import BaseModel, Field

from flinz.core.planes.decoding import MAX_BYTES
from flinz.errors import PhotoError
from flinz.server.pictures import FOR_EVER, jpeg_of_photo
from flinz.server.studio import Db, TheStudio
from flinz.store import photos
from flinz.store.photos import PhotoRecord

router = APIRouter(prefix="/api/photos", tags=["photos"])


class PhotoWords(BaseModel):
    """What a photo is called, and what is said of it."""

    title: str = Field(min_length=1, max_length=200)
    caption: str = Field("", max_length=500)


@router.get("")
def list_photos(db: Db) -> list[PhotoRecord]:
    """All photos, newest first."""
    return photos.every(db)


@router.post("", status_code=201)
def add_photo(db: Db, file: Annotated[UploadFile, File()]) -> PhotoRecord:
    """Bring in one photo."""
    if file.size is not None and file.size > MAX_BYTES:
        raise PhotoError(
            f"The file has {file.size / 1e6:.0f} MB; Flinz takes photos of up to "
            f"{MAX_BYTES / 1e6:.0f} MB. Save a smaller copy, then bring that in."
        )
    title = PurePath(file.filename or "Photo").stem.replace("_", " ")
    return photos.add(db, file.file.read(), title)


@router.get("/{photo_id}")
def show_photo(db: Db, photo_id: str) -> PhotoRecord:
    """One photo's record."""
    return photos.one(db, photo_id)


@router.put("/{photo_id}")
def rename_photo(db: Db, photo_id: str, words: PhotoWords) -> PhotoRecord:
    """Give a photo another title and caption."""
    return photos.rename(db, photo_id, words.title, words.caption)


@router.get("/{photo_id}/picture", response_class=Response)
def photo_picture(
    studio: TheStudio,
    photo_id: str,
    long_edge_px: Annotated[int, Query(ge=16, le=2000)] = 480,
) -> Response:
    """The photo, shrunk, as JPEG."""
    data = jpeg_of_photo(studio.press, studio.photo(photo_id), long_edge_px)
    return Response(data, media_type="image/jpeg", headers={"Cache-Control": FOR_EVER})


@router.delete("/{photo_id}", status_code=204)
def remove_photo(db: Db, photo_id: str) -> None:
    """Take a photo off the shelf. Sheets made from it keep working."""
    photos.set_removed(db, photo_id, True)


@router.post("/{photo_id}/restore", status_code=204)
def restore_photo(db: Db, photo_id: str) -> None:
    """Put a removed photo back."""
    photos.set_removed(db, photo_id, False)
