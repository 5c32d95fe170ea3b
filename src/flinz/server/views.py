"""The pictures a page asks for, and how one of them is drawn."""

import struct
import time
from contextlib import closing
from dataclasses import replace
from functools import cached_property, partial
from typing import Annotated, Any

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel, Field, ValidationError

from flinz.core.deliver.format import Delivery
from flinz.core.deliver.plotter import PlotterWish
from flinz.core.deliver.raster import PictureWish, shown
from flinz.core.deliver.registry import AnyWish
from flinz.core.deliver.simulated import plotted_part
from flinz.core.document import builtin
from flinz.core.document.plate import Plate, StageName
from flinz.core.document.reading import sentence_of
from flinz.core.document.setting import with_value
from flinz.core.document.sheet import Sheet
from flinz.core.judge.bad_day import BadDay, printed_badly
from flinz.core.looks.registry import look_of
from flinz.core.planes.photo import Photo
from flinz.core.press import fitting
from flinz.core.press.figures import Figures
from flinz.core.press.framing import whole
from flinz.core.press.press import Lying, Press
from flinz.core.press.proofing import Subject, What
from flinz.core.press.remembering import FIRST_STAGES
from flinz.core.press.stopping import Stop, never
from flinz.core.scale import Frame, region_frame
from flinz.errors import DocumentError, NotReadyError
from flinz.server.said import SaidStroke
from flinz.server.standing import Measured, Painted, Patch, Standing, Stood, around
from flinz.server.studio import Studio
from flinz.store import recipes as book

MAX_VIEWS = 96
MAX_VIEW_PIXELS = 10_000_000
# Above so many marks it is said how long it takes to place them.
MANY_MARKS = 100_000
# Steps of 255 that no eye tells apart.
UNSEEN = 2

Share = Annotated[float, Field(ge=0, le=1, allow_inf_nan=False)]
Value = bool | float | Annotated[str, Field(max_length=40)]


class View(BaseModel):
    """One picture the page wants: what, how large the whole sheet would be, and which part.

    look: draw the plate with this look at its starting values instead of its own.
    dials: draw the plate with these values instead, by "stage.name". recipe: draw the photo by
    this recipe of the book instead. leaves: as it will leave, by this wish. bad_day: as a rough
    press would print it. traced: with changed shapes, by the key of their tracing. compared: tell
    whether dials change anything that can be seen. follows: every move of a dial; of these one at
    least is drawn even while a newer ask waits. draft: draw as quickly as the look can.
    """

    id: str = Field(max_length=40)
    what: What = "sheet"
    plate: str = ""
    stage: StageName = "ink"
    long_edge_px: int = Field(ge=1, le=60_000)
    region: tuple[Share, Share, Share, Share] = (0.0, 0.0, 1.0, 1.0)
    exact: bool = False
    look: str | None = None
    dials: dict[str, Value] = Field(default={}, max_length=8)
    recipe: str | None = Field(default=None, max_length=120)
    leaves: AnyWish | None = None
    bad_day: BadDay | None = None
    traced: str = Field("", max_length=64)
    compared: bool = False
    follows: bool = False
    draft: bool = False

    @property
    def is_of_sheet(self) -> bool:
        """Whether it shows the sheet as it is: figures are of that alone."""
        return self.what == "sheet" and self.recipe is None


class Ask(BaseModel):
    """A sheet and the pictures wanted of it; the first is the one being looked at."""

    ask: int
    sheet: dict[str, Any]
    # A stroke that is being made: drawn, and kept nowhere.
    unfinished: SaidStroke | None = None
    views: list[View] = Field(max_length=MAX_VIEWS)


class Answer(BaseModel):
    """Head of one picture. left..height are pixels of the whole sheet at this scale."""

    ask: int
    view: str
    left: int
    top: int
    width: int
    height: int
    full_width: int
    full_height: int
    channels: int
    ms: float
    # A draft shows the right thing a little rougher; the settled picture follows.
    draft: bool = False
    figures: Figures | None = None
    suggestions: dict[str, float] | None = None
    # Of a view with a look: the settings it was drawn with, and which of them fit the photo.
    drawn_with: dict[str, Any] | None = None
    fitted: list[str] = []
    # Of the main picture, settled, where its plate's look draws marks: how many that plate has.
    marks: int | None = None
    # Of the main picture: the share of the sheet on which its plate may print, where it has a mask.
    prints: float | None = None
    # Of the main picture, settled: how what each plate is drawn from lies.
    lying: list[Lying] | None = None
    # Of a compared view: whether it looks as the sheet does without its dials.
    alike: bool | None = None
    # Of a view of what pens will draw: how much that is and how long it takes, in words.
    plotted: str | None = None


