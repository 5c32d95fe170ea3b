"""Photos: pixels that are drawn from, shrunk and enlarged."""

import math
from dataclasses import dataclass, field
from typing import Any

import cv2
import numpy as np
from numpy.typing import NDArray

from flinz.core.planes.filters import averaged
from flinz.core.scale import Frame

# What is averaged down at once, and in how many rows at a time what is larger.
AT_ONCE_VALUES = 24_000_000
STRIP_ROWS = 512

# Beyond these there is hardly a row of pixels to draw.
MIN_SIDE_PX, MAX_ASPECT = 2, 60

Pixels = NDArray[Any]  # (H, W, 3) uint8 or uint16


@dataclass(frozen=True, eq=False)
class Photo:
    """A decoded photo.

    pixels: (H, W, 3) uint8 or uint16, sRGB, upright. key: names the content; equal keys mean
    equal pixels. notes: sentences about what decoding had to leave out.
    """

    pixels: Pixels
    key: str
    format: str = ""
    notes: list[str] = field(default_factory=list)

    @property
    def width(self) -> int:
        """Columns."""
        return int(self.pixels.shape[1])

    @property
    def height(self) -> int:
        """Rows."""
        return int(self.pixels.shape[0])


def is_too_thin(width: int, height: int) -> bool:
    """Whether a picture has too few pixels across or down to be drawn."""
    shorter = min(width, height)
    return shorter < MIN_SIDE_PX or max(width, height) > MAX_ASPECT * shorter


def shrunk(pixels: Pixels, width: int, height: int) -> NDArray[np.uint16]:
    """The picture averaged down to width x height, (height, width, 3) uint16.

    Of a large photo the rows are averaged first, some at a time: all at 16 bits takes much memory.
    """
    if pixels.size <= AT_ONCE_VALUES:
        return averaged(_sixteen_bits(pixels), width, height)
    rows = np.empty((pixels.shape[0], width, 3), np.uint16)
    for top in range(0, len(rows), STRIP_ROWS):
        strip = _sixteen_bits(pixels[top : top + STRIP_ROWS])
        rows[top : top + STRIP_ROWS] = averaged(strip, width, len(strip))
    return averaged(rows, width, height)


def _sixteen_bits(pixels: Pixels) -> NDArray[np.uint16]:
    # An average of 8 bits is finer than 8 bits.
    if pixels.dtype == np.uint8:
        return np.multiply(pixels, np.uint16(257), dtype=np.uint16)
    return np.ascontiguousarray(pixels, np.uint16)


def enlarged(pixels: Pixels, frame: Frame) -> NDArray[np.float32]:
    """The frame's part of the picture, enlarged by cubic interpolation, float32 0..1.

    Only the pixels that the frame needs are touched, so zooming far in stays cheap.
    """
    height, width = pixels.shape[:2]
    step_x, step_y = width / frame.full_width, height / frame.full_height
    left = max(0, math.floor(frame.left * step_x) - 3)
    top = max(0, math.floor(frame.top * step_y) - 3)
    right = min(width, math.ceil(frame.right * step_x) + 3)
    bottom = min(height, math.ceil(frame.bottom * step_y) + 3)
    part = pixels[top:bottom, left:right]
    light = part.astype(np.float32) / np.float32(np.iinfo(pixels.dtype).max)
    start_x = (frame.left + 0.5) * step_x - 0.5 - left
    start_y = (frame.top + 0.5) * step_y - 0.5 - top
    back = np.array([[step_x, 0, start_x], [0, step_y, start_y]])
    picture = cv2.warpAffine(
        light,
        back,
        (frame.width, frame.height),
        flags=cv2.INTER_CUBIC | cv2.WARP_INVERSE_MAP,
        borderMode=cv2.BORDER_REPLICATE,
    )
    return np.asarray(np.clip(picture, 0, 1, out=picture), np.float32)
