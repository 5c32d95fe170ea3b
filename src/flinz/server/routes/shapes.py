"""The shapes of a sheet for the page that changes them: traced, changed, and what is beneath."""

import hashlib
from collections.abc import Iterator, Sequence
from dataclasses import replace
from typing import Annotated

import numpy as np
from fastapi import APIRouter
from numpy.typing import NDArray
from pydantic import BaseModel, Field

from flinz.core.deliver.artwork import VectorWish
from flinz.core.deliver.format import Delivery, Progress
from flinz.core.deliver.shaping import TracedSheet, traced_sheet
from flinz.core.deliver.svg import path_data
from flinz.core.document.sheet import Sheet
from flinz.core.press.stopping import Stop
from flinz.core.stages.ink import hex_of
from flinz.core.trace.acting import Act, acted
from flinz.core.trace.changes import MAX_CHANGES, ShapeChange
from flinz.core.trace.editing import EditedShape
from flinz.core.trace.figures import TraceFigures, figures_of
from flinz.core.trace.lots import Lot, first_numbers
from flinz.core.trace.tracing import Tracing
from flinz.errors import DocumentError, NotFoundError
from flinz.server.pictures import png_of_loose
from flinz.server.studio import Db, Id, TheStudio
from flinz.store import sheets

router = APIRouter(prefix="/api/sheets/{sheet_id}/shapes", tags=["shapes"])

# More cannot be shown and chosen at once.
MAX_SHAPES, MAX_CURVES = 20_000, 400_000
# What of a wish decides the outlines of shapes.
TRACED = ("closeness", "corners", "specks", "pinholes", "tones")
KEY = r"^[0-9a-f]{64}$"
Box = Annotated[list[float], Field(min_length=4, max_length=4)]


class TracedShape(BaseModel):
    """A shape as it was traced, numbered by its place in the list. lot: those of a plate in one
    colour, later ones over earlier ones. path: SVG path data, mm; box: left, top, right, bottom;
    area: mm².
    """

    plate: str
    lot: int
    white: bool
    colour: str
    area: float
    box: Box
    path: str


class TracedPlate(BaseModel):
    """A plate of which there are shapes."""

    id: str
    name: str


class Shapes(BaseModel):
    """A sheet as it was traced. loose: what leaves as marks or pictures: PNG, as a data address."""

    width: float
    height: float
    paper: str
    plates: list[TracedPlate]
    shapes: list[TracedShape]
    figures: TraceFigures
    notes: list[str]
    loose: str | None


class Asking(BaseModel):
    """What outlines are wanted; known: the key of a tracing whose shapes are known already.

    key_only: no shapes are wanted, but pictures drawn with those that were changed.
    """

    wish: VectorWish
    known: str = ""
    key_only: bool = False


class TracingState(BaseModel):
    """How far a tracing is, 0..1; its key, and once it is there its shapes, if not known."""

    key: str
    share: float
    shapes: Shapes | None = None


class ChangedShape(BaseModel):
    """A shape that is otherwise. of: the numbers of those that it is made of. path: mm. prints: it
    leaves so; hidden: it is kept, but does not. order: by it shapes lie over
    others; one that was not changed has the number of its plate, 0, its lot and 0.
    """

    of: list[int]
    plate: str
    white: bool
    colour: str
    area: float
    box: Box
    path: str
    prints: bool
    hidden: bool
    joined: bool
    cuts: bool
    order: list[int]


class LostPart(BaseModel):
    """A changed shape that is not found any more: of which plate, in what colour, where, mm."""

    plate: str
    colour: str
    x: float
    y: float


class ChangedShapes(BaseModel):
    """What changes come to: the changes, shapes that are otherwise, what is lost, what was done."""

    changes: list[ShapeChange]
    shapes: list[ChangedShape]
    lost: list[LostPart]
    figures: TraceFigures
    said: str = ""


class OfTracing(BaseModel):
    """Changes to shapes of a tracing, by its key."""

    key: str = Field(pattern=KEY)
    wish: VectorWish
    changes: list[ShapeChange] = Field(max_length=MAX_CHANGES)


class Doing(OfTracing):
    """Changes, and one thing more to be done; None where only what they come to is asked for."""

    act: Act | None = None


class PrintedBeneath(BaseModel):
    """What is printed beneath all else: its colour and outlines, first what is printed first."""

    name: str
    colour: str
    path: str


@router.post("")
def trace(db: Db, studio: TheStudio, sheet_id: Id, asking: Asking) -> TracingState:
    """Trace a sheet as it is now, or say how far that is; asked again until the shapes are there.

    A tracing that nobody asks for any more is given up.
    """
    sheet = sheets.one(db, sheet_id).sheet.seen
    photo = studio.photo_of(sheet)
    wanted = _tracing(asking.wish)
    key = _key(sheet, photo.key, wanted)

    def make(progress: Progress, stop: Stop) -> TracedSheet:
        return traced_sheet(
            Delivery(studio.press, photo, sheet, progress, stop), wanted, with_loose=True
        )

    share, found = studio.tracings.begin(key, make)
    if found is None:
        return TracingState(key=key, share=share)
    if asking.key_only or key == asking.known:
        return TracingState(key=key, share=1.0)
    _refuse_too_many(found)
    names = {layer.id: layer.name for layer in found.plain.layers}
    return TracingState(
        key=key,
        share=1.0,
        shapes=Shapes(
            width=found.plain.width,
            height=found.plain.height,
            paper=hex_of(found.paper),
            plates=[TracedPlate(id=plate, name=names[plate]) for plate in found.ways],
            shapes=list(_traced(found.lots)),
            figures=figures_of(found.plain.tracings),
            notes=found.plain.notes,
            loose=png_of_loose(studio.press, photo, sheet, set(found.ways)),
        ),
    )


