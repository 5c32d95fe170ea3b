"""The stages of a plate, drawn upright in frames of its box."""

import math
from collections.abc import Callable, Hashable
from functools import partial
from typing import Literal

import numpy as np

from flinz.core.dial import Settings
from flinz.core.document.plate import STAGES, Plate, StageName, hand_of, without_hand
from flinz.core.hand.raster import inked
from flinz.core.keeping import Holds, Keep, keep_nothing
from flinz.core.looks.desk import Desk
from flinz.core.looks.look import LENGTHS_BY_HAND, Look
from flinz.core.looks.registry import look_of
from flinz.core.marks.cells import CELL, cell_of, plain_cell
from flinz.core.planes.filters import Plane
from flinz.core.planes.lattice import lattice_frame, resampled
from flinz.core.planes.photo import shrunk
from flinz.core.press.freeing import Freeing
from flinz.core.press.keys import content_key
from flinz.core.press.remembering import thinning
from flinz.core.press.stopping import check
from flinz.core.scale import Frame
from flinz.core.stages import clean, smooth, tone
from flinz.core.stages.grey import luminance_grey
from flinz.core.stages.ink import faded_share
from flinz.core.stages.part import grounded
from flinz.errors import DocumentError

DRAFT_REACH = 0.5
# How much finer than its cell a picture is looked at.
CELL_FROM = 2.0
# Of the grid of a whole box on which marks are placed; a place takes about 48 bytes, all told.
MAX_GRID_CELLS = 25_000_000
# A draft of a part takes the marks that lie so near it; one of more than this takes all.
NEAR_MM, MOST_OF_BOX = 5.0, 0.6
# Worked out at once, with all that is needed around; a pixel takes about as much.
MAX_OUTER_PIXELS = 25_000_000


