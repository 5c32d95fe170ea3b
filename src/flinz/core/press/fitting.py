"""Puts a recipe on a photo: dials that follow the photo are set to what is suggested for it."""

from flinz.core.document.plate import Plate
from flinz.core.document.sheet import Sheet
from flinz.core.planes.photo import Photo
from flinz.core.press.press import Press


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
