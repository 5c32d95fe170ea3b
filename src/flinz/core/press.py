"""Draws sheets, and tells figures, marks and suggestions of them; remembers every step."""

from flinz.core.document import Plate, Sheet
from flinz.core.figures import Figures, ink_share, plate_shares
from flinz.core.filters import Plane
from flinz.core.framing import whole
from flinz.core.kept import Kept
from flinz.core.looks import look_of
from flinz.core.looks.look import Marks
from flinz.core.photo import Photo
from flinz.core.run import WHOLE_SHEET, Picture, Run, Stop, Subject, never
from flinz.core.scale import Frame
from flinz.core.stages import tone
from flinz.core.threads import threads_for

MEMORY_BYTES = 200_000_000
SUGGESTION_LONG_EDGE_PX = 480


class Press:
    """Draws sheets and remembers every step.

    counts tells how often each kind of step was worked out, not taken from memory.
    """

    def __init__(self, memory_bytes: int = MEMORY_BYTES) -> None:
        self.memory = Kept(memory_bytes)
        self.counts = self.memory.counts

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
        run = Run(self.memory, photo, sheet, exact, stop, draft)
        # A draft comes while a hand turns, and what shows it keeps another core busy.
        pixels = 0 if draft else frame.width * frame.height * (1 if exact else 4)
        with threads_for(pixels):
            return run.pictured(subject, frame)

    def cover(
        self, photo: Photo, sheet: Sheet, plate: Plate, frame: Frame, *, exact: bool = False
    ) -> Plane:
        """Ink 0..1 of one plate after Clean, (H, W) float32."""
        return Run(self.memory, photo, sheet, exact, never).cover(plate, frame, "clean")

    def figures(
        self, photo: Photo, sheet: Sheet, frame: Frame, *, exact: bool = False, draft: bool = False
    ) -> Figures:
        """Figures of the shown plates in a frame; marks are those of the whole sheet.

        A draft has no count of marks: to know it would be to settle them.
        """
        run = Run(self.memory, photo, sheet, exact, never, draft)
        shown = [plate for plate in sheet.plates if plate.shown]
        covers = {plate.id: run.inked(plate, frame) for plate in shown}
        found = Figures(ink=ink_share(list(covers.values())))
        if len(shown) > 1:
            found = found.model_copy(update={"plates": plate_shares(covers)})
        drawn = [plate for plate in shown if look_of(plate.draw).draws_marks]
        if draft or not drawn:
            return found
        lots = [self.marks(photo, sheet, plate) for plate in drawn]
        return found.model_copy(update={"marks": sum(len(lot) for lot in lots if lot is not None)})

    def marks(self, photo: Photo, sheet: Sheet, plate: Plate) -> Marks | None:
        """The dots or strokes of a plate on the whole sheet; None for looks without marks."""
        look, run = look_of(plate.draw), Run(self.memory, photo, sheet, False, never)
        return look.marks(plate.draw, run.desk(plate)) if look.marks else None

    def predicted(self, photo: Photo, sheet: Sheet, plate: Plate) -> int | None:
        """About how many marks there will be, without placing them."""
        look, run = look_of(plate.draw), Run(self.memory, photo, sheet, False, never)
        return look.predicted(plate.draw, run.desk(plate)) if look.predicted else None

    def suggestions(self, photo: Photo, sheet: Sheet, plate: Plate) -> dict[str, float]:
        """Values that suit this photo, by "stage.name", given the stages before each."""
        frame = whole(sheet, photo, SUGGESTION_LONG_EDGE_PX)
        run = Run(self.memory, photo, sheet, False, never)
        look = look_of(plate.draw)
        before = run.keeper("suggested", run.photo_key, frame)
        of_tone = before(
            "tone",
            (plate.tone.mix, plate.tone.light),
            lambda: tone.suggested(run.lit(plate.tone, frame)),
        )
        keep = run.keeper("suggested", run.key_of(plate, "smooth"), frame)
        of_draw = keep("draw", look.name, lambda: look.suggested(run.smoothed(plate, frame)))
        if look.suggested_by_eyes and (eyes := run.eyes(plate)):
            of_draw = of_draw | look.suggested_by_eyes(eyes)
        found = {f"tone.{name}": value for name, value in of_tone.items()}
        return found | {f"draw.{name}": value for name, value in of_draw.items()}