class Placing(BaseModel):
    """Said before very many marks are placed: how many, of what, and how long it may take."""

    ask: int
    marks: int
    of: str
    seconds: float


def parsed_ask(text: str) -> Ask:
    """An ask from its JSON. Raises DocumentError."""
    try:
        return Ask.model_validate_json(text)
    except ValidationError as error:
        raise DocumentError(sentence_of(error)) from error


class Drawing:
    """The pictures of one ask."""

    def __init__(
        self,
        studio: Studio,
        sheet: Sheet,
        number: int,
        unfinished: SaidStroke | None = None,
        standing: Standing | None = None,
    ) -> None:
        """standing: what the page was shown, which strokes are drawn over."""
        self._studio = studio
        self._saved = sheet
        self._unfinished = unfinished
        self._standing = standing or Standing()
        # Of the picture looked at: what is drawn anew of it, or that it was painted already.
        self._patch: Patch | None = None
        self._shown: Stood | None = None
        # What draws the sheet with its changed shapes, by the tracing.
        self._presses: dict[str, Press] = {}
        self.number = number

    @cached_property
    def _sheet(self) -> Sheet:
        """The sheet, with a stroke that is still being made."""
        said, saved = self._unfinished, self._saved
        if said is None or said.stage == "photo" or said.by != "brush":
            return saved
        said.check()
        of = said.list_in(saved)
        made = self._studio.unfinished(of, said.stroke(self._studio.press, self._photo, saved))
        return saved.with_plate(saved.plate(said.plate).with_hand(said.stage, made))

    @cached_property
    def _photo(self) -> Photo:
        return self._studio.photo_of(self._saved)

    def painted(self, views: list[View]) -> Painted:
        """What is painted of the sheet, and whether the first of these views shows it in place."""
        if not views:
            return Painted.NOTHING
        said = self._unfinished
        if said is None:
            self._standing.left(self._saved)
        stood = self._standing.under(self._saved, views[0])
        if said is None:
            if stood is None:
                return Painted.NOTHING
            if stood.answer.draft:
                self._shown = stood
                return Painted.WAITING
            # What is changed of shapes is seen, too, where they are drawn from a tracing.
            is_same = stood.sheet.shapes == self._saved.shapes
            return Painted.NO_MORE if is_same else Painted.NOTHING
        self._patch = None if stood is None else self._patch_of(said, stood, views[0])
        # A stroke that goes over much is drawn as all drafts are.
        return Painted.SOMEWHERE if self._patch is None else Painted.IN_PLACE

    def _patch_of(self, said: SaidStroke, stood: Stood, view: View) -> Patch | None:
        if said.stage in ("photo", "lines") or said.by != "brush":
            return None
        frame = region_frame(whole(self._saved, self._photo, view.long_edge_px), view.region)
        answers_mm = self._studio.press.answers_mm(self._photo, self._saved)
        found = around(said, frame, answers_mm)
        return Patch(said, stood, frame, *found) if found else None

    def draft(self, view: View, scale: float) -> tuple[bytes, float]:
        """The main picture at a share of its size, without the finer drawing that is shrunk.

        Of a stroke over a picture that stands only what lies round it; once it is made it is drawn
        already. Suggestions are empty: they come with the settled picture.
        """
        if self._patch is not None:
            return self._patched(self._patch, view, scale)
        if self._shown is not None:
            answer = self._shown.answer.model_copy(update={"ask": self.number})
            return packed(answer, self._shown.pixels), 0.0
        edge = max(1, round(view.long_edge_px * scale))
        coarse = view.model_copy(update={"exact": True, "long_edge_px": edge})
        return self._drawn(coarse, is_main=True, draft=True)

    def draw_main(self, view: View, stop: Stop) -> tuple[bytes, float]:
        """The picture being looked at, with figures and suggestions."""
        return self._drawn(view, is_main=True, stop=stop)

    def draw(self, view: View, stop: Stop) -> tuple[bytes, float]:
        """Another picture; gives way when stop() turns true."""
        return self._drawn(view, stop=stop)

    def _patched(self, patch: Patch, view: View, scale: float) -> tuple[bytes, float]:
        """What stands of a view, with the stroke that is made."""
        began = time.perf_counter()
        sheet, frame = self._as_wanted(view), patch.part
        if scale < 1:
            edge = max(1, round(view.long_edge_px * scale))
            frame = patch.coarse(whole(sheet, self._photo, edge))
        subject = Subject(view.what, view.plate, view.stage)
        # Marks are quick to draw as finely as they settle; what decides otherwise is not.
        shown = [plate for plate in sheet.plates if plate.shown]
        exact = view.exact or not all(look_of(plate.draw).draws_marks for plate in shown)
        press = self._press_of(view, sheet)
        drawn = press.proof(self._photo, sheet, frame, subject, exact=exact, draft=True)
        pixels = patch.laid_over(drawn, frame)
        taken = (time.perf_counter() - began) * 1000
        update = {
            "ask": self.number,
            "draft": True,
            "suggestions": {},
            "marks": None,
            "channels": 1 if pixels.ndim == 2 else 3,
            "ms": round(taken, 1),
        }
        answer = patch.stood.answer.model_copy(update=update)
        self._standing.paint(patch.said, replace(patch.stood, answer=answer, pixels=pixels))
        return packed(answer, pixels), taken

    def _drawn(
        self,
        view: View,
        *,
        is_main: bool = False,
        draft: bool = False,
        stop: Stop = never,
    ) -> tuple[bytes, float]:
        began = time.perf_counter()
        studio = self._studio
        draft = draft or view.draft
        photo, sheet = self._photo, self._as_wanted(view)
        frame = region_frame(whole(sheet, photo, view.long_edge_px), view.region)
        if frame.width * frame.height > MAX_VIEW_PIXELS:
            raise DocumentError(
                f"This view has {frame.width:,} × {frame.height:,} pixels; up to "
                f"{MAX_VIEW_PIXELS / 1e6:.0f} million are shown. Make the window smaller."
            )
        pixels = self._pixels(photo, sheet, frame, view, draft, stop)
        answer = Answer(
            ask=self.number,
            view=view.id,
            left=frame.left,
            top=frame.top,
            width=frame.width,
            height=frame.height,
            full_width=frame.full_width,
            full_height=frame.full_height,
            channels=1 if pixels.ndim == 2 else 3,
            ms=0.0,
            draft=draft,
        )
        if view.compared:
            own = self._pixels(photo, self._sheet, frame, view, draft, stop)
            answer.alike = own.shape == pixels.shape and looks_alike(own, pixels)
        if isinstance(view.leaves, PlotterWish) and view.bad_day is None:
            answer.plotted = self._studio.plot(photo, sheet, view.leaves, stop).words
        if view.look is not None:
            plate = sheet.plate(view.plate)
            answer.drawn_with = plate.draw.model_dump(mode="json")
            answer.fitted = plate.fitted
        if is_main:
            plate = sheet.plate(view.plate) if view.plate else sheet.plates[0]
            of = draft, view.what, view.recipe, plate.id, [each.id for each in sheet.plates]
            measure = partial(self._measured, view, sheet, plate, frame, draft, stop)
            measured = self._standing.measured(of, measure, may_be_old=draft)
            answer.figures, answer.prints = measured.figures, measured.prints
            answer.suggestions = {} if draft else self._suggestions(photo, sheet, plate, stop)
            if view.is_of_sheet:
                answer.lying = None if draft else studio.press.lying(photo, sheet)
                answer.marks = None if draft else self._count(photo, sheet, plate, stop)
            if not draft and view.what in ("sheet", "stage") and self._unfinished is None:
                self._standing.settle(Stood(self._saved, view, answer, pixels))
        taken = (time.perf_counter() - began) * 1000
        answer.ms = round(taken, 1)
        return packed(answer, pixels), taken

    def _measured(
        self, view: View, sheet: Sheet, plate: Plate, frame: Frame, draft: bool, stop: Stop
    ) -> Measured:
        press, photo = self._studio.press, self._photo
        prints = press.prints(photo, sheet, plate, frame, draft=draft, stop=stop)
        if not view.is_of_sheet:
            return Measured(prints=prints)
        return Measured(
            press.figures(photo, sheet, frame, exact=view.exact, draft=draft, stop=stop), prints
        )

    def _count(self, photo: Photo, sheet: Sheet, plate: Plate, stop: Stop) -> int | None:
        if not (plate.shown and look_of(plate.draw).draws_marks):
            return None
        found = self._studio.press.marks(photo, sheet, plate, stop=stop)
        return None if found is None else len(found)

    def _pixels(
        self, photo: Photo, sheet: Sheet, frame: Frame, view: View, draft: bool, stop: Stop
    ) -> NDArray[np.uint8]:
        press = self._press_of(view, sheet)
        if view.bad_day is not None:
            badly = printed_badly(press, photo, sheet, frame, view.bad_day, stop)
            return np.ascontiguousarray(np.rint(badly * 255), np.uint8)
        if isinstance(view.leaves, PictureWish):
            return shown(Delivery(press, photo, sheet, stop=stop), frame, view.leaves)
        if isinstance(view.leaves, PlotterWish):
            return plotted_part(self._studio.plot(photo, sheet, view.leaves, stop), frame)
        subject = Subject(view.what, view.plate, view.stage)
        picture = press.proof(
            photo, sheet, frame, subject, exact=view.exact or view.draft, draft=draft, stop=stop
        )
        return np.ascontiguousarray(np.rint(picture * 255), np.uint8)

    def _press_of(self, view: View, sheet: Sheet) -> Press:
        if not view.traced:
            return self._studio.press
        if sheet is not self._sheet:
            return self._studio.reshaped(view.traced, self._photo, sheet)
        # Nearly all views of an ask are of the sheet itself; to compare its changes takes a while.
        if view.traced not in self._presses:
            found = self._studio.reshaped(view.traced, self._photo, sheet)
            self._presses[view.traced] = found
        return self._presses[view.traced]

    def placing(self, view: View, stop: Stop) -> Placing | None:
        """What is to be said before marks are placed for a view; None where they are few."""
        studio = self._studio
        if (
            view.what not in ("sheet", "stage")
            or view.recipe
            or (view.what == "stage" and view.stage in FIRST_STAGES)
        ):
            return None
        expected = studio.press.expected(self._photo, self._sheet, stop=stop)
        if expected is None or expected.marks <= MANY_MARKS:
            return None
        seconds = round(expected.marks * studio.seconds_a_mark, 1)
        return Placing(ask=self.number, marks=expected.marks, of=expected.of, seconds=seconds)

    def placed(self, placing: Placing, ms: float) -> None:
        """Learn how long marks take here."""
        self._studio.seconds_a_mark = ms / 1000 / placing.marks

    def _suggestions(
        self, photo: Photo, sheet: Sheet, plate: Plate, stop: Stop
    ) -> dict[str, float]:
        try:
            return self._studio.press.suggestions(photo, sheet, plate, stop=stop)
        except NotReadyError:
            # The photo or an early stage can be shown before all that suggests can run.
            return {}

    def _as_wanted(self, view: View) -> Sheet:
        """The sheet with what a view has drawn otherwise."""
        sheet = self._sheet
        if view.recipe is not None:
            with closing(self._studio.store.connect()) as db:
                recipe = book.one(db, view.recipe).recipe
            return fitting.on_photo(self._studio.press, self._photo, recipe, "")
        if view.look is not None:
            sheet = _with_look(self._studio, self._photo, sheet, view)
        return _with_dials(sheet, view) if view.dials else sheet


def _with_look(studio: Studio, photo: Photo, sheet: Sheet, view: View) -> Sheet:
    recipe = builtin.named(view.look or "").plates[0]
    plate = sheet.plate(view.plate)
    drawn = plate.model_copy(update={"draw": recipe.draw, "fitted": recipe.fitted})
    return fitting.fitted(studio.press, photo, sheet.with_plate(drawn))


def _with_dials(sheet: Sheet, view: View) -> Sheet:
    ids = [plate.id for plate in sheet.plates]
    number = ids.index(view.plate) if view.plate in ids else 0
    for path, value in view.dials.items():
        sheet = with_value(sheet, path, value, number)
    return sheet


def looks_alike(one: NDArray[np.uint8], other: NDArray[np.uint8]) -> bool:
    """Whether nobody would tell two pictures of one shape apart."""
    return int(np.abs(one.astype(np.int16) - other).max(initial=0)) <= UNSEEN


def packed(answer: Answer, pixels: NDArray[np.uint8]) -> bytes:
    """Length of the head (4 bytes, big-endian), the head as JSON, rows of grey or RGB bytes."""
    head = answer.model_dump_json().encode()
    return struct.pack(">I", len(head)) + head + pixels.tobytes()
