"""A sheet as vectors: for each plate shapes, true marks, or a picture where it has greys."""

import math
from dataclasses import dataclass, field

import cv2
import numpy as np
from numpy.typing import NDArray
from pydantic import Field

from flinz.core.deliver.format import Delivery, Wish
from flinz.core.document.plate import Plate, hand_of, name_of
from flinz.core.document.sheet import Sheet
from flinz.core.looks.registry import look_of
from flinz.core.marks.masked import masked
from flinz.core.marks.vectors import Dots, Strokes
from flinz.core.planes.filters import Plane, averaged
from flinz.core.press.framing import sheet_mm, whole
from flinz.core.press.impressions import Impression
from flinz.core.press.parts import TRACING
from flinz.core.press.stopping import check
from flinz.core.scale import Frame, Lay
from flinz.core.stages.blend import Blend
from flinz.core.stages.ink import Colouring, Ink, laid_by, rgb_of
from flinz.core.trace.silhouette import silhouette
from flinz.core.trace.tracing import TraceWish, Tracing, traced, traced_px_per_mm

# Greys leave as pictures of so many pixels a mm, about 300 to the inch.
PICTURE_PX_PER_MM = 12.0
# A mask is looked at this finely where it thins or cuts marks.
MASK_PX_PER_MM, MASK_PIXELS = 12.0, 16_000_000
# Flat tones: a few greys, each holding this share at least, all together nearly everything.
FLAT_TONES, FLAT_LEAST, FLAT_SHARE = 12, 0.002, 0.9
# Greys on so little of a sheet are rests of edges. Those of an edge lie within this square.
GREY_SHARE, SQUARE = 0.004, np.ones((5, 5), np.uint8)
WHITE = "#ffffff"
# Modes that vector files know by these same names (W3C Compositing and Blending Level 1).
NO_NAME = (Blend.SUM, Blend.DENSITY_DIFFERENCE)

Colour = tuple[float, float, float]


class VectorWish(Wish):
    """What is wanted of a file of shapes and marks."""

    closeness: float = Field(0.02, ge=0.005, le=2.0, allow_inf_nan=False)
    corners: float = Field(40.0, ge=5.0, le=170.0, allow_inf_nan=False)
    specks: float = Field(0.0, ge=0.0, le=100.0, allow_inf_nan=False)
    pinholes: float = Field(0.0, ge=0.0, le=100.0, allow_inf_nan=False)
    # Tones that a plate of greys is parted in; 0 leaves it a picture.
    tones: int = Field(0, ge=0, le=FLAT_TONES)
    drop_paper: bool = False
    # How far a silhouette of all ink reaches beyond it, mm, printed first; None for none.
    under_layer: float | None = Field(None, ge=-20, le=50, allow_inf_nan=False)
    # From this area on a hole in it stays open, mm²; None closes all.
    under_holes: float | None = Field(None, gt=0, le=100_000, allow_inf_nan=False)
    under_colour: str = Field(WHITE, pattern=r"^#[0-9a-fA-F]{6}$")
    # Width of a band round that silhouette, mm.
    outline: float = Field(0.0, ge=0.0, le=50.0, allow_inf_nan=False)

    @property
    def trace(self) -> TraceWish:
        """How outlines are followed."""
        return TraceWish(
            closeness=self.closeness,
            corners=self.corners,
            specks=self.specks,
            pinholes=self.pinholes,
        )


@dataclass(frozen=True, eq=False)
class Greys:
    """A plate that has greys, as a picture of the whole sheet: (H, W, 4) uint8, sRGB and alpha."""

    pixels: NDArray[np.uint8]


Content = Tracing | Dots | Strokes | Greys


@dataclass(frozen=True, eq=False)
class Item:
    """One lot of shapes or marks in one colour. clip: what it is cut by, if by anything. strength:
    0..1, how much ink there is.
    """

    content: Content
    colour: Colour = (0.0, 0.0, 0.0)
    clip: Tracing | None = None
    strength: float = 1.0


@dataclass(frozen=True, eq=False)
class Layer:
    """What one plate leaves. items are laid over each other, and together meet what is beneath."""

    id: str
    name: str
    ink: Colour
    items: list[Item]
    blend: Blend = Blend.MULTIPLY
    opacity: float = 1.0


