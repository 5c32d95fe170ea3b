"""One proof being made: what each stage and plate comes to, and what is remembered of it."""

import math
from collections.abc import Callable, Hashable
from dataclasses import dataclass
from typing import Any, Literal

import numpy as np
from numpy.typing import NDArray

from flinz.core.document.sheet import STAGES, Plate, Sheet, StageName
from flinz.core.keeping import Keep, keep_nothing
from flinz.core.looks.desk import Desk
from flinz.core.looks.registry import look_of
from flinz.core.planes.filters import Plane, averaged
from flinz.core.planes.photo import Photo, cropped, enlarged, shrunk
from flinz.core.press.framing import whole, whole_at
from flinz.core.press.keys import content_key, step_key
from flinz.core.press.results import Results
from flinz.core.press.stopping import Stop, check, never
from flinz.core.scale import Frame, region_frame
from flinz.core.stages import clean, ink, light, smooth, tone
from flinz.core.stages.grey import luminance_grey, mixed_grey
from flinz.errors import DocumentError

DRAFT_REACH = 0.5
# From this length on a whole sheet is drawn at the pixels it is shown at.
FINE_ENOUGH_PX = 1500
# A large photo is first averaged down to one of these for all that is half as large or smaller.
HALFWAYS_PX = (500, 1000, 3200)
SMALL_COPIES_PX = HALFWAYS_PX[:2]
# Eyes are small: finer than what other suggestions need.
EYE_LONG_EDGE_PX = 1400
# Of the grid of a whole sheet on which marks are placed.
MAX_GRID_CELLS = 64_000_000
FIRST_STAGES = ("tone", "smooth")

Picture = NDArray[np.float32]


@dataclass(frozen=True)
class Subject:
    """What a proof shows: the photo, the whole sheet, or what leaves a stage of a plate."""

    what: Literal["photo", "sheet", "stage"] = "sheet"
    plate: str = ""
    stage: StageName = "ink"


WHOLE_SHEET = Subject()


