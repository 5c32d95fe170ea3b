"""One proof being made: what each stage and plate comes to, in any frame."""

import math
from collections.abc import Callable, Hashable
from dataclasses import dataclass
from typing import Literal

import numpy as np

from flinz.core.document.sheet import Plate, StageName
from flinz.core.keeping import Keep, keep_nothing
from flinz.core.looks.desk import Desk
from flinz.core.looks.registry import look_of
from flinz.core.planes.filters import Plane, averaged
from flinz.core.press.developing import Developing, Picture
from flinz.core.press.framing import whole, whole_at
from flinz.core.press.impressions import Impression, bare, is_grey_sheet, on_paper
from flinz.core.press.remembering import FIRST_STAGES
from flinz.core.press.stopping import check
from flinz.core.scale import Frame, region_frame
from flinz.core.stages import clean, ink, smooth, tone
from flinz.errors import DocumentError

DRAFT_REACH = 0.5
# From this length on a whole sheet is drawn at the pixels it is shown at.
FINE_ENOUGH_PX = 1500
# Eyes are small: finer than what other suggestions need.
EYE_LONG_EDGE_PX = 1400
# Of the grid of a whole sheet on which marks are placed.
MAX_GRID_CELLS = 64_000_000


@dataclass(frozen=True)
class Subject:
    """What a proof shows: the photo, the whole sheet, or what leaves a stage of a plate."""

    what: Literal["photo", "sheet", "stage"] = "sheet"
    plate: str = ""
    stage: StageName = "ink"


WHOLE_SHEET = Subject()


