"""One proof being made: plates printed together, in any frame of the paper."""

import functools
import math
from collections.abc import Callable
from dataclasses import dataclass
from typing import Literal

import numpy as np

from flinz.core.document.plate import Plate, StageName, hand_of
from flinz.core.document.source import Beneath, FromSheet
from flinz.core.looks.registry import look_of
from flinz.core.planes.filters import Plane, averaged
from flinz.core.planes.textures import Relief, relief, soaked
from flinz.core.press.developing import Picture
from flinz.core.press.drawing import in_steps
from flinz.core.press.framing import box_region
from flinz.core.press.impressions import Impression, Instead, held_on
from flinz.core.press.remembering import FIRST_STAGES, thinning
from flinz.core.press.stacking import Stacking
from flinz.core.press.stopping import check
from flinz.core.press.tinting import hatched
from flinz.core.scale import PRINTED_PX_PER_MM, Frame, region_frame, whole_frame
from flinz.core.stages import ink, smooth
from flinz.core.stages.part import Shows

# From this length and scale on a whole sheet is drawn at the pixels it is shown at, unless its
# marks stand closer than this.
FINE_ENOUGH_PX, FINE_ENOUGH_PX_PER_MM, CLOSE_PX = 1500, 4.5, 6.0
# Smaller ones are not judged so closely; a finer drawing has at most so many pixels; below this
# scale finest detail is lost even where nothing is decided.
THUMBNAIL_PX, FINEST_PX, COARSE_PX_PER_MM = 450, 3000, 3.0
# What is drawn at once; of more, tiles of so many pixels a side, to hold little around each.
AT_ONCE_PIXELS, TILE_PX = 8_000_000, 2400
# How many times finer ink is drawn that lands between pixels.
MOVED_FINER = 2
# What the dropped part of a cutout is shown on.
GROUNDS = {"black": 0.0, "white": 1.0}
# Eyes are small: finer than what other suggestions need.
EYE_LONG_EDGE_PX = 1400


# The photo, the sheet, what leaves a stage; the photo with its backdrop tinted, on a plain ground,
# or the cutout alone; the sheet with what a plate does not print tinted, or what the hand touched.
What = Literal[
    "photo",
    "sheet",
    "stage",
    "cutout",
    "cutout-black",
    "cutout-white",
    "cutout-alone",
    "mask",
    "touched",
]


@dataclass(frozen=True)
class Subject:
    """What a proof shows: the photo, the whole sheet, what leaves a stage, the cutout, a tint."""

    what: What = "sheet"
    plate: str = ""
    stage: StageName = "ink"


WHOLE_SHEET = Subject()


