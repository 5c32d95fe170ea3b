"""The files of an edition: draw them all, see how far that is, stop it, take them."""

from collections.abc import AsyncIterator, Iterator
from contextlib import closing, suppress
from pathlib import Path
from sqlite3 import Connection
from typing import Any

from fastapi import APIRouter, Request, Response
from fastapi.responses import FileResponse, StreamingResponse
from pydantic import BaseModel

from flinz.core.edition.contact_print import contact_print
from flinz.core.edition.crew import Work
from flinz.core.edition.task import Order, Task
from flinz.core.edition.zipping import zipped
from flinz.errors import DocumentError, FlinzError, NotFoundError, PhotoError
from flinz.server.edition_records import is_made, names_of
from flinz.server.editions import Run, Wanted
from flinz.server.files import attachment
from flinz.server.routes.judging import gone
from flinz.server.studio import Db, Id, Studio, TheStudio
from flinz.server.watching import watched
from flinz.store import editions, photos

router = APIRouter(prefix="/api/editions/{edition_id}", tags=["editions"])

WATCH_SECONDS = 0.2
CONTACT_PX = 480


class Running(BaseModel):
    """How far a run is. shares: of photos under way, by the entry; seconds_left as measured."""

    is_running: bool
    is_waiting: bool = False
    ended: int = 0
    total: int = 0
    seconds_left: float | None = None
    shares: dict[int, float] = {}


class ToDraw(BaseModel):
    """Which photos to draw, by the entry; without them all whose file is not there yet."""

    entries: list[int] | None = None


@router.post("/run", status_code=202)
def run_edition(db: Db, studio: TheStudio, edition_id: Id, to_draw: ToDraw) -> Running:
    """Draw the files of an edition that are not there yet."""
    edition = editions.one(db, edition_id).edition
    made = studio.editions.files(db, edition_id)
    wanted = []
    for each in studio.orders.every(db, edition):
        entry, photo, order = each.entry, each.photo, each.order
        asked = to_draw.entries is None or entry.id in to_draw.entries
        if entry.left_out or isinstance(order, FlinzError) or not asked:
            continue
        mark, path = order.mark(photo.id), studio.editions.path(edition_id, entry.id)
        if not is_made(made.get(entry.id), mark, path):
            work = Work(entry.id, _loading(studio, photo.id, order), path)
            wanted.append(Wanted(entry.id, mark, work))
    if not wanted:
        return Running(is_running=studio.editions.run_of(edition_id) is not None)
    return _running(studio, studio.editions.start(edition_id, wanted))


@router.post("/ready", status_code=204)
def make_ready(db: Db, studio: TheStudio, edition_id: Id) -> None:
    """Begin what will draw the edition, since somebody looks at it: a run starts at once then."""
    studio.editions.make_ready(len(editions.one(db, edition_id).edition.kept))


@router.post("/stop", status_code=204)
def stop_edition(studio: TheStudio, edition_id: Id) -> None:
    """Stop drawing an edition; what is drawn stays."""
    studio.editions.stop(edition_id)


@router.get("/events", response_class=StreamingResponse)
async def watch_edition(studio: TheStudio, edition_id: Id) -> StreamingResponse:
    """Server-sent events: how far a run is whenever that changes, until it has ended."""
    return StreamingResponse(_events(studio, edition_id), media_type="text/event-stream")


@router.get("/entries/{entry_id}/file", response_class=FileResponse)
def entry_file(db: Db, studio: TheStudio, edition_id: Id, entry_id: Id) -> FileResponse:
    """The file of one photo."""
    for name, path in _files(db, studio, edition_id, entry_id):
        return FileResponse(path, filename=name)
    raise NotFoundError("This file is not drawn yet, or no longer as the edition stands.")


@router.get("/zip", response_class=StreamingResponse)
def edition_zip(db: Db, studio: TheStudio, edition_id: Id) -> StreamingResponse:
    """All files that are drawn as the edition stands, in a ZIP that is written as it is read."""
    title = editions.one(db, edition_id).edition.title
    files = list(_files(db, studio, edition_id))
    if not files:
        raise NotFoundError("No file of this edition is drawn yet.")
    return StreamingResponse(
        zipped(files), media_type="application/zip", headers=attachment(title, "zip")
    )


@router.get("/contact", response_class=Response)
def edition_contact(request: Request, db: Db, studio: TheStudio, edition_id: Id) -> Response:
    """Small pictures of all photos with their files' names, to hang up: a PDF."""
    edition = editions.one(db, edition_id).edition
    ordered = list(studio.orders.every(db, edition))
    names, pictures = names_of(edition, ordered), list[tuple[str, bytes | None]]()
    for each in ordered:
        if each.entry.left_out:
            continue
        name, picture = names[each.entry.id], None
        if isinstance(each.order, Order):
            with suppress(DocumentError, NotFoundError, PhotoError):
                picture = studio.series_picture(
                    each.photo.id, each.order, CONTACT_PX, gone(request)
                )
        pictures.append((each.photo.title if isinstance(name, FlinzError) else name, picture))
    data = contact_print(edition.title, pictures)
    headers = attachment(f"{edition.title} contact print", "pdf")
    return Response(data, media_type="application/pdf", headers=headers)


def _files(
    db: Connection, studio: Studio, edition_id: int, entry_id: int | None = None
) -> Iterator[tuple[str, Path]]:
    """The files that are drawn as the edition stands, with their names."""
    edition = editions.one(db, edition_id).edition
    ordered = list(studio.orders.every(db, edition))
    made, names = studio.editions.files(db, edition_id), names_of(edition, ordered)
    for each in ordered:
        entry, photo, order = each.entry, each.photo, each.order
        name = names.get(entry.id)
        if entry_id not in (None, entry.id) or not isinstance(name, str):
            continue
        path = studio.editions.path(edition_id, entry.id)
        if isinstance(order, Order) and is_made(made.get(entry.id), order.mark(photo.id), path):
            yield name, path


def _loading(studio: Studio, photo_id: str, order: Order) -> Any:
    def load() -> Task:
        with closing(studio.store.connect()) as db:
            return Task(photos.original(db, photo_id), order)

    return load


def _running(studio: Studio, run: Run | None) -> Running:
    if run is None:
        return Running(is_running=False)
    return Running(
        is_running=True,
        is_waiting=not run.has_begun,
        ended=run.ended,
        total=run.total,
        seconds_left=run.seconds_left(studio.editions.hands),
        shares=dict(run.shares),
    )


def _events(studio: Studio, edition_id: int) -> AsyncIterator[str]:
    async def look() -> Running:
        return _running(studio, studio.editions.run_of(edition_id))

    return watched(look, lambda run: not run.is_running, studio.is_leaving, WATCH_SECONDS)
