"""The sheet as data: with the bytes that it names, everything that decides a drawing's pixels."""

import json
from functools import lru_cache
from typing import Annotated, Literal

from pydantic import Field, model_validator

from flinz.core.dial import Settings
from flinz.core.document.picture import Picture
from flinz.core.document.plate import BlobId, Plate, Plates
from flinz.core.document.source import FromLettering, FromPhoto, FromSheet, placed
from flinz.core.document.upgrade import upgraded
from flinz.core.stages.paper import AsPicture, Paper
from flinz.core.trace.changes import MAX_CHANGES, ShapeChange
from flinz.errors import DocumentError

MAX_WATCH_SPOTS = 4
# Photos of one sheet.
MAX_CUTOUTS = 24
# Characters of a sheet within a sheet.
MAX_WITHIN = 400_000


class WatchSpot(Settings):
    """A detail that stays magnified while dials move: shares 0..1 of the sheet."""

    name: str = Field("", max_length=60)
    left: float = Field(ge=0, le=1, allow_inf_nan=False)
    top: float = Field(ge=0, le=1, allow_inf_nan=False)
    right: float = Field(ge=0, le=1, allow_inf_nan=False)
    bottom: float = Field(ge=0, le=1, allow_inf_nan=False)
    # Threshold's level can be set from these: the tone at which the whites of eyes stay open.
    is_eye: bool = False

    @model_validator(mode="after")
    def _has_an_area(self) -> "WatchSpot":
        if self.right <= self.left or self.bottom <= self.top:
            raise ValueError("a watch spot needs its right and bottom beyond its left and top")
        return self

    @property
    def bounds(self) -> tuple[float, float, float, float]:
        """left, top, right, bottom."""
        return self.left, self.top, self.right, self.bottom


class Sheet(Settings):
    """One artwork. cutouts: the id of the hand work that frees the subject, by photo."""

    format: Literal["flinz-sheet"] = "flinz-sheet"
    version: Literal[3] = 3
    title: str = Field("Untitled sheet", max_length=200)
    paper: Paper = AsPicture()
    picture: Picture = Picture()
    plates: Plates = Field(default=[Plate()])
    cutouts: dict[Annotated[str, Field(max_length=80)], BlobId] = Field(
        default={}, max_length=MAX_CUTOUTS
    )
    watch: list[WatchSpot] = Field(default=[], max_length=MAX_WATCH_SPOTS)
    # What was changed of the shapes that it leaves as.
    shapes: list[ShapeChange] = Field(default=[], max_length=MAX_CHANGES)

    @model_validator(mode="after")
    def _lies_near_its_paper(self) -> "Sheet":
        self.picture.crop.check()
        self.picture.position.check(self.paper.long_edge)
        for plate in self.plates:
            if isinstance(plate.source, FromPhoto):
                plate.source.picture.crop.check()
            if isinstance(plate.source, FromSheet):
                self._check_within(plate.source)
            position = placed(plate.source)
            if position is not None:
                position.check(self.paper.long_edge)
        return self

    @staticmethod
    def _check_within(source: FromSheet) -> None:
        document = json.dumps(source.document)
        if len(document) > MAX_WITHIN:
            raise ValueError("The sheet that a plate is drawn from is too large.")
        # Told by its text: one within another without end must not be gone through.
        if '"kind": "sheet"' in document:
            raise ValueError(
                "The sheet that a plate is drawn from is itself drawn from a sheet. "
                "Lay that one here instead."
            )
        _inner(document)

    def plate(self, plate_id: str) -> Plate:
        """The plate with an id. Raises DocumentError if there is none."""
        for plate in self.plates:
            if plate.id == plate_id:
                return plate
        raise DocumentError(f"This sheet has no plate {plate_id!r}.")

    def with_plate(self, changed: Plate) -> "Sheet":
        """The sheet with a plate in place of the one of its id."""
        plates = [changed if plate.id == changed.id else plate for plate in self.plates]
        return self.model_copy(update={"plates": plates})

    @property
    def seen(self) -> "Sheet":
        """The sheet without what no drawing of it shows: its title, watch spots, changed shapes."""
        return self.model_copy(update={"title": "", "watch": [], "shapes": []})

    def as_printed(self) -> "Sheet":
        """The sheet as it leaves: a texture of the paper that is only seen is left out."""
        paper = self.paper.as_printed()
        return self if paper is self.paper else self.model_copy(update={"paper": paper})

    @property
    def within(self) -> dict[str, "Sheet"]:
        """The sheets that plates are drawn from, by the plate."""
        return {
            plate.id: _inner(json.dumps(plate.source.document))
            for plate in self.plates
            if isinstance(plate.source, FromSheet)
        }

    @property
    def photos(self) -> list[str]:
        """Ids of the photos that it is drawn from, each once."""
        named = [picture.photo for picture in self.pictures]
        named += [plate.pattern for plate in self.plates]
        named += [photo for sheet in self.within.values() for photo in sheet.photos]
        return list(dict.fromkeys(photo for photo in named if photo))

    @property
    def pictures(self) -> list[Picture]:
        """Its own picture, then those of plates that are drawn from another."""
        sources = (plate.source for plate in self.plates)
        others = (source.picture for source in sources if isinstance(source, FromPhoto))
        return [self.picture, *others]

    @property
    def fonts(self) -> list[str]:
        """Ids of the fonts that were brought and are used, each once."""
        sources = [plate.source for plate in self.plates]
        found = [each.lettering.own for each in sources if isinstance(each, FromLettering)]
        found += [font for sheet in self.within.values() for font in sheet.fonts]
        return list(dict.fromkeys(each for each in found if each))

    @property
    def hand_work(self) -> list[str]:
        """Ids of all hand work that it names, each once, in order."""
        of_plates = (blob for plate in self.plates for blob in plate.hand.values())
        inner = (blob for sheet in self.within.values() for blob in sheet.hand_work)
        return sorted({*self.cutouts.values(), *of_plates, *inner})


# Asked for with every picture; a copy of a sheet may hold another one.
@lru_cache(maxsize=32)
def _inner(document: str) -> Sheet:
    return Sheet.model_validate(upgraded(json.loads(document)))
