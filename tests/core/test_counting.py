"""Marks by number, and what is said before very many are placed."""

import numpy as np
import pytest

from flinz.core.document.plate import Plate
from flinz.core.document.sheet import Sheet
from flinz.core.looks.registry import LOOKS
from flinz.core.press.counting import sized_for
from flinz.core.press.press import Press
from flinz.errors import DocumentError, Stopped
from tests.charts import blobs, grey_photo, sheet_of

SIZED = [name for name, look in LOOKS.items() if look.sized_by]


def counted(press, photo, sheet, dial, value):
    plate = sheet.plates[0]
    draw = plate.draw.model_copy(update={dial: value})
    return len(press.marks(photo, sheet, plate.model_copy(update={"draw": draw})))


@pytest.mark.parametrize("name", SIZED)
@pytest.mark.parametrize("times", [0.3, 1.0, 2.0])
def test_a_look_is_drawn_in_as_many_marks_as_are_asked_for(name, times, face):
    press, sheet = Press(), sheet_of(name)
    wanted = round(times * len(press.marks(face, sheet, sheet.plates[0])))

    value, told = sized_for(press, face, sheet, sheet.plates[0], wanted)

    assert told == pytest.approx(wanted, rel=0.04)
    assert counted(press, face, sheet, LOOKS[name].sized_by, value) == pytest.approx(told, rel=0.02)


def test_more_than_can_be_had_comes_as_near_as_it_goes(face):
    sheet = sheet_of("stipple")

    value, told = sized_for(Press(), face, sheet, sheet.plates[0], 5_000_000)
    least, few = sized_for(Press(), face, sheet, sheet.plates[0], 1)

    assert value == pytest.approx(0.1, abs=0.01) and told > 500_000
    assert least == pytest.approx(6, abs=0.1) and few < 3000


def test_looks_without_marks_and_blank_photos_say_so(face):
    pencil, stipple = sheet_of("pencil"), sheet_of("stipple")

    with pytest.raises(DocumentError, match="Pencil has no marks"):
        sized_for(Press(), face, pencil, pencil.plates[0], 100)
    with pytest.raises(DocumentError, match="nothing dark enough"):
        blank = grey_photo(np.full((60, 80), 255))
        sized_for(Press(), blank, stipple, stipple.plates[0], 100)


def test_what_is_to_be_placed_is_told_until_it_stands(face):
    press, sheet = Press(), sheet_of("stipple", dot=0.4)

    before = press.expected(face, sheet)
    marks = press.marks(face, sheet, sheet.plates[0])

    assert before.of == "Stipple" and before.marks == pytest.approx(len(marks), rel=0.05)
    assert press.expected(face, sheet) is None
    assert press.expected(face, sheet_of("crosshatch")) is None
    hidden = Sheet(plates=[Plate(draw=sheet.plates[0].draw, shown=False)])
    assert Press().expected(face, hidden) is None


def test_placing_ends_at_the_next_part_of_it_wherever_it_is_stopped():
    photo = grey_photo(blobs(150, 200) * 255)
    sheet = sheet_of("stipple", dot=0.6)

    def placed(stop):
        return Press().marks(photo, sheet, sheet.plates[0], stop=stop)

    asked: list[bool] = []
    placed(lambda: asked.append(False) is None and False)
    # Before placing, between its parts, and before its end.
    assert len(asked) >= 4
    for last in range(len(asked)):
        left = iter([False] * last)
        with pytest.raises(Stopped):
            placed(lambda left=left: next(left, True))