@router.post("/stop", status_code=204)
def stop(studio: TheStudio, sheet_id: Id, of: TracingState) -> None:
    """Give up a tracing that is under way."""
    studio.tracings.stop(of.key)


@router.post("/changed")
def change(studio: TheStudio, sheet_id: Id, doing: Doing) -> ChangedShapes:
    """What changes come to, with one thing more done where that is asked for.

    The sheet itself is not changed. Raises NotFoundError where the tracing is no longer held.
    """
    traced, changes = _held(studio.tracings.held(doing.key)), doing.changes
    found, act = traced.edited(changes, doing.wish), doing.act
    if act is not None:
        closeness = doing.wish.closeness
        changes = acted(traced.lots, traced.ways, changes, found, act, closeness)
        found = traced.edited(changes, doing.wish)
    first = first_numbers(traced.lots)
    return ChangedShapes(
        changes=changes,
        shapes=[_changed(traced, first, each, changes) for each in found.shapes],
        lost=[_lost(traced, changes[number], k) for number, k in found.lost],
        figures=figures_of(replace(traced.plain, layers=traced.layers(found)).tracings),
        said=act.words if act is not None else "",
    )


@router.post("/beneath")
def beneath(studio: TheStudio, sheet_id: Id, of: OfTracing) -> list[PrintedBeneath]:
    """The under-layer and the outline of what is wished, for shapes as they are changed."""
    traced = _held(studio.tracings.held(of.key))
    under, _ = traced.under(traced.layers(traced.edited(of.changes, of.wish)), of.wish)
    return [
        PrintedBeneath(name=layer.name, colour=hex_of(layer.ink), path=_path(item.content))
        for layer in under
        for item in layer.items
        if isinstance(item.content, Tracing)
    ]


def _tracing(wish: VectorWish) -> VectorWish:
    """What of a wish decides a tracing."""
    settled = VectorWish()
    return settled.model_copy(update={name: getattr(wish, name) for name in TRACED})


def _key(sheet: Sheet, photo: str, wish: VectorWish) -> str:
    said = f"{photo} {sheet.model_dump_json()} {wish.model_dump_json()}"
    return hashlib.sha256(said.encode()).hexdigest()


def _held(traced: TracedSheet | None) -> TracedSheet:
    if traced is None:
        raise NotFoundError("This tracing is no longer in memory. Trace the sheet again.")
    return traced


def _refuse_too_many(found: TracedSheet) -> None:
    many = sum(len(lot.tracing) for lot in found.lots)
    curves = sum(len(lot.tracing.curves) for lot in found.lots)
    if many > MAX_SHAPES or curves > MAX_CURVES:
        raise DocumentError(
            f"This tracing has {many:,} shapes of {curves:,} curves; {MAX_SHAPES:,} shapes of "
            f"{MAX_CURVES:,} curves can be changed here at most. Leave small ones out, or let "
            "outlines stray farther. Its file can be made as it is."
        )


def _traced(lots: Sequence[Lot]) -> Iterator[TracedShape]:
    for at, lot in enumerate(lots):
        for shape, polygon in enumerate(lot.polygons):
            yield TracedShape(
                plate=lot.plate,
                lot=at,
                white=lot.is_white,
                colour=hex_of(lot.colour),
                area=round(polygon.area, 4),
                box=_rounded(polygon.bounds),
                path=_path(lot.tracing.some([shape])),
            )


def _changed(
    traced: TracedSheet,
    first: NDArray[np.int64],
    shape: EditedShape,
    changes: Sequence[ShapeChange],
) -> ChangedShape:
    change = None if shape.change is None else changes[shape.change]
    low, high = shape.tracing.bounds
    return ChangedShape(
        of=[int(first[at] + number) for at, number in shape.members],
        plate=shape.plate,
        white=shape.is_white,
        colour=hex_of(shape.colour),
        area=round(sum(each.area for each in shape.tracing.polygons()), 4),
        box=_rounded((*low, *high)),
        path=_path(shape.tracing),
        prints=shape.is_printed,
        hidden=shape.gone == "hidden",
        joined=change is not None and len(change.of) > 1,
        cuts=change is not None and change.cuts,
        order=list(shape.order),
    )


def _lost(traced: TracedSheet, change: ShapeChange, number: int) -> LostPart:
    part = change.of[number]
    way = traced.ways.get(part.plate)
    x, y = (0.0, 0.0)
    if way is not None:
        x, y = (part.points @ way[:, :2].T + way[:, 2]).mean(0)
    return LostPart(
        plate=part.plate, colour=change.colour or "", x=round(float(x), 2), y=round(float(y), 2)
    )


def _path(tracing: Tracing) -> str:
    return "".join(path_data(tracing.curves, tracing.first))


def _rounded(box: tuple[float, ...]) -> list[float]:
    return [round(float(value), 3) for value in box]
