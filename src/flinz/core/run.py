"""One proof being made: what each stage and plate comes to, what is remembered, when to stop."""

import math
from collections.abc import Callable, Hashable
from dataclasses import dataclass
from typing import Any, Literal

import numpy as np
from numpy.typing import NDArray

from flinz.core.document import Plate, Sheet, StageName
from flinz.core.filters import Plane, averaged
from flinz.core.framing import whole, whole_at
from flinz.core.keeping import Keep, keep_nothing
from flinz.core.kept import Kept, content_key
from flinz.core.looks import look_of
from flinz.core.looks.desk import Desk
from flinz.core.photo import Photo, cropped, enlarged, shrunk
from flinz.core.scale import Frame, region_frame
from flinz.core.stages import clean, ink, light, smooth, tone
from flinz.core.stages.grey import luminance_grey, mixed_grey
from flinz.errors import DocumentError, Stopped

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
Stop = Callable[[], bool]


@dataclass(frozen=True)
class Subject:
    """What a proof shows: the photo, the whole sheet, or what leaves a stage of a plate."""

    what: Literal["photo", "sheet", "stage"] = "sheet"
    plate: str = ""
    stage: StageName = "ink"


WHOLE_SHEET = Subject()


def never() -> bool:
    """A Stop that never stops."""
    return False


