"""Puts a recipe on a photo: its tones are matched to it, and dials that follow it are fitted."""

from flinz.core.document.picture import Picture
from flinz.core.document.plate import Plate
from flinz.core.document.recipe import MadeOn, Recipe
from flinz.core.document.sheet import Sheet
from flinz.core.document.source import FromPicture
from flinz.core.document.tones import matched_ink, matched_tone
from flinz.core.planes.photo import Photo
from flinz.core.press.press import Press


def on_photo(press: Press, photo: Photo, recipe: Recipe, title: str) -> Sheet:
    """A sheet of a recipe on a photo, as that photo wants it."""
    return _suited(press, photo, recipe, recipe.on(photo.key, title))


def over_sheet(press: Press, photo: Photo, recipe: Recipe, sheet: Sheet) -> Sheet:
    """A sheet, of that photo, drawn by a recipe as the photo wants it."""
    return _suited(press, photo, recipe, recipe.over(sheet))


def _suited(press: Press, photo: Photo, recipe: Recipe, sheet: Sheet) -> Sheet:
    if recipe.tones == "matched" and recipe.made_on is not None:
        sheet = matched(press, photo, sheet, recipe.made_on)
    return fitted(press, photo, sheet)


def under(sheet: Sheet, photo: str) -> Sheet:
    """A finished sheet with another photo under it, by its id; dials stay as they are.

    Crop, watch spots and hand work on the photo before are left out.
    """
    plates = [
        plate.model_copy(update={"hand": {}}) if isinstance(plate.source, FromPicture) else plate
        for plate in sheet.plates
    ]
    picture = Picture(photo=photo, position=sheet.picture.position)
    return sheet.model_copy(update={"picture": picture, "watch": [], "plates": plates})


def matched(press: Press, photo: Photo, sheet: Sheet, first: MadeOn) -> Sheet:
    """The sheet with its tones taken from those of the photo it was made on to this one's."""
    now = press.tones(photo, sheet)
    plates = [
        _matched_plate(plate, first, now) if isinstance(plate.source, FromPicture) else plate
        for plate in sheet.plates
    ]
    return sheet.model_copy(update={"plates": plates})


def _matched_plate(plate: Plate, first: MadeOn, now: MadeOn) -> Plate:
    tone = matched_tone(plate.tone, first.of_plate(plate.id), now.of_plate(plate.id))
    ink = matched_ink(plate.ink, first.photo, now.photo)
    return plate.model_copy(update={"tone": tone, "ink": ink})


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
