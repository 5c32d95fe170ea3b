"""The cutout in frames of the box: studied once a photo, cut anew with each stroke."""

import numpy as np

from flinz.core.document.plate import Plate
from flinz.core.hand import cutout
from flinz.core.hand.cutout import Found, Studied
from flinz.core.hand.matting import Lines
from flinz.core.hand.strokes import Brush, Stroke
from flinz.core.marks.vectors import Strokes as MarkedStrokes
from flinz.core.planes.filters import Plane
from flinz.core.planes.photo import shrunk
from flinz.core.press.developing import Developing
from flinz.core.scale import Frame
from flinz.core.shapes.contours import level_lines
from flinz.core.stages.ink import in_window
from flinz.core.stages.part import Shows

# The edge is followed at this scale, and at most at so many pixels.
CONTOUR_PX_PER_MM, CONTOUR_PX = 8.0, 1800


class Freeing(Developing):
    """What of each pixel of a frame is subject."""

    def share(self, plate: Plate, frame: Frame) -> Plane:
        """The share 0..1 of each pixel of a frame of the box that is of the plate's part."""
        if plate.photo.part == Shows.SUBJECT:
            return self.alpha(frame)
        if plate.photo.part == Shows.BACKDROP:
            return np.asarray(1 - self.alpha(frame), np.float32)
        return np.ones((frame.height, frame.width), np.float32)

    def kept(self, brush: Brush, frame: Frame) -> Plane:
        """The share 0..1 of a frame of the box to which a stroke is kept."""
        share = np.ones((frame.height, frame.width), np.float32)
        if brush.kept_to != "everywhere":
            share = self.alpha(frame)
        if brush.kept_to == "backdrop":
            share = np.asarray(1 - share, np.float32)
        if brush.tone_from > 0 or brush.tone_to < 1:
            share = share * in_window(self.plain_grey(frame), brush.tone_from, brush.tone_to)
        return np.asarray(share, np.float32)

    def alpha(self, frame: Frame) -> Plane:
        """How much of each pixel of a frame of the box is subject, (H, W) float32 0..1."""
        settings = self.sheet.picture.cutout
        is_hard = settings.hair == 0 or (self.draft and not self.results.holds(self._hair_key))
        alpha: Plane = self.step(
            "alpha",
            self.cutout_key,
            is_hard,
            frame,
            lambda: self._alpha(frame, is_hard),
            alike=True,
        )
        return alpha

    def _alpha(self, frame: Frame, is_hard: bool) -> Plane:
        settings = self.sheet.picture.cutout
        outer = frame.widened(int(frame.px(cutout.reach_mm(settings))) + 2)
        lines = self._lines(is_hard)
        placing = self._placing(outer)
        alpha = cutout.in_frame(lines, self.photo_rgb(outer), placing)
        strokes = self._cutout_strokes()
        done = cutout.finished(alpha, settings, frame.px_per_mm, strokes, placing)
        return np.ascontiguousarray(done[frame.slices_in(outer)])

    @property
    def _hair_key(self) -> str:
        return self.key("edge", self.cutout_key, False, (), True)

    def _lines(self, is_hard: bool) -> Lines:
        lines: Lines = self.step(
            "edge", self.cutout_key, is_hard, (), lambda: self._edge(is_hard), alike=True
        )
        return lines

    def _edge(self, is_hard: bool) -> Lines:
        photo, cut = self.studied(), self.cut_out()
        if is_hard:
            return cutout.edge_lines(photo, cutout.hard_edge(cut))
        band_px = self.sheet.picture.cutout.hair * self._work_px_per_mm
        return cutout.edge_lines(photo, cutout.hair_edge(photo, cut, band_px))

    @property
    def _work_px_per_mm(self) -> float:
        """Pixels of the cutout's own size to a millimetre of the box."""
        native_per_mm = self.box.native[0] / self.box.width
        edge = max(self.photo.width, self.photo.height)
        return native_per_mm * max(cutout.work_size(self.photo.width, self.photo.height)) / edge

    def studied(self) -> Studied:
        """The whole photo, made ready to be cut out; of the photo alone."""

        def make() -> Studied:
            small = shrunk(
                self.photo.pixels, *cutout.work_size(self.photo.width, self.photo.height)
            )
            return cutout.studied(small.astype(np.float32) / np.float32(65535))

        made: Studied = self.step("studied", self.photo.key, None, (), make, alike=True)
        return made

    def cut_out(self) -> Found:
        """The cut that the strokes come to."""
        islands = self.sheet.picture.cutout.islands
        listed = self.sheet.cutouts.get(self.sheet.picture.photo)
        cut: Found = self.step(
            "cutout",
            self.photo.key,
            (listed, islands, self._work_px_per_mm if islands else 0.0),
            (),
            lambda: cutout.found(
                self.studied(), self._cutout_strokes(), islands * self._work_px_per_mm**2
            ),
            alike=True,
        )
        return cut

    def _cutout_strokes(self) -> list[Stroke]:
        listed = self.sheet.cutouts.get(self.sheet.picture.photo)
        return [] if listed is None else self.listed(listed).strokes

    def contour(self, nib_mm: float) -> MarkedStrokes:
        """The line along the cutout's edge, of a nib, as strokes of the box."""

        def make() -> MarkedStrokes:
            whole = self.box.whole_at(CONTOUR_PX_PER_MM, CONTOUR_PX)
            x, y, first = level_lines(self.alpha(whole), 0.5)
            width = np.full(len(x), nib_mm, np.float32)
            per_px = np.float32(1 / whole.px_per_mm)
            return MarkedStrokes(x * per_px, y * per_px, width, first)

        line: MarkedStrokes = self.step(
            "contour", self.cutout_key, nib_mm, self.box.long_edge, make
        )
        return line
