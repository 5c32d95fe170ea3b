"""The print room's work: start an export, watch it, stop it, fetch its file."""

import asyncio
import contextlib
from collections.abc import AsyncIterator
from functools import partial

from fastapi import APIRouter
from fastapi.responses import FileResponse, StreamingResponse
from pydantic import BaseModel, ValidationError

from flinz.core.deliver.artwork import VectorWish, leaves_as
from flinz.core.deliver.format import Delivery
from flinz.core.deliver.raster import PictureWish, natural_depth
from flinz.core.deliver.registry import USUAL, USUAL_DPI, WISH, AnyWish, format_of, media_type_of
from flinz.core.deliver.separating import SEPARATIONS, said_of_inks
from flinz.core.deliver.tiles import TilesWish, tiling
from flinz.core.document.sheet import Sheet
from flinz.core.judge.holding import thin_marks
from flinz.core.press.framing import sheet_mm
from flinz.core.scale import dpi_of
from flinz.errors import NotFoundError
from flinz.server.files import file_stem
from flinz.server.studio import Db, Id, Studio, TheStudio
from flinz.server.watching import watched
from flinz.store import jobs, leaving, sheets
from flinz.store.jobs import JobRecord

router = APIRouter(prefix="/api", tags=["exports"])

WATCH_SECONDS = 0.1


class ThinInOneBit(BaseModel):
    """Marks that will not hold in black and white alone, in words, and what holds them."""

    sentence: str
    dpi: float


class PageBox(BaseModel):
    """A page of many over a sheet: its name, and where it lies, mm."""

    name: str
    left: float
    top: float
    width: float
    height: float


class ExportSize(BaseModel):
    """What an export would measure, whether its sheet has colours, which marks would not hold;
    of separations its inks, and of a file of vectors what each plate leaves as, in words.
    """

    width_px: int
    height_px: int
    width_mm: float
    height_mm: float
    dpi: float
    has_colour: bool
    thin: ThinInOneBit | None = None
    leaves_as: list[str] = []
    pages: list[PageBox] = []


@router.post("/sheets/{sheet_id}/export-size")
def export_size(db: Db, studio: TheStudio, sheet_id: Id, wish: AnyWish) -> ExportSize:
    """The size of a wished file, before it is made."""
    sheet = sheets.one(db, sheet_id).sheet
    photo = studio.photo_of(sheet)
    frame = format_of(wish).frame(photo, sheet, wish)
    width_mm, height_mm = sheet_mm(sheet, photo)
    is_one_bit = isinstance(wish, PictureWish) and wish.depth == "1-bit"
    thin = thin_marks(sheet, frame.px_per_mm) if is_one_bit else None
    return ExportSize(
        width_px=frame.width,
        height_px=frame.height,
        width_mm=round(width_mm, 2),
        height_mm=round(height_mm, 2),
        dpi=round(dpi_of(frame.px_per_mm), 2),
        has_colour=natural_depth(sheet) == "colour",
        thin=ThinInOneBit(sentence=thin.sentence, dpi=thin.dpi) if thin else None,
        pages=_pages(width_mm, height_mm, wish) if isinstance(wish, TilesWish) else [],
        leaves_as=_leaves_as(sheet, wish),
    )


def _leaves_as(sheet: Sheet, wish: AnyWish) -> list[str]:
    inks = said_of_inks(sheet, wish) if format_of(wish).way == SEPARATIONS else []
    return inks + (leaves_as(sheet, wish) if isinstance(wish, VectorWish) else [])


def _pages(width: float, height: float, wish: TilesWish) -> list[PageBox]:
    tiles = tiling(width, height, wish.page, wish.overlap)
    room = dict(zip(("width", "height"), tiles.room, strict=True))
    found = []
    for row in range(tiles.down):
        for column in range(tiles.across):
            left, top = tiles.begin(column, row)
            found.append(PageBox(name=tiles.name(column, row), left=left, top=top, **room))
    return found


@router.get("/sheets/{sheet_id}/leaving")
def last_wish(db: Db, sheet_id: Id) -> AnyWish:
    """What was wished of the sheet's file last; a picture as the sheet is where it never left."""
    sheet = sheets.one(db, sheet_id).sheet
    kept = leaving.last(db, sheet_id)
    if kept is not None:
        with contextlib.suppress(ValidationError):
            return WISH.validate_json(kept)
    usual = {"format": USUAL, "depth": natural_depth(sheet), "dpi": USUAL_DPI}
    return WISH.validate_python(usual)


@router.put("/sheets/{sheet_id}/leaving", status_code=204)
def keep_wish(db: Db, sheet_id: Id, wish: AnyWish) -> None:
    """Remember what is wished of the sheet's file."""
    sheets.one(db, sheet_id)
    leaving.keep(db, sheet_id, wish.model_dump_json())


@router.post("/sheets/{sheet_id}/exports", status_code=202)
def start_export(db: Db, studio: TheStudio, sheet_id: Id, wish: AnyWish) -> JobRecord:
    """Start making a file of a sheet as it is now."""
    sheet = sheets.one(db, sheet_id).sheet
    photo = studio.photo_of(sheet)
    kind = format_of(wish)
    # Refused now, if it would be too large, and not when its turn comes.
    kind.frame(photo, sheet, wish)
    studio.jobs.refuse_more()
    job = jobs.add(db, sheet_id, "export", f"{file_stem(sheet.title)}.{kind.suffix}")
    studio.jobs.start(
        job.id,
        lambda path, press, progress, stop: kind.write(
            path, Delivery(press, photo, sheet, progress, stop), wish
        ),
    )
    return job


@router.get("/jobs/{job_id}")
def show_job(db: Db, studio: TheStudio, job_id: Id) -> JobRecord:
    """How far a job is."""
    return studio.jobs.record(db, job_id)


@router.get("/jobs/{job_id}/events", response_class=StreamingResponse)
def watch_job(db: Db, studio: TheStudio, job_id: Id) -> StreamingResponse:
    """Server-sent events: the job's record whenever it changes, until it has ended."""
    jobs.one(db, job_id)
    return StreamingResponse(job_events(studio, job_id), media_type="text/event-stream")


@router.post("/jobs/{job_id}/stop", status_code=204)
def stop_job(db: Db, studio: TheStudio, job_id: Id) -> None:
    """Stop a job. One that has ended stays as it is."""
    studio.jobs.record(db, job_id)
    studio.jobs.stop(job_id)


@router.get("/jobs/{job_id}/file", response_class=FileResponse)
def job_file(db: Db, studio: TheStudio, job_id: Id) -> FileResponse:
    """The file a finished job made."""
    job = studio.jobs.record(db, job_id)
    path = studio.jobs.result_path(job_id)
    if job.state != "done" or not path.exists():
        raise NotFoundError("This file is not here (any more). Make it again in the print room.")
    return FileResponse(path, media_type=media_type_of(job.file_name), filename=job.file_name)


def job_events(studio: Studio, job_id: int) -> AsyncIterator[str]:
    """How far a job is whenever that changes, until it has ended, as server-sent events."""

    def look() -> JobRecord:
        # Whoever watches may leave at any moment, and this goes on: no other thread may close what
        # it reads from.
        with contextlib.closing(studio.store.connect()) as db:
            return studio.jobs.record(db, job_id)

    def has_ended(job: JobRecord) -> bool:
        return job.state in jobs.ENDED

    return watched(partial(asyncio.to_thread, look), has_ended, studio.is_leaving, WATCH_SECONDS)
