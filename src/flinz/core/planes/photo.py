"""Decoding a photo's bytes to sRGB pixels, within limits that are checked before decoding."""

import io
import math
from dataclasses import dataclass, field
from typing import Any

import cv2
import numpy as np
from numpy.typing import NDArray
from PIL import Image, ImageCms, ImageOps

from flinz.core.planes.filters import averaged
from flinz.core.scale import Frame
from flinz.errors import PhotoError

MAX_BYTES = 200_000_000
MAX_PIXELS = 150_000_000
MIN_SIDE_PX = 2
FORMATS = ("JPEG", "PNG", "TIFF", "WEBP", "GIF", "BMP")
# What is averaged down at once, and in how many rows at a time what is larger.
AT_ONCE_VALUES = 24_000_000
STRIP_ROWS = 512

# The limit below is ours, with a sentence; Pillow's own would only warn up to twice its bound.
Image.MAX_IMAGE_PIXELS = None

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


def decode(data: bytes, key: str) -> Photo:
    """Decode a picture file to upright sRGB pixels.

    Honours EXIF orientation and an embedded colour profile; lays transparency over white; keeps
    16 bits a channel where the file has them and no foreign profile. Of an animation or a file of
    several pages the first picture is taken, and a note says so.
    Raises PhotoError with a sentence for anything that cannot be brought in.
    """
    image = _opened(data)
    _check_size(*image.size)
    notes = _frame_notes(image)
    file_format = image.format or ""
    try:
        image.load()
        turned = ImageOps.exif_transpose(image)
        pixels = _deep(data, image) if _is_deep_colour(data, image) else None
        pixels = _shallow(turned, notes) if pixels is None else _oriented(pixels, image)
    except PhotoError:
        raise
    except (OSError, SyntaxError, ValueError, EOFError, ImageCms.PyCMSError, cv2.error) as error:
        raise PhotoError(
            "The picture file is damaged or ends too early. "
            "Copy it again from where it came from, then bring it in."
        ) from error
    return Photo(np.ascontiguousarray(pixels), key, file_format, notes)


def _opened(data: bytes) -> Image.Image:
    if not data:
        raise PhotoError("The file is empty (0 bytes). Copy it again from where it came from.")
    if len(data) > MAX_BYTES:
        raise PhotoError(
            f"The file has {len(data) / 1e6:.0f} MB; Flinz takes photos of up to "
            f"{MAX_BYTES / 1e6:.0f} MB. Save a smaller copy, then bring that in."
        )
    try:
        return Image.open(io.BytesIO(data), formats=FORMATS)
    except (OSError, SyntaxError, ValueError) as error:
        raise PhotoError(
            "This is not a picture that Flinz can read. "
            "Bring in a JPEG, PNG, TIFF, WebP, GIF or BMP file."
        ) from error


def _check_size(width: int, height: int) -> None:
    if width * height > MAX_PIXELS:
        raise PhotoError(
            f"The picture has {width:,} × {height:,} pixels; Flinz takes up to "
            f"{MAX_PIXELS / 1e6:.0f} million. Save a smaller copy, then bring that in."
        )
    if min(width, height) < MIN_SIDE_PX:
        raise PhotoError(
            f"The picture is only {width} × {height} pixels: there is nothing to draw from. "
            "Bring in a larger one."
        )


def _frame_notes(image: Image.Image) -> list[str]:
    frames = getattr(image, "n_frames", 1)
    if frames > 1 and image.format != "MPO":
        return [f"The file holds {frames} pictures; the first was taken."]
    return []


def _is_deep_colour(data: bytes, image: Image.Image) -> bool:
    # Pillow narrows 16-bit colour to 8 bits without a word; OpenCV keeps it.
    if image.format == "PNG":
        return data[24:25] == b"\x10" and data[25:26] in (b"\x02", b"\x06")
    if image.format == "TIFF":
        bits = getattr(image, "tag_v2", {}).get(258, (8,))
        return bool(max(bits) == 16 and len(bits) >= 3 and _photometric(image) == 2)
    return False


def _photometric(image: Image.Image) -> int:
    return int(getattr(image, "tag_v2", {}).get(262, 2))