class Proofing(Developing):
    """What each stage and plate of one proof comes to, in any frame."""

    def pictured(self, subject: Subject, frame: Frame) -> Picture:
        """The picture of a subject."""
        if subject.what == "photo":
            return self.photo_rgb(frame)
        if subject.what == "sheet":
            return self.composed(frame)
        plate = self.sheet.plate(subject.plate)
        if subject.stage in FIRST_STAGES:
            return self.cut(plate, frame, self.toned if subject.stage == "tone" else self.smoothed)
        if subject.stage == "ink":
            return self.printed([self.impression(plate, frame)], frame)
        return np.asarray(1 - self.cover(plate, frame, subject.stage), np.float32)

    def composed(self, frame: Frame) -> Picture:
        """The shown plates printed together."""
        shown = [plate for plate in self.sheet.plates if plate.shown]
        return self.printed([self.impression(plate, frame) for plate in shown], frame)

    def impression(self, plate: Plate, frame: Frame) -> Impression:
        """What a plate leaves on the sheet."""
        everywhere = plate.ink.prints_everywhere
        where = None if everywhere else ink.printing_share(self.plain_grey(frame), plate.ink)
        own = plate.ink.colouring == ink.Colouring.PHOTO
        photo = self.photo_rgb(frame) if own else None
        return Impression(self.inked(plate, frame), plate.ink, where, photo)

    def printed(self, impressions: list[Impression], frame: Frame) -> Picture:
        """Impressions on the paper, in their order."""
        check(self.stop)
        paper = self.paper(frame, is_grey_sheet(self.sheet.paper, impressions))
        return on_paper(paper, impressions)

    def paper(self, frame: Frame, is_grey: bool) -> Picture:
        """The bare paper, (H, W) where all on it is grey, else (H, W, 3)."""
        settings = self.sheet.paper
        sheet: Picture = self.step(
            "paper",
            "",
            (settings, is_grey),
            frame,
            lambda: bare(settings, frame, is_grey),
            alike=True,
        )
        return sheet

    def eyes(self, plate: Plate) -> list[Plane]:
        """The tone within each watch spot that is an eye, before Draw."""
        frame = whole(self.sheet, self.photo, EYE_LONG_EDGE_PX)
        return [
            self.cut(plate, region_frame(frame, spot.bounds), self.smoothed)
            for spot in self.sheet.watch
            if spot.is_eye
        ]

    def inked(self, plate: Plate, frame: Frame) -> Plane:
        """Ink of a plate where it lands on the sheet; its figures ask for it again."""
        if plate.ink.is_in_register and self._finer(plate, frame) == 1:
            return self.cover(plate, frame, "clean")
        landed: Plane = self.step(
            "inked",
            self.key_after(plate, "clean"),
            (plate.ink.register, self.exact),
            frame,
            lambda: self._landed(plate, frame),
        )
        return landed

    def _landed(self, plate: Plate, frame: Frame) -> Plane:
        if plate.ink.is_in_register:
            return self.cover(plate, frame, "clean")
        diagonal = math.hypot(frame.full_width, frame.full_height) / frame.px_per_mm
        reach = ink.reach_mm(plate.ink, diagonal)
        outer = frame.widened(in_steps(frame.px(reach)))
        landed = ink.registered(self.cover(plate, outer, "clean"), plate.ink, outer)
        return np.ascontiguousarray(landed[frame.slices_in(outer)])

    def cover(self, plate: Plate, frame: Frame, stage: StageName) -> Plane:
        """Ink after Draw or Clean in the frame itself."""
        factor = self._finer(plate, frame)
        drawn = self.drawn if stage == "draw" else self.cleaned
        if factor == 1:
            return self.cut(plate, frame, drawn)
        finer = self.cut(plate, frame.magnified(factor), drawn)
        return averaged(finer, frame.width, frame.height)

    def _finer(self, plate: Plate, frame: Frame) -> int:
        """How many times finer a plate is drawn before it is shrunk; of a sheet that is large
        enough finer detail decides nothing that can be seen.
        """
        if self.exact or max(frame.full_width, frame.full_height) >= FINE_ENOUGH_PX:
            return 1
        return max(look_of(plate.draw).proof_factor, smooth.proof_factor(plate.smooth))

    def cut(self, plate: Plate, frame: Frame, step: Callable[[Plate, Frame], Plane]) -> Plane:
        """A step worked out with all that it needs around the frame, then cut to the frame."""
        outer = frame.widened(self._margin_px(plate, frame))
        return np.ascontiguousarray(step(plate, outer)[frame.slices_in(outer)])

    def _margin_px(self, plate: Plate, frame: Frame) -> int:
        look = look_of(plate.draw)
        reach = (
            smooth.reach_mm(plate.smooth) + look.reach_mm(plate.draw) + clean.reach_mm(plate.clean)
        )
        if reach == 0:
            return 2
        # What lies far off decides little, and a draft of a detail is mostly what lies round it.
        return in_steps(frame.px(reach) * (DRAFT_REACH if self.draft else 1))

    def toned(self, plate: Plate, frame: Frame) -> Plane:
        """The photo's tone after Tone."""
        if plate.tone == tone.Tone():
            return self.plain_grey(frame)
        result: Plane = self.step(
            "tone",
            self.photo_key,
            plate.tone,
            # Without light no length matters, and the sheet's size may change.
            frame if any(plate.tone.light) else frame.pixels,
            lambda: tone.curved(self.lit(plate.tone, frame), plate.tone),
            alike=True,
        )
        return result

    def smoothed(self, plate: Plate, frame: Frame) -> Plane:
        """The tone after Smooth, which Draw gets."""
        if isinstance(plate.smooth, smooth.NoSmoothing):
            return self.toned(plate, frame)
        before = self.key_after(plate, "tone")
        keep = self.keeper("smooth", before, frame)
        result: Plane = self.step(
            "smooth",
            before,
            plate.smooth,
            frame,
            lambda: smooth.smoothed(
                self.toned(plate, frame), plate.smooth, frame, keep, self.draft
            ),
            alike=not smooth.is_drafted(plate.smooth),
        )
        return result

    def drawn(self, plate: Plate, frame: Frame) -> Plane:
        """Ink after Draw; right as far as the frame's margin."""
        look = look_of(plate.draw)
        before = self.key_after(plate, "smooth")
        desk = self.desk(plate, self.keeper(f"draw:{look.name}", before, frame))
        result: Plane = self.step(
            "draw",
            before,
            plate.draw,
            frame,
            lambda: look.draw(self.smoothed(plate, frame), plate.draw, frame, desk),
        )
        return result

    def desk(self, plate: Plate, keep: Keep = keep_nothing) -> Desk:
        """What a look of this plate may ask for."""
        step = f"whole:{look_of(plate.draw).name}"
        before, edge_mm = self.key_after(plate, "smooth"), self.sheet.paper.long_edge

        def holds(name: str, parameters: Hashable, *, alike: bool = False) -> bool:
            return self.results.holds(self.key(step, before, (name, parameters), edge_mm, alike))

        return Desk(
            keep,
            lambda px_per_mm: self._whole_tone(plate, px_per_mm),
            self.keeper(step, before, edge_mm),
            holds,
            self.draft,
        )

    def _whole_tone(self, plate: Plate, px_per_mm: float) -> tuple[Plane, Frame]:
        grid = whole_at(self.sheet, self.photo, px_per_mm)
        cells = grid.full_width * grid.full_height
        if cells > MAX_GRID_CELLS:
            # Refused before it is made: a grid like this would take all memory there is.
            raise DocumentError(
                f"The marks of this drawing would lie on a grid of {cells / 1e6:,.0f} million "
                f"places; the limit is {MAX_GRID_CELLS / 1e6:.0f} million. Choose a larger dot, a "
                "wider spacing, or a smaller sheet."
            )
        return self.smoothed(plate, grid), grid

    def cleaned(self, plate: Plate, frame: Frame) -> Plane:
        """Ink after Clean; right as far as the frame's margin."""
        if plate.clean.is_neutral:
            return self.drawn(plate, frame)
        two_tone = look_of(plate.draw).two_tone(plate.draw)
        before = self.key_after(plate, "draw")
        keep = self.keeper("clean", before, frame)
        result: Plane = self.step(
            "clean",
            before,
            plate.clean,
            frame,
            lambda: clean.cleaned(self.drawn(plate, frame), plate.clean, frame, two_tone, keep),
        )
        return result


def in_steps(reach_px: float) -> int:
    """At least reach_px, in steps of about a half, so that a dragged dial keeps what is before."""
    return math.ceil(1.5 ** math.ceil(math.log(reach_px + 3, 1.5)))
