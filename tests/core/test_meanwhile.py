"""Changed shapes while a dial turns: over a drawing that was not traced yet."""

import cv2
import numpy as np
import pytest

from flinz.core.deliver.artwork import VectorWish
from flinz.core.deliver.format import Delivery
from flinz.core.deliver.meanwhile import all_meanwhile, drawn_meanwhile
from flinz.core.deliver.reshaped import reshaped
from flinz.core.deliver.shaping import traced_sheet
from flinz.core.press.framing import whole
from flinz.core.press.press import Press
from flinz.core.stages.paper import AsPicture
from flinz.core.trace.acting import Act, acted
from flinz.core.trace.lots import first_numbers
from tests.charts import grey_photo, sheet_of

# Middles of what is drawn, mm: 4 px each.
RED, HIDDEN, PLAIN, MOVED, ROOM = (15, 15), (40, 15), (65, 15), (15, 45), (60, 45)
BY_MM = 20


def chart():
    """Four dark discs and a ring with soft edges, which grow as the level rises; 80 x 60 mm."""
    values = np.full((240, 320), 230, np.uint8)
    for x, y in (RED, HIDDEN, PLAIN, MOVED):
        cv2.circle(values, (4 * x, 4 * y), 30, 20, -1)
    cv2.circle(values, (4 * ROOM[0], 4 * ROOM[1]), 40, 20, 14)
    return grey_photo(cv2.GaussianBlur(values, (0, 0), 5), "discs-and-a-ring")


def sheet_at(level):
    sheet = sheet_of("threshold", level=level)
    return sheet.model_copy(update={"paper": AsPicture(long_edge=80.0)})


@pytest.fixture(scope="module")
def worked_on():
    """A press, the photo, and its traced sheet with changes of all kinds."""
    press, photo, sheet = Press(), chart(), sheet_at(0.5)
    traced = traced_sheet(Delivery(press, photo, sheet), VectorWish())
    changes = []

    def do(verb, place, **more):
        nonlocal changes
        first = first_numbers(traced.lots)
        centres = [
            (first[at] + k, each.representative_point() if lot.is_white else each.centroid)
            for at, lot in enumerate(traced.lots)
            for k, each in enumerate(lot.polygons)
            if lot.is_white == (place == ROOM) and each.area < 1000
        ]
        nearest = min(
            centres, key=lambda each: np.hypot(each[1].x - place[0], each[1].y - place[1])
        )
        found = traced.edited(changes, traced.wish)
        act = Act(verb=verb, shapes=[int(nearest[0])], **more)
        changes = acted(traced.lots, traced.ways, changes, found, act, 0.02)

    do("colour", RED, colour="#ff0000")
    do("hide", HIDDEN)
    do("lay", MOVED, way=[1, 0, BY_MM, 0, 1, 0])
    do("colour", ROOM, colour="#00ff00")
    return press, photo, traced, changes


def drawn(worked_on, sheet, edge=320):
    """A sheet with the changes, as it is drawn until it is traced."""
    press, photo, traced, changes = worked_on
    sheet = sheet.model_copy(update={"shapes": changes})
    delivery = Delivery(press, photo, sheet)
    then = drawn_meanwhile(delivery, all_meanwhile(traced, changes, "key"))
    return np.atleast_3d(then.proof(photo, sheet, whole(sheet, photo, edge))), sheet


def settled(worked_on, sheet, edge=320):
    """It once it was traced anew."""
    press, photo, _, _ = worked_on
    then = reshaped(Delivery(press, photo, sheet))
    return np.atleast_3d(then.press.proof(photo, then.sheet, whole(sheet, photo, edge)))


def colour_at(picture, place):
    scale = picture.shape[1] / 80
    return picture[int(place[1] * scale), int(place[0] * scale)].round(2).tolist()


