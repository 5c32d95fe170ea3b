"""What can be judged of a sheet as it stands: lost detail, and what a press could not hold."""

import threading
from functools import partial

from anyio import from_thread
from fastapi import APIRouter, Request
from pydantic import BaseModel

from flinz.core.document.sheet import Sheet
from flinz.core.judge.checks import Check, checked
from flinz.core.judge.lost import Place, lost_detail
from flinz.core.judge.machines import machine_named
from flinz.core.judge.printing import PrintReport, print_reports
from flinz.core.planes.photo import Photo
from flinz.core.press.press import Press
from flinz.core.press.stopping import Stop
from flinz.errors import NotFoundError
from flinz.server.pictures import png_address, png_of_tint
from flinz.server.studio import Db, Id, Studio, TheStudio
from flinz.store import sheets

router = APIRouter(prefix="/api/sheets/{sheet_id}", tags=["judging"])


class FoundLost(BaseModel):
    """What is lost of a drawing, whichever revision of a sheet it is."""

    share: float
    places: list[Place]
    map: str


class Lost(FoundLost):
    """Share of the photo's detail that is lost, the worst places, and a map: a PNG as a data
    address, tinted where detail is lost.
    """

    revision: int


class ForPrint(BaseModel):
    """What a press could not hold, of each shown plate."""

    revision: int
    reports: list[PrintReport]


@router.get("/lost")
def lost(request: Request, db: Db, studio: TheStudio, sheet_id: Id) -> Lost:
    """Where the photo has detail and the drawing is bare or solid."""
    record = sheets.one(db, sheet_id)
    photo, sheet = studio.photo_of(record.sheet), record.sheet
    said = studio.judged_once("lost", _lost_said, photo, sheet, gone(request))
    found = FoundLost.model_validate_json(said)
    return Lost(revision=record.revision, **dict(found))


def _lost_said(press: Press, photo: Photo, sheet: Sheet, stop: Stop) -> bytes:
    found = lost_detail(press, photo, sheet, stop)
    tinted = png_address(png_of_tint(found.lost))
    told = FoundLost(share=found.share, places=found.places, map=tinted)
    return told.model_dump_json().encode()


@router.get("/print-report")
def print_report(request: Request, db: Db, studio: TheStudio, sheet_id: Id) -> ForPrint:
    """Thin lines, narrow gaps and specks at print size."""
    record = sheets.one(db, sheet_id)
    photo, sheet = studio.photo_of(record.sheet), record.sheet
    reports = studio.judged(print_reports, photo, sheet, gone(request))
    return ForPrint(revision=record.revision, reports=reports)


class ForMachine(BaseModel):
    """What a machine could not hold."""

    revision: int
    checks: list[Check]


@router.get("/checks/{machine}")
def checks(request: Request, db: Db, studio: TheStudio, sheet_id: Id, machine: str) -> ForMachine:
    """What a machine could not hold of a sheet, where, and what would mend it."""
    record = sheets.one(db, sheet_id)
    photo, sheet = studio.photo_of(record.sheet), record.sheet
    known = machine_named(machine)
    if known is None:
        raise NotFoundError(f"There is no machine {machine!r}.")
    found = studio.judged(partial(checked, machine=known), photo, sheet, gone(request))
    return ForMachine(revision=record.revision, checks=found)


def gone(request: Request) -> Stop:
    """Whether whoever asked has hung up, or Flinz is being stopped; for a route's own thread, and
    for others.
    """
    left = threading.Event()
    mine = threading.get_ident()
    studio: Studio = request.app.state.studio

    def has_gone() -> bool:
        # Only a thread of a route can ask the event loop.
        if threading.get_ident() == mine and from_thread.run(request.is_disconnected):
            left.set()
        return left.is_set() or studio.is_leaving()

    return has_gone
