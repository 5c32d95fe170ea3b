"""From a plate's source to what it is drawn from."""

import itertools
from collections.abc import Callable
from dataclasses import replace
from functools import partial
from typing import Any, Self

import numpy as np

from flinz.core.document.picture import Position
from flinz.core.document.plate import Plate, hand_of
from flinz.core.document.sheet import Sheet
from flinz.core.document.source import (
    Figures,
    FromBlock,
    FromLettering,
    FromLines,
    FromPhoto,
    FromPicture,
    FromSheet,
    FromWear,
)
from flinz.core.ground import block, lettering, lines, wear, words
from flinz.core.ground.block import Plain
from flinz.core.ground.faces import Type, brought, shipped
from flinz.core.ground.figure import Figure, Toned
from flinz.core.ground.lines import Along
from flinz.core.ground.strewing import Course, Places
from flinz.core.ground.typesetting import missing
from flinz.core.press.developing import Picture
from flinz.core.press.framing import LaidBox
from flinz.core.press.keys import content_key
from flinz.core.press.laying import Laying
from flinz.core.press.origins import ROOM_MM, FromFigure, FromPrint, FromSpread, Made, Origin
from flinz.core.press.resizing import near, near_picture, size_of
from flinz.core.press.results import NONE
from flinz.core.scale import Frame

# Of those that are told.
MISSING_SHOWN = 12
NOWHERE = Position()


