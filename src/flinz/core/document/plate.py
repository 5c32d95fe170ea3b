"""A plate as data: what it is drawn from, its stages, its hand work."""

from typing import Annotated, Any, Literal, TypeVar

from pydantic import AfterValidator, Field, field_validator

from flinz.core.dial import Settings
from flinz.core.document.source import FromPicture, Source
from flinz.core.looks.dot_screen import Dot, DotScreen
from flinz.core.looks.pencil import Pencil
from flinz.core.looks.registry import Draw, look_of
from flinz.core.stages.clean import Clean
from flinz.core.stages.ink import Ink
from flinz.core.stages.part import Part
from flinz.core.stages.smooth import NoSmoothing, Smooth
from flinz.core.stages.tone import Tone

MAX_PLATES = 24
StageName = Literal["tone", "smooth", "again", "draw", "clean", "ink"]
STAGES: tuple[StageName, ...] = ("tone", "smooth", "again", "draw", "clean", "ink")

# What a plate may take from one that it follows; with the photo go source and lines.
FollowedName = Literal["photo", "tone", "smooth", "again", "draw", "clean"]
FOLLOWED: tuple[FollowedName, ...] = ("photo", "tone", "smooth", "again", "draw", "clean")
# What hand work may belong to: a stage, or the lines that a plate is drawn from.
HandName = StageName | Literal["lines"]

# The id of bytes that a document names: their SHA-256.
BlobId = Annotated[str, Field(pattern=r"^[0-9a-f]{64}$")]


P = TypeVar("P", bound="Settled")


class Settled(Settings):
    """A plate without hand work, as a recipe holds it: one drawing in one ink."""

    id: str = Field("plate-1", pattern=r"^[a-z0-9-]{1,40}$")
    name: str = Field("", max_length=120)
    shown: bool = True
    # The name of those that are hidden, moved and weakened together; "" for none.
    gathered: str = Field("", max_length=60)
    # The plate whose stages it goes through, but for those that are its own; "" for none.
    follows: str = Field("", pattern=r"^[a-z0-9-]{0,40}$")
    own: list[FollowedName] = Field(default=[], max_length=8)
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

    @property
    def pattern(self) -> str:
        """The id of the photo that is the dot of its screen; "" for its own, or none."""
        draw = self.draw
        return draw.pattern if isinstance(draw, DotScreen) and draw.dot == Dot.PICTURE else ""

    @field_validator("fitted")
    @classmethod
    def _stage_is_known(cls, value: list[str]) -> list[str]:
        for path in value:
            if path.partition(".")[0] not in STAGES:
                raise ValueError(f"{path!r} is not a dial; write stage.name, such as draw.level")
        return value


def in_step(plates: list[Any]) -> list[Any]:
    """Plates with what they follow taken over: of each stage that is not their own, the other's
    dials and hand work. Raises ValueError where they follow each other in a ring.
    """
    known = {plate.id: plate for plate in plates}
    done: dict[str, Any] = {}

    def settled(plate: Any, behind: tuple[str, ...]) -> Any:
        if plate.id in behind:
            raise ValueError("two plates follow each other; one of them must stand alone")
        if plate.id not in done:
            ahead = known.get(plate.follows)
            done[plate.id] = (
                plate if ahead is None else _following(plate, settled(ahead, (*behind, plate.id)))
            )
        return done[plate.id]

    return [settled(plate, ()) for plate in plates]


def _following(plate: Any, ahead: Any) -> Any:
    names: list[str] = [name for name in FOLLOWED if name not in plate.own]
    taken: dict[str, Any] = {name: getattr(ahead, name) for name in names}
    if "photo" in taken:
        taken["source"] = ahead.source
        names.append("lines")
    own = [path for path in plate.fitted if path.partition(".")[0] not in names]
    taken["fitted"] = own + [path for path in ahead.fitted if path.partition(".")[0] in names]
    if isinstance(plate, Plate):
        kept = {name: each for name, each in plate.hand.items() if name not in names}
        taken["hand"] = kept | {name: each for name, each in ahead.hand.items() if name in names}
    return plate.model_copy(update=taken)


class Plate(Settled):
    """A plate of a sheet. hand: the id of its strokes, by the stage that they act on."""

    hand: dict[HandName, BlobId] = Field(default={})

    def with_hand(self, stage: HandName, list_id: str) -> "Plate":
        """The plate with other strokes at a stage."""
        return self.model_copy(update={"hand": {**self.hand, stage: list_id}})


def hand_of(plate: Settled) -> dict[HandName, str]:
    """The ids of a plate's strokes by stage; a plate of a recipe has none."""
    return plate.hand if isinstance(plate, Plate) else {}


def without_hand(plate: P, *stages: HandName) -> P:
    """A plate without strokes at some stages."""
    hand = hand_of(plate)
    left = {name: list_id for name, list_id in hand.items() if name not in stages}
    return plate if left == hand else plate.model_copy(update={"hand": left})


def name_of(plate: Settled) -> str:
    """What a plate is called: by its name, or by its look."""
    return plate.name or look_of(plate.draw).label


def with_own_ids(plates: list[Settled]) -> list[Settled]:
    """The plates. Raises ValueError if two have the same id."""
    if len({plate.id for plate in plates}) < len(plates):
        raise ValueError("two plates have the same id")
    return plates


Plates = Annotated[
    list[Plate],
    AfterValidator(with_own_ids),
    AfterValidator(in_step),
    Field(min_length=1, max_length=MAX_PLATES),
]
SettledPlates = Annotated[
    list[Settled],
    AfterValidator(with_own_ids),
    AfterValidator(in_step),
    Field(min_length=1, max_length=MAX_PLATES),
]
