"""What of a photo is drawn: turned by quarters, straightened, mirrored, cropped."""

import math
from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from flinz.core.planes.photo import Photo, Pixels


@dataclass(frozen=True)
class Cropping:
    """How a photo is turned, and what is taken of it then.

    bounds: left, top, right, bottom as shares 0..1 of the turned photo. quarter_turns: counter-
    clockwise. straighten: degrees counter-clockwise; the turned photo is then so much smaller that
    no corner is bare. mirrored: left to right, after that.
    """

    bounds: tuple[float, float, float, float] = (0.0, 0.0, 1.0, 1.0)
    quarter_turns: int = 0
    straighten: float = 0.0
    mirrored: bool = False

    def size(self, width: int, height: int) -> tuple[int, int]:
        """Width and height in pixels of what is taken of a photo of width x height."""
        left, top, right, bottom = self.bounds_px(width, height)
        return right - left, bottom - top

    def bounds_px(self, width: int, height: int) -> tuple[int, int, int, int]:
        """Left, top, right, bottom in whole pixels of the turned photo."""
        width, height = self.turned_size(width, height)
        left, right = _bounds(self.bounds[0], self.bounds[2], width)
        top, bottom = _bounds(self.bounds[1], self.bounds[3], height)
        return left, top, right, bottom

    def turned_size(self, width: int, height: int) -> tuple[int, int]:
        """Width and height in pixels of the turned photo, before it is cropped."""
        if self.quarter_turns % 2:
            width, height = height, width
        if self.straighten == 0:
            return width, height
        turn = math.radians(abs(self.straighten))
        larger = math.cos(turn) + math.sin(turn) * max(width / height, height / width)
        return max(1, int(width / larger)), max(1, int(height / larger))

    def from_photo(self, width: int, height: int) -> NDArray[np.float64]:
        """The (2, 3) map from columns and rows of the photo to those of what is taken of it.

        The first pixel reaches from 0 to 1.
        """
        turned_width, turned_height = self.turned_size(width, height)
        left, top, _, _ = self.bounds_px(width, height)
        found = np.array([[1, 0, 0], [0, 1, 0]], np.float64)
        for _ in range(self.quarter_turns):
            found = np.array([found[1], -found[0] + (0, 0, width)])
            width, height = height, width
        if self.straighten != 0:
            turn = math.radians(self.straighten)
            way = np.array([[math.cos(turn), math.sin(turn)], [-math.sin(turn), math.cos(turn)]])
            found[:, 2] -= width / 2, height / 2
            found = way @ found
            found[:, 2] += turned_width / 2, turned_height / 2
        if self.mirrored:
            found[0] = -found[0] + (0, 0, turned_width)
        found[:, 2] -= left, top
        return found

    def taken(self, photo: Photo) -> Pixels:
        """The pixels that are taken, a view where nothing is straightened."""
        left, top, right, bottom = self.bounds_px(photo.width, photo.height)
        if self.straighten == 0:
            turned = np.rot90(photo.pixels, self.quarter_turns)
            if self.mirrored:
                turned = turned[:, ::-1]
            return turned[top:bottom, left:right]
        # Middles of pixels lie half a pixel in.
        back = np.asarray(
            cv2.invertAffineTransform(self.from_photo(photo.width, photo.height)), np.float64
        )
        back[:, 2] += back[:, :2] @ np.array([0.5, 0.5]) - 0.5
        return np.asarray(
            cv2.warpAffine(
                np.ascontiguousarray(photo.pixels),
                back,
                (right - left, bottom - top),
                flags=cv2.INTER_CUBIC | cv2.WARP_INVERSE_MAP,
                borderMode=cv2.BORDER_REPLICATE,
            )
        )


def _bounds(low: float, high: float, length: int) -> tuple[int, int]:
    start = min(max(0, math.floor(low * length + 0.5)), length - 1)
    return start, max(start + 1, min(length, math.floor(high * length + 0.5)))