@dataclass(frozen=True)
class Run:
    """One proof being made: what is drawn, and what is remembered of it."""

    kept: Kept
    photo: Photo
    sheet: Sheet
    exact: bool
    stop: Stop
    draft: bool = False

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
        self._check()
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
        register = plate.ink.register
        key = content_key("inked", self.key_of(plate, "clean"), register, frame, self.exact)
        landed: Plane = self._remembered("inked", key, lambda: self._landed(plate, frame))
        return landed

    def _landed(self, plate: Plate, frame: Frame) -> Plane:
        if plate.ink.is_in_register:
            return self.cover(plate, frame, "clean")
        diagonal = math.hypot(frame.full_width, frame.full_height) / frame.px_per_mm
        reach = ink.reach_mm(plate.ink, diagonal)
        outer = frame.widened(_in_steps(frame.px(reach)))
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
        return _in_steps(frame.px(reach) * (DRAFT_REACH if self.draft else 1))

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
            large: NDArray[Any] = self._remembered(
                "photo",
                content_key("enlarged", self.photo_key, frame.pixels),
                lambda: enlarged(pixels, frame),
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

        with self.kept.shrinking:
            key = content_key("shrunk", self.photo_key, width, height)
            is_small = max(width, height) in SMALL_COPIES_PX
            small: NDArray[Any] = self._remembered("photo", key, make, is_small_copy=is_small)
        return small

    def plain_grey(self, frame: Frame) -> Plane:
        """Grey before the curve of any plate."""
        key = content_key("grey", self.photo_key, frame.pixels)
        plain: Plane = self._remembered("grey", key, lambda: luminance_grey(self._rgb(frame)))
        return plain

    def mixed(self, settings: tone.Tone, frame: Frame) -> Plane:
        """Grey by the plate's hue mix."""
        if not any(settings.mix):
            return self.plain_grey(frame)
        key = content_key("mixed", self.photo_key, frame.pixels, settings.mix)
        grey: Plane = self._remembered(
            "mixed",
            key,
            lambda: mixed_grey(self.plain_grey(frame), self._rgb(frame), settings.mix),
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
        base = self._remembered(
            "light",
            content_key("light", before, grid, settings.reach),
            lambda: light.split(self.mixed(settings, grid), grid, settings.reach),
        )
        relit: Plane = self._remembered(
            "relit",
            content_key("relit", before, frame, settings.reach, settings.light),
            lambda: light.relit(grey, frame, base, settings.light),
        )
        return relit

    def toned(self, plate: Plate, frame: Frame) -> Plane:
        """The photo's tone after Tone."""
        if plate.tone == tone.Tone():
            return self.plain_grey(frame)
        result: Plane = self._step(
            "tone",
            # Without light no length matters, and the sheet's size may change.
            frame if any(plate.tone.light) else frame.pixels,
            plate.tone,
            self.photo_key,
            lambda: tone.curved(self.lit(plate.tone, frame), plate.tone),
        )
        return result

    def smoothed(self, plate: Plate, frame: Frame) -> Plane:
        """The tone after Smooth, which Draw gets."""
        if isinstance(plate.smooth, smooth.NoSmoothing):
            return self.toned(plate, frame)
        before = self.key_of(plate, "tone")
        keep = self.keeper("smooth", before, frame)
        result: Plane = self._step(
            "smooth",
            frame,
            plate.smooth,
            self._before_draw(plate),
            lambda: smooth.smoothed(
                self.toned(plate, frame), plate.smooth, frame, keep, self.draft
            ),
        )
        return result

    def drawn(self, plate: Plate, frame: Frame) -> Plane:
        """Ink after Draw; right as far as the frame's margin."""
        look = look_of(plate.draw)
        keep = self.keeper(f"draw:{look.name}", self._before_draw(plate), frame)
        desk = self.desk(plate, keep)
        result: Plane = self._step(
            "draw",
            frame,
            plate.draw,
            content_key(self.key_of(plate, "smooth"), self.draft),
            lambda: look.draw(self.smoothed(plate, frame), plate.draw, frame, desk),
        )
        return result

    def _before_draw(self, plate: Plate) -> str:
        """Key of the tone that Draw gets: a draft's, where that differs."""
        drafted = self.draft and smooth.is_drafted(plate.smooth)
        return content_key(self.key_of(plate, "smooth"), drafted)

    def desk(self, plate: Plate, keep: Keep = keep_nothing) -> Desk:
        """What a look of this plate may ask for."""
        name = look_of(plate.draw).name
        before = content_key(self._before_draw(plate), self.sheet.paper.long_edge)
        step = f"whole:{name}"
        return Desk(
            keep,
            lambda px_per_mm: self._whole_tone(plate, px_per_mm),
            self.keeper(step, before, None),
            lambda part, parameters: self.kept.holds(
                content_key(step, part, parameters, before, None)
            ),
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
        keep = self.keeper("clean", self.key_of(plate, "draw"), frame)
        result: Plane = self._step(
            "clean",
            frame,
            plate.clean,
            self.key_of(plate, "draw"),
            lambda: clean.cleaned(self.drawn(plate, frame), plate.clean, frame, two_tone, keep),
        )
        return result

    def keeper(self, step: str, before: str, frame: Frame | None) -> Keep:
        """A Keep for the parts of a step; without a frame they serve the whole sheet."""

        def keep(name: str, parameters: Hashable, make: Callable[[], Any]) -> Any:
            key = content_key(step, name, parameters, before, frame)
            return self._remembered(f"{step}:{name}", key, make)

        return keep

    @property
    def photo_key(self) -> str:
        """Key of the photo as it is cropped."""
        return content_key(self.photo.key, self.sheet.crop)

    def key_of(self, plate: Plate, stage: StageName) -> str:
        """Everything before and in a stage, apart from the frame."""
        parts: list[Any] = [self.photo_key]
        for name in ("tone", "smooth", "draw", "clean"):
            parts.append(getattr(plate, name))
            if name == stage:
                break
        if stage not in FIRST_STAGES and self.draft:
            parts.append("draft")
        return content_key(*parts)

    def _step(
        self,
        kind: str,
        frame: Frame | tuple[int, ...],
        settings: Any,
        before: str,
        make: Callable[[], Any],
    ) -> Any:
        return self._remembered(kind, content_key(kind, settings, before, frame), make)

    def _remembered(
        self, kind: str, key: str, make: Callable[[], Any], *, is_small_copy: bool = False
    ) -> Any:
        self._check()
        return self.kept.get(kind, key, make, is_small_copy=is_small_copy)

    def _check(self) -> None:
        if self.stop():
            raise Stopped("The drawing was stopped.")


def _in_steps(reach_px: float) -> int:
    """At least reach_px, in steps of about a half, so that a dragged dial keeps what is before."""
    return math.ceil(1.5 ** math.ceil(math.log(reach_px + 3, 1.5)))
