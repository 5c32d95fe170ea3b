"""Sheets and recipes from JSON, and one plain sentence for what is wrong with them."""

import json
from typing import Any, TypeVar

from pydantic import ValidationError

from flinz.core.dial import Settings
from flinz.core.document.plate import Plate
from flinz.core.document.recipe import Recipe
from flinz.core.document.upgrade import UPGRADED, upgraded
from flinz.core.looks.registry import LOOKS
from flinz.errors import DocumentError

# Of what is quoted, at most.
MAX_SHOWN = 120

# A sheet, a recipe, or another model with a format and a version.
T = TypeVar("T", bound=Settings)


def parsed(model: type[T], data: Any) -> T:
    """A document from JSON text, bytes or a dictionary.

    Raises DocumentError with a sentence naming the field.
    """
    if isinstance(data, str | bytes):
        try:
            data = json.loads(data)
        except (ValueError, RecursionError) as error:
            raise DocumentError("This is not a JSON document.") from error
    if not isinstance(data, dict):
        raise DocumentError("This is not a Flinz document: it should be a JSON object.")
    expected, newest = (model.model_fields[name].default for name in ("format", "version"))
    if data.get("format", expected) != expected:
        found = _short(repr(data["format"]))
        raise DocumentError(f"This is a {found} document; a {expected!r} is needed.")
    version = data.get("version", newest)
    if type(version) is not int or version < 1:
        raise DocumentError("The version of a document is a whole number, from 1 on.")
    if version > newest:
        raise DocumentError(
            f"This document is of version {_short(str(version))}, from a newer Flinz; "
            f"this one knows versions up to {newest}. Update Flinz to open it."
        )
    if expected in UPGRADED:
        data = upgraded(data)
    try:
        return model.model_validate(data)
    except ValidationError as error:
        raise DocumentError(sentence_of(error)) from error


def sentence_of(error: ValidationError) -> str:
    """One plain sentence for the first thing that is wrong in a document."""
    first = error.errors(include_url=False, include_context=True)[0]
    place = _short(".".join(str(part) for part in first["loc"]))
    value, context = first.get("input"), first.get("ctx", {})
    shown = "this value"
    if isinstance(value, str):
        # Of a text that goes on for megabytes not even the whole is written out first.
        shown = _short(repr(value[:MAX_SHOWN]))
    elif isinstance(value, int | float):
        shown = _short(repr(value))
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
        case "value_error":
            # Written by us, as a sentence or as what is wrong with the place.
            said = str(context["error"])
            return said if said.endswith(".") else f"{place} is not right: {said}."
        case "union_tag_not_found":
            return f"{place} does not say its {context['discriminator']}."
        case "string_pattern_mismatch":
            return f"{place} is {shown}, which is not written as it should be."
        case "union_tag_invalid":
            tag = _short(repr(context.get("tag")))
            return f"{place} is {tag}; it can be {context.get('expected_tags')}."
        case "enum" | "literal_error":
            return f"{place} is {shown}; it can be {context.get('expected')}."
    return f"{place} is {shown}: {first['msg']}."


def _short(text: str) -> str:
    return text if len(text) <= MAX_SHOWN else f"{text[:MAX_SHOWN]}…"


def read_recipe(data: str | bytes) -> tuple[Recipe, list[str]]:
    """A recipe from a file's JSON, and sentences on what of it this Flinz cannot draw.

    A plate whose look is not known here keeps all else and is drawn by the first look.
    Raises DocumentError naming the field that is wrong.
    """
    try:
        raw = json.loads(data)
    except (ValueError, RecursionError) as error:
        raise DocumentError("This is not a JSON document.") from error
    notes: list[str] = []
    plates = raw.get("plates") if isinstance(raw, dict) else None
    for number, plate in enumerate(plates if isinstance(plates, list) else [], start=1):
        look = _unknown_look(plate)
        if look is not None:
            start = Plate.model_fields["draw"].default
            plate["draw"] = start.model_dump(mode="json")
            notes.append(
                f"Plate {number} asks for the look {look!r}, which this Flinz does not have. "
                f"It is drawn as {LOOKS[start.look].label.lower()} until you choose another; "
                "the rest of the recipe is as it was."
            )
    return parsed(Recipe, raw), notes


def _unknown_look(plate: Any) -> str | None:
    draw = plate.get("draw") if isinstance(plate, dict) else None
    look = draw.get("look") if isinstance(draw, dict) else None
    return look[:80] if isinstance(look, str) and look not in LOOKS else None
