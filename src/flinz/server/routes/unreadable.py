"""What is stored but cannot be read, in words."""

from fastapi import APIRouter

from flinz.server.studio import Db
from flinz.store import unreadable
from flinz.store.unreadable import Unreadable

router = APIRouter(prefix="/api", tags=["unreadable"])


@router.get("/unreadable")
def list_unreadable(db: Db) -> list[Unreadable]:
    """Sheets, pulls and recipes that lists leave out since they cannot be read, and why."""
    return unreadable.every(db)
