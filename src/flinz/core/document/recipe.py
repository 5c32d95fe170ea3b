"""A recipe as data: everything about a sheet that can be used on another photo."""

from collections.abc import Collection
from typing import Literal

from pydantic import Field

from flinz.core.dial import Settings
from flinz.core.document.sheet import STAGES, Plate, Plates, Sheet, StageName
from flinz.core.stages.paper import Paper
from flinz.errors import DocumentError


class Recipe(Settings):
    """Everything about a sheet that can be used on another photo."""

    format: Literal["flinz-recipe"] = "flinz-recipe"
    version: Literal[1] = 1
    name: str = Field(min_length=1, max_length=120)
    purpose: str = Field("", max_length=400)
    notes: str = Field("", max_length=4000)
    paper: Paper = Paper()
    plates: Plates

    def on(self, photo: str, title: str) -> Sheet:
        """A sheet of this recipe on a photo."""
        return Sheet(title=title, photo=photo, paper=self.paper, plates=self.plates)


def recipe_of(
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
