"""The photo in frames of its box: cropped, at any size, as grey, its light evened."""

from typing import Any

import numpy as np
from numpy.typing import NDArray

from flinz.core.planes.filters import Plane
from flinz.core.planes.photo import enlarged, shrunk
from flinz.core.press.handling import Handling
from flinz.core.press.keys import content_key
from flinz.core.scale import Frame
from flinz.core.stages import light, tone
from flinz.core.stages.grey import luminance_grey, pulled_grey

# A large photo is first averaged down to one of these for all that is half as large or smaller.
HALFWAYS_PX = (500, 1000, 3200)
SMALL_COPIES_PX = HALFWAYS_PX[:2]

Picture = NDArray[np.float32]


class Developing(Handling):
    """What is made of the photo before the curve of any plate."""

    def photo_rgb(self, frame: Frame) -> Picture:
        """The photo in a frame, (H, W, 3) float32 0..1."""
        rgb = self._rgb(frame)
        if rgb.dtype == np.float32:
            return rgb
        return rgb.astype(np.float32) / np.float32(np.iinfo(rgb.dtype).max)

    def _rgb(self, frame: Frame) -> NDArray[Any]:
        """The photo in a frame: float32 0..1 where enlarged, uint16 where shrunk, else as it is."""
        if self.made is not None:
            return self.made.rgb(frame)
        pixels = self._taken()
        height, width = pixels.shape[:2]
        if (frame.full_width, frame.full_height) == (width, height):
            return pixels[frame.top : frame.bottom, frame.left : frame.right]
        if frame.full_width > width or frame.full_height > height:
            large: NDArray[Any] = self.step(
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

    def _taken(self) -> NDArray[Any]:
        """The photo as it is turned and cropped, at its own pixels."""
        cropping = self.picture.crop.cropping
        if cropping.straighten == 0:
            return cropping.taken(self.photo)
        taken: NDArray[Any] = self.step(
            "taken",
            self.photo_key,
            None,
            (),
            lambda: cropping.taken(self.photo),
            alike=True,
        )
        return taken

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
            small: NDArray[Any] = self.step(
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
        made = self.made
        plain: Plane = self.step(
            "grey",
            self.photo_key,
            None,
            frame.pixels,
            lambda: luminance_grey(self._rgb(frame)) if made is None else made.tone(frame),
            alike=True,
        )
        return plain

    def mixed(self, settings: tone.Tone, frame: Frame) -> Plane:
        """Grey by the plate's ring of hues."""
        if not settings.pulls:
            return self.plain_grey(frame)
        grey: Plane = self.step(
            "mixed",
            self.photo_key,
            settings.pulls,
            frame.pixels,
            lambda: pulled_grey(self.plain_grey(frame), self._rgb(frame), settings.pulls),
            alike=True,
        )
        return grey

    def lit(self, settings: tone.Tone, frame: Frame) -> Plane:
        """Grey after shadows, highlights and local contrast."""
        grey = self.mixed(settings, frame)
        if not any(settings.light):
            return grey
        grid = self.box.whole_at(light.grid_px_per_mm(self.box.long_edge))
        before = content_key(self.photo_key, settings.pulls)
        base = self.step(
            "light",
            before,
            settings.reach,
            grid,
            lambda: light.split(self.mixed(settings, grid), grid, settings.reach),
            alike=True,
        )
        relit: Plane = self.step(
            "relit",
            before,
            (settings.reach, settings.light),
            frame,
            lambda: light.relit(grey, frame, base, settings.light),
            alike=True,
        )
        return relit
