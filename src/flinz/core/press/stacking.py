"""Plates printed over each other: what lies below and above the one that changes is remembered."""

import numpy as np
from numpy.typing import NDArray

from flinz.core.document.plate import Plate
from flinz.core.planes.textures import Relief
from flinz.core.press.developing import Picture
from flinz.core.press.impressions import Impression, bare, is_grey_sheet, left_by_all, on_paper
from flinz.core.press.keys import content_key
from flinz.core.press.sourcing import Sourcing
from flinz.core.press.stopping import check
from flinz.core.scale import Frame

# Fewer are printed anew each time.
FEW = 3


class Stacking(Sourcing):
    """All plates of a sheet on its paper.

    While a hand turns a dial of one of many plates, those below it are printed once, and those
    above it are one factor wherever their inks only take their share of what lies beneath.
    """

    def composed(self, frame: Frame) -> Picture:
        """The shown plates printed together."""
        shown = [plate for plate in self.sheet.plates if plate.shown]
        if not self.draft:
            self.settle(shown)
        if len(shown) <= FEW or self.within or self.results.instead or self.results.over:
            return self.printed(self._impressions(shown, frame), frame)
        is_grey = is_grey_sheet(self.sheet.paper, [plate.ink for plate in shown])
        keys = [self._impression_key(plate) for plate in shown]
        ways = self.exact, self.draft, is_grey
        before = self.results.stacked(content_key(frame, ways), keys)
        if len(before) != len(keys):
            return self.printed(self._impressions(shown, frame), frame)
        changed = [k for k, key in enumerate(keys) if key != before[k]] or [len(keys) - 1]
        first, last = changed[0], changed[-1]
        below = content_key(self.sheet.paper, keys[:first], ways)
        paper = self.paper(frame, is_grey)
        sheet: Picture = self.step(
            "stack below",
            below,
            None,
            frame,
            lambda: on_paper(paper, self._impressions(shown[:first], frame)),
        )
        sheet = on_paper(sheet, self._impressions(shown[first : last + 1], frame), paper)
        above = shown[last + 1 :]
        if not above:
            return sheet
        left = self._left(above, keys[last + 1 :], frame, sheet.ndim)
        if left is not None:
            return np.asarray(sheet * left, np.float32)
        return on_paper(sheet, self._impressions(above, frame), paper)

    def _left(
        self, plates: list[Plate], keys: list[str], frame: Frame, ndim: int
    ) -> NDArray[np.float32] | None:
        """What plates leave of what lies beneath them; None where they are no mere factors."""
        if any(not plate.ink.is_plain or plate.photo.covers for plate in plates):
            return None
        found: NDArray[np.float32] = self.step(
            "stack above",
            content_key(keys, self.exact),
            ndim,
            frame,
            lambda: left_by_all(self._impressions(plates, frame), ndim),
        )
        return found

    def _impressions(self, plates: list[Plate], frame: Frame) -> list[Impression]:
        found = []
        for plate in plates:
            check(self.stop)
            found.append(self.for_plate(plate).impression(plate, frame))
        return found

    def _impression_key(self, plate: Plate) -> str:
        """Key of all that a plate leaves, apart from the frame."""
        own = self.for_plate(plate)
        paper = self.sheet.paper
        taken = paper.surface, *paper.takes_ink
        return content_key(own.cover_key(plate), plate.ink, own.hand_key(plate, "ink"), taken)

    def impression(self, plate: Plate, frame: Frame) -> Impression:
        """What a plate leaves on the sheet."""
        raise NotImplementedError

    def printed(self, impressions: list[Impression], frame: Frame) -> Picture:
        """Impressions on the paper, in their order."""
        check(self.stop)
        inks = [each.ink for each in impressions]
        paper = self.paper(frame, is_grey_sheet(self.sheet.paper, inks))
        return on_paper(paper, impressions)

    def paper(self, frame: Frame, is_grey: bool) -> Picture:
        """The bare paper, (H, W) where all on it is grey, else (H, W, 3)."""
        settings = self.sheet.paper

        def make() -> Picture:
            is_seen = settings.surface and settings.depth > 0
            return bare(settings, frame, is_grey, self._relief(frame) if is_seen else None)

        sheet: Picture = self.step("paper", "", (settings, is_grey), frame, make, alike=True)
        return sheet

    def _relief(self, frame: Frame) -> Relief:
        """The texture of the paper in a frame."""
        raise NotImplementedError
