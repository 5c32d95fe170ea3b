"""What every request shares: the store's place, the press, the decoded photos, the jobs."""

import gc
import threading
from collections.abc import Callable, Iterator
from concurrent.futures import CancelledError, Future
from contextlib import closing
from functools import partial
from hashlib import sha256
from pathlib import Path
from sqlite3 import Connection
from typing import Annotated, Any, Generic, TypeVar

from anyio import CapacityLimiter
from fastapi import Depends
from pydantic import Field
from starlette.requests import HTTPConnection

from flinz.core.deliver.artwork import Artwork
from flinz.core.deliver.format import Delivery
from flinz.core.deliver.meanwhile import Meanwhile, all_meanwhile, drawn_meanwhile
from flinz.core.deliver.packed import stock_of
from flinz.core.deliver.plotter import Plot, PlotterWish, lines_of, plot_of
from flinz.core.deliver.redrawn import with_shapes
from flinz.core.deliver.within import with_shapes_within
from flinz.core.document.sheet import Sheet
from flinz.core.edition.task import Order
from flinz.core.hand.pieces import id_of, read
from flinz.core.hand.strokes import Stroke, packed
from flinz.core.planes.photo import Photo
from flinz.core.press.memory import Memory
from flinz.core.press.press import Press
from flinz.core.press.results import Stock
from flinz.core.press.stopping import Stop
from flinz.errors import NotReadyError
from flinz.server.editions import Editions
from flinz.server.jobs import Jobs
from flinz.server.orders import Orders
from flinz.server.pictures import png_of_sheet
from flinz.server.quiet import LOOK_SECONDS, SharedWork, quiet_pool
from flinz.server.readiness import Readiness
from flinz.server.tracings import Tracings
from flinz.store import fonts, photos, pieces
from flinz.store.opening import Store
from flinz.store.pictures import FOLDER, KeptPictures, key_of

T = TypeVar("T")
Judge = Callable[[Press, Photo, Sheet, Stop], T]

PHOTO_BYTES = 300_000_000
PICTURE_BYTES = 16_000_000
DRAWN_AT_ONCE = 4
SERIES_THREADS = 2
SERIES_BYTES = 60_000_000
# Of the pixels of a small picture, how many its photo has: looks draw at twice as many.
FINER = 2.25
# How long a mark takes to be placed and drawn, until that is measured here.
SECONDS_A_MARK = 1.5e-5
# Strokes being made that are known at once: each picture of a page asks for its own.
MAX_UNFINISHED = 64
# Judgements that wait at most.
MAX_JUDGEMENTS = 8


