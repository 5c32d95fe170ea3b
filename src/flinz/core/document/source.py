"""What a plate is drawn from, as data, and where that lies on the paper."""

from typing import Annotated, Any, Literal

from pydantic import Field

from flinz.core.dial import Settings
from flinz.core.document.picture import Picture, Position
from flinz.core.ground.block import Block
from flinz.core.ground.lettering import Lettering
from flinz.core.ground.lines import Lines
from flinz.core.ground.pens import Pen
from flinz.core.ground.wear import Wear


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


class FromLines(Settings):
    """Drawn from lines of a pen. By hand they lie on the paper as they were drawn.

    pen: its name, by which lines of a sheet share it: turned for one, it is turned for all of them.
    """

    kind: Literal["lines"] = "lines"
    lines: Lines = Lines()
    pen: str = Field("", max_length=120)
    position: Position = Position()


class FromWear(Settings):
    """Drawn from what a worn copier does to the whole sheet."""

    kind: Literal["copier"] = "copier"
    wear: Wear = Wear()


class FromSheet(Settings):
    """Drawn from another sheet, as it was when document was taken of it.

    document: of that sheet; it may hold no other sheet. sheet: its number on this shelf, 0 where
    it is not there. live: whether what is on the shelf takes the document's place when it is newer.
    """

    kind: Literal["sheet"] = "sheet"
    document: dict[str, Any] = Field(default={})
    sheet: int = Field(0, ge=0, le=2**63 - 1)
    live: bool = True
    position: Position = Position()


class Beneath(Settings):
    """Drawn from all that is printed before it."""

    kind: Literal["beneath"] = "beneath"


Source = Annotated[
    FromPicture
    | FromPhoto
    | FromBlock
    | FromLettering
    | FromLines
    | FromWear
    | FromSheet
    | Beneath,
    Field(discriminator="kind"),
]
# Those made of outlines in a box of their own size.
Figures = FromBlock | FromLettering | FromLines


def without_photo(source: Source) -> Source:
    """A source as a recipe may hold it: no photo but the sheet's, no font but those that ship."""
    if isinstance(source, FromPhoto | FromSheet):
        return FromPicture()
    if isinstance(source, FromLettering) and source.lettering.own:
        lettering = source.lettering.model_copy(update={"own": ""})
        return source.model_copy(update={"lettering": lettering})
    return source


def made_of(source: Source) -> tuple[str, Settings] | None:
    """The field of a source that says what is made, and what it says; None for pictures."""
    for field in ("lettering", "block", "lines", "wear"):
        made = getattr(source, field, None)
        if made is not None:
            return field, made
    return None


def share_a_pen(one: Source, other: Source) -> bool:
    """Whether both are lines of one pen: of the same name, and drawing alike."""
    if not (isinstance(one, FromLines) and isinstance(other, FromLines)):
        return False
    alike = (getattr(one.lines, name) == getattr(other.lines, name) for name in Pen.model_fields)
    return one.pen != "" and one.pen == other.pen and all(alike)


def placed(source: Source) -> Position | None:
    """Where a source of its own lies; None where it is where the sheet's picture or paper is."""
    if isinstance(source, FromPhoto):
        return source.picture.position
    return source.position if isinstance(source, Figures | FromSheet) else None
