"""The parts of the press that are made ready one by one, and which of them a drawing needs."""

from flinz.core.dial import Settings
from flinz.core.document.plate import STAGES, Plate, StageName, hand_of
from flinz.core.document.sheet import Sheet
from flinz.core.document.source import Beneath, FromBlock, FromLines, FromPhoto
from flinz.core.ground.block import Plain
from flinz.core.ground.lines import Along
from flinz.core.looks.registry import look_of
from flinz.core.press.proofing import WHOLE_SHEET, Subject
from flinz.core.stages.ink import Colouring
from flinz.core.stages.part import Shows
from flinz.core.stages.smooth import AlongForm, EdgeKeeping

PHOTO, HUES, LIGHT, CLEAN, HAND = "the photo", "hues", "local light", "cleaning", "the hand"
HAIR, TEXTURES, GRAIN, TRACING = "hair", "textures of paper", "grain", "tracing"
# Ways to smooth that have kernels of their own.
SMOOTHINGS: dict[type[Settings], str] = {
    EdgeKeeping: "edge-keeping smoothing",
    AlongForm: "smoothing along the form",
}


def needed_for(sheet: Sheet, subject: Subject) -> set[str]:
    """The parts without which a subject of a sheet cannot be drawn."""
    if subject.what == "photo":
        parts = needed(sheet.plate(subject.plate), "tone") if subject.plate else set()
        return parts | ({TEXTURES} if sheet.paper.surface else set())
    if subject.what.startswith("cutout"):
        # On a plain ground its colours are freed of the old one, by the same package.
        is_freed = subject.what in ("cutout-black", "cutout-white")
        return needed_for_cutout(sheet) | ({HAIR} if is_freed else set())
    if subject.what == "stage":
        plates, stage = [sheet.plate(subject.plate)], subject.stage
    else:
        plates, stage = [plate for plate in sheet.plates if plate.shown], STAGES[-1]
    if any(isinstance(plate.source, Beneath) for plate in plates):
        plates, stage = sheet.plates, STAGES[-1]
    within = [sheet.within[plate.id] for plate in plates if plate.id in sheet.within]
    inner = {part for each in within for part in needed_for(each, WHOLE_SHEET)}
    if any(each.shapes for each in within):
        inner.add(TRACING)
    parts = inner | {part for plate in plates for part in needed(plate, stage)}
    if sheet.paper.surface:
        parts.add(TEXTURES)
    if any(_is_cut(plate) for plate in plates):
        parts |= needed_for_cutout(sheet)
    if any(_is_freed(plate) for plate in plates):
        parts.add(HAIR)
    return parts


def _is_cut(plate: Plate) -> bool:
    """Whether it waits for a cutout: of its photo, or to be spread."""
    source = plate.source
    if isinstance(source, FromBlock):
        return source.block.figure == Plain.CUTOUT
    if isinstance(source, FromLines):
        return source.lines.along == Along.CUTOUT
    return plate.photo.needs_cutout


def _is_freed(plate: Plate) -> bool:
    """Whether it prints a part of the photo in its own colours, freed of what lay beside it."""
    return plate.photo.part != Shows.WHOLE and plate.ink.colouring == Colouring.PHOTO


def needed_for_cutout(sheet: Sheet, draft: bool = False) -> set[str]:
    """The parts without which the cutout of a sheet is not found; a draft has no hair."""
    others = [each.source.picture for each in sheet.plates if isinstance(each.source, FromPhoto)]
    has_hair = any(each.cutout.hair > 0 for each in (sheet.picture, *others)) and not draft
    return {PHOTO, HAND, HAIR} if has_hair else {PHOTO, HAND}


def needed(plate: Plate, stage: StageName = "ink") -> set[str]:
    """The parts without which a plate cannot be drawn as far as a stage; looks by their labels."""
    parts = {PHOTO}
    reached = STAGES.index(stage)
    if plate.tone.pulls:
        parts.add(HUES)
    if plate.tone.grain_amount:
        parts.add(GRAIN)
    if any(plate.tone.light):
        parts.add(LIGHT)
    if any(name in STAGES[: reached + 1] for name in hand_of(plate)):
        parts.add(HAND)
    for name, smoothing in (("smooth", plate.smooth), ("again", plate.again)):
        if reached >= STAGES.index(name) and type(smoothing) in SMOOTHINGS:
            parts.add(SMOOTHINGS[type(smoothing)])
    if reached >= STAGES.index("draw"):
        parts.add(look_of(plate.draw).label)
    if reached >= STAGES.index("clean") and not plate.clean.is_neutral:
        parts.add(CLEAN)
    return parts
