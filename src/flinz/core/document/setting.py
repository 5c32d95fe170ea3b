"""One dial of a document set by its path, as from the command line or a test strip."""

import contextlib
from typing import Any, TypeVar

from flinz.core.dial import Settings
from flinz.core.document.plate import STAGES
from flinz.core.document.reading import parsed
from flinz.core.document.recipe import Recipe
from flinz.core.document.sheet import Sheet
from flinz.core.document.source import made_of, share_a_pen
from flinz.core.document.upgrade import by_new_names
from flinz.core.ground.pens import Pen
from flinz.core.hand.cutout import Cutout
from flinz.core.stages.paper import OfAnySize
from flinz.errors import DocumentError

T = TypeVar("T", Sheet, Recipe)

# Dials of the photo step that all plates of a sheet share, and where in its picture they stand.
SHARED_DIALS = dict.fromkeys(Cutout.model_fields, "cutout") | dict.fromkeys(
    ("straighten", "mirrored", "quarter_turns"), "crop"
)


def with_value(document: T, path: str, value: Any, plate: int = 0) -> T:
    """The document with one dial set, as from the command line.

    path: "stage.name" or "paper.name"; value: a number, true or false, or the text of any of
    them or of a word. "photo." also leads to the dials of what a plate is drawn from; a pen's are
    turned for all lines that share it. Choosing another draw.look, smooth.kind, again.kind or
    paper.size starts that at its own starting values; a paper keeps its colour and texture.
    Raises DocumentError if the dial or the value is not allowed.
    """
    stage, _, name = path.partition(".")
    raw = document.model_dump(mode="json")
    if stage == "photo" and isinstance(document, Sheet) and name in SHARED_DIALS:
        shared = SHARED_DIALS[name]
        present = getattr(getattr(document.picture, shared), name)
        raw["picture"][shared][name] = _value(value, present)
        return parsed(type(document), raw)
    holder = raw if stage == "paper" else raw["plates"][plate]
    if stage not in ("photo", *STAGES, "paper") or not name:
        raise DocumentError(
            f"There is no dial {path!r}. Write STAGE.NAME with a stage of "
            f"photo, {', '.join(STAGES)} or paper, such as draw.level."
        )
    settings = getattr(document if stage == "paper" else document.plates[plate], stage)
    if stage == "photo" and (inner := made_of(document.plates[plate].source)) is not None:
        field, made = inner
        if name in type(made).model_fields:
            for number in _made_alike(document, plate, name):
                raw["plates"][number]["source"][field][name] = _value(value, getattr(made, name))
            return parsed(type(document), raw)
    if name not in type(settings).model_fields:
        holder[stage] |= _by_old_name(stage, settings, name, value)
        return parsed(type(document), raw)
    if (stage, name) in (("draw", "look"), ("smooth", "kind"), ("again", "kind")):
        holder[stage] = {name: value}
    elif (stage, name) == ("paper", "size"):
        kept = document.paper.model_dump(mode="json", include=set(OfAnySize.model_fields))
        holder[stage] = {name: value, **kept}
    else:
        holder[stage][name] = _value(value, getattr(settings, name))
    if stage != "paper" and path in holder["fitted"]:
        holder["fitted"].remove(path)
    return parsed(type(document), raw)


def _made_alike(document: Sheet | Recipe, plate: int, name: str) -> list[int]:
    """The plates whose source takes the value of a dial with that of one of them, by number."""
    plates = document.plates
    if name not in Pen.model_fields:
        return [plate]
    of = plates[plate].source
    shared = [k for k, each in enumerate(plates) if share_a_pen(each.source, of)]
    return shared or [plate]


def _by_old_name(stage: str, settings: Settings, name: str, value: Any) -> dict[str, Any]:
    newer = {}
    with contextlib.suppress(TypeError, ValueError):
        newer = by_new_names(stage, settings.model_dump(mode="json"), name, float(value))
    if not newer:
        known = ", ".join(key for key in type(settings).model_fields)
        raise DocumentError(f"{stage} has no dial {name!r} here; it has {known}.")
    return newer


def _value(said: Any, present: Any) -> Any:
    """What is said of a dial that has a value now: as it is, or read from its text."""
    if not isinstance(said, str):
        return said
    text = said
    if isinstance(present, tuple):
        return _pulls(text)
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


def _pulls(text: str) -> list[dict[str, float]]:
    """Points of the ring of hues, written HUE:PULL or HUE:PULL:REACH with spaces between them."""
    names = ("hue", "pull", "reach")
    try:
        return [
            dict(zip(names, map(float, point.split(":")), strict=False)) for point in text.split()
        ]
    except ValueError:
        raise DocumentError(
            f"{text!r} is no ring of hues. Write HUE:PULL or HUE:PULL:REACH for each colour, "
            "such as 30:0.4 or 30:0.4:60."
        ) from None
