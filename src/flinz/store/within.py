"""Sheets within sheets: those that are to follow what is on the shelf take its newest document."""

from collections.abc import Callable

from flinz.core.document.plate import Plate
from flinz.core.document.sheet import Sheet
from flinz.core.document.source import FromSheet
from flinz.errors import NotFoundError

# A sheet of the shelf by its number. Raises NotFoundError.
Newest = Callable[[int], Sheet]


def renewed(sheet: Sheet, newest: Newest) -> Sheet:
    """The sheet with what its plates follow as it is now; itself where they follow nothing newer.

    What is not on the shelf any more, or is drawn from a sheet itself by now, stays as it was.
    """
    plates = [_renewed_plate(each, newest) for each in sheet.plates]
    if all(now is before for now, before in zip(plates, sheet.plates, strict=True)):
        return sheet
    return sheet.model_copy(update={"plates": plates})


def _renewed_plate(plate: Plate, newest: Newest) -> Plate:
    source = plate.source
    if not isinstance(source, FromSheet) or not source.live or source.sheet == 0:
        return plate
    try:
        found = newest(source.sheet)
    except NotFoundError:
        return plate
    document = found.model_dump(mode="json")
    if found.within or document == source.document:
        return plate
    return plate.model_copy(update={"source": source.model_copy(update={"document": document})})
