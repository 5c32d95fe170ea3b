"""Words of a photo in a sheet's lettering: set as those they replace, but within the paper."""

import math
from collections.abc import Mapping

from flinz.core.document.plate import Plate
from flinz.core.document.sheet import Sheet
from flinz.core.document.source import FromLettering
from flinz.core.ground.lettering import Lettering
from flinz.core.planes.photo import Photo
from flinz.core.press.framing import sheet_mm
from flinz.core.press.press import Lying, Press
from flinz.core.stages.paper import OwnSize

# Of the way to the margins: what runs along them has a little air left.
ROOM_SHARE = 0.9
# The smallest that lettering may be set in.
LEAST_MM, LEAST_POINTS = 0.5, 2.0


def saying(press: Press, photo: Photo, sheet: Sheet, words: Mapping[str, str]) -> Sheet:
    """The sheet with words in its lettering, by the plate.

    Longer words are set smaller, where they would reach out of the paper's margins and those
    before did not.
    """
    letters = {
        plate.id: plate.source.lettering
        for plate in sheet.plates
        if isinstance(plate.source, FromLettering) and plate.id in words
    }
    if not letters:
        return sheet
    said = {name: each.model_copy(update={"words": words[name]}) for name, each in letters.items()}
    spoken = _with_lettering(sheet, said)
    before, now = ({each.plate: each for each in press.lying(photo, of)} for of in (sheet, spoken))
    paper = sheet_mm(sheet, photo)
    margin = sheet.paper.margin if isinstance(sheet.paper, OwnSize) else 0.0
    for name, lettering in said.items():
        room = max(ROOM_SHARE * _room(now[name], paper, margin), before[name].width)
        if now[name].width > room:
            said[name] = _smaller(lettering, room / now[name].width)
    return _with_lettering(sheet, said)


def _room(lying: Lying, paper: tuple[float, float], margin: float) -> float:
    """How long something may be about its middle, along its turn, within margins, mm."""
    turn = math.radians(lying.turn)
    halves = []
    for at, size, along in (
        (lying.x, paper[0], abs(math.cos(turn))),
        (lying.y, paper[1], abs(math.sin(turn))),
    ):
        if along > 1e-6:
            halves.append((min(at, size - at) - margin) / along)
    return max(0.0, 2 * min(halves))


def _smaller(lettering: Lettering, share: float) -> Lettering:
    """Lettering at a share of its size, whichever of the two it is measured by."""
    smaller = {
        "size": max(LEAST_MM, lettering.size * share),
        "points": max(LEAST_POINTS, lettering.points * share),
    }
    return lettering.model_copy(update=smaller)


def _with_lettering(sheet: Sheet, said: Mapping[str, Lettering]) -> Sheet:
    def changed(plate: Plate) -> Plate:
        if plate.id not in said or not isinstance(plate.source, FromLettering):
            return plate
        source = plate.source.model_copy(update={"lettering": said[plate.id]})
        return plate.model_copy(update={"source": source})

    return sheet.model_copy(update={"plates": [changed(plate) for plate in sheet.plates]})