@dataclass(frozen=True, eq=False)
class Artwork:
    """A sheet as vectors, mm. paper: its colour, or none. notes: what leaves otherwise."""

    width: float
    height: float
    paper: Colour | None
    layers: list[Layer]
    notes: list[str] = field(default_factory=list)

    @property
    def tracings(self) -> list[Tracing]:
        """All shapes of plates."""
        return [
            item.content
            for layer in self.layers
            for item in layer.items
            if isinstance(item.content, Tracing)
        ]


def artwork_of(delivery: Delivery, wish: VectorWish) -> Artwork:
    """The sheet of a delivery as vectors. Raises DocumentError, Stopped."""
    delivery.press.gate({TRACING})
    photo, sheet = delivery.photo, delivery.printed
    width, height = sheet_mm(sheet, photo)
    maker = _Maker(delivery, wish, width, height)
    shown = [plate for plate in sheet.plates if plate.shown]
    for number, plate in enumerate(shown):
        check(delivery.stop)
        maker.add(plate)
        delivery.progress((number + 1) / (len(shown) + 1))
    layers = maker.under_layers() + maker.layers
    if sheet.paper.surface and not wish.drop_paper:
        maker.notes.append("The texture of the paper is left out: it has no outlines.")
    paper = None if wish.drop_paper else _colour(rgb_of(sheet.paper.colour))
    return Artwork(width, height, paper, layers, maker.notes)


