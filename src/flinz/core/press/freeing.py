"""The cutout in frames of the box: studied once a photo, cut anew with each stroke."""

import numpy as np

from flinz.core.document.plate import Plate
from flinz.core.hand import colours, cutout
from flinz.core.hand.cutout import Cutout, Found, Studied, laid_in_frame
from flinz.core.hand.matting import Lines
from flinz.core.hand.raster import Placing
from flinz.core.hand.strokes import Brush, Stroke
from flinz.core.marks.vectors import Strokes as MarkedStrokes
from flinz.core.planes.filters import Plane
from flinz.core.planes.photo import shrunk
from flinz.core.press.developing import Developing, Picture
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
        return self.part(plate.photo.part, frame)

    def part(self, name: str, frame: Frame) -> Plane:
        """The share 0..1 of each pixel of a frame of the box that is of a part, by its name."""
        if name == Shows.SUBJECT:
            return self.alpha(frame)
        if name == Shows.BACKDROP:
            return np.asarray(1 - self.alpha(frame), np.float32)
        return np.ones((frame.height, frame.width), np.float32)

    def kept(self, brush: Brush, frame: Frame) -> Plane:
        """The share 0..1 of a frame of the box to which a stroke is kept."""
        share = self.part(brush.kept_to, frame)
        if brush.tone_from > 0 or brush.tone_to < 1:
            share = share * in_window(self.plain_grey(frame), brush.tone_from, brush.tone_to)
        return np.asarray(share, np.float32)

    def alpha(self, frame: Frame) -> Plane:
        """How much of each pixel of a frame of the box is subject, (H, W) float32 0..1.

        Of what is made, how much of it lies within.
        """
        made = self.made
        if made is not None:
            within: Plane = self.step(
                "within", made.key, None, frame, lambda: made.share(frame), alike=True
            )
            return within
        band_px = self.band_px
        alpha: Plane = self.step(
            "alpha",
            self.cutout_key,
            band_px,
            frame,
            lambda: self._alpha(frame, band_px),
            alike=True,
        )
        return alpha

    def own_colours(self, part: str, frame: Frame) -> Picture:
        """The photo in a frame of the box, free of the colours beside a part, as photo_rgb."""
        rgb = self.photo_rgb(frame)
        if part == Shows.WHOLE or self.made is not None:
            return rgb
        placing = self._placing(frame)
        # Where it was found, wherever it is moved to: only there are colours mixed.
        alpha = self._as_found(rgb, placing)
        apart = laid_in_frame(self._apart(), placing)
        if part == Shows.BACKDROP:
            return colours.freed(rgb, alpha, -apart)
        return colours.freed(rgb, np.asarray(1 - alpha, np.float32), apart)

    def _apart(self) -> Picture:
        """How far subject and backdrop lie apart in colour, at the cutout's own size."""

        def make() -> Picture:
            photo = self.studied()
            return colours.apart(photo.rgb, self._as_found(photo.rgb, photo.placing))

        before = self._edge_key(self.band_px)
        found: Picture = self.step("colours apart", before, None, (), make, alike=True)
        return found

    def _as_found(self, rgb: Picture, placing: Placing) -> Plane:
        """Alpha of a frame with exact strokes, its edge neither moved nor softened."""
        alpha = cutout.in_frame(self._lines(self.band_px), rgb, placing)
        return cutout.finished(alpha, Cutout(), 1.0, self._cutout_strokes(), placing)

    @property
    def band_px(self) -> float:
        """How far hair is looked for, in pixels of the cutout; 0 in a draft before it is found."""
        band_px = self.picture.cutout.hair * self._work_px_per_mm
        return 0.0 if self.draft and not self.results.holds(self._edge_key(band_px)) else band_px

    def _alpha(self, frame: Frame, band_px: float) -> Plane:
        settings = self.picture.cutout
        outer = frame.widened(int(frame.px(cutout.reach_mm(settings))) + 2)
        lines = self._lines(band_px)
        placing = self._placing(outer)
        alpha = cutout.in_frame(lines, self.photo_rgb(outer), placing)
        strokes = self._cutout_strokes()
        done = cutout.finished(alpha, settings, frame.px_per_mm, strokes, placing)
        return np.ascontiguousarray(done[frame.slices_in(outer)])

    def _edge_key(self, band_px: float) -> str:
        return self.key("edge", self.photo.key, (*self._cut_by, band_px), (), True)

    def _lines(self, band_px: float) -> Lines:
        """The edge with hair looked for in a band; without a band it is hard."""

        def make() -> Lines:
            photo, cut = self.studied(), self.cut_out()
            if band_px == 0:
                return cutout.edge_lines(photo, cutout.hard_edge(cut))
            # Takes long to import, and is not wanted where nothing is cut out.
            from flinz.core.hand.hair import hair_edge

            return cutout.edge_lines(photo, hair_edge(photo, cut, band_px))

        lines: Lines = self.results.get("edge", self._edge_key(band_px), make)
        return lines

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
        _, islands_px = self._cut_by
        cut: Found = self.step(
            "cutout",
            self.photo.key,
            self._cut_by,
            (),
            lambda: cutout.found(self.studied(), self._cutout_strokes(), islands_px),
            alike=True,
        )
        return cut

    @property
    def _cut_by(self) -> tuple[str | None, float]:
        """What decides the cut of a photo: its strokes, and how large an island is left, pixels."""
        picture = self.picture
        islands_px = picture.cutout.islands * self._work_px_per_mm**2
        return self.sheet.cutouts.get(picture.photo), islands_px

    def _cutout_strokes(self) -> list[Stroke]:
        listed, _ = self._cut_by
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
