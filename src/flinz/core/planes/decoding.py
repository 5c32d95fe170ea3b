"""Decoding a picture file to upright sRGB pixels, within limits checked before it is decoded."""

import io
import math
import struct
from collections.abc import Callable
from functools import partial
from typing import Any

import cv2
import numpy as np
from numpy.typing import NDArray
from PIL import Image, ImageCms

from flinz.core.planes import heif
from flinz.core.planes.photo import MAX_ASPECT, MIN_SIDE_PX, Photo, Pixels, is_too_thin
from flinz.errors import PhotoError

MAX_BYTES = 200_000_000
MAX_PIXELS = 150_000_000
# What is held while a picture is decoded, at most: with the program and the file itself it stays
# under one and a half GB.
MAX_HELD_BYTES = 1_050_000_000
FORMATS = ("JPEG", "AVIF", "PNG", "TIFF", "WEBP", "GIF", "BMP")
# Rows that are turned into sRGB at once.
STRIP_ROWS = 256
# Bytes a pixel takes while Pillow holds it; four in all modes that are not here.
HELD_BYTES = {"1": 1, "L": 1, "P": 1, "I;16": 2, "I;16B": 2, "I;16L": 2}
# Bytes a pixel that decoders hold besides the picture they give; of a progressive JPEG all its
# coefficients.
HELD_BESIDES = {"WEBP": 12, "GIF": 8, "AVIF": 12}
PROGRESSIVE_BYTES = 6
# Of HEIF, all there is while its own process decodes it and while it becomes sRGB.
HEIF_BYTES = 13
DEEP_GREYS = ("I;16", "I;16B", "I;16L", "I", "F")
ORIENTATION = 0x0112

# The limit above is ours, with a sentence; Pillow's own would only warn up to twice its bound.
Image.MAX_IMAGE_PIXELS = None

# The sRGB pixels of some rows, from..to.
Strip = Callable[[int, int], Pixels]


def decode(data: bytes, key: str, least_px: int | None = None) -> Photo:
    """Decode a picture file to upright sRGB pixels.

    Honours EXIF orientation and an embedded colour profile; lays transparency over white; keeps
    16 bits a channel where a PNG or TIFF has them and no foreign profile. Of an animation or a file
    of several pages the first picture is taken, of HEIF the main one, and a note says so.
    least_px: of the long edge, at which a picture is wanted whose pixels it holds may be averaged
    while it is read.
    Raises PhotoError with a sentence for anything that cannot be brought in.
    """
    image = _opened(data)
    file_format, size = image.format or "", image.size
    deep_bytes = _deep_bytes(data, image)
    check_size(*size, _held_bytes(image, deep_bytes))
    try:
        # What decoders come upon in damaged bytes, and raise then, has no bounds.
        notes = _frame_notes(image)
        turn = _orientation(data, image)
        strip = _deep(data) if deep_bytes else None
        if least_px is not None and file_format == "JPEG":
            # By two, four or eight, as far as the least allows.
            share = least_px / max(size)
            image.draft(None, (math.ceil(size[0] * share), math.ceil(size[1] * share)))
            size = image.size
        if strip is None:
            strip = _shallow(image, notes)
        pixels = _upright(strip, size, turn)
    except PhotoError:
        raise
    except Exception as error:
        raise PhotoError(heif.DAMAGED) from error
    return Photo(pixels, key, file_format, notes)


