"""Whether a machine can print a sheet: what it could not, where, and what would mend it."""

import math
from collections.abc import Iterator

from pydantic import BaseModel

from flinz.core.document.plate import Plate, name_of
from flinz.core.document.sheet import Sheet
from flinz.core.judge.machines import Machine
from flinz.core.judge.printing import PrintReport, Spot, print_reports
from flinz.core.looks.dot_screen import DotScreen
from flinz.core.looks.line_screen import LineScreen
from flinz.core.planes.photo import Photo
from flinz.core.press.framing import sheet_mm
from flinz.core.press.press import Press
from flinz.core.press.stopping import Stop, never
from flinz.core.scale import MM_PER_INCH
from flinz.core.stages.paper import AsPicture

# A photo of fewer dots an inch shows its pixels, or has little to draw from.
FEWEST_DPI = 100.0
# Sizes that differ by less are the same.
SAME = 1e-6
# A few specks are no fault: every press drops some.
FEW_SPECKS = 5


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
    """All that a machine could not hold of a sheet, the largest things first. Raises Stopped."""
    found = [*_of_sheet(photo, sheet, machine)]
    reports = print_reports(
        press, photo, sheet, stop, thin_mm=machine.thinnest, narrow_mm=machine.narrowest
    )
    for each in reports:
        found += _of_plate(sheet.plate(each.plate), each, machine)
    return found


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


def _of_plate(plate: Plate, found: PrintReport, machine: Machine) -> Iterator[Check]:
    name = name_of(plate)
    if found.is_grey:
        if not machine.greys:
            ruling = min(max(12.0, machine.coarsest), machine.finest)
            screened = plate.model_copy(update={"draw": DotScreen(ruling=ruling)})
            yield Check(
                kind="greys",
                plate_id=plate.id,
                sentence=f"{name} has greys; this prints ink or none.",
                mend=f"Screen it: {ruling:g} dots to the cm",
                plate=screened,
                stage="draw",
            )
        return
    if isinstance(plate.draw, DotScreen | LineScreen):
        yield from _of_screen(plate, plate.draw, name, machine)
    thin, narrow = found.thinnest_mm, found.narrowest_mm
    is_thin = thin is not None and thin < machine.thinnest and found.thin_ink > 0
    if thin is not None and is_thin:
        yield Check(
            kind="thin",
            plate_id=plate.id,
            sentence=f"{name} has lines of {thin:.2f} mm; this holds {machine.thinnest:g} mm.",
            spots=found.thin_spots,
            **_moved(plate, (machine.thinnest - thin) / 2 + found.precision_mm, "Thicken"),
        )
    if narrow is not None and narrow < machine.narrowest and found.narrow_paper > 0:
        mend = (
            {}
            if is_thin
            else _moved(plate, (narrow - machine.narrowest) / 2 - found.precision_mm, "Thin")
        )
        yield Check(
            kind="narrow",
            plate_id=plate.id,
            sentence=f"{name} has gaps of {narrow:.2f} mm; this keeps {machine.narrowest:g} mm "
            "open." + (" Make the sheet larger: thicker lines close them." if is_thin else ""),
            spots=found.narrow_spots,
            **mend,
        )
    if found.specks > FEW_SPECKS:
        least = round(math.pi / 4 * machine.thinnest**2, 3)
        clean = plate.clean.model_copy(update={"specks": max(least, plate.clean.specks)})
        yield Check(
            kind="specks",
            plate_id=plate.id,
            sentence=f"{name} has {found.specks} specks that are too small to print.",
            spots=found.speck_spots,
            mend=f"Leave out what is under {least:g} mm²",
            plate=plate.model_copy(update={"clean": clean}),
            stage="clean",
        )


def _of_screen(
    plate: Plate, screen: DotScreen | LineScreen, name: str, machine: Machine
) -> Iterator[Check]:
    ruling = min(max(screen.ruling, machine.coarsest), machine.finest)
    if ruling == screen.ruling:
        return
    which = "fine" if screen.ruling > machine.finest else "coarse"
    changed = screen.model_copy(update={"ruling": ruling})
    yield Check(
        kind="ruling",
        plate_id=plate.id,
        sentence=f"{name} is ruled {screen.ruling:g} to the cm, too {which} for this.",
        mend=f"Rule it {ruling:g} to the cm",
        plate=plate.model_copy(update={"draw": changed}),
        stage="draw",
    )


def _moved(plate: Plate, way_mm: float, verb: str) -> dict[str, object]:
    """A mend that moves all edges of a plate out or in: also by what a width was told too large."""
    thicken = round(plate.clean.thicken + way_mm, 3)
    if not -3 <= thicken <= 3:
        return {}
    clean = plate.clean.model_copy(update={"thicken": thicken})
    return {
        "mend": f"{verb} it by {abs(way_mm):.2f} mm a side",
        "plate": plate.model_copy(update={"clean": clean}),
        "stage": "clean",
    }
