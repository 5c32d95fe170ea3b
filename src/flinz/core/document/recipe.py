"""A recipe as data: everything about a sheet that can be used on another photo."""

from collections.abc import Collection
from typing import Literal

from pydantic import Field

from flinz.core.dial import Settings
from flinz.core.document.picture import Picture, Position
from flinz.core.document.plate import MAX_PLATES, STAGES, Plate, Settled, SettledPlates, StageName
from flinz.core.document.sheet import Sheet
from flinz.core.document.source import without_photo
from flinz.core.document.tones import PhotoTones
from flinz.core.looks.dot_screen import DotScreen
from flinz.core.stages.paper import AsPicture, Paper
from flinz.errors import DocumentError

Tones = Literal["numbers", "matched"]


class MadeOn(Settings):
    """The photo that a recipe was made on: its tones, and those that came to each plate's curve."""

    photo: PhotoTones
    lit: dict[str, PhotoTones] = Field(default={}, max_length=MAX_PLATES)

    def of_plate(self, plate_id: str) -> PhotoTones:
        """What came to the curve of a plate."""
        return self.lit.get(plate_id, self.photo)


class Recipe(Settings):
    """Paper and plates, without photo, crop, cutout, position and hand work.

    as_drawn: the factor on all lengths of the drawing (see flinz.core.document.picture.Position).
    tones: whether dials of tone are matched to the photo it is used on, or kept as numbers.
    made_on: the tones of the photo it was made on, None where that is not known.
    """

    format: Literal["flinz-recipe"] = "flinz-recipe"
    version: Literal[3] = 3
    name: str = Field(min_length=1, max_length=120)
    purpose: str = Field("", max_length=400)
    notes: str = Field("", max_length=4000)
    paper: Paper = AsPicture()
    as_drawn: float = Field(1.0, ge=0.05, le=20.0, allow_inf_nan=False)
    plates: SettledPlates
    tones: Tones = "numbers"
    made_on: MadeOn | None = None

    def on(self, photo: str, title: str) -> Sheet:
        """A sheet of this recipe on a photo."""
        picture = Picture(photo=photo, position=Position(as_drawn=self.as_drawn))
        plates = [Plate(**dict(plate)) for plate in self.plates]
        return Sheet(title=title, picture=picture, paper=self.paper, plates=plates)

    def over(self, sheet: Sheet) -> Sheet:
        """A sheet drawn by this recipe: its title, picture, cutouts, watch spots and what was
        changed of shapes stay.
        """
        new = self.on(sheet.picture.photo, sheet.title)
        position = sheet.picture.position.model_copy(update={"as_drawn": self.as_drawn})
        if not position.suits(self.paper.long_edge):
            position = new.picture.position
        picture = sheet.picture.model_copy(update={"position": position})
        kept = {"cutouts": sheet.cutouts, "watch": sheet.watch, "shapes": sheet.shapes}
        return new.model_copy(update={"picture": picture, **kept})


def recipe_of(
    sheet: Sheet,
    name: str,
    purpose: str = "",
    stages: Collection[StageName] = STAGES,
    plates: Collection[str] | None = None,
    made_on: MadeOn | None = None,
    tones: Tones = "numbers",
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
        as_drawn=sheet.picture.position.as_drawn,
        plates=[_only_stages(plate, {*stages, "draw"}) for plate in chosen],
        tones=tones,
        made_on=made_on,
    )


def _only_stages(plate: Plate, stages: Collection[str]) -> Settled:
    kept = {name: value for name, value in plate if name not in STAGES or name in stages}
    kept["fitted"] = [path for path in plate.fitted if path.partition(".")[0] in stages]
    kept["source"] = without_photo(plate.source)
    if isinstance(plate.draw, DotScreen):
        kept["draw"] = plate.draw.model_copy(update={"pattern": ""})
    return Settled(**{name: kept[name] for name in Settled.model_fields if name in kept})
