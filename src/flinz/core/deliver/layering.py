"""Makes the layers of a sheet as vectors, one plate after the other."""

from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from flinz.core.deliver.artwork import (
    FLAT_TONES,
    NO_NAME,
    Colour,
    Greys,
    Item,
    Layer,
    Text,
    TextWish,
    VectorWish,
    leaves_as_marks,
)
from flinz.core.deliver.format import Delivery
from flinz.core.deliver.inking import inked_share, lights_share
from flinz.core.deliver.lettered import why_not
from flinz.core.document.plate import Plate, name_of
from flinz.core.document.source import FromLettering
from flinz.core.looks.registry import look_of
from flinz.core.marks.masked import masked
from flinz.core.marks.vectors import Dots, Strokes
from flinz.core.planes.filters import Plane, averaged
from flinz.core.planes.greyness import greyness_of
from flinz.core.press.framing import whole
from flinz.core.press.impressions import Impression, on_nothing, on_paper
from flinz.core.scale import Frame, Lay
from flinz.core.stages.blend import BY_COLOUR, Blend, mixed
from flinz.core.stages.ink import Colouring, Ink, rgb_of
from flinz.core.trace.silhouette import PX_PER_MM
from flinz.core.trace.tracing import TraceWish, Tracing, traced, traced_px_per_mm

# Greys leave as pictures of so many pixels a mm, about 300 to the inch.
PICTURE_PX_PER_MM = 12.0
# A mask is looked at this finely where it thins or cuts marks.
MASK_PX_PER_MM, MASK_PIXELS = 12.0, 16_000_000
# Flat tones: a few greys, each holding this share at least, most of them even.
FLAT_LEAST, FLAT_SHARE = 0.002, 0.5
# By these modes ink that is printed again only arrives to a larger part.
SETTLING = (Blend.NORMAL, Blend.DARKEN, Blend.LIGHTEN, *BY_COLOUR)
# What the layer of a plate's bare paper is called by, after the plate.
COVERS = "-covers"
# Of a plate's work drawing it is about this; of a file's its artwork.
DRAWN, MADE = 0.5, 0.95


