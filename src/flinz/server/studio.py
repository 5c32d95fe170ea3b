"""What every request shares: the store's place, the press, the decoded photos, the jobs."""

from collections.abc import Iterator
from functools import partial
from pathlib import Path
from sqlite3 import Connection
from typing import Annotated

from fastapi import Depends
from starlette.requests import HTTPConnection

from flinz.core.document import Sheet
from flinz.core.memory import Memory
from flinz.core.photo import Photo
from flinz.core.press import Press
from flinz.errors import StoreError
from flinz.server.jobs import Jobs
from flinz.server.pictures import png_of_sheet
from flinz.server.quiet import quiet_pool
from flinz.store import photos
from flinz.store.database import connect, migrate

PHOTO_BYTES = 300_000_000
PICTURE_BYTES = 16_000_000


class Studio:
    """One running Flinz: its data folder and what it keeps in memory."""

    def __init__(self, folder: Path) -> None:
        """Open the store in folder. Raises StoreError if that cannot be done."""
        try:
            folder.mkdir(parents=True, exist_ok=True)
        except OSError as error:
            raise StoreError(f"The folder {folder} cannot be made: {error.strerror}.") from error
        self.path = folder / "flinz.sqlite3"
        self.press = Press()
        self._photos = Memory(PHOTO_BYTES)
        db = connect(self.path)
        try:
            migrate(db)
        finally:
            db.close()
        self.judging = quiet_pool("judging")
        self._pictures = Memory(PICTURE_BYTES)
        self._picturing = quiet_pool("pictures")
        self.jobs = Jobs(self.path, folder / "exports", self.press)

    def photo(self, db: Connection, photo_id: str) -> Photo:
        """A decoded photo, kept while there is room."""
        held: _Held = self._photos.get(photo_id, lambda: _Held(photos.loaded(db, photo_id)))
        return held.photo

    def small_picture(self, photo: Photo, sheet: Sheet, long_edge_px: int) -> bytes:
        """A sheet for a list, as PNG; kept while there is room. It gives way to live pictures."""
        key = f"{photo.key} {long_edge_px} {sheet.model_dump_json()}"
        draw = partial(png_of_sheet, self.press, photo, sheet, long_edge_px)
        held: bytes = self._pictures.get(key, lambda: self._picturing.submit(draw).result())
        return held

    def close(self) -> None:
        """Stop the jobs that are under way."""
        self.jobs.close()
        self.judging.shutdown(wait=True, cancel_futures=True)
        self._picturing.shutdown(wait=True, cancel_futures=True)


class _Held:
    """A photo with the size that Memory asks for."""

    def __init__(self, photo: Photo) -> None:
        self.photo = photo
        self.nbytes = photo.pixels.nbytes


def studio_of(connection: HTTPConnection) -> Studio:
    """The application's studio."""
    studio: Studio = connection.app.state.studio
    return studio


def database(studio: Annotated[Studio, Depends(studio_of)]) -> Iterator[Connection]:
    """A connection for one request."""
    db = connect(studio.path)
    try:
        yield db
    finally:
        db.close()


TheStudio = Annotated[Studio, Depends(studio_of)]
Db = Annotated[Connection, Depends(database)]
