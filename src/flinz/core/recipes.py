"""The built-in recipes, and putting a recipe on a photo."""

import json
from collections.abc import Collection
from typing import Any

from flinz.core.document import STAGES, Plate, Recipe, Sheet, StageName, parsed
from flinz.core.house import house
from flinz.core.looks import LOOKS
from flinz.core.photo import Photo
from flinz.core.press import Press
from flinz.errors import DocumentError, NotFoundError

# Dials whose starting value is the one suggested for the photo.
FITTED = {"threshold": ["draw.level"], "cut-paper": ["draw.balance"]}


def built_in() -> dict[str, Recipe]:
    """Every built-in recipe by name: one plain one a look, then those of the house."""
    return plain() | {recipe.name: recipe for recipe in house()}


def plain() -> dict[str, Recipe]:
    """One plain recipe a look, which leaves the other stages neutral."""
    return {
        name: Recipe(
            name=name,
            purpose=look.purpose,
            plates=[Plate(draw=look.settings(), fitted=FITTED.get(name, []))],
        )
        for name, look in LOOKS.items()
    }


def named(name: str) -> Recipe:
    """A built-in recipe. Raises NotFoundError with the names there are."""
    recipes = built_in()
    if name not in recipes:
        raise NotFoundError(f"There is no recipe {name!r}. There are: {', '.join(recipes)}.")
    return recipes[name]


def kept(
    sheet: Sheet,
    name: str,
    purpose: str = "",
    stages: Collection[StageName] = ("tone", "smooth", "draw", "clean", "ink"),
    plates: Collection[str] | None = None,
) -> Recipe:
    """A recipe of a sheet as it is: of some plates (all without plates) and of some stages.

    Stages left out are as they start; Draw is always kept.
    """
    chosen = [plate for plate in sheet.plates if plates is None or plate.id in plates]
    if not chosen:
        raise DocumentError("Choose at least one plate for the recipe.")
    return Recipe(
        name=name,
        purpose=purpose,
        paper=sheet.paper,
        plates=[_only_stages(plate, {*stages, "draw"}) for plate in chosen],
    )


def _only_stages(plate: Plate, stages: Collection[str]) -> Plate:
    starts = {stage: Plate.model_fields[stage].default for stage in STAGES if stage not in stages}
    fitted = [path for path in plate.fitted if path.partition(".")[0] in stages]
    return plate.model_copy(update={**starts, "fitted": fitted})


def read(data: str | bytes) -> tuple[Recipe, list[str]]:
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


def fitted(press: Press, photo: Photo, sheet: Sheet) -> Sheet:
    """The sheet with every dial that follows the photo set to the value suggested for it."""
    plates = [_fitted_plate(press, photo, sheet, plate) for plate in sheet.plates]
    return sheet.model_copy(update={"plates": plates})


def _fitted_plate(press: Press, photo: Photo, sheet: Sheet, plate: Plate) -> Plate:
    # In the order of the stages: what suits Draw depends on what left Tone.
    for stage in ("tone", "draw"):
        wanted = [path for path in plate.fitted if path.startswith(f"{stage}.")]
        if not wanted:
            continue
        found = press.suggestions(photo, sheet, plate)
        values = {path.partition(".")[2]: found[path] for path in wanted if path in found}
        settings = getattr(plate, stage)
        plate = plate.model_copy(update={stage: settings.model_copy(update=values)})
    return plate


def fitted_words(plate: Plate) -> list[str]:
    """The dials of a plate that stand at suggested values, in words."""
    words = []
    for path in plate.fitted:
        stage, _, name = path.partition(".")
        field = type(getattr(plate, stage)).model_fields.get(name)
        if field is not None:
            words.append(f"{stage.capitalize()}, {str(field.title).lower()}")
    return words
