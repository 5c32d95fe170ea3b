"""EPS, level 2: paths in colour, for older machines; what they cannot say is a picture."""

from collections.abc import Iterator
from itertools import groupby
from pathlib import Path
from typing import ClassVar, Literal

import numpy as np
from numpy.typing import NDArray

from flinz.core.deliver.artwork import Artwork, Colour, Item, VectorWish
from flinz.core.deliver.covering import Covering, Pictured, Within, covering
from flinz.core.deliver.primitives import Filled, Lines, Primitive, ring_words
from flinz.core.deliver.vectors import vector_format
from flinz.core.scale import POINTS_A_MM

# Short names keep files of many points small.
PROLOGUE = """/m {moveto} bind def /l {lineto} bind def /c {curveto} bind def
/h {closepath} bind def /f {fill} bind def /s {stroke} bind def
/d {2 copy moveto lineto} bind def
"""


class EpsWish(VectorWish):
    """What EPS is wanted."""

    format: Literal["eps"] = "eps"
    shows_through: ClassVar[bool] = False


def write(path: Path, artwork: Artwork, title: str) -> None:
    """Write an EPS. Its ink covers: where some shows through other, both are said again."""
    with path.open("w", encoding="ascii", errors="replace") as file:
        file.writelines(written(artwork, title))


def written(artwork: Artwork, title: str) -> Iterator[str]:
    """The text of an EPS, in parts."""
    width, height = artwork.width * POINTS_A_MM, artwork.height * POINTS_A_MM
    yield (
        "%!PS-Adobe-3.0 EPSF-3.0\n"
        f"%%BoundingBox: 0 0 {int(np.ceil(width))} {int(np.ceil(height))}\n"
        f"%%HiResBoundingBox: 0 0 {width:.4f} {height:.4f}\n"
        f"%%Title: {_plain(title)}\n%%LanguageLevel: 2\n%%EndComments\n{PROLOGUE}gsave\n"
        f"0 {height:.4f} translate {POINTS_A_MM:.6f} {-POINTS_A_MM:.6f} scale\n"
        "1 setlinecap 1 setlinejoin false setstrokeadjust\n"
        f"0 0 {artwork.width:.3f} {artwork.height:.3f} rectclip\n"
    )
    if artwork.paper is not None:
        yield f"{_rgb(artwork.paper)} 0 0 {artwork.width:.3f} {artwork.height:.3f} rectfill\n"
    for name, painted in groupby(covering(artwork), key=lambda each: each[0]):
        yield f"% {_plain(name)}\n"
        for _, each in painted:
            yield from _covered(each, artwork)
    yield "grestore\n%%EOF\n"


def _plain(text: str) -> str:
    """A text on one line, in letters that the format has."""
    return text.encode("ascii", "replace").decode().replace("\n", " ")


def _covered(each: Covering, artwork: Artwork) -> Iterator[str]:
    if isinstance(each, Pictured):
        yield from _picture(each.pixels, artwork)
        return
    yield "gsave\n"
    if each.item.clip is not None:
        yield from ring_words(each.item.clip.curves, each.item.clip.first)
        yield "clip newpath\n"
    if isinstance(each, Within):
        yield from _outlined(each.primitive)
        yield "clip newpath\n"
        for inner in each.painted:
            yield from _covered(inner, artwork)
    else:
        yield f"{_rgb(each.colour)}\n"
        yield from _primitive(each.primitive, each.item)
    yield "grestore\n"


def _primitive(primitive: Primitive, item: Item) -> Iterator[str]:
    if isinstance(primitive, Filled):
        yield from ring_words(primitive.curves, primitive.first)
        if item.reach > 0:
            yield f"gsave f grestore {2 * item.reach:.3f} setlinewidth s\n"
        else:
            yield "f\n"
    elif isinstance(primitive, Lines):
        yield f"{primitive.width:.3f} setlinewidth\n"
        for line in _lines(primitive):
            yield f"{line} s\n"


def _outlined(primitive: Primitive) -> Iterator[str]:
    """The outline of a primitive as the path."""
    if isinstance(primitive, Filled):
        yield from ring_words(primitive.curves, primitive.first)
    elif isinstance(primitive, Lines):
        yield f"{primitive.width:.3f} setlinewidth\n"
        for line in _lines(primitive):
            yield f"{line}\n"
        yield "strokepath\n"


def _lines(lines: Lines) -> Iterator[str]:
    """Lines as paths, one after the other."""
    points = lines.points.round(3).tolist()
    bounds = zip(lines.first[:-1].tolist(), lines.first[1:].tolist(), strict=True)
    for low, high in bounds:
        x, y = points[low]
        if high - low == 1:
            yield f"{x:g} {y:g} d"
            continue
        rest = " ".join(f"{x:g} {y:g} l" for x, y in points[low + 1 : high])
        yield f"{x:g} {y:g} m {rest}"


def _picture(pixels: NDArray[np.uint8], artwork: Artwork) -> Iterator[str]:
    """A picture of the whole sheet: (H, W, 3)."""
    height, width = pixels.shape[:2]
    yield (
        f"gsave 0 0 translate {artwork.width:.3f} {artwork.height:.3f} scale\n"
        f"/row {width * 3} string def\n{width} {height} 8 [{width} 0 0 {height} 0 0]\n"
        "{currentfile row readhexstring pop} false 3 colorimage\n"
    )
    for row in pixels:
        text = row.tobytes().hex()
        for start in range(0, len(text), 240):
            yield text[start : start + 240] + "\n"
    yield "grestore\n"


def _rgb(colour: Colour) -> str:
    return " ".join(f"{value:.4f}" for value in colour) + " setrgbcolor"


FORMAT = vector_format(
    EpsWish, "EPS (for older machines)", ("eps",), "application/postscript", write
)
