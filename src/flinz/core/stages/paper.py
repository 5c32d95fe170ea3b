"""Paper: what a sheet is printed on, and how large it is."""

from typing import Annotated, Any, Literal

from pydantic import Field

from flinz.core.dial import Colour, Dial, Settings


def _size(label: str, hint: str) -> Any:
    return Dial(
        200.0, ge=10.0, le=2000.0, low=20.0, high=600.0, step=1.0, unit="mm", label=label, hint=hint
    )


class _AnyPaper(Settings):
    colour: str = Colour("#ffffff", label="Paper", hint="The colour of the paper")


class AsPicture(_AnyPaper):
    """Paper of the picture's own shape."""

    size: Literal["as-picture"] = "as-picture"
    long_edge: float = _size("Long edge", "Size of the drawing on paper")


class OwnSize(_AnyPaper):
    """Paper of a width and a height of its own; the picture lies on it."""

    size: Literal["own"] = "own"
    width: float = _size("Width", "Width of the paper")
    height: float = _size("Height", "Height of the paper")

    @property
    def long_edge(self) -> float:
        """The longer of the two, mm."""
        return max(self.width, self.height)


Paper = Annotated[AsPicture | OwnSize, Field(discriminator="size")]

SIZE_LABELS = {"as-picture": "As the picture", "own": "Its own"}
SIZES: dict[str, type[Settings]] = {"as-picture": AsPicture, "own": OwnSize}
