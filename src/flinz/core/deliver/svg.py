"""SVG: a group a plate, in millimetres, with shapes, true marks, and pictures only of greys."""

import base64
import functools
from collections.abc import Iterator
from pathlib import Path
from typing import Literal
from xml.sax.saxutils import escape, quoteattr

import numpy as np
from numpy.typing import NDArray
from PIL import Image

from flinz.core.deliver import svg_text
from flinz.core.deliver.artwork import Artwork, Greys, Item, Layer, Text, TextWish
from flinz.core.deliver.primitives import Filled, Lines, Primitive, of_items
from flinz.core.deliver.raster import png_bytes
from flinz.core.deliver.vectors import vector_format
from flinz.core.deliver.wording import in_named_modes
from flinz.core.stages.blend import Blend
from flinz.core.stages.ink import hex_of
from flinz.core.trace.tracing import straight


class SvgWish(TextWish):
    """What SVG is wanted."""

    format: Literal["svg"] = "svg"

    def refuses(self, text: Text) -> str:
        """Why words cannot be text in it; "" where they can."""
        return svg_text.refuses(text)


def write(path: Path, artwork: Artwork, title: str) -> None:
    """Write an SVG."""
    with path.open("w", encoding="utf-8") as file:
        file.writelines(written(artwork, title))


def written(artwork: Artwork, title: str) -> Iterator[str]:
    """The text of an SVG, in parts."""
    width, height = f"{artwork.width:.3f}", f"{artwork.height:.3f}"
    yield (
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{width}mm" height="{height}mm" '
        f'viewBox="0 0 {width} {height}">\n<title>{escape(title)}</title>\n'
    )
    if artwork.notes:
        yield f"<desc>{escape(' '.join(artwork.notes))}</desc>\n"
    contents = (item.content for layer in artwork.layers for item in layer.items)
    yield from svg_text.styles(each for each in contents if isinstance(each, Text))
    if artwork.paper is not None:
        yield (
            f'<g id="paper"><title>Paper</title><rect width="{width}" height="{height}" '
            f'fill="{hex_of(artwork.paper)}"/></g>\n'
        )
    for layer in in_named_modes(artwork).layers:
        yield from _layer(layer, artwork)
    yield "</svg>\n"


def _layer(layer: Layer, artwork: Artwork) -> Iterator[str]:
    style = "" if layer.blend == Blend.NORMAL else f"mix-blend-mode:{layer.blend.value}"
    opacity = "" if layer.opacity == 1 else f' opacity="{layer.opacity:g}"'
    yield f"<g id={quoteattr(layer.id)}{opacity}"
    yield f' style="{style}">' if style else ">"
    yield f"<title>{escape(layer.name)}</title>\n"
    clips: dict[int, str] = {}
    for item, primitive in of_items(layer.items):
        cut = ""
        if item.clip is not None:
            name = clips.get(id(item.clip), "")
            if not name:
                name = clips[id(item.clip)] = f"{layer.id}-cut-{len(clips) + 1}"
                path = "".join(path_data(item.clip.curves, item.clip.first))
                yield f'<clipPath id="{name}"><path d="{path}"/></clipPath>\n'
            cut = f' clip-path="url(#{name})"'
        yield from _primitive(primitive, item, cut, artwork)
    yield "</g>\n"
    for _ in range(layer.times - 1):
        yield f"<use href={quoteattr('#' + layer.id)}/>\n"


def _primitive(primitive: Primitive, item: Item, cut: str, artwork: Artwork) -> Iterator[str]:
    colour = hex_of(item.colour)
    if isinstance(primitive, Filled):
        if item.reach > 0:
            cut += f' stroke="{colour}" stroke-width="{2 * item.reach:g}" stroke-linejoin="round"'
        yield f'<path fill="{colour}"{cut} d="'
        yield from path_data(primitive.curves, primitive.first)
        yield '"/>\n'
    elif isinstance(primitive, Lines):
        yield (
            f'<path fill="none" stroke="{colour}" stroke-width="{primitive.width:.3f}" '
            f'stroke-linecap="round" stroke-linejoin="round"{cut} d="'
        )
        yield from _lines(primitive)
        yield '"/>\n'
    elif isinstance(primitive, Text):
        yield from svg_text.written(primitive, colour, cut)
    elif isinstance(primitive, Greys):
        yield (
            f'<image width="{artwork.width:.3f}" height="{artwork.height:.3f}" '
            f'preserveAspectRatio="none"{cut} href="data:image/png;base64,'
        )
        yield base64.b64encode(png_bytes(Image.fromarray(primitive.pixels))).decode()
        yield '"/>\n'


def path_data(curves: NDArray[np.float64], first: NDArray[np.int64]) -> Iterator[str]:
    """Closed rings as the words of a path, ring by ring; each point from the one before it."""
    is_line = straight(curves).tolist()
    points = np.rint(curves * 1000).astype(np.int64)
    away = points.copy()
    away[:, 2:] -= np.tile(points[:, :2], 3)
    begins, steps = points[:, :2].tolist(), away[:, 2:].tolist()
    for low, high in zip(first[:-1].tolist(), first[1:].tolist(), strict=True):
        words = ["M", _said(begins[low], 0)]
        for k in range(low, high):
            if not is_line[k]:
                words += ["c", _said(steps[k], 0)]
            # The last line is drawn by closing.
            elif k < high - 1:
                words += ["l", _said(steps[k], 4)]
        yield "".join([*words, "z"])


def _lines(lines: Lines) -> Iterator[str]:
    points = np.rint(lines.points * 1000).astype(np.int64)
    steps = np.diff(points, axis=0, prepend=points[:1]).tolist()
    begins = points.tolist()
    for low, high in zip(lines.first[:-1].tolist(), lines.first[1:].tolist(), strict=True):
        along = "".join(["l" + _said(step, 0) for step in steps[low + 1 : high]])
        yield f"M{_said(begins[low], 0)}{along or 'h0'}"


def _said(thousandths: list[int], start: int) -> str:
    """Numbers in thousandths, apart as far as they must be."""
    words = [_number(value) for value in thousandths[start:]]
    return words[0] + "".join([word if word[0] == "-" else " " + word for word in words[1:]])


@functools.lru_cache(maxsize=200_000)
def _number(thousandths: int) -> str:
    word = f"{thousandths / 1000:g}"
    return word.replace("0.", ".", 1) if abs(thousandths) < 1000 and thousandths else word


FORMAT = vector_format(SvgWish, "SVG (shapes and true marks)", ("svg",), "image/svg+xml", write)