class LayerMaker:
    """Makes the layers of a sheet, one plate after the other, and says what leaves otherwise.

    layers, notes: so far. loose: (H, W) ink 0..1 of what leaves as marks or pictures, in a frame as
    fine as silhouettes are; None where no silhouette is wanted or there is none.
    """

    def __init__(
        self,
        delivery: Delivery,
        wish: VectorWish,
        width_mm: float,
        height_mm: float,
        *,
        with_loose: bool = False,
    ) -> None:
        self._photo, self._sheet = delivery.photo, delivery.printed
        self._delivery, self._wish = delivery, wish
        self._width, self._height = width_mm, height_mm
        self._press = delivery.passing_press()
        self._px_per_mm = traced_px_per_mm(width_mm, height_mm)
        self._area, self._long_edge = width_mm * height_mm, max(width_mm, height_mm)
        self._with_loose = with_loose
        self._begin, self._end = 0.0, 1.0
        self.loose: Plane | None = None
        self.layers: list[Layer] = []
        self.notes: list[str] = []

    def add(self, plate: Plate, begin: float = 0.0, end: float = 1.0) -> None:
        """Add the layers of a plate. begin, end: the share of all that is done before and after."""
        self._begin, self._end = begin, end
        name = name_of(plate)
        ink = plate.ink
        lots = self._as_marks(plate)
        impression = None
        if lots is None or self._with_loose or plate.photo.covers:
            impression = self._landed(plate)
        if impression is not None and impression.hides is not None:
            hiding = traced(impression.hides, self._frame(), self._wish.trace)
            paper = colour_of(rgb_of(self._sheet.paper.colour))
            items = [Item(hiding, paper)]
            title = f"{name}: bare paper"
            self.layers.append(
                Layer(plate.id + COVERS, title, paper, items, Blend.NORMAL, is_bare=True)
            )
        colour, opacity, times = printed_colour(ink)
        if lots is not None:
            items = [Item(content, colour, clip) for content, clip in lots]
            items += self._beside_marks(plate, colour)
        elif text := impression and self._as_text(plate, impression, name):
            items = [Item(text, colour)]
        elif impression is not None:
            items = self._as_shapes(impression, colour, name)
            # Dots of a screen take the tone within themselves; where that is even they are round.
            if look_of(plate.draw).marks is not None and plate.clean.is_neutral:
                items = [replace(item, rounds=True) for item in items]
        if impression is not None and any(item.lot is None for item in items):
            self._remember(impression)
        lights = colour_of(rgb_of(ink.lights)) if ink.colouring == Colouring.TWO_COLOUR else None
        own = colour_of(rgb_of(ink.colour))
        layer = Layer(plate.id, name, own, items, ink.blend, opacity, lights=lights, times=times)
        self._tell_of_meeting(layer)
        self.layers.append(layer)
        self._tell(1.0)

    def _tell_of_meeting(self, layer: Layer) -> None:
        """Say it where a file comes only near to how a plate meets what is beneath."""
        if layer.blend not in NO_NAME or not self._wish.shows_through:
            return
        if self._wish.drop_paper:
            self.notes.append(
                f"{layer.name} is multiplied: without the paper there is no word for the way it "
                "meets what is beneath."
            )
        elif (layer.has_greys or layer.opacity < 1) and self.layers:
            self.notes.append(
                f"{layer.name} meets what is beneath nearly as it prints: there is no word for it."
            )

    @property
    def silhouette_frame(self) -> Frame:
        """The frame in which silhouettes are looked for."""
        return self._frame(min(PX_PER_MM, self._px_per_mm))

    def _frame(self, px_per_mm: float = 0.0, most: float = np.inf) -> Frame:
        per_mm = min(px_per_mm or self._px_per_mm, (most / self._area) ** 0.5)
        return whole(self._sheet, self._photo, max(1, round(self._long_edge * per_mm)))

    def _landed(self, plate: Plate) -> Impression:
        frame, stop = self._frame(), self._delivery.stop
        found = self._press.impression(
            self._photo, self._sheet, plate, frame, exact=True, stop=stop
        )
        self._tell(DRAWN)
        return found

    def _tell(self, share: float) -> None:
        """Say how far the plate is."""
        # A file has still to be written.
        whole = self._begin + share * (self._end - self._begin)
        self._delivery.progress(MADE * whole)

    def _remember(self, impression: Impression) -> None:
        if self._with_loose:
            frame = self.silhouette_frame
            ink = averaged(impression.share, frame.width, frame.height)
            self.loose = ink if self.loose is None else np.maximum(self.loose, ink)

    def _as_marks(self, plate: Plate) -> list[tuple[Dots | Strokes, Tracing | None]] | None:
        """The true marks of a plate, and what cuts some of them; None where it is none."""
        if not leaves_as_marks(plate, self._sheet.paper):
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
        slip = slip_of(plate.ink, self._width, self._height)
        return [(content.laid(slip), clip and clip.laid(slip)) for content, clip in lots]

    def _beside_marks(self, plate: Plate, colour: Colour) -> list[Item]:
        """Shapes of what a plate draws beside its marks."""
        beside = look_of(plate.draw).beside(plate.draw)
        if beside is None:
            return []
        own = plate.model_copy(update={"draw": beside})
        return [Item(traced(self._landed(own).share, self._frame(), self._wish.trace), colour)]

    def _as_text(self, plate: Plate, impression: Impression, name: str) -> Text | None:
        """The words of a plate, where they are to stay text and can."""
        wish, source = self._wish, plate.source
        if not (isinstance(wish, TextWish) and wish.text and isinstance(source, FromLettering)):
            return None
        said = source.lettering
        words, face = self._press.words(self._photo, self._sheet, plate, said)
        slip = slip_of(plate.ink, self._width, self._height)
        text = Text(words.then(slip.to_paper), face, said)
        if any(part.plate == plate.id for change in self._sheet.shapes for part in change.of):
            why = "some were changed as shapes"
        else:
            why = why_not(text, wish, impression, self._frame())
        if not why:
            return text
        self.notes.append(f"{name}: its words leave as outlines, since {why}.")
        return None

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
        # Its greys are mixed with what lies beneath.
        base = rgb_of("#ffffff" if _multiplies(ink) else self._sheet.paper.colour)
        if ink.colouring == Colouring.TWO_COLOUR:
            lights = colour_of(_printed(rgb_of(ink.lights), ink))
            everywhere = np.ones_like(cover) if impression.where is None else impression.where
            shapes = traced(everywhere, frame, self._wish.trace)
            items.append(Item(shapes, lights, strength=0.0, lot=0))
        elif levels[0][1] < 1 and not (_multiplies(ink) or self._lies_on_paper(ink)):
            self.notes.append(f"{name} leaves as a picture: its greys let through what is beneath.")
            return [self._picture(impression)]
        for level, tone in levels:
            shapes = traced(cover, frame, self._wish.trace, level)
            shade, strength = _in_tone(ink, colour, tone, base)
            items.append(Item(shapes, shade, strength=strength, lot=len(items)))
        return items

    def _lies_on_paper(self, ink: Ink) -> bool:
        """Whether bare paper alone can be seen through what is being added."""
        return ink.blend == Blend.NORMAL and not self.layers

    def _picture(self, impression: Impression) -> Item:
        step = max(1, round(self._px_per_mm / PICTURE_PX_PER_MM))
        pixels = _greys(impression, step)
        parts_inks = self._wish.parts_inks
        return Item(Greys(pixels, _inks(impression, step)) if parts_inks else Greys(pixels))


def printed_colour(ink: Ink) -> tuple[Colour, float, int]:
    """The colour that an ink leaves on white, how much of it arrives: all, where it multiplies
    (what it lets through is then part of its colour); and how often that is printed.
    """
    colour = colour_of(_printed(rgb_of(ink.colour), ink))
    if _multiplies(ink):
        return colour, 1.0, 1
    return (colour, ink.opacity, round(ink.times)) if _adds_up(ink) else (colour, ink.hiding, 1)


