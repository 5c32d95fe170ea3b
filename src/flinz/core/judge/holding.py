"""Whether marks hold in a picture of black and white alone, and the size at which they do."""

from dataclasses import dataclass

from flinz.core.document.sheet import Sheet
from flinz.core.looks.registry import look_of
from flinz.core.scale import dpi_of

# A mark of fewer pixels breaks up, or swells by half, where each is black or white.
HOLDS_PX = 2.0


@dataclass(frozen=True)
class ThinMarks:
    """Marks of a plate that are under HOLDS_PX wide, and the dots an inch that hold them."""

    plate: str
    mm: float
    px: float
    dpi: float

    @property
    def sentence(self) -> str:
        """What becomes of them, in words."""
        return (
            f"In 1 bit the thinnest marks of {self.plate}, {self.mm:.2f} mm, are {self.px:.1f} "
            f"pixels wide and will not hold; from {self.dpi:.0f} dots an inch on they do."
        )


def thin_marks(sheet: Sheet, px_per_mm: float) -> ThinMarks | None:
    """The thinnest marks of the shown plates at a scale; None where all of them hold."""
    scale = sheet.picture.position.as_drawn
    found = []
    for number, plate in enumerate(sheet.plates, start=1):
        look = look_of(plate.draw)
        if plate.shown and look.thinnest is not None:
            mm = look.thinnest(plate.draw) * scale
            found.append((mm, plate.name or f"plate {number}"))
    if not found:
        return None
    mm, name = min(found)
    px = mm * px_per_mm
    return None if px >= HOLDS_PX else ThinMarks(name, mm, px, -(-dpi_of(HOLDS_PX / mm) // 1))
