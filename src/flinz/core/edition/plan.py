"""The edition as data: its photos, what they are drawn by, and the files that are wished."""

from typing import Annotated, Any, Literal

from pydantic import Field, field_validator, model_validator

from flinz.core.deliver.format import Wish
from flinz.core.deliver.registry import USUAL, USUAL_DPI, WISH
from flinz.core.dial import Settings
from flinz.core.document.recipe import Tones
from flinz.core.edition.fields import Table
from flinz.core.edition.naming import USUAL as USUAL_NAMES

MAX_ENTRIES = 1000
MAX_PATTERN = 200


class Entry(Settings):
    """A photo of an edition. sheet: the number of a sheet of its own, 0 where it has none."""

    id: int = Field(ge=1, le=2**53)
    photo: str = Field(max_length=80)
    left_out: bool = False
    sheet: int = Field(0, ge=0, le=2**53)


class Edition(Settings):
    """The same settings on many photos.

    Drawn by a recipe of the book, or where sheet is not 0 by that finished sheet, whose tones are
    matched or kept as numbers. words: of lettering, by the plate, with fields of the photo in
    braces; plates that are not named keep theirs. names: the pattern of files' names. wish: of
    each file, as the print room takes it.
    """

    format: Literal["flinz-edition"] = "flinz-edition"
    version: Literal[1] = 1
    title: str = Field("Untitled edition", min_length=1, max_length=200)
    recipe: str = Field("pencil", max_length=120)
    sheet: int = Field(0, ge=0, le=2**53)
    tones: Tones = "matched"
    words: dict[Annotated[str, Field(max_length=80)], Annotated[str, Field(max_length=2000)]] = (
        Field(default={}, max_length=40)
    )
    table: Table | None = None
    names: str = Field(USUAL_NAMES, min_length=1, max_length=MAX_PATTERN)
    wish: dict[str, Any] = Field(default={"format": USUAL, "dpi": USUAL_DPI})
    entries: list[Entry] = Field(default=[], max_length=MAX_ENTRIES)

    @field_validator("wish")
    @classmethod
    def _is_wish(cls, wish: dict[str, Any]) -> dict[str, Any]:
        made = WISH.validate_python(wish)
        # As it stands in any document: whole, and in one order.
        return made.model_dump(mode="json")

    @model_validator(mode="after")
    def _entries_are_distinct(self) -> "Edition":
        ids = [entry.id for entry in self.entries]
        if len(set(ids)) < len(ids):
            raise ValueError("two photos of an edition have one number")
        return self

    @property
    def wished(self) -> Wish:
        """The wish for each file."""
        return WISH.validate_python(self.wish)

    @property
    def kept(self) -> list[Entry]:
        """The photos that are not left out, in order."""
        return [entry for entry in self.entries if not entry.left_out]