class _Maker:
    """Makes the layers of a sheet, one plate after the other."""

    def __init__(
        self, delivery: Delivery, wish: VectorWish, width_mm: float, height_mm: float
    ) -> None:
        self._photo, self._sheet = delivery.photo, delivery.printed
        self._delivery, self._wish = delivery, wish
        self._width, self._height = width_mm, height_mm
        self._press = delivery.passing_press()
        self._px_per_mm = traced_px_per_mm(width_mm, height_mm)
        self._area, self._long_edge = width_mm * height_mm, max(width_mm, height_mm)
        self._inked: Plane | None = None
        self.layers: list[Layer] = []
        self.notes: list[str] = []

    def add(self, plate: Plate) -> None:
        """Add the layers of a plate."""
        name = name_of(plate)
        ink, blend = plate.ink, plate.ink.blend
        if blend in NO_NAME:
            self.notes.append(
                f"{name} is multiplied: vectors have no word for the way it meets what is beneath."
            )
            blend = Blend.MULTIPLY
        lots = self._as_marks(plate)
        impression = None
        if lots is None or self._wants_silhouette or plate.photo.covers:
            impression = self._landed(plate)
            self._remember(impression)
        if impression is not None and impression.hides is not None:
            hiding = traced(impression.hides, self._frame(), self._wish.trace)
            paper = _colour(rgb_of(self._sheet.paper.colour))
            items = [Item(hiding, paper)]
            self.layers.append(
                Layer(f"{plate.id}-covers", f"{name}: bare paper", paper, items, Blend.NORMAL)
            )
        colour, opacity = printed_colour(ink)
        if lots is not None:
            items = [Item(content, colour, clip) for content, clip in lots]
            items += self._beside_marks(plate, colour)
        elif impression is not None:
            items = self._as_shapes(impression, colour, name)
        self.layers.append(
            Layer(plate.id, name, _colour(rgb_of(ink.colour)), items, blend, opacity)
        )

    def under_layers(self) -> list[Layer]:
        """What is printed first: a silhouette of all ink, and a band round it."""
        wish, found = self._wish, []
        if self._inked is None:
            return []
        frame, way, holes = self._frame(), wish.under_layer or 0.0, wish.under_holes or math.inf
        colour = _colour(rgb_of(wish.under_colour))
        if wish.outline > 0:
            band = silhouette(self._inked, frame, way + wish.outline, wish.trace, holes)
            found.append(Layer("outline", "Outline", colour, [Item(band, colour)], Blend.NORMAL))
        if wish.under_layer is not None:
            under = silhouette(self._inked, frame, way, wish.trace, holes)
            found.append(
                Layer("under-layer", "Under-layer", colour, [Item(under, colour)], Blend.NORMAL)
            )
            if not len(under):
                self.notes.append(
                    f"The under-layer drawn in by {-way:g} mm leaves nothing: choose less."
                )
        return found

    @property
    def _wants_silhouette(self) -> bool:
        return self._wish.under_layer is not None or self._wish.outline > 0

    def _frame(self, px_per_mm: float = 0.0, most: float = np.inf) -> Frame:
        per_mm = min(px_per_mm or self._px_per_mm, (most / self._area) ** 0.5)
        return whole(self._sheet, self._photo, max(1, round(self._long_edge * per_mm)))

    def _landed(self, plate: Plate) -> Impression:
        frame, stop = self._frame(), self._delivery.stop
        return self._press.impression(self._photo, self._sheet, plate, frame, exact=True, stop=stop)

    def _remember(self, impression: Impression) -> None:
        if not self._wants_silhouette:
            return
        ink = impression.share
        self._inked = ink if self._inked is None else np.maximum(self._inked, ink)

    def _as_marks(self, plate: Plate) -> list[tuple[Dots | Strokes, Tracing | None]] | None:
        """The true marks of a plate, and what cuts some of them; None where it is none."""
        if not leaves_as_marks(plate):
            return None
        stop = self._delivery.stop
        marks = self._delivery.press.marks(self._photo, self._sheet, plate, stop=stop)
        if marks is None:
            return None
        frame = self._frame(MASK_PX_PER_MM, MASK_PIXELS)
        mask = self._press.clipping(self._photo, self._sheet, plate, frame, stop=stop)
        lots: list[tuple[Dots | Strokes, Tracing | None]] = [(marks, None)]
        if mask is not None:
            plain, crossed = masked(marks, mask, frame)
            lots = [(plain, None)]
            if len(crossed):
                lots.append((crossed, traced(mask, frame, TraceWish(closeness=0.05))))
        if plate.ink.is_in_register:
            return lots
        slip = _slip(plate.ink, self._width, self._height)
        return [(content.laid(slip), clip and clip.laid(slip)) for content, clip in lots]

    def _beside_marks(self, plate: Plate, colour: Colour) -> list[Item]:
        """Shapes of what a plate draws beside its marks."""
        beside = look_of(plate.draw).beside(plate.draw)
        if beside is None:
            return []
        own = plate.model_copy(update={"draw": beside})
        return [Item(traced(self._landed(own).share, self._frame(), self._wish.trace), colour)]

    def _as_shapes(self, impression: Impression, colour: Colour, name: str) -> list[Item]:
        ink = impression.ink
        if ink.colouring == Colouring.PHOTO or (
            ink.colouring == Colouring.TWO_COLOUR and len(ink.by_tone) > 2
        ):
            self.notes.append(f"{name} leaves as a picture: it has many colours.")
            return [self._picture(impression)]
        cover = impression.share
        frame = self._frame()
        levels = flat_levels(cover, self._wish.tones)
        if levels is None:
            self.notes.append(
                f"{name} leaves as a picture: it has greys. Screen it first, or part it in tones."
            )
            return [self._picture(impression)]
        items = []
        if ink.colouring == Colouring.TWO_COLOUR:
            lights = _colour(rgb_of(ink.lights))
            everywhere = np.ones_like(cover) if impression.where is None else impression.where
            items.append(Item(traced(everywhere, frame, self._wish.trace), lights))
        for level, strength in levels:
            red, green, blue = (1 - (1 - value) * strength for value in colour)
            shapes = traced(cover, frame, self._wish.trace, level)
            items.append(Item(shapes, (red, green, blue), strength=strength))
        return items

    def _picture(self, impression: Impression) -> Item:
        step = max(1, round(self._px_per_mm / PICTURE_PX_PER_MM))
        return Item(Greys(_greys(impression, step)))


