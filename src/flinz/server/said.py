"""A stroke as a page says it, in places of the sheet, and as the photo has it."""

from typing import Annotated, Literal

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel, Field

from flinz.core.document.plate import Plate, StageName
from flinz.core.document.sheet import Sheet
from flinz.core.document.source import FromPhoto
from flinz.core.hand.strokes import MAX_POINTS, VERBS, Brush, Stroke, Verb
from flinz.core.planes.photo import Photo
from flinz.core.press.painting import SMALLEST, on_photo
from flinz.core.press.press import Press
from flinz.errors import DocumentError

# Shares of the sheet: what lies farther off is a slip of the hand.
Place = Annotated[float, Field(ge=-100, le=100, allow_inf_nan=False)]
OnSheet = tuple[Place, Place, float]
Share = Annotated[float, Field(ge=0, le=1, allow_inf_nan=False)]


class SaidStroke(BaseModel):
    """A stroke on a sheet: points in shares of it, with pressure, and the brush in mm."""

    plate: str
    stage: StageName | Literal["photo", "lines"]
    verb: Verb
    by: Literal["brush", "area", "piece", "alike"] = "brush"
    size_mm: float = Field(gt=0, le=2000, allow_inf_nan=False)
    hardness: Share = 0.8
    strength: Share = 1.0
    kept_to: Literal["everywhere", "subject", "backdrop"] = "everywhere"
    tone_from: Share = 0.0
    tone_to: Share = 1.0
    points: list[OnSheet] = Field(min_length=1, max_length=MAX_POINTS)

    def check(self) -> None:
        """Raise DocumentError if there is no such verb at that stage."""
        if self.verb not in VERBS.get(self.stage, ()):
            raise DocumentError(f"{self.stage.capitalize()} has no strokes that {self.verb}.")

    def list_in(self, sheet: Sheet) -> str | None:
        """The list that it goes on, None for a new one. Raises DocumentError without its plate."""
        if self.stage == "photo":
            # Of the photo: all plates drawn from it share its cutout.
            plate = self._plate_of(sheet)
            source = plate.source if plate else None
            picture = source.picture if isinstance(source, FromPhoto) else sheet.picture
            return sheet.cutouts.get(picture.photo)
        return sheet.plate(self.plate).hand.get(self.stage)

    def _plate_of(self, sheet: Sheet) -> Plate | None:
        """The plate that it is made for; strokes on the sheet's own photo may name none."""
        if self.stage == "photo" and not any(each.id == self.plate for each in sheet.plates):
            return None
        return sheet.plate(self.plate)

    def stroke(
        self,
        press: Press,
        photo: Photo,
        sheet: Sheet,
        outline: NDArray[np.float64] | None = None,
    ) -> Stroke:
        """The stroke on the photo, or on what the plate is drawn from.

        outline: (N, 3) of what it goes round crisply, in its place.
        """
        made = np.array(self.points, np.float64) if outline is None else outline
        placed = press.placed(photo, sheet, self._plate_of(sheet))
        points, size = on_photo(placed, made, self.size_mm)
        brush = Brush(
            verb=self.verb,
            by="brush" if self.by == "brush" else "area",
            size=SMALLEST if outline is not None else size,
            hardness=1.0 if outline is not None else self.hardness,
            strength=self.strength,
            kept_to=self.kept_to,
            tone_from=self.tone_from,
            tone_to=self.tone_to,
        )
        return Stroke(brush, points)
