"""Round shapes of a tracing leave as dots; the dots of a screen are, where its tone is even."""

import math
import re

import cv2
import numpy as np
import pytest

from flinz.core.deliver.rounds import parted
from flinz.core.press.framing import whole
from flinz.core.press.press import Press
from flinz.core.scale import whole_frame
from flinz.core.shapes.filled import filled
from flinz.core.stages.paper import AsPicture
from flinz.core.trace.tracing import TraceWish, traced
from tests.charts import delivered, grey_photo, sheet_of

FRAME = whole_frame(20, 480, 480)
WISH = TraceWish(closeness=0.02)


def ring(x, y, wide, high, many=300):
    angles = np.arange(many) * 2 * math.pi / many
    return np.column_stack([x + wide * np.cos(angles), y + high * np.sin(angles)])


def shapes(*rings):
    return traced(filled(list(rings), FRAME), FRAME, WISH)


def test_circles_are_dots_of_their_own_places_and_areas():
    places = [(3.1, 4.2, 0.4), (9.7, 3.3, 0.25), (15.2, 16.1, 2.0)]

    left, dots = parted(shapes(*(ring(x, y, r, r) for x, y, r in places)))

    assert len(left) == 0
    found = sorted(zip(dots.x, dots.y, dots.radius, strict=True))
    assert np.array(found) == pytest.approx(np.array(places), abs=0.012)


@pytest.mark.parametrize(
    "rings",
    [
        [ring(6, 6, 1.0, 0.9)],
        [np.array([[3.0, 3.0], [5.0, 3.0], [5.0, 5.0], [3.0, 5.0]])],
        [ring(8, 8, 3, 3), ring(8, 8, 1, 1)[::-1]],
    ],
    ids=["oval", "square", "ring"],
)
def test_what_is_not_round_stays_a_shape(rings):
    tracing = shapes(*rings)

    left, dots = parted(tracing)

    assert len(dots) == 0
    assert np.array_equal(left.curves, tracing.curves)


def test_no_shape_is_no_dot():
    left, dots = parted(traced(np.zeros((480, 480), np.float32), FRAME, WISH))

    assert (len(left), len(dots)) == (0, 0)


def test_an_even_screen_leaves_as_round_dots_in_an_svg(tmp_path):
    photo = grey_photo(np.full((200, 200), 205))
    sheet = sheet_of("dot-screen", ruling=6).model_copy(update={"paper": AsPicture(long_edge=40.0)})
    press = Press(100_000_000)

    text = delivered(tmp_path, press, photo, sheet, "svg").read_text()

    cover = press.cover(photo, sheet, sheet.plates[0], whole(sheet, photo, 960), exact=True)
    _, _, stats, _ = cv2.connectedComponentsWithStats((cover > 0.5).astype(np.uint8))
    left, top, wide, high = stats[1:, :4].T
    is_whole = (left > 0) & (top > 0) & (left + wide < 960) & (top + high < 960)
    # A line of no length is a round dot; those that the sheet's edge cuts are shapes.
    assert text.count("h0") >= 0.95 * is_whole.sum()
    width = {float(each) for each in re.findall(r'stroke-width="([\d.]+)"', text)}
    assert math.pi / 4 * max(width) ** 2 * 0.36 == pytest.approx(0.2, abs=0.015)
