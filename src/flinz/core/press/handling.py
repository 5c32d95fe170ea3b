"""What the hand did at a stage, as planes in frames of a box; a new stroke adds to what is held."""

from collections.abc import Callable

import numpy as np
from numpy.typing import NDArray

from flinz.core.document.plate import Plate, StageName, hand_of
from flinz.core.hand import raster
from flinz.core.hand.raster import Placing
from flinz.core.hand.strokes import Brush, Stroke
from flinz.core.planes.filters import Plane
from flinz.core.press.framing import photo_to_crop
from flinz.core.press.remembering import Remembering
from flinz.core.scale import Frame

# So many strokes back a picture of earlier ones is looked for, to be added to.
LOOK_BACK = 8
# Of up to so many pixels a draft of a part takes what the hand did from that of all.
WHOLE_PIXELS = 4_000_000


class Handling(Remembering):
    """What hand work comes to in frames of the box."""

    def stops(self, plate: Plate, frame: Frame) -> Plane | None:
        """Stops of light by which tone is moved; None where the hand did nothing at Tone."""
        return self._plane(plate, "tone", frame, raster.moved)

    def spared(self, plate: Plate, stage: StageName, frame: Frame) -> Plane | None:
        """The share of a smoothing that does not arrive, 0..1."""
        plane = self._plane(plate, stage, frame, raster.moved)
        return None if plane is None else np.asarray(np.clip(plane, 0, 1), np.float32)

    def closer(self, plate: Plate, frame: Frame) -> Plane | None:
        """Where the hand wants what is drawn finer (to 1) or coarser (to -1)."""
        plane = self._plane(plate, "draw", frame, raster.moved)
        return None if plane is None else np.asarray(np.clip(plane, -1, 1), np.float32)

    def over_ink(self, plate: Plate, frame: Frame) -> NDArray[np.float32] | None:
        """What covers the finished ink, (H, W, 3) as raster.covered says."""
        return self._plane(plate, "clean", frame, raster.covered)

    def printing(self, plate: Plate, frame: Frame) -> Plane:
        """The share of a plate that the hand lets print, 0..1."""
        plane = self._plane(plate, "ink", frame, raster.moved)
        if plane is None:
            return np.ones((frame.height, frame.width), np.float32)
        return np.asarray(1 - np.clip(plane, 0, 1), np.float32)

    def touched(self, plate: Plate, stage: StageName, frame: Frame) -> Plane:
        """The share of each pixel that the hand touched at a stage, 0..1."""
        plane = self._plane(plate, stage, frame, raster.touched, "touched")
        return np.zeros((frame.height, frame.width), np.float32) if plane is None else plane

    def kept(self, brush: Brush, frame: Frame) -> Plane:
        """The share 0..1 of a frame of the box to which a stroke is kept."""
        raise NotImplementedError

    def _plane(
        self,
        plate: Plate,
        stage: StageName,
        frame: Frame,
        made: Callable[..., NDArray[np.float32]],
        what: str = "",
    ) -> NDArray[np.float32] | None:
        list_id = hand_of(plate).get(stage)
        if list_id is None:
            return None
        listed = self.listed(list_id)
        if not listed.strokes:
            return None

        # Where strokes are kept to a part, the cutout matters, and lengths with it.
        is_kept = listed.is_kept

        def key(count: int, frame: Frame) -> str:
            where = (frame, self.cutout_key) if is_kept else (frame.pixels, "")
            crop = None if self.made else self.picture.crop
            settings = stage, what, crop, where[1]
            return self.key("hand", listed.keys[count - 1], settings, where[0], not is_kept)

        def added(
            strokes: list[Stroke], frame: Frame, before: NDArray[np.float32] | None
        ) -> NDArray[np.float32]:
            def kept(brush: Brush) -> Plane | None:
                return self.kept(brush, frame) if brush.is_kept else None

            return made(strokes, self._placing(frame), before, kept)

        def held(count: int, frame: Frame) -> tuple[int, NDArray[np.float32] | None]:
            # The last of what went before that is remembered, and how many strokes it has.
            for earlier in range(count - 1, max(0, count - 1 - LOOK_BACK), -1):
                before = self.results.held(key(earlier, frame))
                if before is not None:
                    return earlier, before
            return 0, None

        def make(count: int, frame: Frame) -> NDArray[np.float32]:
            begun, before = held(count, frame)
            if begun == 0 and count > 1:
                # All but the last are remembered: the next list, or the next moment of a stroke
                # that is being made, begins with them.
                begun, before = count - 1, all_of(count - 1, frame)
            return added(listed.strokes[begun:count], frame, before)

        def all_of(count: int, frame: Frame) -> NDArray[np.float32]:
            whole = frame.of_all
            if self.draft and frame != whole and whole.width * whole.height <= WHOLE_PIXELS:
                # Parts that are drafted grow with the stroke that is made: of all it is remembered.
                return all_of(count, whole)[frame.slices_in(whole)]

            def found() -> NDArray[np.float32]:
                begun, before = held(count, frame)
                return added(listed.strokes[begun:count], frame, before)

            plane: NDArray[np.float32] = self.results.get("hand before", key(count, frame), found)
            return plane

        count = len(listed.strokes)
        plane: NDArray[np.float32] = self.results.get(
            "hand", key(count, frame), lambda: make(count, frame)
        )
        return plane

    def _placing(self, frame: Frame) -> Placing:
        """Where the uncropped photo lies in a frame of the box."""
        across, down = self.box.native
        scale = frame.full_width / across
        # The photo, too, fills whole rows.
        to_frame = self.to_native * [[scale], [frame.full_height / down]]
        to_frame[:, 2] -= frame.left, frame.top
        return Placing(to_frame, (frame.height, frame.width), self.long_edge_px * scale)

    @property
    def to_native(self) -> NDArray[np.float64]:
        """(2, 3): from where strokes are kept, in shares of what they lie on, to the box's own
        pixels.
        """
        if self.made is not None:
            return np.array([[1.0, 0, 0], [0, 1.0, 0]]) * self.long_edge_px
        return photo_to_crop(self.picture, self.photo)

    @property
    def long_edge_px(self) -> int:
        """The long edge of what strokes lie on: the uncropped photo, or the box without one."""
        if self.made is not None:
            return max(self.box.native)
        return max(self.photo.width, self.photo.height)
