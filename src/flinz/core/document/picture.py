"""The picture of a sheet as data: its photo, what of it is drawn, where it lies on the paper."""

from typing import Any

from pydantic import Field

from flinz.core.dial import Dial, Settings, Switch
from flinz.core.hand.cutout import Cutout
from flinz.core.planes.cropping import Cropping
from flinz.core.planes.photo import is_too_thin
from flinz.errors import DocumentError

# A position is refused beyond this many long edges of the paper: a slip of the hand, no wish.
MAX_EDGES = 20.0
# Of the photo, the least width and height of a crop.
LEAST_SHARE = 0.0005


class Crop(Settings):
    """The part of the photo that is drawn: shares 0..1 after turning, straightening, mirroring."""

    left: float = Field(0.0, ge=0, le=1, allow_inf_nan=False)
    top: float = Field(0.0, ge=0, le=1, allow_inf_nan=False)
    right: float = Field(1.0, ge=0, le=1, allow_inf_nan=False)
    bottom: float = Field(1.0, ge=0, le=1, allow_inf_nan=False)
    quarter_turns: int = Field(0, ge=0, le=3, description="Counter-clockwise")
    straighten: float = Dial(
        0.0,
        ge=-15.0,
        le=15.0,
        step=0.1,
        unit="°",
        label="Straighten",
        group="Frame",
        hint="Counter-clockwise; no corner stays bare",
    )
    mirrored: bool = Switch(
        False, label="Mirrored", group="Frame", hint="Left and right change places before drawing"
    )

    @property
    def cropping(self) -> Cropping:
        """How it takes pixels."""
        bounds = self.left, self.top, self.right, self.bottom
        return Cropping(bounds, self.quarter_turns, self.straighten, self.mirrored)

    def check(self) -> None:
        """Raise ValueError with a sentence if there is nothing between its bounds."""
        if self.right - self.left < LEAST_SHARE or self.bottom - self.top < LEAST_SHARE:
            raise ValueError(
                f"The crop runs from {self.left:g} to {self.right:g} across and from {self.top:g} "
                f"to {self.bottom:g} down, as shares of the photo: it must be at least "
                f"{LEAST_SHARE:g} wide and high."
            )

    def check_on(self, width_px: int, height_px: int) -> None:
        """Raise DocumentError if too little of a photo of that size is left to be drawn."""
        width, height = self.cropping.size(width_px, height_px)
        if is_too_thin(width, height):
            raise DocumentError(
                f"This crop leaves {width:,} × {height:,} pixels of the photo, which cannot be "
                "drawn. Make it larger."
            )


def _place(of: str) -> Any:
    return Field(None, ge=-1e6, le=1e6, allow_inf_nan=False, description=of)


class Position(Settings):
    """Where a box lies on the paper; without numbers in its middle, as large as fits upright.

    x, y: of the box's middle, mm from the paper's left and top edges. width: of the box as it
    lies, before it is turned, mm. turn: degrees counter-clockwise. mirrored: left to right, before
    it is turned. as_drawn: the factor on all lengths of what is drawn in the box; at 1 lengths
    stay as they are, whatever the box's width.
    """

    x: float | None = _place("mm from the paper's left edge to the box's middle")
    y: float | None = _place("mm from the paper's top edge to the box's middle")
    width: float | None = Field(None, ge=1.0, allow_inf_nan=False, description="mm")
    turn: float = Field(0.0, ge=-180, le=180, allow_inf_nan=False, description="Counter-clockwise")
    mirrored: bool = False
    as_drawn: float = Field(1.0, ge=0.05, le=20.0, allow_inf_nan=False)

    def suits(self, paper_mm: float) -> bool:
        """Whether it may lie on a paper of that long edge."""
        try:
            self.check(paper_mm)
        except ValueError:
            return False
        return True

    def check(self, paper_mm: float) -> None:
        """Raise ValueError with a sentence if it is far off a paper of that long edge, or would
        be many times its size.
        """
        limit = MAX_EDGES * paper_mm
        if self.width is not None and self.width > limit:
            raise ValueError(
                f"The picture would be {self.width:,.0f} mm wide on a paper of {paper_mm:,.0f} mm; "
                f"up to {limit:,.0f} mm are allowed."
            )
        away = max(abs(self.x or 0.0), abs(self.y or 0.0))
        if away > limit:
            raise ValueError(
                f"The picture would lie {away:,.0f} mm off, far beside a paper of "
                f"{paper_mm:,.0f} mm; up to {limit:,.0f} mm are allowed."
            )


class Picture(Settings):
    """What plates are drawn from unless they have a source of their own.

    cutout: how the edge between its subject and its backdrop runs.
    """

    photo: str = Field("", max_length=80)
    crop: Crop = Crop()
    position: Position = Position()
    cutout: Cutout = Cutout()