class Studio:
    """One running Flinz: its data folder and what it keeps in memory."""

    def __init__(self, folder: Path, readiness: Readiness | None = None, address: str = "") -> None:
        """Open the store in folder. Raises StoreError if that cannot be done."""
        self.store = Store(folder, address)
        self.readiness = readiness or Readiness()
        stock = Stock(self.strokes_of, self.photo, self._font_named, self._made_of)
        self.press = Press(gate=self.readiness.check, stock=with_shapes_within(stock))
        self._making = threading.Lock()
        self._unfinished: dict[str, tuple[str | None, Stroke]] = {}
        # As it was lately.
        self.seconds_a_mark = SECONDS_A_MARK
        # Drawings of all pages together, in threads that no other request needs.
        self.drawn_at_once = CapacityLimiter(DRAWN_AT_ONCE)
        self._leaving = threading.Event()
        self._warming = threading.Thread(target=self._make_ready, name="make-ready")
        self._photos = Memory(PHOTO_BYTES)
        self._judging = quiet_pool("judging")
        self._asking, self._asked = threading.Lock(), list[Future[Any]]()
        self._pictures = Memory(PICTURE_BYTES)
        self._kept = KeptPictures(folder / FOLDER)
        self._picturing = SharedWork("pictures")
        # A series comes as fast as this machine draws.
        self._series = SharedWork("series", SERIES_THREADS)
        self.tracings = Tracings()
        # The press that draws changed shapes, and what these do to plates that are not traced yet.
        self._reshaped, self._meanwhile = _Latest[Press](), _Latest[dict[str, Meanwhile]]()
        # Another pen draws the same lines.
        self._lines, self._plots = _Latest[Artwork](), _Latest[Plot]()
        self.orders = Orders(self)
        self.editions = Editions(self.store.connect, folder / "editions", self.readiness.wait)
        self.jobs = Jobs(self.store.connect, folder / "exports", self.press, self.readiness.wait)

    def photo(self, photo_id: str) -> Photo:
        """A decoded photo, kept while there is room; the store is opened where it is not."""

        def load() -> Photo:
            with closing(self.store.connect()) as db:
                return photos.loaded(db, photo_id)

        held: Photo = self._photos.get(photo_id, load)
        return held

    def _font_named(self, font_id: str) -> bytes:
        with closing(self.store.connect()) as db:
            return fonts.get(db, font_id)

    def strokes_of(self, list_id: str) -> list[Stroke]:
        """The strokes of hand work, one that is being made included. Raises NotFoundError."""
        with self._making:
            made = self._unfinished.get(list_id)
        if made is not None:
            of, stroke = made
            return [*(self.strokes_of(of) if of else []), stroke]
        with closing(self.store.connect()) as db:
            return read(list_id, partial(pieces.get, db))

    def _made_of(self, list_id: str) -> str | None:
        with self._making:
            made = self._unfinished.get(list_id)
        return list_id if made is None else made[0]

    def unfinished(self, of: str | None, stroke: Stroke) -> str:
        """A name for a list with a stroke that is still being made; only the last few are known."""
        name = id_of(f"{of}:unfinished".encode() + packed(stroke))
        with self._making:
            self._unfinished[name] = (of, stroke)
            while len(self._unfinished) > MAX_UNFINISHED:
                self._unfinished.pop(next(iter(self._unfinished)))
        return name

    def photo_of(self, sheet: Sheet) -> Photo:
        """The photo of a sheet's picture."""
        return self.photo(sheet.picture.photo)

    def small_picture(self, photo_id: str, sheet: Sheet, long_edge_px: int, gone: Stop) -> bytes:
        """A sheet for a list, as PNG; kept, also for the next start. It gives way to live pictures.

        gone: whether nobody waits for it any more. Raises NotReadyError where it cannot be drawn
        yet: a browser asks for few things at a time, and what waits here would hold up all else.
        """
        key = key_of(photo_id, sheet, long_edge_px)

        def draw(stop: Stop) -> bytes:
            photo = self.photo(photo_id)
            return png_of_sheet(self.press, photo, sheet, long_edge_px, stop)

        return self._small(key, self._picturing, draw, gone)

    def series_picture(self, photo_id: str, order: Order, long_edge_px: int, gone: Stop) -> bytes:
        """A photo as its edition draws it, small, as PNG; kept while there is room.

        gone: whether nobody waits for it any more. Raises NotReadyError, PhotoError.
        """

        def draw(stop: Stop) -> bytes:
            # Decoded here, and let go again: a series would push out what is worked on.
            with closing(self.store.connect()) as db:
                record = photos.one(db, photo_id)
                wanted = order.template.least_px(record.width, record.height, FINER * long_edge_px)
                photo = photos.loaded(db, photo_id, wanted)
            stock = stock_of(order.template.file)
            press = Press(SERIES_BYTES, gate=self.readiness.check, stock=stock)
            return png_of_sheet(press, photo, order.sheet(press, photo), long_edge_px, stop)

        key = sha256(f"{order.drawing_mark(photo_id)} {long_edge_px}".encode()).hexdigest()
        return self._small(key, self._series, draw, gone)

    def _small(
        self, key: str, work: SharedWork, draw: Callable[[Stop], bytes], gone: Stop
    ) -> bytes:
        """A small picture by its key: from memory or the folder, or drawn once for all who ask."""

        def make() -> bytes:
            return self._kept.get(key, lambda: work.done(key, draw, gone))

        held: bytes = self._pictures.get(key, make)
        return held

    def reshaped(self, key: str, photo: Photo, sheet: Sheet) -> Press:
        """A press that draws a sheet's changed shapes, from the tracing of a key, as well as it
        can where the sheet was changed since; the usual one where that is not in memory.
        """
        traced = self.tracings.held(key)
        if traced is None or not sheet.shapes:
            return self.press
        delivery = Delivery(self.press, photo, sheet)
        if traced.sheet.seen != sheet.seen:
            changes = f"{key} {[each.model_dump_json() for each in sheet.shapes]}"
            return drawn_meanwhile(
                delivery,
                self._meanwhile.get(changes, lambda: all_meanwhile(traced, sheet.shapes, changes)),
            )
        said = f"{key} {sheet.model_dump_json()}"
        return self._reshaped.get(said, lambda: with_shapes(delivery, traced).press)

    def plot(self, photo: Photo, sheet: Sheet, wish: PlotterWish, stop: Stop) -> Plot:
        """What pens would draw of a sheet. Raises DocumentError where it has greys, Stopped."""
        traced = wish.model_dump_json(exclude={"nib", "to_width"})
        said = f"{photo.key} {sheet.model_dump_json()} {traced}"
        delivery = Delivery(self.press, photo, sheet, stop=stop)
        artwork = self._lines.get(said, lambda: lines_of(delivery, wish))
        said = f"{said} {wish.model_dump_json()}"
        return self._plots.get(said, lambda: plot_of(artwork, wish))

    def judged(self, judge: Judge[T], photo: Photo, sheet: Sheet, gone: Stop) -> T:
        """What a slow judgement of a sheet comes to; one at a time, giving way to live pictures.

        gone: whether nobody waits for it any more. Raises NotReadyError where others came later
        and too many wait, Stopped where it is given up.
        """
        asked = self._judging.submit(judge, self.press, photo, sheet, gone)
        with self._asking:
            self._asked = [each for each in self._asked if not each.done()] + [asked]
            while len(self._asked) > MAX_JUDGEMENTS:
                # Whoever asked first has most likely gone on to something else.
                self._asked.pop(0).cancel()
        while True:
            try:
                return asked.result(timeout=LOOK_SECONDS)
            except CancelledError:
                raise NotReadyError("Too much is being judged at once. Ask again.") from None
            except TimeoutError:
                if gone():
                    asked.cancel()

    def judged_once(
        self, what: str, judge: Judge[bytes], photo: Photo, sheet: Sheet, gone: Stop
    ) -> bytes:
        """What judged() comes to, kept while there is room: a page may open the sheet again.

        what: the name of the judgement.
        """
        key = f"{what} {key_of(photo.key, sheet, 0)}"
        held: bytes = self._pictures.get(key, lambda: self.judged(judge, photo, sheet, gone))
        return held

    def open(self) -> None:
        """Begin to make ready what is made at first use."""
        self._warming.start()

    def is_leaving(self) -> bool:
        """Whether it is being stopped: what takes long gives up, and who watches leaves."""
        return self._leaving.is_set()

    def leave(self) -> None:
        """Tell all that takes long that it is being stopped."""
        self._leaving.set()

    def close(self) -> None:
        """Stop what is under way, and wait for it."""
        self.leave()
        self.jobs.close()
        self.editions.close()
        self._series.close()
        self.tracings.close()
        self._judging.shutdown(wait=True, cancel_futures=True)
        self._picturing.close()
        # A program that ends while a kernel runs in one of its threads is aborted.
        if self._warming.is_alive():
            self._warming.join()
        self.store.close()

    def _make_ready(self) -> None:
        self.readiness.make_ready(self.is_leaving)
        # What is there by now stays for good. To look through it for garbage takes a fifth of a
        # second, in which no picture is drawn.
        gc.collect()
        gc.freeze()


class _Latest(Generic[T]):
    """What was made last, with what it is of."""

    def __init__(self) -> None:
        self._last: tuple[str, T] | None = None

    def get(self, of: str, make: Callable[[], T]) -> T:
        """What that is of; made now where it was not the last."""
        # Several threads may ask for different ones.
        last = self._last
        if last is None or last[0] != of:
            last = self._last = of, make()
        return last[1]


def studio_of(connection: HTTPConnection) -> Studio:
    """The application's studio."""
    studio: Studio = connection.app.state.studio
    return studio


def database(studio: Annotated[Studio, Depends(studio_of)]) -> Iterator[Connection]:
    """A connection for one request."""
    db = studio.store.connect()
    try:
        yield db
    finally:
        db.close()


# What rows are numbered by; SQLite counts no further.
Id = Annotated[int, Field(ge=0, le=2**63 - 1)]
TheStudio = Annotated[Studio, Depends(studio_of)]
Db = Annotated[Connection, Depends(database)]