class Drawing(Freeing):
    """What each stage of a plate comes to, in any frame of its box."""

    def cut(self, plate: Plate, frame: Frame, step: Callable[[Plate, Frame], Plane]) -> Plane:
        """A step worked out with all that it needs around the frame, then cut to the frame.

        Where that would take more memory than there may be (far zoomed in, with lengths of many
        pixels), at half the scale, and enlarged.
        """
        outer = frame.widened(self._margin_px(plate, frame))
        if outer.width * outer.height > MAX_OUTER_PIXELS:
            coarse = lattice_frame(frame, frame.px_per_mm / 2)
            return resampled(self.cut(plate, coarse, step), coarse, frame)
        return np.ascontiguousarray(step(plate, outer)[frame.slices_in(outer)])

    def reach_mm(self, plate: Plate) -> float:
        """How far what is drawn looks around itself, in mm of the box."""
        look = look_of(plate.draw)
        reach = (
            smooth.reach_mm(plate.smooth)
            + smooth.reach_mm(plate.again)
            + look.reach_mm(plate.draw)
            + clean.reach_mm(plate.clean)
        )
        if "draw" in hand_of(plate):
            # Painted coarser, lengths are twice as long.
            reach += look.reach_mm(plate.draw)
        return reach

    def _margin_px(self, plate: Plate, frame: Frame) -> int:
        reach = self.reach_mm(plate)
        if reach == 0:
            return 2
        # What lies far off decides little, and a draft of a detail is mostly what lies round it.
        return in_steps(frame.px(reach) * (DRAFT_REACH if self.draft else 1))

    def toned(self, plate: Plate, frame: Frame) -> Plane:
        """The photo's tone after Tone, on a plain one beside its part where that is wanted."""
        tones = self._toned(plate, frame)
        if not plate.photo.is_grounded:
            return tones
        return grounded(tones, self.share(plate, frame), plate.photo.ground)

    def _toned(self, plate: Plate, frame: Frame) -> Plane:
        hand = self.hand_key(plate, "tone")
        if plate.tone == tone.Tone() and not hand:
            return self.plain_grey(frame)
        result: Plane = self.step(
            "tone",
            self.photo_key,
            (plate.tone, hand),
            # Without light no length matters, and the sheet's size may change.
            frame if any(plate.tone.light) or plate.tone.grain_amount else frame.pixels,
            lambda: tone.grained(
                tone.curved(self._exposed(plate, frame), plate.tone), plate.tone, frame
            ),
            alike=True,
        )
        return result

    def _exposed(self, plate: Plate, frame: Frame) -> Plane:
        """The lit grey, lightened and darkened by hand."""
        settings, stops = plate.tone, self.stops(plate, frame)
        if stops is None:
            return self.lit(settings, frame)
        result: Plane = self.step(
            "exposed",
            content_key(self.photo_key, settings.pulls),
            (settings.reach, settings.light, self.hand_key(plate, "tone")),
            frame if any(settings.light) else frame.pixels,
            lambda: tone.exposed(self.lit(settings, frame), stops),
            alike=True,
        )
        return result

    def smoothed_once(self, plate: Plate, frame: Frame) -> Plane:
        """The tone after the first smoothing."""
        return self._with_smoothing(plate, "smooth", frame)

    def smoothed(self, plate: Plate, frame: Frame) -> Plane:
        """The tone after both smoothings, which Draw gets."""
        return self._with_smoothing(plate, "again", frame)

    def _with_smoothing(
        self, plate: Plate, stage: Literal["smooth", "again"], frame: Frame
    ) -> Plane:
        """The tone after a smoothing, as much of it as arrives."""
        settings = getattr(plate, stage)
        before = self.toned if stage == "smooth" else self.smoothed_once
        if isinstance(settings, smooth.NoSmoothing):
            return before(plate, frame)
        spared = self.spared(plate, stage, frame)
        even = self._smoothed(plate, stage, frame, before)
        if spared is None and settings.arrives == 1:
            return even
        left = _left_out(settings.arrives, spared)
        return np.asarray(even + left * (before(plate, frame) - even), np.float32)

    def _smoothed(
        self, plate: Plate, stage: StageName, frame: Frame, before: Callable[[Plate, Frame], Plane]
    ) -> Plane:
        settings: Settings = getattr(plate, stage)
        earlier = STAGES[STAGES.index(stage) - 1]
        key = self.key_after(plate, earlier)
        keep = self.keeper(stage, key, frame)
        result: Plane = self.step(
            stage,
            key,
            # How much of it arrives is for who asks.
            settings.model_copy(update={"arrives": 1.0}),
            frame,
            lambda: smooth.smoothed(before(plate, frame), settings, frame, keep, self.draft),
            alike=not smooth.is_drafted(settings),
        )
        return result

    def wished(self, plate: Plate, frame: Frame) -> Plane:
        """The tone that is drawn: marks thin out where their plate fades."""
        tones = self.smoothed(plate, frame)
        if not thinning(plate):
            return tones
        return np.asarray(1 - faded_share(plate.ink, frame) * (1 - tones), np.float32)

    def drawn(self, plate: Plate, frame: Frame) -> Plane:
        """Ink after Draw; right as far as the frame's margin."""
        look = look_of(plate.draw)
        before = self.key_before_draw(plate)
        result: Plane = self.step(
            "draw",
            before,
            plate.draw,
            frame,
            lambda: self._drawn_by(look, plate, frame),
        )
        return result

    def _drawn_by(self, look: Look, plate: Plate, frame: Frame) -> Plane:
        """A look's drawing; where the hand wants it finer or coarser, and the look leaves that to
        others, as it is with lengths of half or twice their size.
        """
        closer = None if look.sizes_itself else self.closer(plate, frame)
        if closer is None:
            reads_none = look.reads_no_frame(plate.draw)
            tones = nothing_of(frame) if reads_none else self.wished(plate, frame)
            return look.draw(tones, plate.draw, frame, self.desk_for(plate, frame))
        # What a stroke chooses from is drawn without it, and serves the next one, too.
        plain = without_hand(plate, "draw")
        drawn = np.zeros((frame.height, frame.width), np.float32)
        for way, times in LENGTHS_BY_HAND:
            share = np.clip(1 - np.abs(closer - np.float32(way)), 0, 1)
            if share.max() > 0:
                drawn += share * self._drawn_sized(look, plain, frame, times)
        return drawn

    def _drawn_sized(self, look: Look, plate: Plate, frame: Frame, times: float) -> Plane:
        """Ink after Draw, with so many times as many pixels a mm."""
        if times == 1:
            return self.drawn(plate, frame)
        before = content_key(self.key_before_draw(plate), times)
        sized = frame.with_scale(times)

        def make() -> Plane:
            keep = self.keeper(f"draw:{look.name}", before, sized)
            tones = self.wished(plate, frame)
            return look.draw(tones, plate.draw, sized, self.desk(plate, keep, sized))

        result: Plane = self.step("draw", before, plate.draw, frame, make)
        return result

    def desk_for(self, plate: Plate, frame: Frame) -> Desk:
        """The desk at which a plate is drawn in a frame of its box."""
        before = self.key_before_draw(plate)
        keep = self.keeper(f"draw:{look_of(plate.draw).name}", before, frame)
        return self.desk(plate, keep, frame)

    def desk(self, plate: Plate, keep: Keep = keep_nothing, part: Frame | None = None) -> Desk:
        """What a look of this plate may ask for. part: the frame of the box that is drawn."""
        step = f"whole:{look_of(plate.draw).name}"
        before, edge_mm = self.key_before_draw(plate), self.box.long_edge
        # What the hand does to the tone stays where it does it: lines lie still, and only their
        # ink changes.
        of_form = without_hand(self.at_rest(plate) if self.draft else plate, "tone", "draw")

        def holds(key_before: str) -> Holds:
            def held(name: str, parameters: Hashable, *, alike: bool = False) -> bool:
                key = self.key(step, key_before, (name, parameters), edge_mm, alike)
                return self.results.holds(key)

            return held

        form_key = self.key_before_draw(of_form)
        tone_key = self.key_before_draw(without_hand(plate, "draw"))
        return Desk(
            keep,
            lambda px_per_mm: self._whole_tone(plate, px_per_mm),
            self.keeper(step, before, edge_mm),
            self.keeper(f"paper:{look_of(plate.draw).name}", "", edge_mm),
            self.keeper(step, tone_key, edge_mm),
            holds(before),
            partial(check, self.stop),
            self.draft,
            form=lambda px_per_mm: self._whole_tone(of_form, px_per_mm),
            keep_form=self.keeper(step, form_key, edge_mm),
            holds_form=holds(form_key),
            near=self._near(plate, part) if self.draft and part else None,
            closer=lambda frame: self.closer(plate, frame),
            has_closer="draw" in hand_of(plate),
            cell=self._cell,
        )

    def _cell(self, photo_id: str) -> Plane:
        """The cell of a screen from a photo. Raises NotFoundError."""
        if not photo_id and self.made is not None:
            return plain_cell()
        is_own = photo_id in ("", self.photo.key)
        photo = self.photo if is_own else self.results.stock.photo_of(photo_id)

        def make() -> Plane:
            share = min(1.0, CELL_FROM * CELL / min(photo.width, photo.height))
            size = (max(1, round(side * share)) for side in (photo.width, photo.height))
            return cell_of(luminance_grey(shrunk(photo.pixels, *size)))

        cell: Plane = self.step("cell", photo.key, None, (), make, alike=True)
        return cell

    def _whole_tone(self, plate: Plate, px_per_mm: float) -> tuple[Plane, Frame]:
        grid = self._grid(px_per_mm)
        return self.wished(plate, grid), grid

    def _grid(self, px_per_mm: float) -> Frame:
        """The grid of a whole box on which marks are placed. Raises DocumentError."""
        grid = self.box.whole_at(px_per_mm)
        cells = grid.full_width * grid.full_height
        if cells > MAX_GRID_CELLS:
            # Refused before it is made: a grid like this would take all memory there is.
            raise DocumentError(
                f"The marks of this drawing would lie on a grid of {cells / 1e6:,.0f} million "
                f"places; the limit is {MAX_GRID_CELLS / 1e6:.0f} million. Choose a larger dot, a "
                "wider spacing, or a smaller sheet."
            )
        return grid

    def _near(self, plate: Plate, part: Frame) -> Callable[[float], tuple[Plane, Frame]] | None:
        """The tone near a part of the box, None where that is much of it."""
        if part.width * part.height > MOST_OF_BOX * part.full_width * part.full_height:
            return None

        def near(px_per_mm: float) -> tuple[Plane, Frame]:
            whole = self._grid(px_per_mm)
            across, down = whole.full_width / part.full_width, whole.full_height / part.full_height
            here = whole.part(
                math.floor(part.left * across),
                math.floor(part.top * down),
                math.ceil(part.right * across),
                math.ceil(part.bottom * down),
            ).widened(math.ceil(whole.px(NEAR_MM)))
            return self.wished(plate, here), here

        return near

    def cleaned(self, plate: Plate, frame: Frame) -> Plane:
        """Ink after Clean; right as far as the frame's margin."""
        hand = self.over_ink(plate, frame)
        ink = self._cleaned(plate, frame)
        spared = None if hand is None else hand[..., 2]
        if spared is not None or plate.clean.arrives < 1:
            left = _left_out(plate.clean.arrives, spared)
            ink = np.asarray(ink + left * (self.drawn(plate, frame) - ink), np.float32)
        return ink if hand is None else inked(ink, hand)

    def _cleaned(self, plate: Plate, frame: Frame) -> Plane:
        if plate.clean.is_neutral:
            return self.drawn(plate, frame)
        two_tone = look_of(plate.draw).two_tone(plate.draw)
        before = self.key_after(plate, "draw")
        keep = self.keeper("clean", before, frame)
        result: Plane = self.step(
            "clean",
            before,
            plate.clean.model_copy(update={"arrives": 1.0}),
            frame,
            lambda: clean.cleaned(self.drawn(plate, frame), plate.clean, frame, two_tone, keep),
        )
        return result


def _left_out(arrives: float, spared: Plane | None) -> Plane | np.float32:
    """The share of a stage's work that does not arrive, by its dial and by hand."""
    share = np.float32(arrives)
    return 1 - share if spared is None else np.asarray(1 - share * (1 - spared), np.float32)


def nothing_of(frame: Frame) -> Plane:
    """What a look is given in place of the tone in a frame where it reads none of it."""
    return np.broadcast_to(np.float32(0.5), (frame.height, frame.width))


def in_steps(reach_px: float) -> int:
    """At least reach_px, in steps of about a half, so that a dragged dial keeps what is before."""
    return math.ceil(1.5 ** math.ceil(math.log(reach_px + 3, 1.5)))
