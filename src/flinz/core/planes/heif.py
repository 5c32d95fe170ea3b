"""HEIF pictures, as telephones keep photos (.heic): decoded by a process of their own."""

import struct
import subprocess
import sys
from collections.abc import Callable

from PIL import Image

from flinz.errors import PhotoError

# What the reader says before the pixels: width, height, how many pictures the file holds, bytes of
# the profile, and the pixels' mode.
HEAD = struct.Struct("<4I8s")
BRANDS = (b"heic", b"heix", b"heim", b"heis", b"hevc", b"hevx", b"hevm", b"hevs", b"mif1", b"msf1")
# Longer than the largest picture takes on a slow machine: a damaged one might never end.
MOST_SECONDS = 180.0
DAMAGED = (
    "The picture file is damaged or ends too early. "
    "Copy it again from where it came from, then bring it in."
)


def is_heif(data: bytes) -> bool:
    """Whether a file says that it is HEIF, and not AVIF, which is kept in the same way."""
    brands = data[8 : int.from_bytes(data[:4], "big")]
    return data[4:8] == b"ftyp" and brands[:4] in BRANDS and b"avif" not in brands


def opened(data: bytes, most_px: int, check: Callable[[int, int], None]) -> Image.Image:
    """The main picture of a HEIF file, upright, 8 bits a channel, with its profile.

    check is told its size before its pixels are looked at, and may raise. Where the file holds
    several pictures, their number is in info["pictures"]. Raises PhotoError.
    """
    command = [sys.executable, "-m", "flinz.core.planes.heif_reader", str(most_px)]
    try:
        done = subprocess.run(command, input=data, capture_output=True, timeout=MOST_SECONDS)
        width, height, pictures, profile_bytes, mode = HEAD.unpack_from(done.stdout)
        check(width, height)
        held = memoryview(done.stdout)[HEAD.size :]
        image = Image.frombytes(mode.rstrip(b"\0").decode(), (width, height), held[profile_bytes:])
    except (subprocess.TimeoutExpired, struct.error, ValueError) as error:
        raise PhotoError(DAMAGED) from error
    image.format = "HEIC"
    image.info = {"pictures": pictures}
    if profile_bytes:
        image.info["icc_profile"] = bytes(held[:profile_bytes])
    return image
