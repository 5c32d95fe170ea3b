"""Ink pots: list, keep, take away."""

from typing import Annotated

from fastapi import APIRouter
from pydantic import BaseModel, Field, StringConstraints

from flinz.server.studio import Db, Id
from flinz.store import pots
from flinz.store.pots import PotRecord

router = APIRouter(prefix="/api/pots", tags=["pots"])


class NewPot(BaseModel):
    """A colour and what it is called."""

    name: Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=60)]
    colour: str = Field(pattern=r"^#[0-9a-fA-F]{6}$")


@router.get("")
def list_pots(db: Db) -> list[PotRecord]:
    """All own pots, first mixed first."""
    return pots.every(db)


@router.post("", status_code=201)
def add_pot(db: Db, pot: NewPot) -> PotRecord:
    """Keep a colour by a name."""
    return pots.add(db, pot.name, pot.colour.lower())


@router.delete("/{pot_id}", status_code=204)
def remove_pot(db: Db, pot_id: Id) -> None:
    """Take a pot away."""
    pots.remove(db, pot_id)
