"""What a hand makes larger or smaller: drafts follow, and it settles as if at rest."""

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from flinz.core.document.picture import Picture, Position
from flinz.core.document.plate import Plate
from flinz.core.document.sheet import Sheet
from flinz.core.document.source import FromBlock, FromLettering, FromLines, FromPicture
from flinz.core.ground.block import Block, Plain
from flinz.core.ground.lettering import Lettering
from flinz.core.ground.lines import Along, Lines
from flinz.core.ground.pens import Nib
from flinz.core.looks.registry import LOOKS
from flinz.core.planes.filters import blurred
from flinz.core.press.framing import whole
from flinz.core.press.press import Press
from flinz.core.press.resizing import near, size_of
from flinz.core.stages.paper import OwnSize
from tests.charts import blobs, grey_photo

PHOTO = grey_photo(40 + blobs(300, 400, scale=14.0) * 200, "blobs")
PAPER = OwnSize(width=120, height=90)
# What is drawn from, of a width in mm, by a look; and what takes long to make.
THINGS = {
    "photo": ("loose-hatch", "draw", lambda wide: FromPicture()),
    "block": (
        "loose-hatch",
        "draw",
        lambda wide: FromBlock(block=Block(width=wide, height=0.7 * wide)),
    ),
    "one side of a block": (
        "loose-hatch",
        "draw",
        lambda wide: FromBlock(block=Block(width=wide, height=44.0), position=Position(turn=20)),
    ),
    "words": (
        "stipple",
        "draw",
        lambda wide: FromLettering(lettering=Lettering(size=wide / 4, points=2 * wide)),
    ),
    "line": (
        "threshold",
        "figure",
        lambda wide: FromLines(
            lines=Lines(along=Along.ARC, nib=Nib.CHALK, wide=wide, high=wide / 5)
        ),
    ),
}


def drawn(press, thing, wide, draft):
    look, _, source = THINGS[thing]
    picture = Picture(photo=PHOTO.key, position=Position(width=wide))
    plate = Plate(source=source(wide), draw=LOOKS[look].settings())
    sheet = Sheet(paper=PAPER, picture=picture, plates=[plate])
    return press.proof(PHOTO, sheet, whole(sheet, PHOTO, 360), draft=draft)


@pytest.mark.parametrize("thing", THINGS)
def test_what_takes_long_is_made_once_for_sizes_near_each_other(thing):
    press, slow = Press(), THINGS[thing][1]
    drawn(press, thing, 66.0, draft=False)

    made = []
    # Within a step about 64, from 2 ** (23.5 / 4) to 2 ** (24.5 / 4), or 58.7 to 69.8.
    for wide in (62.2, 63.9, 65.4, 68.7, 61.1):
        drafted = drawn(press, thing, wide, draft=True)
        made.append(press.results.counts[slow])

    assert np.array_equal(np.diff(made), [0, 0, 0, 0])
    wished = drawn(Press(), thing, 61.1, draft=True)
    assert np.abs(blurred(drafted, 3.0) - blurred(wished, 3.0)).mean() < 0.02


@pytest.mark.parametrize("thing", THINGS)
def test_it_settles_as_if_it_had_never_been_resized_and_stays_so_in_drafts(thing):
    press = Press()
    for wide in (66.0, 62.0, 64.5):
        drawn(press, thing, wide, draft=wide != 66.0)

    settled = drawn(press, thing, 64.5, draft=False)

    assert np.array_equal(settled, drawn(Press(), thing, 64.5, draft=False))
    drafted = drawn(press, thing, 64.5, draft=True)
    assert np.array_equal(drafted, drawn(Press(), thing, 64.5, draft=True))


@given(st.floats(0.5, 4000), st.floats(0.5, 4000), st.floats(0.2, 5))
def test_what_is_drawn_at_a_size_near_its_own_is_laid_as_large_as_it_is(width, height, as_drawn):
    source = FromBlock(
        block=Block(width=width, height=height), position=Position(as_drawn=as_drawn)
    )

    found, stretch = near(source, (width, height))

    assert abs(stretch - 1) <= 0.06 / found.block.height
    assert abs(math.log2(found.block.width / width)) <= 1 / 8 + 1e-9
    laid = found.position.as_drawn / as_drawn
    assert found.block.width * laid == pytest.approx(width)
    assert found.block.height * laid * stretch == pytest.approx(height)


@given(st.floats(0.5, 4000), st.floats(0.5, 4000), st.floats(0.2, 5))
def test_what_is_pulled_by_one_side_has_marks_of_sizes_near_both_of_its_own(width, height, before):
    source = FromLines(lines=Lines(along=Along.ELLIPSE, wide=width, high=height))

    found, stretch = near(source, (width * before, height))

    laid = found.position.as_drawn
    assert found.lines.wide * laid == pytest.approx(width)
    assert found.lines.high * laid * stretch == pytest.approx(height)
    assert abs(math.log2(stretch)) <= 1 / 4 + 1e-9


@pytest.mark.parametrize(
    "source",
    [
        FromBlock(block=Block(figure=Plain.BORDER)),
        FromBlock(block=Block(figure=Plain.CUTOUT)),
        FromLines(lines=Lines(along=Along.HAND)),
        FromLettering(lettering=Lettering(on_line=True)),
        FromPicture(),
    ],
)
def test_what_is_as_large_as_the_paper_says_is_not_resized(source):
    assert size_of(source, Picture()) == ()
