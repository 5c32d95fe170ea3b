"""A sheet as vectors: for each plate shapes, true marks, or a picture where it has greys."""

from collections import Counter
from dataclasses import dataclass, field
from typing import ClassVar

import numpy as np
from numpy.typing import NDArray
from pydantic import Field

from flinz.core.deliver.format import Wish
from flinz.core.document.plate import Plate, hand_of, name_of
from flinz.core.document.sheet import Sheet
from flinz.core.document.source import FromLettering
from flinz.core.ground.faces import Type
from flinz.core.ground.lettering import Lettering
from flinz.core.ground.words import Words
from flinz.core.looks.registry import look_of
from flinz.core.marks.vectors import Dots, Strokes
from flinz.core.stages.blend import Blend
from flinz.core.stages.ink import Colouring
from flinz.core.stages.paper import Paper
from flinz.core.trace.tracing import TraceWish, Tracing

FLAT_TONES = 12
# Modes that vector files know by these same names (W3C Compositing and Blending Level 1).
NO_NAME = (Blend.SUM, Blend.DENSITY_DIFFERENCE)

Colour = tuple[float, float, float]

WHITE: Colour = (1.0, 1.0, 1.0)


class VectorWish(Wish):
    """What is wanted of a file of shapes and marks."""

    # Whether it can say that ink lets through what lies beneath.
    shows_through: ClassVar[bool] = True
    # Whether it is parted in its inks.
    parts_inks: ClassVar[bool] = False
    # Whether it is lines that a pen draws.
    is_drawn: ClassVar[bool] = False

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
    under_colour: str = Field("#ffffff", pattern=r"^#[0-9a-fA-F]{6}$")
    # Width of a band round that silhouette, mm.
    outline: float = Field(0.0, ge=0.0, le=50.0, allow_inf_nan=False)

    @property
    def wants_silhouette(self) -> bool:
        """Whether anything is printed beneath or round all ink."""
        return self.under_layer is not None or self.outline > 0

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
class Text:
    """Words that stay text, where they stand on the sheet, mm. said: how they are set."""

    words: Words
    face: Type
    said: Lettering


class TextWish(VectorWish):
    """What is wanted of a file that can hold text: whether words in plain ink stay text."""

    text: bool = False

    def refuses(self, text: Text) -> str:
        """Why words cannot be text in it; "" where they can."""
        return ""


def _no_inks() -> NDArray[np.uint8]:
    return np.zeros((0, 0, 2), np.uint8)


@dataclass(frozen=True, eq=False)
class Greys:
    """A plate that has greys, as a picture of the whole sheet.

    pixels: (H, W, 4) uint8, sRGB and alpha. inks: (H, W, 2) uint8, how much there is of the plate's
    ink and of its lights'; empty where a wish does not part them.
    """

    pixels: NDArray[np.uint8]
    inks: NDArray[np.uint8] = field(default_factory=_no_inks)


Content = Tracing | Dots | Strokes | Greys | Text


@dataclass(frozen=True, eq=False)
class Item:
    """Shapes or marks in one colour. clip: what they are cut by, if by anything. strength: 0..1,
    how much there is of the plate's ink; the rest is of its lights, where it prints two colours.
    lot: of shapes that can be changed, which of a plate's they are; given: whether they were given
    another colour than their plate's. reach: how far shapes go on beneath what is printed beside
    them, mm, so that no hairline of paper shows between. rounds: whether shapes that are round
    leave as dots.
    """

    content: Content
    colour: Colour = (0.0, 0.0, 0.0)
    clip: Tracing | None = None
    strength: float = 1.0
    lot: int | None = None
    given: bool = False
    reach: float = 0.0
    rounds: bool = False


@dataclass(frozen=True, eq=False)
class Layer:
    """What one plate leaves. items are laid over each other, and together meet what is beneath,
    times times one after the other, each with that opacity. is_bare: whether they are bare paper,
    which a plate that covers leaves first. lights: the colour of its lights, where it prints two.
    """

    id: str
    name: str
    ink: Colour
    items: list[Item]
    blend: Blend = Blend.MULTIPLY
    opacity: float = 1.0
    is_bare: bool = False
    lights: Colour | None = None
    times: int = 1

    @property
    def has_greys(self) -> bool:
        """Whether it is a picture, or has one."""
        return any(isinstance(item.content, Greys) for item in self.items)


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


def leaves_as_marks(plate: Plate, paper: Paper) -> bool:
    """Whether a plate leaves as its true dots and strokes: whether nothing reshapes their ink."""
    look = look_of(plate.draw)
    is_reshaped = not plate.clean.is_neutral or "clean" in hand_of(plate)
    is_plain = plate.ink.colouring == Colouring.SINGLE and plate.ink.smear == 0
    is_drawn = look.draws_marks and look.is_marks_alone(plate.draw) and plate.photo.contour == 0
    return is_drawn and is_plain and not is_reshaped and not any(paper.takes_ink)


def leaves_as(sheet: Sheet, wish: VectorWish | None = None) -> list[str]:
    """What each shown plate will leave as by a wish, in words, as far as its dials tell."""
    found: list[str] = []
    changed = Counter(part.plate for change in sheet.shapes for part in change.of)
    for plate in sheet.plates:
        if plate.shown:
            name = name_of(plate)
            if many := changed[plate.id]:
                name += f", {many} of its shapes changed"
            found.append(f"{name}: {_way_of(plate, sheet, wish or VectorWish(), not found)}")
    return found


def _way_of(plate: Plate, sheet: Sheet, wish: VectorWish, is_first: bool) -> str:
    if wish.is_drawn:
        return _drawn_as(plate, sheet)
    look, (tooth, soak) = look_of(plate.draw), sheet.paper.takes_ink
    if leaves_as_marks(plate, sheet.paper):
        return "as its true marks"
    if isinstance(wish, TextWish) and wish.text and isinstance(plate.source, FromLettering):
        return "as text where it is in plain ink, else as shapes"
    picture = "a picture" if wish.shows_through or is_first else "one picture with what is beneath"
    if tooth > 0:
        return f"as {picture}, since the paper's tooth leaves greys"
    if look.draws_marks and not plate.clean.is_neutral:
        return "as shapes, since Clean reshapes its marks"
    if look.draws_marks and soak > 0:
        return "as shapes, since ink runs on this paper"
    if look.two_tone(plate.draw) and plate.ink.colouring == Colouring.SINGLE:
        return "as shapes"
    return f"as shapes if its tones are flat, else as {picture}"


def _drawn_as(plate: Plate, sheet: Sheet) -> str:
    if leaves_as_marks(plate, sheet.paper.dry()):
        return "by the lines of its marks"
    if look_of(plate.draw).two_tone(plate.draw) and plate.ink.colouring != Colouring.PHOTO:
        return "by outlines and hatching"
    return "by outlines and hatching if its tones are flat; a pen draws no greys"
