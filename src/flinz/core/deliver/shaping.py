"""A sheet as vectors with all that was changed of its shapes, and what is printed beneath them."""

import functools
import itertools
import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from flinz.core.deliver.artwork import Artwork, Colour, Item, Layer, VectorWish
from flinz.core.deliver.format import Delivery
from flinz.core.deliver.layering import COVERS, LayerMaker, colour_of, slip_of
from flinz.core.deliver.redrawn import with_shapes
from flinz.core.document.plate import Plate
from flinz.core.document.sheet import Sheet
from flinz.core.document.source import Beneath
from flinz.core.planes.filters import Plane
from flinz.core.press.framing import sheet_mm
from flinz.core.press.painting import to_paper
from flinz.core.press.parts import TRACING
from flinz.core.press.stopping import check
from flinz.core.scale import Frame
from flinz.core.shapes.filled import filled
from flinz.core.stages.blend import Blend
from flinz.core.stages.ink import rgb_of
from flinz.core.trace.changes import Footprint, ShapeChange
from flinz.core.trace.editing import Edited, edited, untouched
from flinz.core.trace.lots import Lot
from flinz.core.trace.silhouette import silhouette
from flinz.core.trace.tracing import LOOKED_AT, Tracing, flattened, together
from flinz.core.trace.whites import whites_of

# How far coloured paper goes on beneath the ink round it, mm.
REACH_MM = 0.05


@dataclass(frozen=True, eq=False)
class TracedSheet:
    """A sheet as it was traced, which changes can be made to again and again.

    sheet, wish: what was traced, and how. plain: its plates without any changes. ways: by plate,
    from the places of parts to mm on the sheet. loose: (H, W) ink 0..1 in frame of what leaves as
    marks or pictures; None where there is none. hidden: plates that are not shown, whose changes
    wait for them.
    """

    sheet: Sheet
    wish: VectorWish
    plain: Artwork
    lots: list[Lot]
    ways: dict[str, NDArray[np.float64]]
    paper: Colour
    frame: Frame
    loose: Plane | None
    hidden: frozenset[str] = frozenset()

    def with_others(self, others: "TracedSheet") -> "TracedSheet":
        """The same sheet with the plates of another tracing of it beside its own."""
        order = {plate.id: number for number, plate in enumerate(self.sheet.plates)}
        layers = self.plain.layers + others.plain.layers
        # Bare paper of a plate comes before it, and lots of one plate in their order.
        layers.sort(key=lambda each: order[each.id.removesuffix(COVERS)])
        notes = list(dict.fromkeys(self.plain.notes + others.plain.notes))
        loose = [each.loose for each in (self, others) if each.loose is not None]
        return replace(
            self,
            plain=replace(self.plain, layers=layers, notes=notes),
            lots=sorted(self.lots + others.lots, key=lambda each: order[each.plate]),
            ways=self.ways | others.ways,
            loose=functools.reduce(np.maximum, loose) if loose else None,
        )

    def edited(self, changes: Sequence[ShapeChange], wish: VectorWish) -> Edited:
        """The shapes that are otherwise by some changes."""
        found = edited(self.lots, changes, self.ways, wish.trace, self.paper)
        lost = [each for each in found.lost if self._part(changes, each).plate not in self.hidden]
        return replace(found, lost=lost)

    @staticmethod
    def _part(changes: Sequence[ShapeChange], at: tuple[int, int]) -> Footprint:
        number, k = at
        return changes[number].of[k]

    def layers(self, found: Edited) -> list[Layer]:
        """What the plates leave, as changed."""
        changed = {shape.plate for shape in found.shapes}
        return [
            self._changed(layer, found) if layer.id in changed else layer
            for layer in self.plain.layers
        ]

    def artwork(self, found: Edited, wish: VectorWish) -> Artwork:
        """All of the sheet as changed, with what is printed beneath."""
        layers = self.layers(found)
        under, notes = self.under(layers, wish)
        return replace(
            self.plain,
            layers=under + layers,
            notes=self.plain.notes + notes + _missing(found),
        )

    def under(self, layers: Sequence[Layer], wish: VectorWish) -> tuple[list[Layer], list[str]]:
        """What is printed before layers, a silhouette of all ink and a band round it; and notes."""
        if not wish.wants_silhouette:
            return [], []
        inked = self._inked(layers)
        way, holes = wish.under_layer or 0.0, wish.under_holes or math.inf
        colour = colour_of(rgb_of(wish.under_colour))
        found, notes = [], []
        if wish.outline > 0:
            band = silhouette(inked, self.frame, way + wish.outline, wish.trace, holes)
            found.append(Layer("outline", "Outline", colour, [Item(band, colour)], Blend.NORMAL))
        if wish.under_layer is not None:
            under = silhouette(inked, self.frame, way, wish.trace, holes)
            items = [Item(under, colour)]
            found.append(Layer("under-layer", "Under-layer", colour, items, Blend.NORMAL))
            if not len(under):
                notes.append(
                    f"The under-layer drawn in by {-way:g} mm leaves nothing: choose less."
                )
        return found, notes

    def _changed(self, layer: Layer, found: Edited) -> Layer:
        """A plate's layer with its changed shapes in their places."""
        entries: list[tuple[tuple[int, ...], Item]] = []
        rounds = any(item.rounds for item in layer.items)
        for at, lot in enumerate(self.lots):
            if lot.plate == layer.id and not lot.is_white:
                item = next(each for each in layer.items if each.lot == lot.number)
                left = lot.tracing.some(untouched(at, lot, found))
                entries.append(((0, at, 0), replace(item, content=left)))
        printed = [each for each in found.shapes if each.plate == layer.id and each.is_printed]
        strengths = {item.lot: item.strength for item in layer.items}
        for each in printed:
            lot = self.lots[each.lot]
            is_given = lot.is_white or each.colour != lot.colour
            reach = REACH_MM if lot.is_white else 0.0
            item = Item(
                each.tracing,
                each.colour,
                strength=1.0 if is_given else strengths[lot.number],
                lot=lot.number,
                given=is_given,
                reach=reach,
                rounds=rounds,
            )
            entries.append((each.order[1:], item))
        items = [item for _, item in sorted(entries, key=lambda entry: entry[0])]
        return replace(layer, items=_gathered(items))

    def _inked(self, layers: Sequence[Layer]) -> Plane:
        """Ink 0..1 of shapes as they are in layers, and of all else."""
        shape = self.frame.height, self.frame.width
        inked = np.zeros(shape, np.float32) if self.loose is None else self.loose.copy()
        for layer in layers:
            for item in layer.items:
                if item.lot is not None and isinstance(item.content, Tracing):
                    rings = flattened(item.content, LOOKED_AT)
                    np.maximum(inked, filled(rings, self.frame), out=inked)
        return inked


