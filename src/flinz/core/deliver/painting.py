"""Vectors onto a PDF's page: paths in spot colours, each ink by its name.

What writes the file is imported once one is wanted: it takes long, and most runs want none.
"""

import re
from dataclasses import dataclass, field
from typing import TYPE_CHECKING, Any

import numpy as np
from numpy.typing import NDArray
from PIL import Image

from flinz.core.deliver.artwork import Artwork, Colour, Greys, Item, Layer, Text
from flinz.core.deliver.pdf_text import Fonts
from flinz.core.deliver.primitives import Filled, Lines, Primitive, of_items, ring_words
from flinz.core.deliver.wording import in_named_modes
from flinz.core.scale import POINTS_A_MM
from flinz.core.stages.blend import Blend

if TYPE_CHECKING:
    from reportlab.pdfgen.canvas import Canvas

# Length of the line that is a round dot, mm.
DOT_MM = 0.001
# How far a picture stays within its sheet, mm: readers draw it on whole pixels, outwards, and the
# least that it reached beyond would move it by one.
WITHIN_MM = 0.001


@dataclass
class Painter:
    """Draws artwork on the pages of a canvas, in mm from the top left corner of a sheet."""

    canvas: "Canvas"
    # Names of separations by what they look like.
    _named: dict[tuple[str, Colour], str] = field(default_factory=dict)
    _groups: int = 0

    def __post_init__(self) -> None:
        self._fonts = Fonts(self.canvas)

    def page_of(self, width_mm: float, height_mm: float) -> None:
        """Lay mm, y downwards, over a page of that size; undone when the state is restored."""
        self.canvas.translate(0, height_mm * POINTS_A_MM)
        self.canvas.scale(POINTS_A_MM, -POINTS_A_MM)

    def artwork(self, artwork: Artwork, bleed: float = 0.0) -> None:
        """Paper and plates. bleed: how far they go on beyond the sheet, mirrored there, mm."""
        artwork = in_named_modes(artwork)
        names = [self._defined(layer, artwork) for layer in artwork.layers]
        for x, across in _turns(artwork.width, bleed):
            for y, down in _turns(artwork.height, bleed):
                self.canvas.saveState()
                if bleed:
                    self._clip(x[0], y[0], x[1] - x[0], y[1] - y[0])
                    self.canvas.transform(across[0], 0, 0, down[0], across[1], down[1])
                if artwork.paper is not None:
                    self.canvas.setFillColorRGB(*artwork.paper)
                    self.canvas.rect(
                        -bleed,
                        -bleed,
                        artwork.width + 2 * bleed,
                        artwork.height + 2 * bleed,
                        stroke=0,
                        fill=1,
                    )
                for layer, name in zip(artwork.layers, names, strict=True):
                    self._placed(layer, name)
                self.canvas.restoreState()

    def _clip(self, left: float, top: float, width: float, height: float) -> None:
        path = self.canvas.beginPath()
        path.rect(left, top, width, height)
        self.canvas.clipPath(path, stroke=0, fill=0)

    def layer(self, layer: Layer, artwork: Artwork) -> None:
        """One plate, each of its inks a separation of its name; what overlaps prints once."""
        self._placed(layer, self._defined(layer, artwork))

    def _defined(self, layer: Layer, artwork: Artwork) -> str:
        """A plate as a form, by its name."""
        canvas = self.canvas
        self._groups += 1
        name = f"plate{self._groups}"
        canvas.beginForm(name, 0, 0, artwork.width, artwork.height)
        for item, primitive in of_items(layer.items):
            canvas.saveState()
            if item.clip is not None:
                self._path(item.clip.curves, item.clip.first)
                self._code("W n")
            self._ink(layer, item.colour)
            self._primitive(primitive, item, artwork)
            canvas.restoreState()
        self.end_form()
        return name

    def _placed(self, layer: Layer, name: str) -> None:
        canvas = self.canvas
        canvas.saveState()
        canvas.setBlendMode(_mode(layer.blend))
        canvas.setFillAlpha(layer.opacity)
        for _ in range(layer.times):
            canvas.doForm(name)
        canvas.restoreState()

    def end_form(self) -> None:
        """Close a form as a group: its parts meet each other first, then what is beneath."""
        from reportlab.pdfbase import pdfdoc

        canvas: Any = self.canvas
        stream = pdfdoc.PDFStream()
        resources: Any = pdfdoc.PDFResourceDictionary()
        stream.content = "\n".join([canvas._preamble, *canvas._code])
        group = {"S": pdfdoc.PDFName("Transparency"), "I": "true"}
        stream.dictionary["Group"] = pdfdoc.PDFDictionary(group)
        resources.allProcs()
        resources.setColorSpace(canvas._colorsUsed)
        # How its parts meet; what a form does not name itself it does not find.
        if meets := canvas._extgstate.getState():
            resources.ExtGState = meets
        if self._fonts.are_used:
            resources.basicFonts()
        if canvas._formsinuse:
            resources.XObject = canvas._doc.xobjDict(canvas._formsinuse)
        canvas.endForm(Contents=stream, Resources=resources)

    def _code(self, *words: str) -> None:
        canvas: Any = self.canvas
        canvas._code.extend(words)

    def _ink(self, layer: Layer, colour: Colour) -> None:
        name = self._separation(layer.name, colour)
        self._code(f"/{name} cs 1 scn /{name} CS 1 SCN")

    def _separation(self, name: str, colour: Colour) -> str:
        """A spot colour with its look on screen, as a resource of the page."""
        from reportlab.pdfbase import pdfdoc

        canvas: Any = self.canvas
        key = name, colour
        if key not in self._named:
            taken = sum(1 for other, _ in self._named if other == name)
            spoken = f"{name} {taken + 1}" if taken else name
            tint = pdfdoc.PDFDictionary(
                {
                    "FunctionType": 2,
                    "Domain": pdfdoc.PDFArray([0, 1]),
                    "C0": pdfdoc.PDFArray([1, 1, 1]),
                    "C1": pdfdoc.PDFArray([round(value, 4) for value in colour]),
                    "N": 1,
                }
            )
            space = pdfdoc.PDFArray(
                [
                    pdfdoc.PDFName("Separation"),
                    pdfdoc.PDFName(spoken),
                    pdfdoc.PDFName("DeviceRGB"),
                    tint,
                ]
            )
            resource = f"Ink{len(self._named) + 1}"
            canvas._doc.Reference(space, resource)
            self._named[key] = resource
        resource = self._named[key]
        canvas._colorsUsed[resource] = resource
        return resource

    def _primitive(self, primitive: Primitive, item: Item, artwork: Artwork) -> None:
        if isinstance(primitive, Filled):
            if item.reach > 0:
                self._code(f"{2 * item.reach:.3f} w 1 j")
            self._path(primitive.curves, primitive.first)
            self._code("B" if item.reach > 0 else "f")
        elif isinstance(primitive, Lines):
            self._code(f"{primitive.width:.3f} w 1 J 1 j")
            self._lines(primitive)
            self._code("S")
        elif isinstance(primitive, Text):
            self._code(*self._fonts.words(primitive))
        elif isinstance(primitive, Greys):
            self._picture(primitive, artwork)

    def _path(self, curves: NDArray[np.float64], first: NDArray[np.int64]) -> None:
        self._code(*ring_words(curves, first))

    def _lines(self, lines: Lines) -> None:
        points = lines.points.round(3).tolist()
        for low, high in zip(lines.first[:-1].tolist(), lines.first[1:].tolist(), strict=True):
            x, y = points[low]
            # Some readers draw a line of no length longer than it is.
            rest = points[low + 1 : high] or [(x + DOT_MM, y)]
            words = [f"{x:g} {y:g} m", *(f"{x:.7g} {y:g} l" for x, y in rest)]
            self._code(" ".join(words))

    def _picture(self, picture: Greys, artwork: Artwork) -> None:
        from reportlab.lib.utils import ImageReader

        canvas = self.canvas
        canvas.saveState()
        # Pictures stand upright where y runs up.
        canvas.translate(0, artwork.height)
        canvas.scale(1, -1)
        image = ImageReader(Image.fromarray(picture.pixels))
        width, height = artwork.width - 2 * WITHIN_MM, artwork.height - 2 * WITHIN_MM
        canvas.drawImage(image, WITHIN_MM, WITHIN_MM, width, height, mask="auto")
        canvas.restoreState()


# From and to, then the factor and the shift of what is drawn there, along one side.
Turn = tuple[tuple[float, float], tuple[float, float]]


def _turns(side: float, bleed: float) -> list[Turn]:
    """A side of a sheet, and what is mirrored at its two ends."""
    own: Turn = (0.0, side), (1.0, 0.0)
    if not bleed:
        return [own]
    return [((-bleed, 0.0), (-1.0, 0.0)), own, ((side, side + bleed), (-1.0, 2 * side))]


def new_canvas(path: str, width_mm: float, height_mm: float, title: str) -> "Canvas":
    """A canvas for a file, without clock or chance in it."""
    from reportlab.pdfgen.canvas import Canvas

    size = width_mm * POINTS_A_MM, height_mm * POINTS_A_MM
    canvas = Canvas(path, pagesize=size, invariant=1, pageCompression=1, initialFontSize=8)
    canvas.setTitle(title)
    canvas.setCreator("Flinz")
    return canvas


def _mode(blend: Blend) -> str:
    return re.sub(r"(?:^|-)([a-z])", lambda found: found[1].upper(), blend.value)
