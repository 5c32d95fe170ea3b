"""Whether a machine can print a sheet: what it could not, where, and what would mend it."""

import math
from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass
from functools import partial

from pydantic import BaseModel

from flinz.core.dial import held
from flinz.core.document.plate import Plate, name_of
from flinz.core.document.sheet import Sheet
from flinz.core.judge.machines import Machine
from flinz.core.judge.printing import SPECK_MM2, Holds, PrintReport, Spot, dot_mm, plate_report
from flinz.core.looks.dot_screen import DotScreen
from flinz.core.looks.line_screen import LineScreen
from flinz.core.planes.photo import Photo
from flinz.core.press.framing import sheet_mm
from flinz.core.press.press import Press
from flinz.core.press.stopping import Stop, never
from flinz.core.scale import MM_PER_INCH
from flinz.core.stages.clean import Clean
from flinz.core.stages.paper import AsPicture

# A photo of fewer dots an inch shows its pixels, or has little to draw from.
FEWEST_DPI = 100.0
# Sizes that differ by less are the same.
SAME = 1e-6
# A few specks are no fault: every press drops some.
FEW_SPECKS = 5
# Mends are tried until one clears what it is for: so many pixels farther, so many times as large.
FARTHER = (1.0, 3.0)
LARGER = (1.0, 2.5, 6.0)
SMOOTHED = (1.0, 2.0)
# They leave at least so much of the ink, and of the paper.
KEPT = 0.5
LARGER_SHEET = "Make the sheet larger, or its marks."
LARGER_OR_FILLED = "Make the sheet larger, or let them fill."


class Check(BaseModel):
    """One thing that a machine could not hold. spots: where. mend: what would help, in words; plate
    or paper: the sheet's, mended so; stage: that of the plate's that is mended.
    """

    kind: str
    plate_id: str = ""
    sentence: str
    spots: list[Spot] = []
    mend: str = ""
    plate: Plate | None = None
    stage: str = ""
    paper: dict[str, object] | None = None


def checked(
    press: Press, photo: Photo, sheet: Sheet, stop: Stop = never, *, machine: Machine
) -> list[Check]:
    """All that a machine could not hold of a sheet, the largest things first; what mends it is
    drawn and looked at before it is told. Raises Stopped.
    """
    found = [*_of_sheet(photo, sheet, machine)]
    look = partial(plate_report, press, photo, sheet, stop=stop, holds=_held_by(machine))
    for plate in sheet.plates:
        if plate.shown:
            found += _Plate(plate, look(plate), machine, look).checks()
    return found


def _held_by(machine: Machine) -> Holds:
    dot_mm2 = max(SPECK_MM2, round(math.pi / 4 * machine.thinnest**2, 3))
    return Holds(machine.thinnest, machine.narrowest, dot_mm2)


def _of_sheet(photo: Photo, sheet: Sheet, machine: Machine) -> Iterator[Check]:
    width, height = sheet_mm(sheet, photo)
    room = sorted((machine.width, machine.height))
    sides = sorted((width, height))
    too_large = max(side / most for side, most in zip(sides, room, strict=True))
    if too_large > 1 + SAME:
        sentence = (
            f"The sheet is {width:.0f} × {height:.0f} mm; this prints up to {machine.width:g} × "
            f"{machine.height:g} mm."
        )
        if isinstance(sheet.paper, AsPicture):
            edge = math.floor(sheet.paper.long_edge / too_large)
            paper = sheet.paper.model_copy(update={"long_edge": float(edge)})
            yield Check(
                kind="size",
                sentence=sentence,
                mend=f"Make its long edge {edge} mm",
                paper=paper.model_dump(mode="json"),
            )
        else:
            yield Check(kind="size", sentence=sentence)
    inks = list(dict.fromkeys(plate.ink.colour for plate in sheet.plates if plate.shown))
    if len(inks) > machine.inks:
        yield Check(
            kind="inks",
            sentence=f"The sheet has {len(inks)} inks; this prints {machine.inks}. Give plates one "
            "ink, or hide some.",
        )
    dpi = photo.width / max(width, 1) * MM_PER_INCH
    if dpi < FEWEST_DPI:
        yield Check(
            kind="photo",
            sentence=f"At this size the photo has {dpi:.0f} dots an inch: finer detail is not in "
            "it. A larger photo or a smaller sheet would help.",
        )


