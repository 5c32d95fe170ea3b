"""Write what is fitted to the demo's photos into src/flinz/demo/fitted.json, for fresh machines."""

import json
from functools import cache
from pathlib import Path
from typing import Any

from flinz.core.hand.pieces import id_of, read
from flinz.core.planes.decoding import decode
from flinz.core.planes.photo import Photo
from flinz.core.press import fitting
from flinz.core.press.press import Press
from flinz.core.press.results import Stock
from flinz.demo import fitted, pieces
from flinz.demo.scenario import PHOTOS, begun, picture

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


def main() -> None:
    """Write it."""
    TARGET.write_text(json.dumps(fitted_anew(), indent=1) + "\n")


if __name__ == "__main__":
    main()
