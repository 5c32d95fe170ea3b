"""Write what is made of the demo's photos beforehand, for fresh machines: what is fitted to them
(src/flinz/demo/fitted.json), and how its sheets look on the shelf (src/flinz/demo/drawn).
"""

import io
import json
import tempfile
from collections.abc import Collection, Iterator
from contextlib import closing
from functools import cache
from pathlib import Path
from typing import Any

from PIL import Image

from flinz.core.deliver.packed import stock_of
from flinz.core.edition.naming import safe_stem
from flinz.core.hand.pieces import id_of, read
from flinz.core.planes.decoding import decode
from flinz.core.planes.photo import Photo
from flinz.core.press import fitting
from flinz.core.press.press import Press
from flinz.core.press.results import Stock
from flinz.demo import fitted, pieces
from flinz.demo.scenario import PHOTOS, SHELF_PX, begun, fill, picture
from flinz.server.pictures import png_of_sheet
from flinz.store import sheets
from flinz.store.database import connect

COLOURS = 64
TARGET = Path(fitted.__file__).with_name(fitted.FILE)


def fitted_anew() -> dict[str, Any]:
    """What the file should hold."""
    data = {photo.file: picture(photo.file) for photo in PHOTOS}
    ids = {file: id_of(held) for file, held in data.items()}
    by_id = {ids[file]: held for file, held in data.items()}
    work: dict[str, bytes] = {}

    @cache
    def photo(name: str) -> Photo:
        return decode(by_id[name], name)

    press = Press(stock=Stock(lambda name: read(name, work.__getitem__), photo))
    found = {}
    for sheet, hand, follows in begun(ids):
        work |= hand
        if follows:
            fit = fitting.fitted(press, photo(sheet.picture.photo), sheet)
            values = fitted.told(sheet, fit)
            if values:
                found[sheet.title] = values
    poster = pieces.poster(ids["squashes.jpg"])
    tones = press.tones(photo(ids["squashes.jpg"]), poster)
    return {"sheets": found, "poster": tones.model_dump(mode="json")}


def drawn_anew(titles: Collection[str] | None = None) -> Iterator[tuple[str, bytes]]:
    """The sheets of the demo, or those of some titles, as PNGs for the shelf."""
    with tempfile.TemporaryDirectory() as folder:
        fill(Path(folder))
        with closing(connect(Path(folder) / "flinz.sqlite3")) as db:
            for record in sheets.every(db):
                if titles is not None and record.sheet.title not in titles:
                    continue
                file = sheets.as_file(db, record.id)
                stock = stock_of(file)
                photo = stock.photo_of(file.sheet.picture.photo)
                data = png_of_sheet(Press(stock=stock), photo, file.sheet, SHELF_PX)
                yield record.sheet.title, data


def main() -> None:
    """Write it."""
    TARGET.write_text(json.dumps(fitted_anew(), indent=1) + "\n")
    drawn = TARGET.with_name("drawn")
    drawn.mkdir(exist_ok=True)
    for title, data in drawn_anew():
        picture = Image.open(io.BytesIO(data))
        # Small enough to be shipped, and nobody sees a difference.
        few = picture.quantize(COLOURS, dither=Image.Dither.NONE)
        few.save(drawn / f"{safe_stem(title)}.png", "PNG", optimize=True)


if __name__ == "__main__":
    main()
