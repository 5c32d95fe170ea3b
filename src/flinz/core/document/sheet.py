"""The sheet as data: everything that decides a drawing's pixels, next to the photo's bytes."""

from typing import Annotated, Literal

from pydantic import AfterValidator, Field, field_validator, model_validator

from flinz.core.dial import Settings
from flinz.core.looks.pencil import Pencil
from flinz.core.looks.registry import Draw
from flinz.core.stages.clean import Clean
from flinz.core.stages.ink import Ink
from flinz.core.stages.paper import Paper
from flinz.core.stages.smooth import NoSmoothing, Smooth
from flinz.core.stages.tone import Tone
from flinz.errors import DocumentError

MAX_PLATES = 12
MAX_WATCH_SPOTS = 4
STAGES = ("tone", "smooth", "draw", "clean", "ink")
StageName = Literal["tone", "smooth", "draw", "clean", "ink"]


class Crop(Settings):
    """The part of the photo that is drawn: shares 0..1 after turning."""

    left: float = Field(0.0, ge=0, le=1, allow_inf_nan=False)
    top: float = Field(0.0, ge=0, le=1, allow_inf_nan=False)
    right: float = Field(1.0, ge=0, le=1, allow_inf_nan=False)
    bottom: float = Field(1.0, ge=0, le=1, allow_inf_nan=False)
    quarter_turns: int = Field(0, ge=0, le=3, description="Counter-clockwise")

    @property
    def bounds(self) -> tuple[float, float, float, float]:
        """left, top, right, bottom."""
        return self.left, self.top, self.right, self.bottom


class Plate(Settings):
    """One drawing made from the photo, in one ink."""

    id: str = Field("plate-1", pattern=r"^[a-z0-9-]{1,40}$")
    name: str = Field("", max_length=120)
    shown: bool = True
    tone: Tone = Tone()
    smooth: Smooth = NoSmoothing()
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


class WatchSpot(Settings):
    """A detail that stays magnified while dials move: shares 0..1 of the sheet."""

    name: str = Field("", max_length=60)
    left: float = Field(ge=0, le=1, allow_inf_nan=False)
    top: float = Field(ge=0, le=1, allow_inf_nan=False)
    right: float = Field(ge=0, le=1, allow_inf_nan=False)
    bottom: float = Field(ge=0, le=1, allow_inf_nan=False)
    # Threshold's level can be set from these: the tone at which the whites of eyes stay open.
    is_eye: bool = False

    @model_validator(mode="after")
    def _has_an_area(self) -> "WatchSpot":
        if self.right <= self.left or self.bottom <= self.top:
            raise ValueError("a watch spot needs its right and bottom beyond its left and top")
        return self

    @property
    def bounds(self) -> tuple[float, float, float, float]:
        """left, top, right, bottom."""
        return self.left, self.top, self.right, self.bottom


def _with_own_ids(plates: list[Plate]) -> list[Plate]:
    if len({plate.id for plate in plates}) < len(plates):
        raise ValueError("two plates have the same id")
    return plates


Plates = Annotated[
    list[Plate], AfterValidator(_with_own_ids), Field(min_length=1, max_length=MAX_PLATES)
]


class Sheet(Settings):
    """One artwork."""

    format: Literal["flinz-sheet"] = "flinz-sheet"
    version: Literal[1] = 1
    title: str = Field("Untitled sheet", max_length=200)
    photo: str = Field("", max_length=80)
    crop: Crop = Crop()
    paper: Paper = Paper()
    plates: Plates = Field(default=[Plate()])
    watch: list[WatchSpot] = Field(default=[], max_length=MAX_WATCH_SPOTS)

    def plate(self, plate_id: str) -> Plate:
        """The plate with an id. Raises DocumentError if there is none."""
        for plate in self.plates:
            if plate.id == plate_id:
                return plate
        raise DocumentError(f"This sheet has no plate {plate_id!r}.")
