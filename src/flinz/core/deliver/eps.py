"""EPS, level 2: paths in colour, for older machines; what they cannot say is a picture."""

from collections.abc import Iterator
from pathlib import Path
from typing import Literal

import numpy as np

from flinz.core.deliver.artwork import Artwork, Colour, Greys, Item, VectorWish
from flinz.core.deliver.primitives import Filled, Lines, Primitive, of_items, ring_words
from flinz.core.deliver.vectors import vector_format
from flinz.core.scale import POINTS_A_MM
from flinz.core.stages.blend import Blend

# Short names keep files of many points small.
PROLOGUE = """/m {moveto} bind def /l {lineto} bind def /c {curveto} bind def
/h {closepath} bind def /f {fill} bind def /s {stroke} bind def
/d {2 copy moveto lineto} bind def
"""


class EpsWish(VectorWish):
    """What EPS is wanted."""

    format: Literal["eps"] = "eps"


def write(path: Path, artwork: Artwork, title: str) -> None:
    """Write an EPS. Inks are opaque there: where one would show through another, the darker of
    both stands.
    """
    with path.open("w", encoding="ascii", errors="replace") as file:
        file.writelines(written(artwork, title))


def written(artwork: Artwork, title: str) -> Iterator[str]:
    """The text of an EPS, in parts."""
    width, height = artwork.width * POINTS_A_MM, artwork.height * POINTS_A_MM
    plain = title.encode("ascii", "replace").decode().replace("\n", " ")
    yield (
        "%!PS-Adobe-3.0 EPSF-3.0\n"
        f"%%BoundingBox: 0 0 {int(np.ceil(width))} {int(np.ceil(height))}\n"
        f"%%HiResBoundingBox: 0 0 {width:.4f} {height:.4f}\n"
        f"%%Title: {plain}\n%%LanguageLevel: 2\n%%EndComments\n{PROLOGUE}gsave\n"
        f"0 {height:.4f} translate {POINTS_A_MM:.6f} {-POINTS_A_MM:.6f} scale\n"
        "1 setlinecap 1 setlinejoin\n"
        f"0 0 {artwork.width:.3f} {artwork.height:.3f} rectclip\n"
    )
    if artwork.paper is not None:
        yield f"{_rgb(artwork.paper)} 0 0 {artwork.width:.3f} {artwork.height:.3f} rectfill\n"
    for layer in artwork.layers:
        yield f"% {layer.name.encode('ascii', 'replace').decode()}\n"
        for item, primitive in of_items(layer.items):
            colour = item.colour
            if layer.opacity < 1:
                under = artwork.paper or (1.0, 1.0, 1.0)
                colour = _mixed(under, colour, layer.opacity)
            if layer.blend == Blend.MULTIPLY and artwork.paper is not None:
                red, green, blue = (a * b for a, b in zip(colour, artwork.paper, strict=True))
                colour = red, green, blue
            yield "gsave\n"
            if item.clip is not None:
                yield from ring_words(item.clip.curves, item.clip.first)
                yield "clip newpath\n"
            yield f"{_rgb(colour)}\n"
            yield from _primitive(primitive, item, artwork)
            yield "grestore\n"
    yield "grestore\n%%EOF\n"


def _primitive(primitive: Primitive, item: Item, artwork: Artwork) -> Iterator[str]:
    if isinstance(primitive, Filled):
        yield from ring_words(primitive.curves, primitive.first)
        if item.reach > 0:
            yield f"gsave f grestore {2 * item.reach:.3f} setlinewidth s\n"
        else:
            yield "f\n"
    elif isinstance(primitive, Lines):
        yield f"{primitive.width:.3f} setlinewidth\n"
        points = primitive.points.round(3).tolist()
        bounds = zip(primitive.first[:-1].tolist(), primitive.first[1:].tolist(), strict=True)
        for low, high in bounds:
            x, y = points[low]
            if high - low == 1:
                yield f"{x:g} {y:g} d s\n"
                continue
            rest = " ".join(f"{x:g} {y:g} l" for x, y in points[low + 1 : high])
            yield f"{x:g} {y:g} m {rest} s\n"
    elif isinstance(primitive, Greys):
        yield from _picture(primitive, artwork)


def _picture(picture: Greys, artwork: Artwork) -> Iterator[str]:
    """Greys on the paper: the format knows no transparency."""
    under = np.array(artwork.paper or (1.0, 1.0, 1.0)) * 255
    alpha = picture.pixels[..., 3:] / 255
    laid = np.rint(picture.pixels[..., :3] * alpha + under * (1 - alpha)).astype(np.uint8)
    height, width = laid.shape[:2]
    yield (
        f"gsave 0 0 translate {artwork.width:.3f} {artwork.height:.3f} scale\n"
        f"/row {width * 3} string def\n{width} {height} 8 [{width} 0 0 {height} 0 0]\n"
        "{currentfile row readhexstring pop} false 3 colorimage\n"
    )
    for row in laid:
        text = row.tobytes().hex()
        for start in range(0, len(text), 240):
            yield text[start : start + 240] + "\n"
    yield "grestore\n"


def _mixed(under: Colour, over: Colour, share: float) -> Colour:
    red, green, blue = (a + (b - a) * share for a, b in zip(under, over, strict=True))
    return red, green, blue


def _rgb(colour: Colour) -> str:
    return " ".join(f"{value:.4f}" for value in colour) + " setrgbcolor"


FORMAT = vector_format(
    EpsWish, "EPS (for older machines)", ("eps",), "application/postscript", write
)