def artwork_of(delivery: Delivery, wish: VectorWish) -> Artwork:
    """The sheet of a delivery as vectors. Raises DocumentError, Stopped."""
    traced = traced_as_changed(delivery, wish)
    return traced.artwork(traced.edited(delivery.sheet.shapes, wish), wish)


def traced_as_changed(
    delivery: Delivery, wish: VectorWish, *, only: set[str] | None = None
) -> TracedSheet:
    """The sheet of a delivery, traced, with the bare paper that was changed. Plates that are drawn
    from the print beneath are drawn from it as its shapes were changed. only: the plates wanted;
    None for all. Raises DocumentError, Stopped.
    """
    changes = delivery.sheet.shapes
    white_of = with_changed_paper(changes)
    plates = delivery.sheet.plates
    wanted = {plate.id for plate in plates if only is None or plate.id in only}
    later = [each for each in _over_changed(delivery.sheet) if each in wanted]
    traced = traced_sheet(delivery, wish, white_of, only=wanted - set(later))
    for plate in later:
        below = with_shapes(delivery, traced)
        # How far it is was told to the end already, and does not go back.
        over = replace(below, sheet=delivery.sheet, progress=lambda share: None)
        traced = traced.with_others(traced_sheet(over, wish, white_of, only={plate}))
    return traced


