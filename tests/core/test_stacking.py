"""Plates printed over each other while one of many changes: as if all were printed anew."""

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from flinz.core.document.reading import parsed
from flinz.core.document.sheet import Sheet
from flinz.core.press.framing import whole
from flinz.core.press.press import Press
from tests.charts import blobs, grey_photo

PHOTO = grey_photo(40 + blobs(60, 80, scale=6.0) * 200, "blobs")
inks = st.fixed_dictionaries(
    {
        "colour": st.sampled_from(["#000000", "#b03020", "#3060a0", "#ffffff"]),
        "opacity": st.sampled_from([0.4, 1.0]),
        "blend": st.sampled_from(["multiply", "multiply", "multiply", "normal", "screen"]),
        "times": st.sampled_from([1, 2]),
    }
)
plates = st.fixed_dictionaries(
    {
        "draw": st.sampled_from([{"look": "threshold"}, {"look": "undrawn"}]),
        "shown": st.sampled_from([True, True, True, False]),
        "photo": st.fixed_dictionaries({"covers": st.sampled_from([False, False, True])}),
        "ink": inks,
    }
)
BENEATH = {"source": {"kind": "beneath"}, "draw": {"look": "undrawn"}, "ink": {"opacity": 0.5}}


def sheet_of(made):
    numbered = [{"id": f"p{k}", **plate} for k, plate in enumerate(made)]
    return parsed(Sheet, {"plates": numbered, "paper": {"size": "as-picture", "long_edge": 40}})


@given(
    st.lists(plates, min_size=4, max_size=7),
    st.lists(st.tuples(st.integers(0, 6), st.floats(0.2, 0.8)), min_size=1, max_size=5),
    st.booleans(),
)
@settings(max_examples=25, deadline=None)
def test_a_sheet_after_any_moves_is_the_sheet_drawn_anew(made, moves, has_beneath):
    made = [*made, BENEATH] if has_beneath else made
    press = Press()
    for number, middle in moves:
        place = number % len(made)
        made[place] = {**made[place], "tone": {"middle": middle}}
        sheet = sheet_of(made)
        frame = whole(sheet, PHOTO, 80)

        drawn = press.proof(PHOTO, sheet, frame, exact=True)

        assert np.allclose(drawn, Press().proof(PHOTO, sheet, frame, exact=True), atol=2e-5)


def test_a_dial_of_one_of_many_plates_draws_no_other_again():
    made = [{"draw": {"look": "threshold", "level": 0.3 + 0.05 * k}} for k in range(9)]
    press = Press()
    frame = whole(sheet_of(made), PHOTO, 80)
    for middle in (0.4, 0.45, 0.5):
        made[4] = {**made[4], "tone": {"middle": middle}}
        press.proof(PHOTO, sheet_of(made), frame, exact=True)
    before = dict(press.counts)

    made[4] = {**made[4], "tone": {"middle": 0.6}}
    press.proof(PHOTO, sheet_of(made), frame, exact=True)

    assert press.counts["draw"] == before["draw"] + 1
    assert press.counts["stack below"] == before["stack below"]
    assert press.counts["stack above"] == before["stack above"]


def test_a_plate_that_is_hidden_or_moved_in_order_is_seen():
    made = [
        {"draw": {"look": "undrawn"}, "ink": {"colour": colour, "blend": "normal", "opacity": 0.6}}
        for colour in ("#ff0000", "#00ff00", "#0000ff", "#ffff00", "#00ffff")
    ]
    press = Press()
    for order in ([0, 1, 2, 3, 4], [0, 2, 1, 3, 4], [4, 2, 1, 3, 0], [4, 2, 1, 3]):
        sheet = sheet_of([made[k] for k in order])
        frame = whole(sheet, PHOTO, 80)

        drawn = press.proof(PHOTO, sheet, frame, exact=True)

        assert np.allclose(drawn, Press().proof(PHOTO, sheet, frame, exact=True), atol=2e-5)