def leaves_as_marks(plate: Plate) -> bool:
    """Whether a plate leaves as its true dots and strokes: whether nothing reshapes their ink."""
    look = look_of(plate.draw)
    is_reshaped = not plate.clean.is_neutral or "clean" in hand_of(plate)
    is_plain = plate.ink.colouring == Colouring.SINGLE and plate.ink.smear == 0
    is_drawn = look.draws_marks and look.is_marks_alone(plate.draw) and plate.photo.contour == 0
    return is_drawn and is_plain and not is_reshaped


def leaves_as(sheet: Sheet) -> list[str]:
    """What each shown plate will leave as, in words, as far as its dials tell."""
    found = []
    for plate in sheet.plates:
        if not plate.shown:
            continue
        look, name = look_of(plate.draw), name_of(plate)
        if leaves_as_marks(plate):
            found.append(f"{name}: as its true marks")
        elif look.draws_marks and not plate.clean.is_neutral:
            found.append(f"{name}: as shapes, since Clean reshapes its marks")
        elif look.two_tone(plate.draw) and plate.ink.colouring == Colouring.SINGLE:
            found.append(f"{name}: as shapes")
        else:
            found.append(f"{name}: as shapes if its tones are flat, else as a picture")
    return found


def printed_colour(ink: Ink) -> tuple[Colour, float]:
    """The colour that an ink leaves on white, and how much of it arrives: all, where it multiplies
    (what it lets through is then part of its colour).
    """
    colour = rgb_of(ink.colour)
    if ink.blend != Blend.MULTIPLY and ink.blend not in NO_NAME:
        return _colour(colour), ink.opacity
    return _colour((1 - (1 - colour) * ink.opacity) ** round(ink.times)), 1.0


def flat_levels(cover: Plane, tones: int = 0) -> list[tuple[float, float]] | None:
    """Levels to trace a plate at, lightest first, and the strength of ink from each on; None where
    it has greys that pass into each other.

    cover: (H, W) float32 0..1. tones: how many such greys are parted in; 0 leaves them.
    """
    values = np.asarray(np.rint(cover * 255), np.uint8)
    # Edges are greys too, a pixel or two wide.
    apart = cv2.dilate(values, SQUARE) - cv2.erode(values, SQUARE)
    is_grey = (values > 25) & (values < 230) & (apart < 128)
    if is_grey.mean() < GREY_SHARE:
        return [(0.5, 1.0)]
    counts = np.bincount(values[apart <= 3], minlength=256)
    held = np.flatnonzero(counts > FLAT_LEAST * counts.sum())
    if len(held) <= FLAT_TONES and counts[held].sum() >= FLAT_SHARE * values.size * FLAT_SHARE:
        strong = [int(value) for value in held if value > 2]
        pairs = zip([0, *strong], strong, strict=False)
        return [((low + high) / 510, high / 255) for low, high in pairs]
    if tones == 0:
        return None
    steps = np.arange(1, tones + 1) / tones
    return [(float(step - 0.5 / tones), float(step)) for step in steps]


def _colour(rgb: NDArray[np.float32]) -> Colour:
    red, green, blue = (round(float(value), 4) for value in rgb)
    return red, green, blue


def _slip(ink: Ink, width_mm: float, height_mm: float) -> Lay:
    """How a plate that is out of register lies on the sheet."""
    x, y = width_mm / 2 + ink.offset_x, height_mm / 2 + ink.offset_y
    return Lay(width_mm, height_mm, x, y, turn=ink.turn)


def _greys(impression: Impression, step: int) -> NDArray[np.uint8]:
    """A plate's own colours and how much of it covers, (H, W, 4), step pixels as one."""
    height, width = (max(1, round(side / step)) for side in impression.cover.shape)
    ink = impression.ink
    laid, share = laid_by(impression.cover, ink, impression.where, impression.photo)
    if ink.colouring == Colouring.SINGLE:
        # What it lets through is part of its colour, or of the layer.
        laid = np.broadcast_to(np.array(printed_colour(ink)[0], np.float32), laid.shape)
    share = share / max(ink.opacity, 1e-6)
    small = averaged(np.dstack([laid * share, share]), width, height)
    alpha = small[..., 3:]
    both = np.dstack([small[..., :3] / np.maximum(alpha, 1e-4), alpha])
    return np.asarray(np.rint(np.clip(both, 0, 1) * 255), np.uint8)
