"""The built-in recipes, and putting a recipe on a photo."""

from flinz.core.document import Plate, Recipe, Sheet
from flinz.core.house import house
from flinz.core.looks import LOOKS
from flinz.core.photo import Photo
from flinz.core.press import Press
from flinz.errors import NotFoundError

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