@dataclass(frozen=True, eq=False)
class _Plate:
    """A plate, what was found of it, and the machine that is to print it. look: what is found of it
    when mended.
    """

    plate: Plate
    found: PrintReport
    machine: Machine
    look: Callable[[Plate], PrintReport]

    def checks(self) -> Iterator[Check]:
        """What the machine could not hold of it."""
        found, machine = self.found, self.machine
        if found.is_grey:
            if not machine.greys:
                mend = self._first_that_clears(self._black(), lambda now: now.is_grey)
                yield self._check("greys", "has greys; this prints ink or none.", [], mend)
            return
        if isinstance(self.plate.draw, DotScreen | LineScreen):
            yield from self._of_screen(self.plate.draw)
        if self._is_thin(found):
            words = f"has lines of {found.thinnest_mm:.2f} mm; this holds {machine.thinnest:g} mm."
            mend = self._first_that_clears(self._thickened(), self._is_thin)
            yield self._check("thin", words, found.thin_spots, mend, LARGER_SHEET)
        if self._is_narrow(found):
            words = (
                f"has gaps of {found.narrowest_mm:.2f} mm; this keeps "
                f"{machine.narrowest:g} mm open."
            )
            mend = self._first_that_clears(self._opened(), self._is_narrow_or_thinned)
            yield self._check("narrow", words, found.narrow_spots, mend, LARGER_OR_FILLED)
        if found.specks > FEW_SPECKS:
            words = f"has {found.specks} specks that are too small to print."
            mend = self._first_that_clears(self._swept(), lambda now: now.specks > FEW_SPECKS)
            yield self._check("specks", words, found.speck_spots, mend, LARGER_SHEET)

    def _check(
        self, kind: str, words: str, spots: list[Spot], mend: dict[str, object], hint: str = ""
    ) -> Check:
        """hint: what would help where nothing mends it."""
        said = f"{name_of(self.plate)} {words}" + (f" {hint}" if hint and not mend else "")
        return Check(kind=kind, plate_id=self.plate.id, sentence=said, spots=spots, **mend)

    def _of_screen(self, screen: DotScreen | LineScreen) -> Iterator[Check]:
        ruling = self.machine.ruling_near(screen.ruling)
        if ruling != screen.ruling:
            which = "fine" if screen.ruling > ruling else "coarse"
            words = f"is ruled {screen.ruling:g} to the cm, too {which} for this."
            changed = self.plate.model_copy(
                update={"draw": screen.model_copy(update={"ruling": ruling})}
            )
            mend = {"mend": f"Rule it {ruling:g} to the cm", "plate": changed, "stage": "draw"}
            yield self._check("ruling", words, [], mend)

    def _black(self) -> Iterator[tuple[str, Plate]]:
        if self.plate.clean.soften > 0:
            yield self._with("Leave it unsoftened", soften=0.0)
        ruling = self.machine.ruling_near(12.0)
        screen = DotScreen(ruling=ruling)
        yield (
            f"Screen it: {ruling:g} dots to the cm",
            self.plate.model_copy(update={"draw": screen}),
        )

    def _is_thin(self, found: PrintReport) -> bool:
        thin = found.thinnest_mm
        return thin is not None and thin < self.machine.thinnest and found.thin_ink > 0

    def _is_narrow(self, found: PrintReport) -> bool:
        narrow = found.narrowest_mm
        return narrow is not None and narrow < self.machine.narrowest and found.narrow_paper > 0

    def _is_narrow_or_thinned(self, now: PrintReport) -> bool:
        return self._is_narrow(now) or (self._is_thin(now) and not self._is_thin(self.found))

    def _first_that_clears(
        self, mends: Iterable[tuple[str, Plate]], is_left: Callable[[PrintReport], bool]
    ) -> dict[str, object]:
        for mend, plate in mends:
            now, is_cleaned = self.look(plate), plate.draw == self.plate.draw
            if not is_left(now) and (self._is_kept(now) or not is_cleaned):
                return {"mend": mend, "plate": plate, "stage": "clean" if is_cleaned else "draw"}
        return {}

    def _is_kept(self, now: PrintReport) -> bool:
        """Whether the drawing is still there: what fills it or wipes it out is no mend."""
        ink, was = now.ink, self.found.ink
        return ink >= KEPT * was and 1 - ink >= KEPT * (1 - was)

    def _thickened(self) -> Iterator[tuple[str, Plate]]:
        lacking = (self.machine.thinnest - (self.found.thinnest_mm or 0)) / 2
        yield from self._moved(lacking, self.found.precision_mm, "Thicken")

    def _opened(self) -> Iterator[tuple[str, Plate]]:
        narrowest = self.machine.narrowest
        if not self._is_thin(self.found):
            lacking = (narrowest - (self.found.narrowest_mm or 0)) / 2
            yield from self._moved(-lacking, -self.found.precision_mm, "Thin")
        yield from self._rounded(narrowest)

    def _rounded(self, size_mm: float) -> Iterator[tuple[str, Plate]]:
        for times in SMOOTHED:
            smooth = round(times * size_mm, 2)
            if self.plate.clean.smooth < smooth == held(Clean, "smooth", smooth):
                yield self._with(f"Round off what is under {smooth:g} mm", smooth=smooth)

    def _moved(self, way_mm: float, more_mm: float, verb: str) -> Iterator[tuple[str, Plate]]:
        """All edges out or in, each time farther: a width may have been told too large."""
        for times in FARTHER:
            way = round(way_mm + times * more_mm, 3)
            thicken = round(self.plate.clean.thicken + way, 3)
            if thicken == held(Clean, "thicken", thicken):
                yield self._with(f"{verb} it by {abs(way):.2f} mm a side", thicken=thicken)

    def _swept(self) -> Iterator[tuple[str, Plate]]:
        # Clean counts pixels that have any ink at all: more than there is ink.
        dot_mm2 = _held_by(self.machine).speck_mm2
        for times in LARGER:
            least = round(max(times * dot_mm2, self.plate.clean.specks), 3)
            yield self._with(f"Leave out what is under {least:g} mm²", specks=least)
        yield from self._rounded(dot_mm(dot_mm2))
        # Of a drawing made of dots all would be gone.
        yield from self._thickened()

    def _with(self, mend: str, **dials: float) -> tuple[str, Plate]:
        if self.plate.clean.arrives < 1:
            mend, dials = f"{mend}, and let all cleaning arrive", dials | {"arrives": 1.0}
        clean = self.plate.clean.model_copy(update=dials)
        return mend, self.plate.model_copy(update={"clean": clean})