class Proofing(Stacking):
    """What one proof comes to, in any frame of the paper.

    Its methods that take a plate draw it from what the proofing is of; for_plate gives the one in
    which a plate is drawn from its own source.
    """

    def pictured(self, subject: Subject, frame: Frame) -> Picture:
        """The picture of a subject."""
        if subject.what == "sheet":
            return self.composed(frame)
        if subject.what in ("mask", "touched"):
            return self.tinted(self.sheet.plate(subject.plate), subject, frame)
        if subject.what == "stage":
            plate = self.sheet.plate(subject.plate)
            return self.for_plate(plate).stage_shown(plate, subject.stage, frame)
        own = self
        if subject.plate:
            own = self.for_plate(self.sheet.plate(subject.plate))
        if subject.what == "photo":
            return own.photo_shown(frame)
        return own.cutout_shown(frame, subject.what.partition("-")[2])

    def stage_shown(self, plate: Plate, stage: StageName, frame: Frame) -> Picture:
        """What leaves a stage of a plate."""
        if stage in FIRST_STAGES:
            first = {"tone": self.toned, "smooth": self.smoothed_once}
            return self.shown(plate, frame, first.get(stage, self.smoothed))
        if stage == "ink":
            return self.printed([self.impression(plate, frame)], frame)
        return np.asarray(1 - self.cover(plate, frame, stage), np.float32)

    def photo_shown(self, frame: Frame) -> Picture:
        """The photo where it lies, on the bare paper."""
        photo = self.on_paper(frame, self.photo_rgb)
        if self.laid.fills:
            return photo
        paper = self.paper(frame, is_grey=False)
        share = self.box_share(frame)
        if self.made is not None:
            share = share * self.on_paper(frame, self.alpha)
        return np.asarray(paper + share[..., None] * (photo - paper), np.float32)

    def cutout_shown(self, frame: Frame, ground: str) -> Picture:
        """The photo where it lies, its backdrop tinted and hatched, or on a plain ground."""
        share = self.on_paper(frame, self.alpha)
        if ground == "alone":
            return share
        if ground in GROUNDS:
            photo = self.on_paper(frame, lambda box: self.own_colours(Shows.SUBJECT, box))
            behind = np.full((1, 1, 3), GROUNDS[ground], np.float32)
        else:
            return hatched(self.photo_shown(frame), np.asarray(1 - share, np.float32), frame)
        return np.asarray(behind + share[..., None] * (photo - behind), np.float32)

    def tinted(self, plate: Plate, subject: Subject, frame: Frame) -> Picture:
        """The sheet, tinted where a plate does not print, or where the hand touched a stage."""
        own = self.for_plate(plate)
        if subject.what == "mask":
            share = np.asarray(1 - own.mask(plate, frame), np.float32)
        else:
            share = own.on_paper(frame, lambda box: own.touched(plate, subject.stage, box))
            share = np.asarray(share * own.box_share(frame), np.float32)
        return hatched(self.composed(frame), share, frame)

    def mask(self, plate: Plate, frame: Frame) -> Plane:
        """The share 0..1 of each pixel of a frame of the paper on which a plate may print."""
        shares = self._printing_shares(plate, frame)
        if plate.photo.is_cut:
            shares.append(self.part_share(plate, frame))
        if thinning(plate):
            shares.append(self.on_paper(frame, lambda box: ink.faded_share(plate.ink, box)))
        return functools.reduce(np.multiply, shares, self.box_share(frame))

    def impressions(self, frame: Frame) -> list[Impression]:
        """What the shown plates leave on the sheet, in their order."""
        shown = [plate for plate in self.sheet.plates if plate.shown]
        return [self.for_plate(plate).impression(plate, frame) for plate in shown]

    def clipping(self, plate: Plate, frame: Frame) -> Plane | None:
        """The share 0..1 to which marks of a plate may print; None where all may. Fades that thin
        marks out are no part of it.
        """
        shares = self._printing_shares(plate, frame)
        if plate.photo.is_cut:
            shares.append(self.part_share(plate, frame))
        if not self.laid.fills:
            shares.append(self.box_share(frame))
        return functools.reduce(np.multiply, shares) if shares else None

    def _printing_shares(self, plate: Plate, frame: Frame) -> list[Plane]:
        """What keeps the finished ink of a plate from printing: tones, fades, the hand."""
        shares = []
        if not plate.ink.prints_everywhere:
            shares.append(ink.printing_share(self.on_paper(frame, self.plain_grey), plate.ink))
        if plate.ink.fading and not thinning(plate):
            shares.append(self.on_paper(frame, lambda box: ink.faded_share(plate.ink, box)))
        if "ink" in hand_of(plate):
            shares.append(self.on_paper(frame, lambda box: self.printing(plate, box)))
        return shares

    def impression(self, plate: Plate, frame: Frame) -> Impression:
        """What a plate leaves on the sheet."""
        found = self._impression(plate, frame)
        over = self.results.over.get(plate.id) if self.within is None else None
        return found if over is None else over.over(found, frame, self.results)

    def _instead(self, plate: Plate) -> Instead | None:
        """What is drawn in place of a plate."""
        return (self.results.instead if self.within is None else self.within).get(plate.id)

    def _impression(self, plate: Plate, frame: Frame) -> Impression:
        instead = self._instead(plate)
        if instead is not None:
            return Impression(
                self._on_surface(plate, frame),
                instead.ink(plate.ink),
                photo=instead.pictured(frame),
                hides=self.hides(plate, frame),
                is_solid=_is_solid(plate),
            )
        shares = self._printing_shares(plate, frame)
        if plate.ink.colouring == ink.Colouring.TWO_COLOUR:
            # Its lights are laid where there is no ink, but not beside the box or the part.
            if not self.laid.fills:
                shares.append(self.box_share(frame))
            if plate.photo.is_cut:
                shares.append(self.part_share(plate, frame))
        where = functools.reduce(np.multiply, shares) if shares else None
        own = plate.ink.colouring == ink.Colouring.PHOTO
        part = plate.photo.part
        photo = self.on_paper(frame, lambda box: self.own_colours(part, box)) if own else None
        hides = self.hides(plate, frame)
        cover, is_solid = self._on_surface(plate, frame), _is_solid(plate)
        return Impression(cover, plate.ink, where, photo, hides, is_solid)

    def hides(self, plate: Plate, frame: Frame) -> Plane | None:
        """The share of what lies beneath that a plate takes away first."""
        if not plate.photo.covers:
            return None
        # What is made covers as far as its outlines reach.
        part = Shows.SUBJECT if self.made is not None else plate.photo.part
        reach = self.part_on_paper(part, frame)
        return np.asarray(reach * self.box_share(frame), np.float32)

    def _on_surface(self, plate: Plate, frame: Frame) -> Plane:
        """Ink of a plate as the paper takes it."""
        paper = self.sheet.paper
        # Shapes were traced of ink that paper had taken.
        if not any(paper.takes_ink) or self._instead(plate) is not None:
            return self.inked(plate, frame)

        def make() -> Plane:
            cover = self._soaked(plate, frame) if paper.soak else self.inked(plate, frame)
            return held_on(cover, paper, self._relief(frame)) if paper.tooth else cover

        before = self.laid_key(plate, "clean")
        settings = plate.ink.register, self.exact, self.part_key(plate), paper.surface
        taken: Plane = self.step("on paper", before, (*settings, *paper.takes_ink), frame, make)
        return taken

    def _soaked(self, plate: Plate, frame: Frame) -> Plane:
        """Ink of a plate as it runs along the paper's fibres."""
        paper = self.sheet.paper
        # What runs farthest comes from so far away.
        outer = frame.widened(math.ceil(2 * frame.px(paper.soak)))

        def make(fine: Frame) -> Plane:
            return soaked(self.inked(plate, fine), fine, paper.soak, paper.grain)

        return self._between_pixels(frame, outer, MOVED_FINER, make)

    def _relief(self, frame: Frame) -> Relief:
        """The texture of the paper in a frame, however deep it looks and whatever its colour."""
        paper = self.sheet.paper
        found: Relief = self.step(
            "relief",
            "",
            (*paper.surface, paper.light_from),
            frame,
            lambda: relief(paper.texture, frame, paper.grain, paper.light_from),
            alike=True,
        )
        return found

    def eyes(self, plate: Plate) -> list[Plane]:
        """The tone within each watch spot that is an eye and in the box, before Draw."""
        whole_box = self.box.whole(EYE_LONG_EDGE_PX)
        spots = [spot.bounds for spot in self.sheet.watch if spot.is_eye]
        if self.laid.is_plain:
            frames = [region_frame(whole_box, bounds) for bounds in spots]
        else:
            width, height = self.paper_mm
            per_mm = EYE_LONG_EDGE_PX / max(width, height)
            paper = whole_frame(
                width, max(1, round(width * per_mm)), max(1, round(height * per_mm))
            )
            lain = [region_frame(paper, bounds) for bounds in spots]
            parts = [box_region(self.laid.lay, whole_box, frame) for frame in lain]
            frames = [part for part in parts if part is not None]
        return [self.cut(plate, frame, self.smoothed) for frame in frames]

    def inked(self, plate: Plate, frame: Frame) -> Plane:
        """Ink of a plate where it lands on the sheet; its figures ask for it again."""
        instead = self._instead(plate)
        if instead is not None:
            return instead.cover(frame)
        if plate.ink.is_in_register and self._finer(plate, frame) == 1:
            return self.cover(plate, frame, "clean")
        landed: Plane = self.step(
            "inked",
            self.laid_key(plate, "clean"),
            (plate.ink.register, self.exact, self.part_key(plate)),
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
        wanted = max(MOVED_FINER, self._finer(plate, outer))

        def make(fine: Frame) -> Plane:
            # What is finer already is drawn no finer still.
            draw = self.cover if fine == outer else self.covered
            return ink.registered(draw(plate, fine, "clean"), plate.ink, fine)

        return self._between_pixels(frame, outer, wanted, make)

    def _between_pixels(
        self, frame: Frame, outer: Frame, wanted: int, make: Callable[[Frame], Plane]
    ) -> Plane:
        """What make moves between pixels, which softens it by half of one: done so many times
        finer in an outer frame, and averaged. Not where it is to be quick, or is fine already.
        """
        pixels = outer.width * outer.height * wanted**2
        times = 1 if self.exact or self.draft or pixels > AT_ONCE_PIXELS else wanted
        fine, within = outer.magnified(times), frame.magnified(times)
        inner = np.ascontiguousarray(make(fine)[within.slices_in(fine)])
        return averaged(inner, frame.width, frame.height) if times > 1 else inner

    def cover(self, plate: Plate, frame: Frame, stage: StageName) -> Plane:
        """Ink after Draw or Clean in the frame itself."""
        factor = self._finer(plate, frame)
        if frame.width * frame.height * factor**2 > AT_ONCE_PIXELS:
            return self._cover_in_tiles(plate, frame, stage, TILE_PX // factor)
        if factor == 1:
            return self.covered(plate, frame, stage)
        finer = self.covered(plate, frame.magnified(factor), stage)
        return averaged(finer, frame.width, frame.height)

    def _cover_in_tiles(self, plate: Plate, frame: Frame, stage: StageName, side: int) -> Plane:
        cover = np.empty((frame.height, frame.width), np.float32)
        for top in range(0, frame.height, side):
            for left in range(0, frame.width, side):
                check(self.stop)
                right, bottom = min(frame.width, left + side), min(frame.height, top + side)
                tile = frame.part(
                    frame.left + left, frame.top + top, frame.left + right, frame.top + bottom
                )
                cover[top:bottom, left:right] = self.cover(plate, tile, stage)
        return cover

    def _finer(self, plate: Plate, frame: Frame) -> int:
        """How many times finer a plate is drawn before it is shrunk. Of a sheet that is large
        enough finer detail decides nothing that can be seen, unless its marks stand close.
        """
        if self.exact:
            return 1
        look, is_exacting = look_of(plate.draw), self._is_exacting(plate)
        edge = max(frame.full_width, frame.full_height)
        enough = PRINTED_PX_PER_MM if is_exacting else FINE_ENOUGH_PX_PER_MM
        wanted = min(math.ceil(enough / frame.px_per_mm), FINEST_PX // edge)
        is_fine = edge >= FINE_ENOUGH_PX and frame.px_per_mm >= FINE_ENOUGH_PX_PER_MM
        apart_mm = look.pitch(plate.draw) * self.laid.lay.scale if look.pitch else math.inf
        if is_fine and frame.px(apart_mm) >= CLOSE_PX:
            return max(1, wanted)
        usual = max(
            look.proof_factor,
            *map(smooth.proof_factor, (plate.smooth, plate.again)),
            # Grain is finer than most pictures.
            2 if plate.tone.grain_amount else 1,
            # What is decided of greys is decided of finer ones.
            1 if plate.clean.is_neutral else 2,
        )
        if edge < THUMBNAIL_PX or (usual == 1 and frame.px_per_mm >= COARSE_PX_PER_MM):
            return usual
        # A small picture of a large sheet: what is decided in it is decided as in a larger one.
        return max(usual, wanted)

    def _is_exacting(self, plate: Plate) -> bool:
        """Whether lines as thin as an export has are decided anew: of a print, by their edges
        moving, or where all dots may be just too small.
        """
        look = look_of(plate.draw)
        if self.draft or not look.two_tone(plate.draw):
            return False
        of_print = isinstance(plate.source, Beneath | FromSheet)
        sifted = look.pitch is not None and (plate.clean.specks > 0 or plate.clean.pinholes > 0)
        return of_print or plate.clean.thicken != 0 or sifted


def _is_solid(plate: Plate) -> bool:
    """Whether its ink is full wherever it is, so that greys are pixels that it covers in part."""
    is_soft = plate.clean.soften > 0 or plate.ink.smear > 0
    return look_of(plate.draw).two_tone(plate.draw) and not is_soft