@pytest.mark.parametrize("level", [0.4, 0.6])
def test_a_drawing_that_grew_keeps_what_was_changed_of_it_before_it_is_traced(worked_on, level):
    found, sheet = drawn(worked_on, sheet_at(level))
    plain = worked_on[0].proof(worked_on[1], sheet, whole(sheet, worked_on[1], 320))

    assert colour_at(found, RED) == [1, 0, 0]
    assert colour_at(found, HIDDEN) == [1, 1, 1]
    assert colour_at(found, PLAIN) == [0, 0, 0]
    assert colour_at(found, MOVED) == [1, 1, 1]
    assert colour_at(found, (MOVED[0] + BY_MM, MOVED[1])) == [0, 0, 0]
    assert colour_at(found, ROOM) == [0, 1, 0]
    # All of it is about what it settles to; rims grew or drew back by half a millimetre.
    away = np.abs(found - settled(worked_on, sheet)).mean()
    assert away < 0.2 * np.abs(plain[..., None] - settled(worked_on, sheet)).mean()
    # No rim of what is gone stays behind, and none of the red disc stays black.
    assert (found[40:80, 120:200] == 1).all()
    of_red = found[20:100, 20:100].reshape(-1, 3)
    assert of_red[:, 0].min() > 0.99 and of_red[:, 1].min() < 0.01


def test_a_sheet_that_was_not_changed_since_is_as_it_settles(worked_on):
    found, sheet = drawn(worked_on, sheet_at(0.5))

    assert np.abs(found - settled(worked_on, sheet)).mean() < 0.002


def test_a_plate_that_was_moved_since_is_drawn_without_changes(worked_on):
    press, photo, _, _ = worked_on
    sheet = sheet_at(0.5)
    ink = sheet.plates[0].ink.model_copy(update={"offset_x": 3.0})
    moved = sheet.with_plate(sheet.plates[0].model_copy(update={"ink": ink}))

    found, moved = drawn(worked_on, moved)

    frame = whole(moved, photo, 320)
    assert np.array_equal(found, np.atleast_3d(press.proof(photo, moved, frame)))


def test_ink_in_another_colour_meanwhile_leaves_given_colours_alone(worked_on):
    sheet = sheet_at(0.5)
    ink = sheet.plates[0].ink.model_copy(update={"colour": "#0000ff"})

    found, _ = drawn(worked_on, sheet.with_plate(sheet.plates[0].model_copy(update={"ink": ink})))

    assert colour_at(found, PLAIN) == [0, 0, 1]
    assert colour_at(found, RED) == [1, 0, 0]


def test_given_colours_are_as_strong_as_they_settle_in_an_ink_that_is_weak_or_prints_twice(
    worked_on,
):
    sheet = sheet_at(0.5)
    ink = sheet.plates[0].ink.model_copy(update={"opacity": 0.6, "times": 2})
    sheet = sheet.with_plate(sheet.plates[0].model_copy(update={"ink": ink}))

    found, sheet = drawn(worked_on, sheet)

    for place in (RED, PLAIN, ROOM):
        assert colour_at(found, place) == colour_at(settled(worked_on, sheet), place)


def test_it_takes_what_the_press_remembers_and_leaves_nothing_behind_there(worked_on):
    press, photo, _, _ = worked_on
    sheet = sheet_at(0.45)
    frame = whole(sheet, photo, 320)
    before = press.proof(photo, sheet, frame)
    counts = dict(press.counts)

    drawn(worked_on, sheet)

    new = {kind for kind, many in press.counts.items() if many > counts.get(kind, 0)}
    assert new <= {"changed shapes", "paper"}
    assert np.array_equal(press.proof(photo, sheet, frame), before)


def test_looking_closer_shows_the_same(worked_on):
    sheet = sheet_at(0.55)
    found, _ = drawn(worked_on, sheet)
    large, _ = drawn(worked_on, sheet, 960)

    shrunk = cv2.resize(large, (320, 240), interpolation=cv2.INTER_AREA)

    assert np.abs(shrunk - found).mean() < 0.004


def test_the_chart_grows_as_its_level_rises(worked_on):
    press, photo, _, _ = worked_on
    frame = whole(sheet_at(0.5), photo, 320)
    ink = [1 - press.proof(photo, sheet_at(level), frame).mean() for level in (0.4, 0.5, 0.6)]

    assert ink[0] < 0.95 * ink[1] < 0.9 * ink[2]
