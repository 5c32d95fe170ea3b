"""The front of the room: draws sheets, tells figures, marks and suggestions; remembers all."""

import copy
import math
from collections.abc import Callable, Hashable, Mapping
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel

from flinz.core.document.plate import Plate, hand_of
from flinz.core.document.recipe import MadeOn
from flinz.core.document.sheet import Sheet
from flinz.core.document.source import Beneath, FromPicture
from flinz.core.document.tones import PhotoTones
from flinz.core.ground.faces import Type
from flinz.core.ground.lettering import Lettering
from flinz.core.ground.words import Words
from flinz.core.looks.look import Marks
from flinz.core.looks.registry import look_of
from flinz.core.planes.filters import Plane
from flinz.core.planes.photo import Photo
from flinz.core.planes.threads import threads_for
from flinz.core.press.developing import Picture
from flinz.core.press.figures import Figures, figures_of
from flinz.core.press.impressions import Impression, Instead, Over, on_nothing
from flinz.core.press.parts import PHOTO, needed, needed_for, needed_for_cutout
from flinz.core.press.proofing import WHOLE_SHEET, Proofing, Subject
from flinz.core.press.results import NONE, NOTHING, Results, Stock
from flinz.core.press.stopping import Stop, never
from flinz.core.press.told import Told
from flinz.core.scale import Frame
from flinz.core.stages import ink, tone
from flinz.core.stages.light import lit_from

MEMORY_BYTES = 200_000_000
SUGGESTION_LONG_EDGE_PX = 480
# Of marks: how many of their distances around the hand they answer; of all, what is seen of it.
MARKS_AROUND, MOST_ANSWERS_MM = 2.0, 12.0


@dataclass(frozen=True)
class Expected:
    """About how many marks of a look are still to be placed."""

    marks: int
    of: str


class Lying(BaseModel):
    """How something lies on the paper: its middle, its size before it is turned, mm, and its turn.

    missing: characters that its face has no glyph for.
    """

    plate: str
    x: float
    y: float
    width: float
    height: float
    turn: float
    missing: list[str] = []


