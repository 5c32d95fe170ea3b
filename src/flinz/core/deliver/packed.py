"""What a sheet file brings along, for a press to draw its sheet from."""

from functools import cache, partial

from flinz.core.deliver.within import with_shapes_within
from flinz.core.document.sheet_file import SheetFile, unpacked
from flinz.core.hand.pieces import read
from flinz.core.planes.decoding import decode
from flinz.core.planes.photo import Photo
from flinz.core.press.press import Press
from flinz.core.press.results import Stock
from flinz.errors import DocumentError


def opened(data: bytes, name: str) -> tuple[SheetFile, Press, Photo]:
    """A sheet file of a name, by its bytes: what it holds, what draws its sheet, and its photo.

    Raises DocumentError where it is none, or has no photo.
    """
    file = unpacked(data)
    if file.sheet.picture.photo not in file.photos:
        raise DocumentError(f"The sheet of {name} has no photo.")
    stock = stock_of(file)
    return file, Press(stock=stock), stock.photo_of(file.sheet.picture.photo)


def stock_of(file: SheetFile) -> Stock:
    """All that the sheet of a file names; each photo is decoded once, when it is asked for."""

    @cache
    def photo(name: str) -> Photo:
        return decode(file.photos[name].data, name)

    strokes_of = partial(read, get=file.hand.__getitem__)
    return with_shapes_within(Stock(strokes_of, photo, file.fonts.__getitem__))
