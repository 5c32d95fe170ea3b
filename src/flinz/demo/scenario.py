"""Fills an empty data folder with the Quillmere Allotments' photos and a sheet or two."""

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from importlib import resources
from pathlib import Path

from flinz.core.document import builtin
from flinz.core.document.recipe import recipe_of
from flinz.core.document.sheet import Sheet
from flinz.core.edition.naming import safe_stem
from flinz.core.edition.plan import Edition, Entry
from flinz.demo import composed, handmade, pieces
from flinz.demo.fitted import poster_tones, with_fitted
from flinz.store import editions, photos, pulls, sheets
from flinz.store import pieces as hand
from flinz.store import recipes as book
from flinz.store.database import connect, migrate
from flinz.store.pictures import FOLDER, KeptPictures, key_of


@dataclass(frozen=True)
class DemoPhoto:
    """A shipped photo and what the society says of it."""

    file: str
    title: str
    caption: str


PHOTOS = (
    DemoPhoto(
        "pears.jpg", "Two pears", "First of the crop from plot four, on the seed table's linen."
    ),
    DemoPhoto(
        "squashes.jpg",
        "Squashes, weighed in",
        "Eleven kilos for the autumn fair, under a flat grey sky.",
    ),
    DemoPhoto(
        "boots.jpg", "On the shed step", "Nobody has owned up to these since the October dig."
    ),
    DemoPhoto(
        "watering-can.jpg", "The zinc can", "Noon on the slabs; mint for the tea tent behind it."
    ),
    DemoPhoto("snail.jpg", "After rain", "By the water butt. For the zine, page seven."),
    DemoPhoto(
        "sunflower.jpg", "Tallest of plot two", "Two metres ninety. Goes on the seed packet."
    ),
    DemoPhoto(
        "hedgehog.jpg",
        "Visitor at the compost",
        "Seen most evenings behind the bays; the society's badge, if it holds still.",
    ),
    DemoPhoto(
        "scarecrow.jpg",
        "Old Barnaby",
        "The scarecrow of plot nine, wanted on this year's T-shirt.",
    ),
)


def _begun(recipe: str, title: str) -> Callable[[str], Sheet]:
    return lambda photo: builtin.named(recipe).on(photo, title)


# Photo file, and the sheet made from it.
SHEETS: tuple[tuple[str, Callable[[str], Sheet]], ...] = (
    ("hedgehog.jpg", _begun("ink-line", "Badge for the compost rota")),
    ("sunflower.jpg", pieces.packet),
    ("scarecrow.jpg", _begun("pencil", "Old Barnaby for the autumn fair")),
    ("squashes.jpg", pieces.poster),
    ("scarecrow.jpg", pieces.tee),
)
# How large the page shows sheets on the shelf.
SHELF_PX = 560
# The sheet that the demo's edition is drawn by.
PACKETS_BY = composed.PACKET.sheet.title


def fill(folder: Path) -> None:
    """Put the demo's photos and sheets into a data folder that has none."""
    folder.mkdir(parents=True, exist_ok=True)
    db = connect(folder / "flinz.sqlite3")
    try:
        migrate(db)
        if photos.every(db) or sheets.every(db):
            return
        ids = {
            photo.file: photos.add(db, picture(photo.file), photo.title, photo.caption).id
            for photo in PHOTOS
        }
        kept = KeptPictures(folder / FOLDER)
        for sheet, work, follows in begun(ids):
            hand.put_all(db, work)
            record = sheets.add(db, with_fitted(sheet) if follows else sheet)
            drawn = drawn_before(sheet.title)
            if drawn is not None:
                kept.put(key_of(record.sheet.picture.photo, record.sheet, SHELF_PX), drawn)
            for name, pull in [] if follows else pieces.pulls(sheet):
                pulls.keep(db, record.id, name, pull)
        packet = next(each for each in sheets.every(db) if each.sheet.title == PACKETS_BY)
        title = next(plate.id for plate in packet.sheet.plates if plate.name == "title")
        editions.add(
            db,
            Edition(
                title="A packet for every photo",
                sheet=packet.id,
                words={title: "{title}"},
                names="packet {number} {title}",
                entries=[Entry(id=k, photo=photo) for k, photo in enumerate(ids.values(), 1)],
            ),
        )
        poster = pieces.poster(ids["squashes.jpg"])
        book.add(db, recipe_of(poster, *pieces.POSTER_RECIPE, made_on=poster_tones()))
    finally:
        db.close()


def begun(ids: dict[str, str]) -> Iterator[tuple[Sheet, dict[str, bytes], bool]]:
    """Every sheet of the demo, on photos by their file: with its hand work, and whether its dials
    follow the photo. Pieces were fitted when they were made, and turned on from there.
    """
    for file, begin in SHEETS:
        yield begin(ids[file]), {}, begin not in pieces.ALL
    for made in (*handmade.ALL, *composed.ALL):
        sheet, work = made.on(ids[made.photo])
        yield composed.with_photos(sheet, ids), work, True


def drawn_before(title: str) -> bytes | None:
    """A sheet as it is drawn, small, as PNG (tools/demo_fitted.py): on a fresh machine what draws
    it is not compiled yet.
    """
    file = resources.files("flinz.demo") / "drawn" / f"{safe_stem(title)}.png"
    return file.read_bytes() if file.is_file() else None


def picture(file: str) -> bytes:
    """The bytes of a shipped photo."""
    return (resources.files("flinz.demo") / "photos" / file).read_bytes()
