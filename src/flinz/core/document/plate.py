"""A plate as data: what it is drawn from, its stages, its hand work."""

from typing import Annotated, Literal

from pydantic import AfterValidator, Field, field_validator

from flinz.core.dial import Settings
from flinz.core.document.source import FromPicture, Source
from flinz.core.looks.pencil import Pencil
from flinz.core.looks.registry import Draw
from flinz.core.stages.clean import Clean
from flinz.core.stages.ink import Ink
from flinz.core.stages.part import Part
from flinz.core.stages.smooth import NoSmoothing, Smooth
from flinz.core.stages.tone import Tone

MAX_PLATES = 24
StageName = Literal["tone", "smooth", "again", "draw", "clean", "ink"]
STAGES: tuple[StageName, ...] = ("tone", "smooth", "again", "draw", "clean", "ink")

# The id of bytes that a document names: their SHA-256.
BlobId = Annotated[str, Field(pattern=r"^[0-9a-f]{64}$")]


class Settled(Settings):
    """A plate without hand work, as a recipe holds it: one drawing in one ink."""

    id: str = Field("plate-1", pattern=r"^[a-z0-9-]{1,40}$")
    name: str = Field("", max_length=120)
    shown: bool = True
    source: Source = FromPicture()
    photo: Part = Part()
    tone: Tone = Tone()
    smooth: Smooth = NoSmoothing()
    # A second smoothing, of what the first leaves.
    again: Smooth = NoSmoothing()
    draw: Draw = Pencil()
    clean: Clean = Clean()
    ink: Ink = Ink()
    # Dials, as "stage.name", that stand at the value suggested for this photo.
    fitted: list[str] = Field(default=[], max_length=200)

    @field_validator("fitted")
    @classmethod
    def _stage_is_known(cls, value: list[str]) -> list[str]:
        for path in value:
            if path.partition(".")[0] not in STAGES:
                raise ValueError(f"{path!r} is not a dial; write stage.name, such as draw.level")
        return value


class Plate(Settled):
    """A plate of a sheet. hand: the id of its strokes, by the stage that they act on."""

    hand: dict[StageName, BlobId] = Field(default={})

    def with_hand(self, stage: StageName, list_id: str) -> "Plate":
        """The plate with other strokes at a stage."""
        return self.model_copy(update={"hand": {**self.hand, stage: list_id}})


def hand_of(plate: Settled) -> dict[StageName, str]:
    """The ids of a plate's strokes by stage; a plate of a recipe has none."""
    return plate.hand if isinstance(plate, Plate) else {}


def with_own_ids(plates: list[Settled]) -> list[Settled]:
    """The plates. Raises ValueError if two have the same id."""
    if len({plate.id for plate in plates}) < len(plates):
        raise ValueError("two plates have the same id")
    return plates


Plates = Annotated[
    list[Plate], AfterValidator(with_own_ids), Field(min_length=1, max_length=MAX_PLATES)
]
SettledPlates = Annotated[
    list[Settled], AfterValidator(with_own_ids), Field(min_length=1, max_length=MAX_PLATES)
]
