"""How the store is: whether what is done can be kept."""

from fastapi import APIRouter
from pydantic import BaseModel

from flinz.server.studio import TheStudio

router = APIRouter(prefix="/api", tags=["store"])


class StoreState(BaseModel):
    """read_only: why nothing can be saved, as a sentence; empty where all is well."""

    read_only: str


@router.get("/store")
def store_state(studio: TheStudio) -> StoreState:
    """Whether what is done can be kept."""
    return StoreState(read_only=studio.store.read_only)
