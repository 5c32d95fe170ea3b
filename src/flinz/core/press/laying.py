"""From the box to the paper: what is drawn upright in the box, as it lies on the sheet."""

from collections.abc import Callable
from dataclasses import replace

import numpy as np

from flinz.core.document.plate import Plate, StageName, hand_of
from flinz.core.looks.desk import Desk
from flinz.core.looks.registry import look_of
from flinz.core.marks.pen import strokes_cover
from flinz.core.planes.filters import Plane
from flinz.core.planes.laying import resampled
from flinz.core.press.developing import Picture
from flinz.core.press.drawing import Drawing, nothing_of
from flinz.core.press.framing import box_region
from flinz.core.press.keys import content_key
from flinz.core.press.resizing import stepped
from flinz.core.scale import Frame, frame_at, whole_frame
from flinz.core.shapes.filled import filled

# The box is drawn so many times finer than the paper, and averaged; a draft is not.
FINER = 2
# What is moved is drawn whole where its box is no larger than so many times the frame.
MOST_OF_BOX = 3.0
# And at so many sizes from one to twice as large.
PICTURES = 4
# How many times steeper a cutout's edge is where it cuts off pure black and white.
CRISP = 6.0


class Laying(Drawing):
    """What plates and photo come to in frames of the paper.

    Where the box fills the paper its pixels are the paper's and nothing is resampled. Elsewhere
    marks are laid as vectors and screens are worked out in their own place; all else is drawn
    upright, finer, and resampled once.
    """

    def covered(self, plate: Plate, frame: Frame, stage: StageName) -> Plane:
        """Ink 0..1 after Draw or Clean in a frame of the paper; none beside the box or the part."""
        ink = self._covered(plate, frame, stage)
        if plate.photo.is_cut:
            share = self.part_share(plate, frame)
            if look_of(plate.draw).two_tone(plate.draw):
                # What is black or white is cut off: a soft edge would print it grey.
                share = np.clip(
                    (share - np.float32(0.5)) * np.float32(CRISP) + np.float32(0.5), 0, 1
                )
            ink = np.asarray(ink * share, np.float32)
        if plate.photo.contour > 0:
            ink = np.maximum(ink, self._contour(plate, frame))
        return ink

    def cover_key(self, plate: Plate) -> str:
        """Key of a plate's ink after Clean, apart from the frame."""
        drawn = self.laid_key(plate, "clean")
        return content_key(drawn, plate.photo, self.cutout_key, self.laid.lay)

    def part_share(self, plate: Plate, frame: Frame) -> Plane:
        """The share 0..1 of each pixel of a frame of the paper that is of the plate's part; beside
        the box its edge goes on.
        """
        return self.part_on_paper(plate.photo.part, frame)

    def part_on_paper(self, part: str, frame: Frame) -> Plane:
        """The share 0..1 of each pixel of a frame of the paper that is of a part, by its name."""

        def make() -> Plane:
            return self.on_paper(frame, lambda box: self.part(part, box))

        if self.laid.fills:
            return make()
        # A draft may come before hair is found.
        settings = part, None if self.made else self.band_px
        share: Plane = self.step("part", self._laid_after(self.cutout_key), settings, frame, make)
        return share

    def _contour(self, plate: Plate, frame: Frame) -> Plane:
        """The line along the cutout's edge in a frame of the paper."""
        lay = self.laid.lay
        strokes = self.contour(plate.photo.contour)
        return strokes_cover(strokes.laid(lay), frame) * self.box_share(frame)

    def _covered(self, plate: Plate, frame: Frame, stage: StageName) -> Plane:
        is_drawn = stage == "draw" or (plate.clean.is_neutral and "clean" not in hand_of(plate))
        step = self.drawn if is_drawn else self.cleaned
        if self.laid.fills:
            return self.on_paper(frame, lambda box: self.cut(plate, box, step))

        def make() -> Plane:
            is_moving = self._is_moving(plate, frame)
            if is_drawn and look_of(plate.draw).lays_itself and not is_moving:
                ink = self._drawn_laid(plate, frame)
            else:
                ink = self.on_paper(frame, lambda box: self.cut(plate, box, step), is_moving)
            return np.asarray(ink * self.box_share(frame), np.float32)

        before = self.laid_key(plate, "draw" if is_drawn else "clean")
        laid: Plane = self.step("laid", before, None, frame, make)
        return laid

    def _is_moving(self, plate: Plate, frame: Frame) -> bool:
        """Whether marks were drawn in a draft already, and lie elsewhere now: then they are drawn
        once in their box, and moved as a picture until the hand rests.
        """
        if self.is_resized:
            return True
        if not (self.draft and look_of(plate.draw).draws_marks):
            return False
        key = self.key("lain", self.key_after(plate, "draw"), None, frame, False)
        is_known = self.results.holds(key)
        self.results.get("lain", key, lambda: b"")
        return is_known

    def laid_key(self, plate: Plate, stage: StageName) -> str:
        """Key of all that comes before the end of a stage and of how it lies, apart from the
        frame.
        """
        return self._laid_after(self.key_after(plate, stage))

    def _laid_after(self, before: str) -> str:
        return before if self.laid.is_plain else content_key(before, self.laid.lay)

    def shown(self, plate: Plate, frame: Frame, step: Callable[[Plate, Frame], Plane]) -> Plane:
        """The tone after one of the first stages, on a white paper."""
        tone = self.on_paper(frame, lambda box: self.cut(plate, box, step))
        if self.laid.fills:
            return tone
        return np.asarray(1 - self.box_share(frame) * (1 - tone), np.float32)

    def _drawn_laid(self, plate: Plate, frame: Frame) -> Plane:
        """Marks as vectors, screens in their own place."""
        look = look_of(plate.draw)

        def relaid(draw: Callable[[Plane, Frame, Desk], Plane]) -> Plane:
            def upright(_: Plate, box: Frame) -> Plane:
                return draw(self.wished(plate, box), box, self.desk_for(plate, box))

            return self.on_paper(frame, lambda box: self.cut(plate, box, upright))

        before = self._laid_after(self.key_before_draw(plate))
        keep = self.keeper(f"draw:{look.name}", before, frame)
        lay = self.laid.lay
        part = box_region(lay, self.box.whole_at(frame.px_per_mm * lay.scale), frame)
        desk = replace(self.desk(plate, keep, part), lay=lay, relaid=relaid)
        if look.draws_marks:
            # Its marks are those of the whole box, which the desk has the tone of.
            tone = nothing_of(frame)
        else:
            tone = self.on_paper(frame, lambda box: self.cut(plate, box, self.smoothed))
        return look.draw(tone, plate.draw, frame, desk)

    def on_paper(
        self, frame: Frame, make: Callable[[Frame], Picture], is_moving: bool = False
    ) -> Picture:
        """What make draws in frames of the box, as it lies in a frame of the paper.

        Beside the box its edge goes on; where none of it is in the frame there is nothing (0).
        is_moving: all of the box is drawn, if that is not much, for the next move to find it.
        """
        lay = self.laid.lay
        if self.laid.is_plain:
            return make(frame if lay.scale == 1 else frame.with_scale(lay.scale))
        if self.laid.fills:
            # Mirrored: the same pixels from right to left.
            box = frame.with_scale(lay.scale).turned_over()
            return np.ascontiguousarray(make(box)[:, ::-1])
        samples = 1 if self.draft else FINER
        # As it is made larger it stays the same picture.
        scale = stepped(lay.scale, PICTURES) if is_moving else lay.scale
        per_mm = frame.px_per_mm * scale * samples
        whole_box = frame_at(lay.width, lay.height, per_mm, frame.finer * samples)
        part = box_region(lay, whole_box, frame)
        if part is None:
            channels = make(whole_frame(lay.width, 1, 1)).shape[2:]
            return np.zeros((frame.height, frame.width, *channels), np.float32)
        # What a sample at the rim of the part is mixed from.
        part = part.widened(2)
        box_px = whole_box.full_width * whole_box.full_height
        if is_moving and box_px <= MOST_OF_BOX * frame.width * frame.height:
            part = whole_box.widened(2)
        to_box = lay.box_mm(frame) * np.reshape(part.per_mm, (2, 1))
        to_box[:, 2] -= part.left, part.top
        plane = np.ascontiguousarray(make(part), np.float32)
        return resampled(plane, to_box, (frame.width, frame.height), samples)

    def box_share(self, frame: Frame) -> Plane:
        """The share 0..1 of each pixel of a frame that lies in the box."""
        lay = self.laid.lay
        across, down = lay.width, lay.height
        corners = np.array([[0, 0, 1], [across, 0, 1], [across, down, 1], [0, down, 1]])
        return filled([corners @ lay.to_paper.T], frame)
