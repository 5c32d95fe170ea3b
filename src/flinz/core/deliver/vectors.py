"""What all formats of vectors have in common."""

from collections.abc import Callable
from pathlib import Path

from flinz.core.deliver.artwork import Artwork, VectorWish
from flinz.core.deliver.format import Delivery, Format, Group
from flinz.core.deliver.raster import vector_frame
from flinz.core.deliver.shaping import artwork_of


def vector_format(
    wish: type[VectorWish],
    label: str,
    suffixes: tuple[str, ...],
    media_type: str,
    write_artwork: Callable[[Path, Artwork, str], None],
) -> Format:
    """A format whose files hold a sheet as vectors; write_artwork is given its title too."""

    def write(path: Path, delivery: Delivery, wanted: VectorWish) -> None:
        write_artwork(path, artwork_of(delivery, wanted), delivery.sheet.title)

    return Format(
        wish=wish,
        label=label,
        suffixes=suffixes,
        media_type=media_type,
        frame=vector_frame,
        write=write,
        group=Group.SHAPES,
        write_artwork=write_artwork,
    )
