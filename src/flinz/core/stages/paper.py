"""Paper: what a sheet is printed on, and how large it is."""

from dataclasses import dataclass
from typing import Annotated, Any, Literal, Self

from pydantic import Field

from flinz.core.dial import Angle, Choice, Colour, Dial, Settings, Switch
from flinz.core.planes.textures import DEPTHS_MM, GRAINS_MM, ROUGHER, Surface


def _size(label: str, hint: str) -> Any:
    return Dial(
        200.0, ge=10.0, le=2000.0, low=20.0, high=600.0, step=1.0, unit="mm", label=label, hint=hint
    )


TEXTURES: dict[Surface, tuple[str, ...]] = {
    Surface.SMOOTH: ("Smooth", "An even colour"),
    Surface.WOVE: ("Wove", "Felt-marked, as most paper"),
    Surface.LAID: ("Laid", "Fine lines of the mould, and chains across them"),
    Surface.KRAFT: ("Kraft", "Wrapping paper with its fibres"),
    Surface.ROUGH: ("Rough", "Pitted, as for watercolour"),
    Surface.LINEN: ("Linen", "Woven threads, thicker here and there"),
    Surface.BOARD: ("Board", "Grey board with flecks"),
    Surface.PLASTER: ("Plaster", "A wall, with a trowel's strokes"),
    Surface.BRICK: ("Brick wall", "Courses of brick, in the paper's colour"),
    Surface.CHALKBOARD: ("Chalkboard", "Slate, with wiped chalk"),
}

# What has no part in an even paper.
OF_TEXTURE = {"texture": [each.value for each in ROUGHER]}


def _of_texture(default: float, high: float, *, label: str, hint: str, **more: Any) -> Any:
    more |= {"group": "Texture", "only_for": OF_TEXTURE}
    return Dial(default, low=more["ge"], high=high, label=label, hint=hint, **more)


class OfAnySize(Settings):
    """What paper of any size has: its colour, and a texture."""

    colour: str = Colour("#ffffff", label="Paper", hint="The colour of the paper")
    texture: Surface = Choice(
        Surface.SMOOTH, label="Texture", hint="What its surface is like", options=TEXTURES
    )
    grain: float = _of_texture(
        1.0,
        3.0,
        ge=0.1,
        le=20.0,
        step=0.05,
        unit="×",
        label="Grain",
        hint="From one thread, pit, brick to the next",
        mm_of_one=GRAINS_MM,
    )
    depth: float = _of_texture(
        1.0,
        2.5,
        ge=0.0,
        le=10.0,
        step=0.05,
        unit="×",
        label="Depth",
        hint="How deep it looks, from dips to tops",
        mm_of_one=DEPTHS_MM,
        mm_times="grain",
    )
    light_from: float = Angle(
        120.0,
        label="Light from",
        hint="Where it is lit from, counter-clockwise",
        low=-180.0,
        only_for=OF_TEXTURE,
        group="Texture",
    )
    tooth: float = _of_texture(
        0.0, 1.0, ge=0.0, le=1.0, step=0.02, label="Tooth", hint="Ink stays on its tops alone"
    )
    soak: float = _of_texture(
        0.0, 1.0, ge=0.0, le=10.0, step=0.02, unit="mm", label="Soak", hint="Ink runs along fibres"
    )
    printed: bool = Switch(
        False,
        label="Print the texture",
        hint="Otherwise it is only seen here",
        group="Texture",
        only_for=OF_TEXTURE,
    )

    @property
    def surface(self) -> tuple[Any, ...]:
        """What decides how its surface lies, apart from how it looks; empty where it is smooth."""
        return () if self.texture == Surface.SMOOTH else (self.texture, self.grain)

    @property
    def takes_ink(self) -> tuple[float, float]:
        """What it does to ink: its tooth, and how far it soaks, mm; zeros where it is smooth."""
        return (self.tooth, self.soak) if self.surface else (0.0, 0.0)

    def dry(self) -> Self:
        """As a pen finds it, which draws on paper that is there: it does nothing to ink."""
        return self.model_copy(update={"tooth": 0.0, "soak": 0.0})

    def as_printed(self) -> Self:
        """As it leaves: a texture that is only seen is left out, what it does to ink is not."""
        if self.texture == Surface.SMOOTH or self.printed:
            return self
        return self.model_copy(update={"depth": 0.0})


class AsPicture(OfAnySize):
    """Paper of the picture's own shape."""

    size: Literal["as-picture"] = "as-picture"
    long_edge: float = _size("Long edge", "Size of the drawing on paper")


class OwnSize(OfAnySize):
    """Paper of a width and a height of its own; the picture lies on it."""

    size: Literal["own"] = "own"
    width: float = _size("Width", "Width of the paper")
    height: float = _size("Height", "Height of the paper")
    margin: float = Dial(
        0.0,
        ge=0.0,
        le=500.0,
        high=50.0,
        step=0.5,
        unit="mm",
        label="Margin",
        hint="How far from its edges the picture ends",
    )

    @property
    def room(self) -> tuple[float, float]:
        """Width and height within the margins, mm; a millimetre at least."""
        return max(1.0, self.width - 2 * self.margin), max(1.0, self.height - 2 * self.margin)

    @property
    def long_edge(self) -> float:
        """The longer of the two, mm."""
        return max(self.width, self.height)


@dataclass(frozen=True)
class Cut:
    """A size that paper is cut to, upright, mm."""

    name: str
    width: float
    height: float


# ISO 216 and what is usual in shops.
CUTS = (
    Cut("A2", 420, 594),
    Cut("A3", 297, 420),
    Cut("A4", 210, 297),
    Cut("A5", 148, 210),
    Cut("A6", 105, 148),
    Cut("B3", 353, 500),
    Cut("B4", 250, 353),
    Cut("B5", 176, 250),
    Cut("Letter", 215.9, 279.4),
    Cut("Square", 200, 200),
    Cut("Postcard", 105, 148),
    Cut("Shirt front", 300, 400),
    Cut("Seed packet", 80, 115),
    Cut("Sticker", 75, 75),
)

Paper = Annotated[AsPicture | OwnSize, Field(discriminator="size")]

SIZE_LABELS = {"as-picture": "As the picture", "own": "Its own"}
SIZES: dict[str, type[Settings]] = {"as-picture": AsPicture, "own": OwnSize}
