"""The sheet as data: everything that decides a drawing's pixels, next to the photo's bytes."""

import json
from typing import Any, Literal, TypeVar

from pydantic import BaseModel, Field, ValidationError, field_validator, model_validator

from flinz.core.dial import Settings
from flinz.core.looks import LOOKS, Draw
from flinz.core.looks.pencil import Pencil
from flinz.core.stages.clean import Clean
from flinz.core.stages.ink import Ink
from flinz.core.stages.paper import Paper
from flinz.core.stages.smooth import KINDS, NoSmoothing, Smooth
from flinz.core.stages.tone import Tone
from flinz.errors import DocumentError

VERSION = 1
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


class Sheet(Settings):
    """One artwork."""

    format: Literal["flinz-sheet"] = "flinz-sheet"
    version: Literal[1] = 1
    title: str = Field("Untitled sheet", max_length=200)
    photo: str = Field("", max_length=80)
    crop: Crop = Crop()
    paper: Paper = Paper()
    plates: list[Plate] = Field(default=[Plate()], min_length=1, max_length=MAX_PLATES)
    watch: list[WatchSpot] = Field(default=[], max_length=MAX_WATCH_SPOTS)

    @field_validator("plates")
    @classmethod
    def _ids_differ(cls, value: list[Plate]) -> list[Plate]:
        return _with_own_ids(value)

    def plate(self, plate_id: str) -> Plate:
        """The plate with an id. Raises DocumentError if there is none."""
        for plate in self.plates:
            if plate.id == plate_id:
                return plate
        raise DocumentError(f"This sheet has no plate {plate_id!r}.")


class Recipe(Settings):
    """Everything about a sheet that can be used on another photo."""

    format: Literal["flinz-recipe"] = "flinz-recipe"
    version: Literal[1] = 1
    name: str = Field(min_length=1, max_length=120)
    purpose: str = Field("", max_length=400)
    notes: str = Field("", max_length=4000)
    paper: Paper = Paper()
    plates: list[Plate] = Field(min_length=1, max_length=MAX_PLATES)

    @field_validator("plates")
    @classmethod
    def _ids_differ(cls, value: list[Plate]) -> list[Plate]:
        return _with_own_ids(value)

    def on(self, photo: str, title: str) -> Sheet:
        """A sheet of this recipe on a photo."""
        return Sheet(title=title, photo=photo, paper=self.paper, plates=self.plates)


T = TypeVar("T", Sheet, Recipe)


def parsed(model: type[T], data: Any) -> T:
    """A sheet or recipe from JSON text, bytes or a dictionary.

    Raises DocumentError with a sentence naming the field.
    """
    if isinstance(data, str | bytes):
        try:
            data = json.loads(data)
        except (ValueError, RecursionError) as error:
            raise DocumentError("This is not a JSON document.") from error
    if not isinstance(data, dict):
        raise DocumentError("This is not a Flinz document: it should be a JSON object.")
    expected = model.model_fields["format"].default
    if data.get("format", expected) != expected:
        raise DocumentError(f"This is a {data['format']!r} document; a {expected!r} is needed.")
    version = data.get("version", VERSION)
    if isinstance(version, int) and version > VERSION:
        raise DocumentError(
            f"This document is of version {version}, from a newer Flinz; "
            f"this one knows versions up to {VERSION}. Update Flinz to open it."
        )
    try:
        return model.model_validate(data)
    except ValidationError as error:
        raise DocumentError(sentence_of(error)) from error


def sentence_of(error: ValidationError) -> str:
    """One plain sentence for the first thing that is wrong in a document."""
    first = error.errors(include_url=False, include_context=True)[0]
    place = ".".join(str(part) for part in first["loc"])
    value, context = first.get("input"), first.get("ctx", {})
    shown = repr(value) if isinstance(value, str | int | float | bool) else "this value"
    match first["type"]:
        case "greater_than_equal":
            return f"{place} is {shown}; it must be {context['ge']:g} or more."
        case "less_than_equal":
            return f"{place} is {shown}; it must be {context['le']:g} or less."
        case "finite_number" | "float_parsing" | "float_type":
            return f"{place} is {shown}; it must be a number."
        case "extra_forbidden":
            return f"{place} is not known to this Flinz."
        case "missing":
            return f"{place} is missing."
        case "union_tag_invalid":
            return f"{place} is {context.get('tag')!r}; it can be {context.get('expected_tags')}."
        case "enum" | "literal_error":
            return f"{place} is {shown}; it can be {context.get('expected')}."
    return f"{place} is {shown}: {first['msg']}."


def with_value(document: T, path: str, value: Any, plate: int = 0) -> T:
    """The document with one dial set, as from the command line.

    path: "stage.name" or "paper.name"; value: a number, true or false, or the text of any of
    them or of a word. Choosing another draw.look or smooth.kind starts that look or kind at its
    own starting values.
    Raises DocumentError if the dial or the value is not allowed.
    """
    stage, _, name = path.partition(".")
    raw = document.model_dump(mode="json")
    holder = raw if stage == "paper" else raw["plates"][plate]
    if stage not in (*STAGES, "paper") or not name:
        raise DocumentError(
            f"There is no dial {path!r}. Write STAGE.NAME with a stage of "
            f"{', '.join(STAGES)} or paper, such as draw.level."
        )
    settings = getattr(document if stage == "paper" else document.plates[plate], stage)
    if name not in type(settings).model_fields:
        known = ", ".join(key for key in type(settings).model_fields)
        raise DocumentError(f"{stage} has no dial {name!r} here; it has {known}.")
    if (stage, name) in (("draw", "look"), ("smooth", "kind")):
        holder[stage] = {name: value}
    elif isinstance(value, str):
        holder[stage][name] = _value(value, getattr(settings, name))
    else:
        holder[stage][name] = value
    if stage != "paper" and path in holder["fitted"]:
        holder["fitted"].remove(path)
    return parsed(type(document), raw)


def _value(text: str, present: Any) -> Any:
    if isinstance(present, bool):
        lowered = text.strip().lower()
        if lowered in ("true", "yes", "on", "1"):
            return True
        if lowered in ("false", "no", "off", "0"):
            return False
        raise DocumentError(f"{text!r} is neither true nor false.")
    if isinstance(present, float | int):
        try:
            return float(text)
        except ValueError:
            raise DocumentError(f"{text!r} is not a number.") from None
    return text


def stage_models() -> dict[str, dict[str, type[BaseModel]]]:
    """Every parameter model by stage and kind: what the dials of a page are made from."""
    looks: dict[str, type[BaseModel]] = {name: look.settings for name, look in LOOKS.items()}
    return {
        "tone": {"": Tone},
        "smooth": dict(KINDS),
        "draw": looks,
        "clean": {"": Clean},
        "ink": {"": Ink},
        "paper": {"": Paper},
    }