class Press:
    """Draws sheets and remembers every step.

    counts tells how often each kind of step was worked out, not taken from memory. gate is asked
    before anything is drawn, with the parts (see flinz.core.press.parts) that it needs; it raises
    NotReadyError where one is not there yet. stock: what documents name, by id. instead: what
    plates leave that are not drawn by their looks, by id; such a press is for one sheet alone.
    """

    def __init__(
        self,
        memory_bytes: int = MEMORY_BYTES,
        gate: Callable[[set[str]], None] = lambda parts: None,
        stock: Stock = NOTHING,
        instead: Mapping[str, Instead] = NONE,
    ) -> None:
        self.gate = gate
        self.results = Results(memory_bytes, stock, instead)
        self.counts = self.results.counts
        # Of the sheet that was drawn last: its picture, figures and marks are asked for in turn.
        self._told: tuple[Sheet | None, Told] = None, Told()

    def with_over(self, over: Mapping[str, Over]) -> "Press":
        """This press, with its memory, which does something to what plates leave, by id."""
        found = copy.copy(self)
        found.results = self.results.with_over(over)
        return found

    def proof(
        self,
        photo: Photo,
        sheet: Sheet,
        frame: Frame,
        subject: Subject = WHOLE_SHEET,
        *,
        exact: bool = False,
        draft: bool = False,
        stop: Stop = never,
    ) -> Picture:
        """A picture of a sheet, stage or photo, float32 0..1, sRGB-encoded.

        (H, W) where it is neutral, else (H, W, 3). exact: draw as the export does; otherwise
        looks that decide black or white draw finer and are shrunk, as a shrunk export would be.
        draft: leave out what only settles marks; the same marks a little less even.
        Raises Stopped as soon as stop() is true.
        """
        self.gate(needed_for(sheet, subject))
        proofing = self._root(photo, sheet, exact, draft, stop)
        # A draft comes while a hand turns, and what shows it keeps another core busy.
        pixels = 0 if draft else frame.width * frame.height * (1 if exact else 4)
        with threads_for(pixels):
            return proofing.pictured(subject, frame)

    def cover(
        self,
        photo: Photo,
        sheet: Sheet,
        plate: Plate,
        frame: Frame,
        *,
        exact: bool = False,
        stop: Stop = never,
    ) -> Plane:
        """Ink 0..1 of one plate after Clean, where it is drawn, (H, W) float32. Raises Stopped."""
        self.gate(needed(plate))
        proofing = self._of_plate(photo, sheet, plate, stop, exact)
        return proofing.cover(plate, frame, "clean")

    def of_cover(
        self,
        photo: Photo,
        sheet: Sheet,
        plate: Plate,
        frame: Frame,
        by: Hashable,
        judge: Callable[[Plane], bytes],
        *,
        stop: Stop = never,
    ) -> bytes:
        """What is judged of the cover of a plate as it is exported, remembered as steps are.

        by: what decides the judgement besides. Raises Stopped.
        """
        self.gate(needed(plate))
        proofing = self._of_plate(photo, sheet, plate, stop, exact=True)

        def make() -> bytes:
            return judge(proofing.cover(plate, frame, "clean"))

        found: bytes = proofing.step("judged", proofing.cover_key(plate), by, frame, make)
        return found

    def plate(
        self,
        photo: Photo,
        sheet: Sheet,
        plate: Plate,
        frame: Frame,
        *,
        exact: bool = False,
        stop: Stop = never,
    ) -> Plane:
        """A plate's finished ink 0..1 where it lands on the sheet, in any frame of it.

        (H, W) float32: out of register and smeared as the plate's ink says. Raises Stopped.
        """
        self.gate(needed(plate))
        proofing = self._of_plate(photo, sheet, plate, stop, exact)
        return proofing.inked(plate, frame)

    def clear(
        self, photo: Photo, sheet: Sheet, frame: Frame, *, stop: Stop = never
    ) -> NDArray[np.float32]:
        """The inks of a sheet without its paper, (H, W, 4) float32 0..1, sRGB and alpha.

        Raises Stopped.
        """
        self.gate(needed_for(sheet, WHOLE_SHEET))
        proofing = self._root(photo, sheet, stop=stop)
        with threads_for(frame.width * frame.height):
            return on_nothing(proofing.impressions(frame), frame.height, frame.width)

    def impression(
        self,
        photo: Photo,
        sheet: Sheet,
        plate: Plate,
        frame: Frame,
        *,
        exact: bool = False,
        stop: Stop = never,
    ) -> Impression:
        """What a plate leaves on the sheet in a frame. Raises Stopped."""
        self.gate(needed_for(sheet, WHOLE_SHEET))
        proofing = self._of_plate(photo, sheet, plate, stop, exact)
        return proofing.impression(plate, frame)

    def hiding(
        self, photo: Photo, sheet: Sheet, plate: Plate, frame: Frame, *, stop: Stop = never
    ) -> Plane | None:
        """The share 0..1 of a frame from which a plate takes away what lies beneath; None where it
        covers nothing. The plate is not drawn for that. Raises Stopped.
        """
        self.gate(needed_for(sheet, WHOLE_SHEET))
        return self._of_plate(photo, sheet, plate, stop, exact=False).hides(plate, frame)

    def clipping(
        self, photo: Photo, sheet: Sheet, plate: Plate, frame: Frame, *, stop: Stop = never
    ) -> Plane | None:
        """The share 0..1 to which marks of a plate may print in a frame; None where all may.

        Raises Stopped.
        """
        self.gate(needed_for(sheet, WHOLE_SHEET))
        proofing = self._of_plate(photo, sheet, plate, stop, exact=True)
        return proofing.clipping(plate, frame)

    def alpha(
        self, photo: Photo, sheet: Sheet, frame: Frame, *, draft: bool = False, stop: Stop = never
    ) -> Plane:
        """How much of each pixel of a frame of the picture's box is subject, (H, W) float32 0..1.

        draft: a hard edge where no finer one is remembered. Raises Stopped.
        """
        self.gate(needed_for_cutout(sheet, draft))
        return self._root(photo, sheet, draft=draft, stop=stop).alpha(frame)

    def figures(
        self,
        photo: Photo,
        sheet: Sheet,
        frame: Frame,
        *,
        exact: bool = False,
        draft: bool = False,
        stop: Stop = never,
    ) -> Figures:
        """Figures of the shown plates in a frame; marks are those of the whole sheet.

        A draft has no count of marks: to know it would be to settle them. Raises Stopped.
        """
        self.gate(needed_for(sheet, WHOLE_SHEET))
        proofing = self._root(photo, sheet, exact, draft, stop)
        shown = [plate for plate in sheet.plates if plate.shown]
        covers = {plate.id: proofing.for_plate(plate).inked(plate, frame) for plate in shown}
        found = figures_of(covers)
        drawn = [plate for plate in shown if look_of(plate.draw).draws_marks]
        if draft or not drawn:
            return found
        lots = [self.marks(photo, sheet, plate, stop=stop) for plate in drawn]
        return found.model_copy(update={"marks": sum(len(lot) for lot in lots if lot is not None)})

    def prints(
        self,
        photo: Photo,
        sheet: Sheet,
        plate: Plate,
        frame: Frame,
        *,
        draft: bool = False,
        stop: Stop = never,
    ) -> float | None:
        """The share 0..1 of a frame on which a plate may print; None where it has no mask.

        Raises Stopped.
        """
        has_mask = not plate.ink.prints_everywhere or plate.ink.fading or "ink" in hand_of(plate)
        if not (has_mask or plate.photo.is_cut):
            return None
        self.gate(needed_for(sheet, WHOLE_SHEET))
        proofing = self._root(photo, sheet, draft=draft, stop=stop).for_plate(plate)
        mask = proofing.mask(plate, frame)
        return round(float(mask.mean(dtype=np.float64)), 4)

    def marks(
        self, photo: Photo, sheet: Sheet, plate: Plate, *, stop: Stop = never
    ) -> Marks | None:
        """The dots or strokes of a plate where they lie on the sheet; None for looks without marks.

        Those of the whole box, also what hangs over its edge or lies beside the paper. Raises
        Stopped.
        """
        self.gate(needed(plate, "draw"))
        look, proofing = look_of(plate.draw), self._of_plate(photo, sheet, plate, stop)
        if look.marks is None:
            return None
        found, laid = look.marks(plate.draw, proofing.desk(plate)), proofing.laid
        return found if laid.is_plain and laid.lay.scale == 1 else found.laid(laid.lay)

    def predicted(
        self, photo: Photo, sheet: Sheet, plate: Plate, *, stop: Stop = never
    ) -> int | None:
        """About how many marks there will be, without placing them. Raises Stopped."""
        self.gate(needed(plate, "draw"))
        look, proofing = look_of(plate.draw), self._of_plate(photo, sheet, plate, stop)
        return look.predicted(plate.draw, proofing.desk(plate)) if look.predicted else None

    def expected(self, photo: Photo, sheet: Sheet, *, stop: Stop = never) -> Expected | None:
        """What is still to be placed, of the shown plate that has most of it.

        None where no look can tell beforehand, or all of them stand already. Raises Stopped.
        """
        found = []
        for plate in sheet.plates:
            look = look_of(plate.draw)
            if plate.shown and look.predicted and look.draws_marks:
                proofing = self._of_plate(photo, sheet, plate, stop)
                if not look.are_placed(plate.draw, proofing.desk(plate)):
                    marks = self.predicted(photo, sheet, plate, stop=stop) or 0
                    found.append(Expected(marks, look.label))
        return max(found, key=lambda each: each.marks, default=None)

    def suggestions(
        self, photo: Photo, sheet: Sheet, plate: Plate, *, stop: Stop = never
    ) -> dict[str, float]:
        """Values that suit this photo, by "stage.name", given the stages before each.

        Raises Stopped.
        """
        self.gate(needed(plate, "draw"))
        proofing = self._of_plate(photo, sheet, plate, stop)
        frame = proofing.box.whole(SUGGESTION_LONG_EDGE_PX)
        look = look_of(plate.draw)
        before = proofing.keeper("suggested", proofing.photo_key, frame)
        of_tone = before(
            "tone",
            (plate.tone.pulls, plate.tone.light),
            lambda: tone.suggested(proofing.lit(plate.tone, frame)),
        )
        keep = proofing.keeper("suggested", proofing.key_after(plate, "again"), frame)
        of_draw = keep(
            "draw", look.name, lambda: look.suggested(proofing.smoothed(plate, frame), frame)
        )
        if look.suggested_by_eyes and (eyes := proofing.eyes(plate)):
            of_draw = of_draw | look.suggested_by_eyes(eyes)
        found = {f"tone.{name}": value for name, value in of_tone.items()}
        if sheet.paper.surface:
            root = self._root(photo, sheet, stop=stop)
            whole_box = root.box.whole(SUGGESTION_LONG_EDGE_PX)
            lit = root.keeper("suggested", root.photo_key, whole_box)(
                "light", None, lambda: lit_from(root.plain_grey(whole_box))
            )
            if lit is not None:
                found["paper.light_from"] = lit
        return found | {f"draw.{name}": value for name, value in of_draw.items()}

    def tones(self, photo: Photo, sheet: Sheet, *, stop: Stop = never) -> MadeOn:
        """The tones of what a sheet draws of a photo, and of what comes to each plate's curve.

        Raises Stopped.
        """
        self.gate({PHOTO}.union(*(needed(plate, "tone") for plate in sheet.plates)))
        proofing = self._root(photo, sheet, stop=stop)
        frame = proofing.box.whole(SUGGESTION_LONG_EDGE_PX)
        of_picture = [each for each in sheet.plates if isinstance(each.source, FromPicture)]
        lit = {plate.id: _tones(proofing.lit(plate.tone, frame)) for plate in of_picture}
        return MadeOn(photo=_tones(proofing.plain_grey(frame)), lit=lit)

    def lying(self, photo: Photo, sheet: Sheet) -> list[Lying]:
        """How what each plate is drawn from lies on the paper, in the order of plates."""
        root = self._root(photo, sheet)
        found = []
        for plate in sheet.plates:
            proofing = root.for_plate(plate)
            lay, room = proofing.laid.lay, proofing.made.room if proofing.made else 0.0
            found.append(
                Lying(
                    plate=plate.id,
                    x=round(lay.x, 3),
                    y=round(lay.y, 3),
                    width=round((lay.width - 2 * room) * lay.scale, 3),
                    height=round((lay.height - 2 * room) * lay.scale, 3),
                    turn=lay.turn,
                    missing=proofing.missing(plate),
                )
            )
        return found

    def words(
        self, photo: Photo, sheet: Sheet, plate: Plate, said: Lettering
    ) -> tuple[Words, Type]:
        """The words that a plate is drawn from, where they stand on the sheet before any register,
        mm, and their face. Raises NotFoundError for a font that is not here.
        """
        return self._root(photo, sheet).words_of(plate, said)

    def answers_mm(self, photo: Photo, sheet: Sheet) -> float:
        """How far beyond what the hand does a drawing answers to it, in mm of the paper: mostly."""
        root = self._root(photo, sheet)
        diagonal = math.hypot(*root.paper_mm)
        far = [_answers_mm(root.for_plate(each), each, diagonal) for each in sheet.plates]
        # What is drawn from the print beneath looks round from where that ends.
        is_drawn_again = any(isinstance(each.source, Beneath) for each in sheet.plates)
        return min(MOST_ANSWERS_MM, sum(far) if is_drawn_again else max(far))

    def placed(self, photo: Photo, sheet: Sheet, plate: Plate | None = None) -> Proofing:
        """How the sheet's picture lies, or what a plate is drawn from."""
        proofing = self._root(photo, sheet)
        return proofing if plate is None else proofing.for_plate(plate)

    def _root(
        self,
        photo: Photo,
        sheet: Sheet,
        exact: bool = False,
        draft: bool = False,
        stop: Stop = never,
    ) -> Proofing:
        of, told = self._told
        if of is not sheet:
            told = Told()
            self._told = sheet, told
        return Proofing(self.results, photo, sheet, exact, draft, stop, told=told)

    def _of_plate(
        self, photo: Photo, sheet: Sheet, plate: Plate, stop: Stop, exact: bool = False
    ) -> Proofing:
        return self._root(photo, sheet, exact, stop=stop).for_plate(plate)


def _answers_mm(proofing: Proofing, plate: Plate, diagonal_mm: float) -> float:
    look = look_of(plate.draw)
    # Marks stand where what lies around them lets them.
    apart = look.pitch(plate.draw) if look.pitch else 0.0
    of_box = proofing.reach_mm(plate) + MARKS_AROUND * apart
    return of_box * proofing.laid.lay.scale + ink.reach_mm(plate.ink, diagonal_mm)


def _tones(grey: Plane) -> PhotoTones:
    black, middle, white = (round(value, 4) for value in tone.extent(grey))
    return PhotoTones(black=black, middle=middle, white=white)