def _opened(data: bytes) -> Image.Image:
    if not data:
        raise PhotoError("The file is empty (0 bytes). Copy it again from where it came from.")
    if len(data) > MAX_BYTES:
        raise PhotoError(
            f"The file has {len(data) / 1e6:.0f} MB; Flinz takes photos of up to "
            f"{MAX_BYTES / 1e6:.0f} MB. Save a smaller copy, then bring that in."
        )
    if heif.is_heif(data):
        most_px = min(MAX_PIXELS, MAX_HELD_BYTES // HEIF_BYTES)
        return heif.opened(data, most_px, partial(check_size, bytes_a_pixel=HEIF_BYTES))
    try:
        return Image.open(io.BytesIO(data), formats=FORMATS)
    except Exception as error:
        raise PhotoError(
            "This is not a picture that Flinz can read. "
            "Bring in a JPEG, HEIC, AVIF, PNG, TIFF, WebP, GIF or BMP file."
        ) from error


def check_size(width: int, height: int, bytes_a_pixel: int = 3) -> None:
    """Raise PhotoError for a picture that is too large to be decoded or too thin to be drawn."""
    if width * height > MAX_PIXELS:
        raise PhotoError(
            f"The picture has {width:,} × {height:,} pixels; Flinz takes up to "
            f"{MAX_PIXELS / 1e6:.0f} million. Save a smaller copy, then bring that in."
        )
    held = width * height * bytes_a_pixel
    if held > MAX_HELD_BYTES:
        raise PhotoError(
            f"To open this picture of {width:,} × {height:,} pixels would take "
            f"{held / 1e6:,.0f} MB of memory; Flinz uses up to {MAX_HELD_BYTES / 1e6:,.0f} MB "
            "for it. Save a smaller copy, or one of 8 bits a channel, then bring that in."
        )
    if min(width, height) < MIN_SIDE_PX:
        raise PhotoError(
            f"The picture is only {width:,} × {height:,} pixels: there is nothing to draw from. "
            "Bring in a larger one."
        )
    if is_too_thin(width, height):
        raise PhotoError(
            f"The picture is {width:,} × {height:,} pixels: one side is more than {MAX_ASPECT} "
            "times the other, which cannot be drawn. Cut a part out of it, then bring that in."
        )


def _held_bytes(image: Image.Image, deep_bytes: int) -> int:
    """Bytes a pixel takes while the picture is decoded, and while it becomes sRGB."""
    if deep_bytes:
        # What is measured: while they are read, rows and transparency lie beside the picture.
        return deep_bytes * 5 // 4 + 6
    own, after = HELD_BYTES.get(image.mode, 4), 6 if image.mode in DEEP_GREYS else 3
    besides = HELD_BESIDES.get(image.format or "", 0)
    if image.info.get("progressive"):
        besides = PROGRESSIVE_BYTES
    return own + max(after, besides)


def _frame_notes(image: Image.Image) -> list[str]:
    if image.format == "MPO":
        return []
    if image.format == "HEIC":
        held = image.info["pictures"]
        return [f"The file holds {held} pictures; its main one was taken."] if held > 1 else []
    try:
        frames = getattr(image, "n_frames", 1)
        image.seek(0)
    except Exception:
        # What comes after the first picture is damaged; it is not wanted.
        image.seek(0)
        return ["The file holds several pictures, not all of them whole; the first was taken."]
    return [f"The file holds {frames} pictures; the first was taken."] if frames > 1 else []


def _deep_bytes(data: bytes, image: Image.Image) -> int:
    """Bytes a pixel of 16 bits a channel of colour has; 0 where Pillow keeps all there is.

    Pillow narrows 16-bit colour to 8 bits without a word; OpenCV keeps it.
    """
    if _has_foreign_profile(image):
        return 0
    if image.format == "PNG" and data[24:25] == b"\x10":
        return {b"\x02": 6, b"\x06": 8}.get(data[25:26], 0)
    if image.format == "TIFF":
        tags = getattr(image, "tag_v2", {})
        bits = tags.get(258, (8,))
        is_colour = len(bits) >= 3 and int(tags.get(262, 2)) == 2
        return 2 * len(bits) if is_colour and max(bits) == 16 else 0
    return 0


def _orientation(data: bytes, image: Image.Image) -> int:
    """How the picture lies, as EXIF has it: 1..8."""
    if image.format != "PNG":
        return _known(image.getexif().get(ORIENTATION))
    # Pillow would decode all pixels to see whether it is said behind them.
    exif, at = Image.Exif(), 8
    while at + 8 <= len(data):
        (length,) = struct.unpack(">I", data[at : at + 4])
        if data[at + 4 : at + 8] == b"eXIf":
            exif.load(b"Exif\x00\x00" + data[at + 8 : at + 8 + length])
            break
        at += length + 12
    return _known(exif.get(ORIENTATION))


def _known(turn: Any) -> int:
    return turn if turn in range(1, 9) else 1


def _deep(data: bytes) -> Strip | None:
    found = cv2.imdecode(np.frombuffer(data, np.uint8), cv2.IMREAD_UNCHANGED)
    if found is None or found.dtype != np.uint16 or found.ndim != 3:
        return None
    picture = found

    def strip(top: int, bottom: int) -> NDArray[np.uint16]:
        rows = picture[top:bottom]
        rgb: NDArray[np.uint16] = np.asarray(rows[..., 2::-1], np.uint16)
        if rows.shape[2] < 4:
            return rgb
        alpha = rows[..., 3:].astype(np.float32) / 65535
        return np.rint(rgb * alpha + 65535 * (1 - alpha)).astype(np.uint16)

    return strip


def _upright(strip: Strip, size: tuple[int, int], turn: int) -> Pixels:
    """All rows, laid strip by strip where they belong once the picture is upright."""
    width, height = size
    first = strip(0, min(height, STRIP_ROWS))
    quarter = {3: 2, 4: 2, 5: 1, 6: 3, 7: 3, 8: 1}.get(turn, 0)
    sides = (width, height) if quarter % 2 else (height, width)
    pixels = np.empty((*sides, 3), first.dtype)
    rows = np.rot90(pixels, -quarter)
    if turn in (2, 4, 5, 7):
        rows = rows[:, ::-1]
    rows[: len(first)] = first
    for top in range(len(first), height, STRIP_ROWS):
        bottom = min(height, top + STRIP_ROWS)
        rows[top:bottom] = strip(top, bottom)
    return pixels


def _shallow(image: Image.Image, notes: list[str]) -> Strip:
    image.load()
    to_srgb = _to_srgb(image, notes)

    def strip(top: int, bottom: int) -> Pixels:
        rows = image.crop((0, top, image.width, bottom))
        if rows.mode in DEEP_GREYS:
            return _deep_grey(rows)
        alpha = None
        if rows.mode == "P":
            rows = rows.convert("RGBA" if "transparency" in rows.info else "RGB")
        if rows.mode in ("RGBA", "LA", "La", "RGBa", "PA") or "transparency" in rows.info:
            rows = rows.convert("RGBA")
            alpha = rows.getchannel("A")
            rows = rows.convert("RGB")
        rows = to_srgb(rows)
        if alpha is not None:
            white = Image.new("RGB", rows.size, (255, 255, 255))
            rows = Image.composite(rows, white, alpha)
        return np.asarray(rows, np.uint8)

    return strip


def _deep_grey(rows: Image.Image) -> Pixels:
    values = np.asarray(rows, np.float64)
    if rows.mode == "F":
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


def _to_srgb(image: Image.Image, notes: list[str]) -> Callable[[Image.Image], Image.Image]:
    """How rows of a picture become sRGB."""
    profile = image.info.get("icc_profile")
    # Rows without colour of their own lose their palette and their transparency before.
    mode = "RGB" if image.mode not in ("L", "CMYK", "LAB") else image.mode
    transform: Any = None
    if profile:
        try:
            source = ImageCms.ImageCmsProfile(io.BytesIO(profile))
            # Grey that is already grey must stay exactly as it is.
            if mode != "L" and (mode != "RGB" or _has_foreign_profile(image)):
                transform = ImageCms.buildTransform(
                    source,
                    ImageCms.createProfile("sRGB"),
                    mode,
                    "RGB",
                    ImageCms.Intent.RELATIVE_COLORIMETRIC,
                )
        except (ImageCms.PyCMSError, OSError):
            notes.append("The colour profile in the file is damaged; colours were taken as sRGB.")

    def to_srgb(rows: Image.Image) -> Image.Image:
        if transform is None or rows.mode != mode:
            return rows.convert("RGB")
        return ImageCms.applyTransform(rows, transform) or rows.convert("RGB")

    return to_srgb
