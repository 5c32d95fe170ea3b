"""A program that decodes one HEIF picture from standard input to standard output.

Run with the most pixels that are wanted. It ends at once where a damaged file brings its library
down, and nothing else does. Out come a head, a colour profile and the pixels, upright; of a larger
picture the first two alone.
"""

import sys

import pi_heif

from flinz.core.planes.heif import HEAD


def main() -> None:
    """Decode the file's main picture."""
    pi_heif.options.THUMBNAILS = pi_heif.options.DEPTH_IMAGES = pi_heif.options.AUX_IMAGES = False
    file = pi_heif.open_heif(sys.stdin.buffer.read(), convert_hdr_to_8bit=True)
    profile = file.info.get("icc_profile") or b""
    size = file.size
    pixels = b""
    if size[0] * size[1] <= int(sys.argv[1]):
        # In being decoded a picture may turn out to be smaller than it said.
        pixels, size = file.data, file.size
    out = sys.stdout.buffer
    out.write(HEAD.pack(*size, len(file), len(profile), file.mode.encode()))
    out.write(profile)
    out.write(pixels)
    out.flush()


if __name__ == "__main__":
    main()