def _over_changed(sheet: Sheet) -> list[str]:
    """The plates that are drawn from the print beneath, where shapes of that were changed."""
    changed = {part.plate for change in sheet.shapes for part in change.of}
    found: list[str] = []
    is_changed = False
    for plate in sheet.plates:
        if plate.shown and is_changed and isinstance(plate.source, Beneath):
            found.append(plate.id)
        is_changed = is_changed or (plate.shown and plate.id in changed)
    return found


def with_changed_paper(changes: Sequence[ShapeChange]) -> set[str]:
    """The plates of whose bare paper something was changed."""
    return {part.plate for change in changes for part in change.of if part.is_white}


def traced_sheet(
    delivery: Delivery,
    wish: VectorWish,
    white_of: set[str] | None = None,
    *,
    with_loose: bool = False,
    only: set[str] | None = None,
) -> TracedSheet:
    """The sheet of a delivery, traced. white_of: the plates whose bare paper is wanted as shapes,
    too; None for all. with_loose: whether silhouettes may be wanted of it that are not in the wish.
    only: the plates that are traced; None for all. Raises DocumentError, Stopped.
    """
    delivery.press.gate({TRACING})
    photo, sheet = delivery.photo, delivery.printed
    width, height = sheet_mm(sheet, photo)
    with_loose = with_loose or wish.wants_silhouette
    maker = LayerMaker(delivery, wish, width, height, with_loose=with_loose)
    shown = [each for each in sheet.plates if each.shown and (only is None or each.id in only)]
    for number, plate in enumerate(shown):
        check(delivery.stop)
        maker.add(plate, number / len(shown), (number + 1) / len(shown))
    notes = maker.notes
    if sheet.paper.surface and not wish.drop_paper:
        notes.append("The texture of the paper is left out: it has no outlines.")
    colour = colour_of(rgb_of(sheet.paper.colour))
    paper = None if wish.drop_paper else colour
    artwork = Artwork(width, height, paper, maker.layers, notes)
    lots, in_shapes = [], []
    for plate in shown:
        layer = next(each for each in maker.layers if each.id == plate.id)
        own = [
            Lot(plate.id, item.lot, item.content, item.colour)
            for item in layer.items
            if item.lot is not None and isinstance(item.content, Tracing)
        ]
        if own:
            in_shapes.append(plate)
        if own and (white_of is None or plate.id in white_of):
            white = whites_of(own[0].tracing, width, height, wish.trace)
            lots.append(Lot(plate.id, 0, white, colour, is_white=True))
        lots += own
    hidden = frozenset(plate.id for plate in sheet.plates if not plate.shown)
    return TracedSheet(
        delivery.sheet,
        wish,
        artwork,
        lots,
        ways_of(delivery, in_shapes),
        colour,
        maker.silhouette_frame,
        maker.loose,
        hidden,
    )


def ways_of(delivery: Delivery, plates: Sequence[Plate]) -> dict[str, NDArray[np.float64]]:
    """By plate, (2, 3) from places in long edges of the photo to mm on the sheet as it prints."""
    photo, sheet = delivery.photo, delivery.printed
    size = sheet_mm(sheet, photo)
    found = {}
    for plate in plates:
        way = to_paper(delivery.press.placed(photo, sheet, plate))
        found[plate.id] = (_square(slip_of(plate.ink, *size).to_paper) @ _square(way))[:2]
    return found


def _gathered(items: list[Item]) -> list[Item]:
    """Items, those that follow each other in one colour together; what is empty is left out."""
    found: list[Item] = []
    for _, same in itertools.groupby(
        items, key=lambda item: (item.colour, item.strength, item.given, item.reach)
    ):
        own = list(same)
        tracings = [item.content for item in own if isinstance(item.content, Tracing)]
        whole = together(tracings)
        if len(whole):
            found.append(replace(own[0], content=whole))
    return found


def _missing(found: Edited) -> list[str]:
    many = len(found.lost)
    if not many:
        return []
    what = "1 changed shape is" if many == 1 else f"{many} changed shapes are"
    return [f"{what} not found in the drawing any more; the change is kept with the sheet."]


def _square(way: NDArray[np.float64]) -> NDArray[np.float64]:
    return np.vstack([way, [0, 0, 1]])
