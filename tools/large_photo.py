"""Make the 6000 x 4000 photo for benches from the scarecrow, with grain of its own."""

import sys
from pathlib import Path

from flinz.bench import as_jpeg, resized_with_grain
from flinz.core.planes.decoding import decode
from flinz.demo.scenario import picture


def large_photo() -> bytes:
    """The JPEG."""
    large = resized_with_grain(decode(picture("scarecrow.jpg"), "scarecrow"), 6000)
    return as_jpeg(large.pixels[250:4250], 92)


def main() -> None:
    """Write it to the path on the command line."""
    target = Path(sys.argv[1])
    target.parent.mkdir(exist_ok=True)
    target.write_bytes(large_photo())


if __name__ == "__main__":
    main()