def _deep(data: bytes, image: Image.Image) -> Pixels | None:
    if _has_foreign_profile(image):
        return None
    found = cv2.imdecode(np.frombuffer(data, np.uint8), cv2.IMREAD_UNCHANGED)
    if found is None or found.dtype != np.uint16 or found.ndim != 3:
        return None
    rgb: NDArray[np.uint16] = np.asarray(found[..., 2::-1], np.uint16)
    if found.shape[2] == 4:
        alpha = found[..., 3:].astype(np.float32) / 65535
        rgb = np.rint(rgb * alpha + 65535 * (1 - alpha)).astype(np.uint16)
    return rgb


def _oriented(pixels: Pixels, image: Image.Image) -> Pixels:
    turn = image.getexif().get(0x0112, 1)
    if turn in (2, 4, 5, 7):
        pixels = pixels[:, ::-1]
    quarter = {3: 2, 4: 2, 5: 1, 6: 3, 7: 3, 8: 1}.get(turn, 0)
    return np.rot90(pixels, quarter)


def _shallow(image: Image.Image, notes: list[str]) -> Pixels:
    profile = image.info.get("icc_profile")
    if image.mode in ("I;16", "I;16B", "I;16L", "I", "F"):
        return _deep_grey(image)
    alpha = None
    if image.mode == "P":
        image = image.convert("RGBA" if "transparency" in image.info else "RGB")
    if image.mode in ("RGBA", "LA", "La", "RGBa", "PA") or "transparency" in image.info:
        image = image.convert("RGBA")
        alpha = image.getchannel("A")
        image = image.convert("RGB")
    image = _to_srgb(image, profile, notes)
    if alpha is not None:
        white = Image.new("RGB", image.size, (255, 255, 255))
        image = Image.composite(image, white, alpha)
    return np.asarray(image, np.uint8)


def _deep_grey(image: Image.Image) -> Pixels:
    values = np.asarray(image, np.float64)
    if image.mode == "F":
        values = np.nan_to_num(values) * 65535
    grey = np.clip(np.rint(values), 0, 65535).astype(np.uint16)
    return np.repeat(grey[..., None], 3, axis=2)


def _has_foreign_profile(image: Image.Image) -> bool:
    profile = image.info.get("icc_profile")
    if not profile:
        return False
    try:
        name = ImageCms.getProfileDescription(ImageCms.ImageCmsProfile(io.BytesIO(profile)))
    except (ImageCms.PyCMSError, OSError):
        return False
    return "srgb" not in name.lower()


def _to_srgb(image: Image.Image, profile: bytes | None, notes: list[str]) -> Image.Image:
    if profile and image.mode in ("RGB", "L", "CMYK", "LAB"):
        try:
            source = ImageCms.ImageCmsProfile(io.BytesIO(profile))
            if image.mode != "RGB" or _has_foreign_profile(image):
                # Grey that is already grey must stay exactly as it is.
                if image.mode == "L":
                    return image.convert("RGB")
                converted = ImageCms.profileToProfile(
                    image, source, _srgb(), ImageCms.Intent.RELATIVE_COLORIMETRIC, "RGB"
                )
                return converted or image.convert("RGB")
        except (ImageCms.PyCMSError, OSError):
            notes.append("The colour profile in the file is damaged; colours were taken as sRGB.")
    return image.convert("RGB")


def _srgb() -> Any:
    return ImageCms.createProfile("sRGB")


def cropped(photo: Photo, crop: tuple[float, float, float, float], quarter_turns: int) -> Pixels:
    """The pixels inside a crop, a view where possible.

    crop: left, top, right, bottom as shares 0..1 of the photo after turning; quarter_turns:
    counter-clockwise.
    """
    pixels = np.rot90(photo.pixels, quarter_turns)
    height, width = pixels.shape[:2]
    left, right = _bounds(crop[0], crop[2], width)
    top, bottom = _bounds(crop[1], crop[3], height)
    return pixels[top:bottom, left:right]


def crop_size(
    width: int, height: int, crop: tuple[float, float, float, float], quarter_turns: int
) -> tuple[int, int]:
    """Width and height in pixels of a crop of a photo of width x height."""
    if quarter_turns % 2:
        width, height = height, width
    left, right = _bounds(crop[0], crop[2], width)
    top, bottom = _bounds(crop[1], crop[3], height)
    return right - left, bottom - top


def _bounds(low: float, high: float, length: int) -> tuple[int, int]:
    start = min(max(0, math.floor(low * length + 0.5)), length - 1)
    return start, max(start + 1, min(length, math.floor(high * length + 0.5)))


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
