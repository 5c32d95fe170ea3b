"""Pulls of a sheet: keep, name, show, go back to, delete."""

from typing import Annotated

from fastapi import APIRouter, Query, Request, Response
from pydantic import BaseModel, Field

from flinz.server.pictures import FOR_EVER
from flinz.server.routes.judging import gone
from flinz.server.studio import Db, Id, TheStudio
from flinz.store import pulls, sheets
from flinz.store.pulls import PullRecord
from flinz.store.sheets import SheetRecord

router = APIRouter(prefix="/api/sheets/{sheet_id}/pulls", tags=["pulls"])


class PullName(BaseModel):
    """What a pull is called."""

    name: str = Field(min_length=1, max_length=120)


class Base(BaseModel):
    """The revision that a change is made from."""

    base: int


@router.get("")
def list_pulls(db: Db, sheet_id: Id) -> list[PullRecord]:
    """A sheet's pulls, newest first."""
    return pulls.every(db, sheet_id)


@router.post("", status_code=201)
def keep_pull(db: Db, sheet_id: Id, named: PullName) -> PullRecord:
    """Keep the sheet as it is now."""
    return pulls.keep(db, sheet_id, named.name, sheets.one(db, sheet_id).sheet)


@router.put("/{pull_id}")
def rename_pull(db: Db, sheet_id: Id, pull_id: Id, named: PullName) -> PullRecord:
    """Give a pull another name."""
    return pulls.rename(db, sheet_id, pull_id, named.name)


@router.post("/{pull_id}/go-back")
def go_back(db: Db, sheet_id: Id, pull_id: Id, base: Base) -> SheetRecord:
    """Make the sheet what it was in a pull, as one step that can be undone."""
    pull = pulls.one(db, sheet_id, pull_id)
    return sheets.change(db, sheet_id, base.base, pull.sheet, f"Back to the pull {pull.name}")


@router.delete("/{pull_id}", status_code=204)
def remove_pull(db: Db, sheet_id: Id, pull_id: Id) -> None:
    """Delete a pull."""
    pulls.set_removed(db, sheet_id, pull_id, True)


@router.post("/{pull_id}/restore", status_code=204)
def restore_pull(db: Db, sheet_id: Id, pull_id: Id) -> None:
    """Bring a deleted pull back."""
    pulls.set_removed(db, sheet_id, pull_id, False)


@router.get("/{pull_id}/picture", response_class=Response)
def pull_picture(
    request: Request,
    db: Db,
    studio: TheStudio,
    sheet_id: Id,
    pull_id: Id,
    long_edge_px: Annotated[int, Query(ge=16, le=2000)] = 320,
    mark: str | None = None,
) -> Response:
    """A pull, small, as PNG. With its mark it may be kept for ever."""
    pull = pulls.one(db, sheet_id, pull_id)
    data = studio.small_picture(pull.sheet.picture.photo, pull.sheet, long_edge_px, gone(request))
    kept = FOR_EVER if mark == pull.mark else "no-store"
    return Response(data, media_type="image/png", headers={"Cache-Control": kept})
