"""What there is to choose from: stages, looks and their dials."""

from fastapi import APIRouter
from pydantic import BaseModel

from flinz import __version__
from flinz.core.dial import DialSpec, dials_of
from flinz.core.document import stage_models
from flinz.core.looks import LOOKS

router = APIRouter(prefix="/api", tags=["catalogue"])


class KindSpec(BaseModel):
    """One kind of a stage (a look, a way to smooth), with its dials."""

    name: str
    label: str
    purpose: str
    dials: list[DialSpec]


class Catalogue(BaseModel):
    """Every stage's kinds. A stage without kinds has one, named ""."""

    version: str
    stages: dict[str, list[KindSpec]]


@router.get("/catalogue")
def catalogue() -> Catalogue:
    """Everything a page needs to build its dials."""
    stages = {
        stage: [_kind(stage, name, model) for name, model in kinds.items()]
        for stage, kinds in stage_models().items()
    }
    return Catalogue(version=__version__, stages=stages)


def _kind(stage: str, name: str, model: type[BaseModel]) -> KindSpec:
    if stage == "draw":
        label, purpose = LOOKS[name].label, LOOKS[name].purpose
    else:
        label = (name or stage).replace("-", " ").capitalize()
        purpose = (model.__doc__ or "").strip().partition("\n")[0]
    return KindSpec(name=name, label=label, purpose=purpose, dials=dials_of(model))
