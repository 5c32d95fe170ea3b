"""What is shown under a tint: where a plate does not print, and what the hand touched."""

import numpy as np
import pytest

from flinz.core.document.plate import Plate
from flinz.core.document.sheet import Sheet
from flinz.core.hand.strokes import Brush, Stroke
from flinz.core.looks.threshold import Threshold
from flinz.core.press.framing import whole
from flinz.core.press.press import Press
from flinz.core.press.proofing import Subject
from flinz.core.press.results import Stock
from flinz.core.stages.ink import Ink
from tests.charts import grey_photo

PHOTO = grey_photo(np.tile(np.linspace(0, 255, 400), (300, 1)), "ramp")
HALVES = Ink(fade="straight", fade_x=0.499, fade_y=0.5, gone_x=0.501, gone_y=0.5)
WINDOW = Ink(only_from=0.25, only_to=1.0, only_soft=0.0)
LIST = "d" * 64
STROKE = Stroke(
    Brush(verb="hide", size=0.1, hardness=1.0), np.array([[0.0, 0.2, 1.0], [1.0, 0.2, 1.0]])
)


def shown(what, stage="ink", px=400, **plate):
    made = Plate(draw=Threshold(level=0.0), **plate)
    sheet = Sheet(plates=[made])
    press = Press(stock=Stock(strokes_of=lambda _: [STROKE]))
    frame = whole(sheet, PHOTO, px)
    picture = press.proof(PHOTO, sheet, frame, Subject(what, made.id, stage))
    return picture, press.prints(PHOTO, sheet, made, frame)


def test_where_a_plate_does_not_print_is_tinted_and_hatched():
    picture, prints = shown("mask", ink=HALVES)

    # Bare paper on the side that prints; two tints in lines on the other.
    assert picture[:, :190].min() > 0.99
    beside = picture[:, 210:].reshape(-1, 3)
    assert beside.max() < 0.9 and len(np.unique(beside.round(3), axis=0)) == 2
    assert prints == pytest.approx(0.5, abs=0.005)


def test_a_mask_is_the_product_of_its_parts():
    both = WINDOW.model_copy(update=HALVES.model_dump(include={"fade", "fade_x", "fade_y"}))
    both = both.model_copy(update={"gone_x": 0.501, "gone_y": 0.5})

    assert shown("mask", ink=WINDOW)[1] == pytest.approx(0.75, abs=0.02)
    assert shown("mask", ink=both)[1] == pytest.approx(0.25, abs=0.02)
    painted = shown("mask", ink=both, hand={"ink": LIST})[1]
    assert painted == pytest.approx(0.25 * (1 - 40 / 300), abs=0.02)
    assert shown("mask")[1] is None


@pytest.mark.parametrize("ink", [HALVES, WINDOW])
def test_a_mask_shrunk_is_the_mask_of_a_smaller_sheet(ink):
    small, large = (
        1 - shown("mask", ink=ink, px=px)[0].mean(-1, keepdims=True) for px in (400, 1200)
    )
    shrunk = large.reshape(300, 3, 400, 3).mean((1, 3))

    # Apart from the lines of the hatch, which keep their width on the screen.
    assert np.abs((small[..., 0] > 0.05) * 1.0 - (shrunk > 0.05)).mean() < 0.01


def test_what_the_hand_touched_at_a_stage_is_tinted():
    picture, _ = shown("touched", "ink", hand={"ink": LIST})

    # A band of a tenth of the width, at a fifth of it down.
    assert picture[62:98].max() < 0.9
    assert picture[:55].min() > 0.99 and picture[105:].min() > 0.99
    assert shown("touched", "tone", hand={"ink": LIST})[0].min() > 0.99
