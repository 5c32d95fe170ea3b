"""What is told of objects that stay as they are is worked out once, and never of another."""

import gc

from hypothesis import given
from hypothesis import strategies as st

from flinz.core.document.plate import Plate
from flinz.core.document.sheet import Sheet
from flinz.core.press.framing import whole
from flinz.core.press.press import Press
from flinz.core.press.told import MOST, Told
from tests.charts import blobs, grey_photo


def test_what_was_told_is_not_worked_out_again():
    told, plate, times = Told(), Plate(), []

    for _ in range(3):
        assert told.get("name", (plate, None), lambda: times.append(1) or "said") == "said"

    assert len(times) == 1


def test_equal_objects_are_not_one_object():
    told, one, other = Told(), Plate(id="a"), Plate(id="a")

    assert told.get("x", (one,), lambda: 1) == 1
    assert told.get("x", (other,), lambda: 2) == 2
    assert told.get("y", (one,), lambda: 3) == 3
    assert told.get("x", (one,), lambda: 4) == 1


@given(st.integers(1, 40))
def test_an_object_that_is_gone_never_answers_for_another(most):
    # An object in the place of one that is gone has the same id.
    told = Told()

    for k in range(most):
        assert told.get("x", ([k],), lambda k=k: k) == k
        gc.collect(0)


def test_a_long_piece_of_work_does_not_fill_the_memory():
    told, kept = Told(), [object() for _ in range(3 * MOST)]

    for each in kept:
        told.get("x", (each,), lambda: 0)

    assert len(told._known) <= MOST


def test_one_press_tells_sheets_apart_that_share_their_plates():
    photo, press, plate = grey_photo(255 * blobs(90, 120)), Press(), Plate()
    upright = Sheet(plates=[plate])
    crop = upright.picture.crop.model_copy(update={"mirrored": True})
    picture = upright.picture.model_copy(update={"crop": crop})
    mirrored = upright.model_copy(update={"picture": picture})
    frame = whole(upright, photo, 120)

    for _ in range(2):
        one, other = (press.proof(photo, sheet, frame) for sheet in (upright, mirrored))
        assert abs(one - other).max() > 0.5