@dataclass(frozen=True)
class Proofing:
    """One proof being made: of what, how it is drawn, and what is remembered.

    exact: as the export is drawn. draft: without what only settles marks.
    """

    results: Results
    photo: Photo
    sheet: Sheet
    exact: bool = False
    draft: bool = False
    stop: Stop = never

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
            return self.printed([(plate, self.inked(plate, frame))], frame)
        return np.asarray(1 - self.cover(plate, frame, subject.stage), np.float32)

    def composed(self, frame: Frame) -> Picture:
        """The shown plates printed together."""
        shown = [plate for plate in self.sheet.plates if plate.shown]
        return self.printed([(plate, self.inked(plate, frame)) for plate in shown], frame)

    def eyes(self, plate: Plate) -> list[Plane]:
        """The tone within each watch spot that is an eye, before Draw."""
        frame = whole(self.sheet, self.photo, EYE_LONG_EDGE_PX)
        return [
            self.cut(plate, region_frame(frame, spot.bounds), self.smoothed)
            for spot in self.sheet.watch
            if spot.is_eye
        ]

    def printed(self, plates: list[tuple[Plate, Plane]], frame: Frame) -> Picture:
        """Inked plates on the paper, in their order."""
        check(self.stop)
        paper = ink.rgb_of(self.sheet.paper.colour)
        neutral = paper[0] == paper[1] == paper[2]
        if neutral and all(plate.ink.is_neutral for plate, _ in plates):
            sheet = np.full((frame.height, frame.width), paper[0], np.float32)
        else:
            sheet = np.empty((frame.height, frame.width, 3), np.float32)
            sheet[:] = paper
        for plate, cover in plates:
            everywhere = plate.ink.prints_everywhere
            where = None if everywhere else ink.printing_share(self.plain_grey(frame), plate.ink)
            own = plate.ink.colouring == ink.Colouring.PHOTO
            photo = self.photo_rgb(frame) if own else None
            sheet = ink.printed(sheet, cover, plate.ink, where, photo)
        return sheet

    def inked(self, plate: Plate, frame: Frame) -> Plane:
        """Ink of a plate where it lands on the sheet; its figures ask for it again."""
        if plate.ink.is_in_register and self._finer(plate, frame) == 1:
            return self.cover(plate, frame, "clean")
        landed: Plane = self._step(
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

    def photo_rgb(self, frame: Frame) -> Picture:
        """The photo in a frame, (H, W, 3) float32 0..1."""
        rgb = self._rgb(frame)
        if rgb.dtype == np.float32:
            return rgb
        return rgb.astype(np.float32) / np.float32(np.iinfo(rgb.dtype).max)

    def _rgb(self, frame: Frame) -> NDArray[Any]:
        """The photo in a frame: float32 0..1 where enlarged, uint16 where shrunk, else as it is."""
        crop = self.sheet.crop
        pixels = cropped(self.photo, crop.bounds, crop.quarter_turns)
        height, width = pixels.shape[:2]
        if (frame.full_width, frame.full_height) == (width, height):
            return pixels[frame.top : frame.bottom, frame.left : frame.right]
        if frame.full_width > width or frame.full_height > height:
            large: NDArray[Any] = self._step(
                "photo",
                self.photo_key,
                "enlarged",
                frame.pixels,
                lambda: enlarged(pixels, frame),
                alike=True,
            )
            return large
        small = self._shrunk(pixels, frame.full_width, frame.full_height)
        return small[frame.top : frame.bottom, frame.left : frame.right]

    def _shrunk(self, pixels: NDArray[Any], width: int, height: int) -> NDArray[Any]:
        """All pixels averaged down, remembered."""

        def make() -> NDArray[Any]:
            longest = max(pixels.shape)
            for halfway in HALFWAYS_PX:
                if 2 * max(width, height) <= halfway and 1.5 * halfway <= longest:
                    share = halfway / longest
                    size = round(pixels.shape[1] * share), round(pixels.shape[0] * share)
                    return shrunk(self._shrunk(pixels, *size), width, height)
            return shrunk(pixels, width, height)

        with self.results.shrinking:
            small: NDArray[Any] = self._step(
                "photo",
                self.photo_key,
                "shrunk",
                (width, height),
                make,
                alike=True,
                is_small_copy=max(width, height) in SMALL_COPIES_PX,
            )
        return small

    def plain_grey(self, frame: Frame) -> Plane:
        """Grey before the curve of any plate."""
        plain: Plane = self._step(
            "grey",
            self.photo_key,
            None,
            frame.pixels,
            lambda: luminance_grey(self._rgb(frame)),
            alike=True,
        )
        return plain

    def mixed(self, settings: tone.Tone, frame: Frame) -> Plane:
        """Grey by the plate's hue mix."""
        if not any(settings.mix):
            return self.plain_grey(frame)
        grey: Plane = self._step(
            "mixed",
            self.photo_key,
            settings.mix,
            frame.pixels,
            lambda: mixed_grey(self.plain_grey(frame), self._rgb(frame), settings.mix),
            alike=True,
        )
        return grey

    def lit(self, settings: tone.Tone, frame: Frame) -> Plane:
        """Grey after shadows, highlights and local contrast."""
        grey = self.mixed(settings, frame)
        if not any(settings.light):
            return grey
        edge = self.sheet.paper.long_edge
        grid = whole_at(self.sheet, self.photo, light.grid_px_per_mm(edge))
        before = content_key(self.photo_key, settings.mix)
        base = self._step(
            "light",
            before,
            settings.reach,
            grid,
            lambda: light.split(self.mixed(settings, grid), grid, settings.reach),
            alike=True,
        )
        relit: Plane = self._step(
            "relit",
            before,
            (settings.reach, settings.light),
            frame,
            lambda: light.relit(grey, frame, base, settings.light),
            alike=True,
        )
        return relit

    def toned(self, plate: Plate, frame: Frame) -> Plane:
        """The photo's tone after Tone."""
        if plate.tone == tone.Tone():
            return self.plain_grey(frame)
        result: Plane = self._step(
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
        result: Plane = self._step(
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
        result: Plane = self._step(
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
            return self.results.holds(self._key(step, before, (name, parameters), edge_mm, alike))

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
        result: Plane = self._step(
            "clean",
            before,
            plate.clean,
            frame,
            lambda: clean.cleaned(self.drawn(plate, frame), plate.clean, frame, two_tone, keep),
        )
        return result

    def keeper(self, step: str, before: str, where: Frame | float) -> Keep:
        """A Keep for the parts of a step in a frame, or (the sheet's long edge in mm) in all."""

        def keep(
            name: str, parameters: Hashable, make: Callable[[], Any], *, alike: bool = False
        ) -> Any:
            key = self._key(step, before, (name, parameters), where, alike)
            return self._remembered(f"{step}:{name}", key, make)

        return keep

    @property
    def photo_key(self) -> str:
        """Key of the photo as it is cropped."""
        return content_key(self.photo.key, self.sheet.crop)

    def key_after(self, plate: Plate, stage: StageName) -> str:
        """Key of all that comes before the end of a stage, apart from the frame."""
        upto = STAGES[: STAGES.index(stage) + 1]
        # Tone is the same in a draft; Smooth is where it is quick; from Draw on nothing is.
        differs = stage not in FIRST_STAGES or (
            stage == "smooth" and smooth.is_drafted(plate.smooth)
        )
        settings = tuple(getattr(plate, name) for name in upto)
        return content_key(self.photo_key, settings, self.draft and differs)

    def _key(
        self,
        kind: str,
        before: str,
        settings: Any,
        where: Frame | tuple[int, ...] | float,
        alike: bool,
    ) -> str:
        draft = self.draft and not alike
        return step_key(kind, before=before, settings=settings, where=where, draft=draft)

    def _step(
        self,
        kind: str,
        before: str,
        settings: Any,
        where: Frame | tuple[int, ...] | float,
        make: Callable[[], Any],
        *,
        alike: bool = False,
        is_small_copy: bool = False,
    ) -> Any:
        """What a step comes to, made or remembered; alike: a draft comes to the same."""
        key = self._key(kind, before, settings, where, alike)
        return self._remembered(kind, key, make, is_small_copy=is_small_copy)

    def _remembered(
        self, kind: str, key: str, make: Callable[[], Any], *, is_small_copy: bool = False
    ) -> Any:
        check(self.stop)
        return self.results.get(kind, key, make, is_small_copy=is_small_copy)


def in_steps(reach_px: float) -> int:
    """At least reach_px, in steps of about a half, so that a dragged dial keeps what is before."""
    return math.ceil(1.5 ** math.ceil(math.log(reach_px + 3, 1.5)))