def _adds_up(ink: Ink) -> bool:
    """Whether an ink that is printed again does more than to arrive to a larger part."""
    return not _multiplies(ink) and ink.blend not in SETTLING


def _printed(colour: NDArray[np.float32], ink: Ink) -> NDArray[np.float32]:
    """What a colour (3,) of an ink leaves on white, where it multiplies; else the colour."""
    if not _multiplies(ink):
        return colour
    white, share = np.ones((1, 1, 3), np.float32), np.full((1, 1), ink.opacity, np.float32)
    return np.asarray(mixed(white, colour, share, ink.blend, round(ink.times))[0, 0])


def _multiplies(ink: Ink) -> bool:
    return ink.blend in (Blend.MULTIPLY, Blend.SUM)


def _in_tone(
    ink: Ink, colour: Colour, tone: float, base: NDArray[np.float32]
) -> tuple[Colour, float]:
    """The colour that a share 0..1 of ink leaves on a base, (3,), and how strong that is, 0..1,
    beside full ink, whose colour is given: a grey that is printed several times fills up.
    """
    if ink.colouring == Colouring.TWO_COLOUR:
        dark, light = rgb_of(ink.colour), rgb_of(ink.lights)
        return colour_of(_printed(light + np.float32(tone) * (dark - light), ink)), tone
    strength = ink.hiding_of(tone) / max(ink.hiding, 1e-6)
    if _multiplies(ink):
        less = ink.model_copy(update={"opacity": ink.opacity * tone})
        return printed_colour(less)[0], strength
    return colour_of(base + (np.array(colour, np.float32) - base) * np.float32(strength)), strength


def flat_levels(cover: Plane, tones: int = 0) -> list[tuple[float, float]] | None:
    """Levels to trace a plate at, lightest first, and the strength of ink from each on; None where
    it has greys that pass into each other.

    cover: (H, W) float32 0..1. tones: how many such greys are parted in; 0 leaves them.
    """
    found = greyness_of(cover)
    if not found.has_greys:
        return [(0.5, 1.0)]
    counts = np.bincount(found.values[found.is_even & found.is_inked], minlength=256)
    held = np.flatnonzero(counts > FLAT_LEAST * counts.sum())
    if 0 < len(held) <= FLAT_TONES and found.is_even[found.is_grey].mean() >= FLAT_SHARE:
        pairs = zip([0, *held], held, strict=False)
        return [((low + high) / 510, high / 255) for low, high in pairs]
    if tones == 0:
        return None
    steps = np.arange(1, tones + 1) / tones
    return [(float(step - 0.5 / tones), float(step)) for step in steps]


def colour_of(rgb: NDArray[np.float32]) -> Colour:
    """A colour as artwork has it."""
    red, green, blue = (round(float(value), 4) for value in rgb)
    return red, green, blue


def slip_of(ink: Ink, width_mm: float, height_mm: float) -> Lay:
    """How a plate that is out of register lies on the sheet."""
    x, y = width_mm / 2 + ink.offset_x, height_mm / 2 + ink.offset_y
    return Lay(width_mm, height_mm, x, y, turn=ink.turn)


def _greys(impression: Impression, step: int) -> NDArray[np.uint8]:
    """A plate's own colours and how much of it covers, (H, W, 4), step pixels as one."""
    height, width = (max(1, round(side / step)) for side in impression.cover.shape)
    laid, share = _laid(impression)
    small = averaged(np.dstack([laid * share, share]), width, height)
    alpha = small[..., 3:]
    both = np.dstack([small[..., :3] / np.maximum(alpha, 1e-4), alpha])
    return np.asarray(np.rint(np.clip(both, 0, 1) * 255), np.uint8)


def _inks(impression: Impression, step: int) -> NDArray[np.uint8]:
    """How much there is of a plate's ink and of its lights', (H, W, 2), step pixels as one."""
    height, width = (max(1, round(side / step)) for side in impression.cover.shape)
    both = np.dstack([inked_share(impression), lights_share(impression)])
    return np.asarray(np.rint(averaged(both, width, height) * 255), np.uint8)


def _laid(impression: Impression) -> tuple[NDArray[np.float32], NDArray[np.float32]]:
    """A plate's colours, (H, W, 3), and how much of each pixel they cover, (H, W, 1), beside its
    layer's opacity.
    """
    ink, (height, width) = impression.ink, impression.cover.shape
    if not _multiplies(ink):
        if _adds_up(ink):
            ink = ink.model_copy(update={"times": 1})
        found = on_nothing([replace(impression, ink=ink)], height, width)
        return found[..., :3], found[..., 3:] / np.float32(max(ink.hiding, 1e-6))
    # What is multiplied is told by what it leaves of white.
    white = np.ones((height, width, 3), np.float32)
    hidden = 1 - on_paper(white, [replace(impression, hides=None)])
    share = np.asarray(hidden.max(axis=2, keepdims=True), np.float32)
    return np.asarray(1 - hidden / np.maximum(share, np.float32(1e-6)), np.float32), share
