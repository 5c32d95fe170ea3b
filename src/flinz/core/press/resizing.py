"""While a hand makes something larger or smaller: the size that its drafts are drawn at.

Marks keep their lengths, so that each size has marks of its own, which take a while to place. In
between they are those of a size near it, laid a little larger or smaller, until the hand rests.
"""

import math

from flinz.core.document.picture import Picture, Position
from flinz.core.document.source import (
    Figures,
    FromBlock,
    FromLettering,
    FromLines,
    FromPhoto,
    FromPicture,
    Source,
    made_of,
)
from flinz.core.ground.block import Plain
from flinz.core.ground.lines import Along

# Sizes from one to twice as large: marks are laid up to 9 % larger or smaller than they are.
STEPS = 4
# Of what a hand makes as much larger: what says how large it is, before what goes with it.
SIZES = {
    "lettering": ("size", "points", "wrap"),
    "block": ("width", "height"),
    "lines": ("wide", "high"),
}
# What has sides that are pulled one without the other.
SIDED = ("block", "lines")
# Sides that are pulled together stay so long, to each other, within this.
SAME_SHAPE = 0.0005
# Digits, of mm, of what goes with a size: more than these it is not told apart by.
DIGITS = 1


def size_of(source: Source, picture: Picture) -> tuple[float, ...]:
    """What a hand changes of a source that makes it larger; () where that changes no marks.

    picture: the sheet's.
    """
    if isinstance(source, FromPicture | FromPhoto):
        shown = source.picture if isinstance(source, FromPhoto) else picture
        return () if shown.position.width is None else (shown.position.width,)
    made = made_of(source)
    if made is None or made[0] not in SIZES or _is_of_paper(source):
        return ()
    return tuple(float(getattr(made[1], name)) for name in SIZES[made[0]])


def _is_of_paper(source: Source) -> bool:
    """Whether it is as large as the paper, or as what it follows there."""
    if isinstance(source, FromLettering):
        return source.lettering.on_line
    if isinstance(source, FromBlock):
        return source.block.figure in (Plain.BORDER, Plain.CUTOUT)
    return isinstance(source, FromLines) and source.lines.along in (Along.HAND, Along.CUTOUT)


def stepped(scale: float, steps: float = STEPS) -> float:
    """The nearest of sizes that are so many steps apart from one to twice as large."""
    return float(2.0 ** (round(math.log2(scale) * steps) / steps))


def near_picture(picture: Picture) -> Picture:
    """A picture with a width, drawn at a size near its own and laid as large as it is."""
    position = picture.position
    width = position.width or 1.0
    return picture.model_copy(update={"position": _laid(position, stepped(width) / width)})


def _laid(position: Position, by: float) -> Position:
    return position.model_copy(update={"as_drawn": position.as_drawn / by})


def near(source: Figures, settled: tuple[float, ...]) -> tuple[Source, float]:
    """A figure as it is drawn at a size near its own, and laid as large as it is; and how many
    times more it is to be scaled down its box than across for that.

    settled: what size_of said of it before.
    """
    found = made_of(source)
    if found is None:
        return source, 1.0
    field, said = found
    first, *others = SIZES[field]
    width = getattr(said, first)
    by = stepped(width) / width
    if field in SIDED:
        height, shape = getattr(said, others[0]), settled[1] / settled[0]
        is_same = abs(math.log(height / width / shape)) < SAME_SHAPE
        drawn = round(stepped(width) * shape, DIGITS) if is_same else stepped(height)
        sized, stretch = {others[0]: drawn}, height * by / drawn
    else:
        sized = {name: round(getattr(said, name) * by, DIGITS) for name in others}
        stretch = 1.0
    made = said.model_copy(update=sized | {first: stepped(width)})
    position = _laid(source.position, by)
    return source.model_copy(update={field: made, "position": position}), stretch