class Sourcing(Laying):
    """What plates with sources of their own are drawn from."""

    def for_plate(self, plate: Plate) -> Self:
        """The proofing in which a plate is drawn: from its own source, on the same paper."""
        if isinstance(plate.source, FromPicture) and self._resized_from(plate) is None:
            return self
        source = plate.source
        if self.draft and isinstance(source, FromSheet) and source.document.get("shapes"):
            # They may be known since the last draft.
            return self._for_plate(plate)
        about = plate, self.photo, self.sheet, self.of, self.stop, self.results
        what = "for plate", self.exact, self.draft
        return self.told.get(what, about, lambda: self._for_plate(plate))

    def _for_plate(self, plate: Plate) -> Self:
        source, settled = plate.source, self._resized_from(plate)
        is_resized = settled is not None
        if isinstance(source, FromPicture | FromPhoto):
            is_own = isinstance(source, FromPhoto)
            picture = source.picture if isinstance(source, FromPhoto) else self.picture
            photo = self.results.stock.photo_of(picture.photo) if is_own else self.photo
            picture = near_picture(picture) if is_resized else picture
            of = Origin(picture, self.paper_mm)
            return replace(self, photo=photo, of=of, is_resized=is_resized)
        drawn, stretch = plate, 1.0
        if settled is not None and isinstance(source, Figures):
            sized, stretch = near(source, settled)
            drawn = plate.model_copy(update={"source": sized})
        of = Origin(self.picture, self.paper_mm, self._made(drawn))
        return replace(self, of=of, is_resized=is_resized, stretch=stretch)

    def _resized_from(self, plate: Plate) -> tuple[float, ...] | None:
        """How large what a plate is drawn from was when a hand began to make it larger or smaller;
        None if none does, or it has rested.
        """
        size = size_of(plate.source, self.picture) if self.draft else ()
        settled = self.results.settled(self._sized(plate)) if size else None
        return None if settled == size else settled

    def settle(self, plates: list[Plate]) -> None:
        """Note how large plates are that are drawn to the end."""
        for plate in plates:
            size = size_of(plate.source, self.picture)
            if size:
                self.results.settle(self._sized(plate), size)

    def _sized(self, plate: Plate) -> str:
        """Tells what may become larger from all else, however large it is."""
        return content_key(self.photo.key, plate.id, plate.source.kind, plate.draw)

    def composed(self, frame: Frame) -> Picture:
        """The shown plates printed together."""
        raise NotImplementedError

    def as_source(self, frame: Frame) -> Picture:
        """The shown plates printed together, for something that is drawn from them.

        Where that is drawn finer, to be shrunk, they need not be drawn finer still.
        """
        return (replace(self, exact=True) if frame.finer > 1 else self).composed(frame)

    def _made(self, plate: Plate) -> Made:
        """What a plate is drawn from that is no photo."""
        source = plate.source
        if isinstance(source, FromBlock):
            return self._block(source)
        if isinstance(source, FromLettering):
            return self._lettering(plate, source)
        if isinstance(source, FromLines):
            return self._of_lines(plate, source)
        if isinstance(source, FromSheet):
            return self._sheet(plate, source)
        if isinstance(source, FromWear):
            worn, paper = source.wear, self.paper_mm
            make = partial(wear.figure_of, worn, paper)
            return self._figure("wear", (worn, paper), make, Toned(), room=0.0)
        return self._beneath(plate)

    def _figure(
        self,
        kind: str,
        about: tuple[Any, ...],
        make: Callable[[], Figure],
        toned: Toned,
        position: Position = NOWHERE,
        room: float = ROOM_MM,
        at: LaidBox | None = None,
    ) -> Made:
        """A figure made of what about says, remembered, with its room round it."""
        about = kind, *about, room
        figure: Figure = self.step("figure", "", about, (), lambda: make().moved(room), alike=True)
        return FromFigure(content_key(about), figure, toned, position, room, at)

    def _sheet(self, plate: Plate, source: FromSheet) -> Made:
        """Another sheet, printed."""
        inner = self.sheet.within[plate.id].as_printed()
        stock = self.results.stock
        photo = stock.photo_of(inner.picture.photo)
        root = replace(self, photo=photo, sheet=inner, of=None, within=NONE)
        # A draft does not wait for changed shapes to be traced.
        is_changed = bool(inner.shapes) and (
            not self.draft or stock.shapes_of(photo, inner, self.stop, is_draft=True) is not None
        )
        key = content_key("sheet", root._all_key(inner), self.exact, self.draft, is_changed)

        def printed(frame: Frame) -> Picture:
            within = None
            if is_changed:
                within = stock.shapes_of(photo, inner, self.stop, is_draft=self.draft)
            return replace(root, within=within or NONE).as_source(frame)

        return FromPrint(key, root.paper_mm, printed, source.position)

    def _of_lines(self, plate: Plate, source: FromLines) -> Made:
        said = source.lines
        list_id = hand_of(plate).get("lines") if said.along == Along.HAND else None
        # Where the subject is, its edge is followed; on the paper, what was drawn there.
        is_edge = said.along == Along.CUTOUT
        about = self.cutout_key if is_edge else list_id
        size = (self.box.width, self.box.height) if is_edge else self.paper_mm

        def make() -> Figure:
            if is_edge:
                edge = self.contour(0.1)
                ends = zip(edge.first[:-1], edge.first[1:], strict=True)
                found = [
                    np.column_stack([edge.x[a:b], edge.y[a:b], np.ones(b - a)]) for a, b in ends
                ]
            else:
                found = self._by_hand(list_id, max(self.paper_mm))
            return lines.figure_of(said, size, found)

        made = partial(self._figure, "lines", (said, about, size), make, said, source.position)
        if is_edge:
            return made(0.0, self.laid)
        # By hand they lie on the paper; else there is room for what reaches off them.
        reach = ROOM_MM + max(said.width, said.size + said.off)
        return made(0.0 if said.along == Along.HAND else reach)

    def _by_hand(self, list_id: str | None, long_edge: float) -> list[Places]:
        """Lines drawn by hand, mm."""
        if list_id is None:
            return []
        to_mm = np.array([long_edge, long_edge, 1.0])
        strokes = self.listed(list_id).strokes
        return lines.of_hand(
            [
                (each.brush.verb, each.points * to_mm, each.brush.size * long_edge)
                for each in strokes
            ]
        )

    def _lettering(self, plate: Plate, source: FromLettering) -> Made:
        said, paper = source.lettering, self.paper_mm
        list_id, course = self._course(plate, said)

        def make() -> Figure:
            face = self.face(said)
            return words.figure_of(words.words_on(said, face, course, paper), said, face)

        # On a line it lies where that was drawn, in the box of the paper.
        about = (said, list_id, paper) if course else (said,)
        room = 0.0 if course else ROOM_MM
        return self._figure("lettering", about, make, said, source.position, room)

    def _course(self, plate: Plate, said: lettering.Lettering) -> tuple[str | None, Course | None]:
        """The line that words stand on, if there is one, and the id of its list."""
        list_id = hand_of(plate).get("lines") if said.on_line else None
        drawn = self._by_hand(list_id, max(self.paper_mm))
        return list_id, words.course_on(drawn[0]) if drawn else None

    def words_of(self, plate: Plate, said: lettering.Lettering) -> tuple[words.Words, Type]:
        """The words of a plate where they stand on the sheet, mm, and their face."""
        face = self.face(said)
        _, course = self._course(plate, said)
        found = words.words_on(said, face, course, self.paper_mm)
        own = self.for_plate(plate)
        room = own.made.room if own.made else 0.0
        in_box = np.column_stack([np.eye(2), (room, room)])
        return found.then(in_box).then(own.laid.lay.to_paper), face

    def face(self, said: lettering.Lettering) -> Type:
        """The face that words are set in. Raises NotFoundError for a font that is not here."""
        if not said.own:
            return shipped(said.face)
        own: Type = self.step(
            "font",
            "",
            said.own,
            (),
            lambda: brought(self.results.stock.font_of(said.own)),
            alike=True,
        )
        return own

    def missing(self, plate: Plate) -> list[str]:
        """Characters of a plate's words without a glyph."""
        if not isinstance(plate.source, FromLettering):
            return []
        said = plate.source.lettering
        return missing(said.as_set, self.face(said))[:MISSING_SHOWN]

    def _block(self, source: FromBlock) -> Made:
        said = source.block
        if said.figure == Plain.CUTOUT:
            # As far as it is spread depends on how large the picture lies.
            key = content_key("outline", self.cutout_key, said, self.box.long_edge, self.draft)
            return FromSpread(key, self.laid, self.alpha, said.grow, said)
        is_border = said.figure == Plain.BORDER
        about = (said, self.paper_mm) if is_border else (said,)
        room = 0.0 if is_border else ROOM_MM
        make = partial(block.figure_of, said, self.paper_mm)
        return self._figure("block", about, make, said, source.position, room)

    def _beneath(self, plate: Plate) -> Made:
        """What is printed before a plate."""
        before = list(itertools.takewhile(lambda each: each.id != plate.id, self.sheet.plates))
        beneath = self.sheet.as_printed().model_copy(update={"plates": before})
        key = content_key("beneath", self._all_key(beneath), self.exact, self.draft)
        return FromPrint(key, self.paper_mm, replace(self, sheet=beneath).as_source)

    def _all_key(self, sheet: Sheet) -> str:
        """Key of all that a sheet is printed from; what else it names is named by its content."""
        return content_key(self.photo.key, sheet.said)
