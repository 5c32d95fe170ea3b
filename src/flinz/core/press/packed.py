"""What a sheet file brings along, for a press to draw its sheet from."""

from functools import cache, partial

from flinz.core.document.sheet_file import SheetFile
from flinz.core.hand.pieces import read
from flinz.core.planes.decoding import decode
from flinz.core.planes.photo import Photo
from flinz.core.press.results import Stock


def stock_of(file: SheetFile) -> Stock:
    """All that the sheet of a file names; each photo is decoded once, when it is asked for."""

    @cache
    def photo(name: str) -> Photo:
        return decode(file.photos[name].data, name)

    strokes_of = partial(read, get=file.hand.__getitem__)
    return Stock(strokes_of, photo, file.fonts.__getitem__)
