"""What a plate is drawn from, as data, and where that lies on the paper."""

from typing import Annotated, Literal

from pydantic import Field

from flinz.core.dial import Settings
from flinz.core.document.picture import Picture, Position
from flinz.core.ground.block import Block
from flinz.core.ground.lettering import Lettering


class FromPicture(Settings):
    """Drawn from the sheet's picture."""

    kind: Literal["picture"] = "picture"


class FromPhoto(Settings):
    """Drawn from another photo, with a crop, a cutout's edge and a position of its own."""

    kind: Literal["photo"] = "photo"
    picture: Picture = Picture()


class FromBlock(Settings):
    """Drawn from a plain figure. Its position has no width: that is the figure's."""

    kind: Literal["block"] = "block"
    block: Block = Block()
    position: Position = Position()


class FromLettering(Settings):
    """Drawn from words. Its position has no width: that is theirs."""

    kind: Literal["lettering"] = "lettering"
    lettering: Lettering = Lettering()
    position: Position = Position()


class Beneath(Settings):
    """Drawn from all that is printed before it."""

    kind: Literal["beneath"] = "beneath"


Source = Annotated[
    FromPicture | FromPhoto | FromBlock | FromLettering | Beneath, Field(discriminator="kind")
]
# Those made of outlines in a box of their own size.
Figures = FromBlock | FromLettering


def placed(source: Source) -> Position | None:
    """Where a source of its own lies; None where it is where the sheet's picture or paper is."""
    if isinstance(source, FromPhoto):
        return source.picture.position
    return source.position if isinstance(source, Figures) else None
