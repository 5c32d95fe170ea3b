"""The recipes that Flinz brings: one plain one a look, and those of the house."""

from functools import cache
from importlib import resources

from flinz.core.document.plate import Settled
from flinz.core.document.reading import parsed
from flinz.core.document.recipe import Recipe
from flinz.core.looks.registry import LOOKS
from flinz.errors import NotFoundError


def built_in() -> dict[str, Recipe]:
    """Every built-in recipe by name: one plain one a look, then those of the house."""
    return plain() | {recipe.name: recipe for recipe in house()}


def plain() -> dict[str, Recipe]:
    """One plain recipe a look, which leaves the other stages neutral."""
    return {
        name: Recipe(
            name=name,
            purpose=look.purpose,
            plates=[Settled(draw=look.settings(), fitted=list(look.fitted))],
        )
        for name, look in LOOKS.items()
    }


def named(name: str) -> Recipe:
    """A built-in recipe. Raises NotFoundError with the names there are."""
    recipes = built_in()
    if name not in recipes:
        raise NotFoundError(f"There is no recipe {name!r}. There are: {', '.join(recipes)}.")
    return recipes[name]


@cache
def house() -> tuple[Recipe, ...]:
    """Every house recipe, in the order in which a contact sheet offers them: that of the files."""
    folder = resources.files("flinz.core.document") / "house"
    files = sorted(folder.iterdir(), key=lambda file: file.name)
    return tuple(parsed(Recipe, file.read_text()) for file in files)
