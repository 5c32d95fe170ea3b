"""What an edition draws every photo by: a recipe, or a finished sheet with all that it names."""

import hashlib
import math
from collections.abc import Mapping
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np

from flinz.core.document.picture import Crop
from flinz.core.document.recipe import MadeOn, Recipe, Tones
from flinz.core.document.sheet import Sheet
from flinz.core.document.sheet_file import SheetFile
from flinz.core.document.source import FromLettering
from flinz.core.edition.fields import Table, fields_of, filled
from flinz.core.edition.saying import saying
from flinz.core.planes.photo import Photo, shrunk
from flinz.core.press import fitting
from flinz.core.press.press import Press

# A subject is looked for in a picture of this size.
LOOKED_AT_PX = 300


@dataclass(frozen=True)
class Template:
    """A sheet to put photos under, with what it names besides its own photo.

    first: the tones that are matched to each photo; None where dials are kept as numbers. shape:
    width over height of the place that its picture was given by hand; None for none.
    """

    file: SheetFile
    first: MadeOn | None = None
    shape: float | None = None

    @cached_property
    def lettering(self) -> dict[str, str]:
        """The words of plates that are lettering, by the plate."""
        sources = {plate.id: plate.source for plate in self.file.sheet.plates}
        return {
            name: source.lettering.words
            for name, source in sources.items()
            if isinstance(source, FromLettering)
        }

    @cached_property
    def mark(self) -> str:
        """What decides all that is drawn by it, as a name."""
        first = self.first.model_dump_json() if self.first else ""
        said = f"{self.file.sheet.model_dump_json()}\0{first}\0{self.shape}"
        return hashlib.sha256(said.encode()).hexdigest()

    def least_px(self, width: int, height: int, long_edge_px: float) -> int | None:
        """How many pixels a photo's long edge must have for so many of what is drawn of it; None
        where all that it has are wanted. width, height: its own pixels.
        """
        if self.shape is not None:
            # Where its subject is found hangs on every pixel, and its crop on that.
            return None
        drawn = max(self.file.sheet.picture.crop.cropping.size(width, height))
        return math.ceil(long_edge_px * max(width, height) / drawn)

    def with_sheet(self, sheet: Sheet) -> "Template":
        """The template with its sheet changed."""
        return replace(self, file=replace(self.file, sheet=sheet))


def of_recipe(recipe: Recipe) -> Template:
    """A template of a recipe; its tones are matched where it says so."""
    first = recipe.made_on if recipe.tones == "matched" else None
    return Template(SheetFile(recipe.on("", recipe.name), {}), first)


def of_sheet(press: Press, photo: Photo, file: SheetFile, tones: Tones = "matched") -> Template:
    """A template of a finished sheet and its photo."""
    first = press.tones(photo, file.sheet) if tones == "matched" else None
    picture, shape = file.sheet.picture, None
    if picture.position.width is not None:
        width, height = picture.crop.cropping.size(photo.width, photo.height)
        shape = width / height
    return Template(without_own_photo(file), first, shape)


def without_own_photo(file: SheetFile) -> SheetFile:
    """A sheet file without the photo of its picture, which comes apart from it."""
    others = {*fitting.under(file.sheet, "").photos}
    return replace(file, photos={name: file.photos[name] for name in others & {*file.photos}})


def words_for(
    template: Template,
    words: Mapping[str, str],
    title: str,
    caption: str,
    number: int,
    table: Table | None,
) -> dict[str, str]:
    """The words of each plate that takes them from a photo. Raises DocumentError."""
    fields = fields_of(title, caption, str(number), table)
    return {
        plate: filled(text, fields, table)
        for plate, text in words.items()
        if plate in template.lettering
    }


def sheet_for(
    press: Press, photo: Photo, template: Template, title: str, words: Mapping[str, str]
) -> Sheet:
    """The sheet of a photo by a template, as that photo wants it, with words by the plate.

    The photo that the template itself was drawn from keeps its crop, cutout and hand work; others
    fill the place that it was given.
    """
    sheet = template.file.sheet
    if photo.key != sheet.picture.photo:
        moved = fitting.under(sheet, photo.key).model_copy(update={"shapes": []})
        if template.shape is not None:
            crop = filling(photo.width, photo.height, template.shape, middle_of(photo))
            picture = moved.picture.model_copy(update={"crop": crop})
            moved = moved.model_copy(update={"picture": picture})
        if template.first is not None:
            moved = fitting.matched(press, photo, moved, template.first)
        sheet = fitting.fitted(press, photo, moved)
    said = saying(press, photo, sheet, words)
    return said.model_copy(update={"title": title[:200]})


def filling(
    width: int, height: int, shape: float, middle: tuple[float, float] = (0.5, 0.5)
) -> Crop:
    """The largest part of a photo whose width over height is a shape, as near about a place of it,
    in shares, as its edges allow.
    """
    across, down = min(1.0, shape * height / width), min(1.0, width / (shape * height))
    left = min(max(middle[0] - across / 2, 0.0), 1 - across)
    top = min(max(middle[1] - down / 2, 0.0), 1 - down)
    return Crop(left=left, top=top, right=min(1.0, left + across), bottom=min(1.0, top + down))


def middle_of(photo: Photo) -> tuple[float, float]:
    """About where the subject of a photo is, in shares."""
    # What it needs takes long to import, and few editions fill places.
    from flinz.core.hand.guessing import subject_middle

    share = min(1.0, LOOKED_AT_PX / max(photo.width, photo.height))
    size = (max(1, round(side * share)) for side in (photo.width, photo.height))
    small = shrunk(photo.pixels, *size).astype(np.float32) / np.float32(65535)
    return subject_middle(small)
