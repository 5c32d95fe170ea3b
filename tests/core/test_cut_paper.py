"""Cut paper: bold shapes, among which a small face keeps its features."""

import cv2
import numpy as np
import pytest

from flinz.core.document import builtin
from flinz.core.press.fitting import fitted
from flinz.core.press.framing import whole
from flinz.core.press.press import Press
from tests.charts import grey_photo

SIDE, MM = 1000, 200.0
# A face that fills a fifth of the width: two eyes and a mouth, soft as a lens draws them.
EYES, MOUTH = ((470, 480), (530, 480)), ((475, 545), (525, 545))


def face(eye_mm=2.4, tone=90):
    plane = np.full((SIDE, SIDE), 60, np.float32)
    px = SIDE / MM
    cv2.ellipse(plane, (500, 500), (round(20 * px), round(26 * px)), 0, 0, 360, 200.0, -1)
    for eye in EYES:
        cv2.circle(plane, eye, round(eye_mm / 2 * px), float(tone), -1)
    cv2.line(plane, *MOUTH, float(tone), round(1.4 * px))
    return grey_photo(cv2.GaussianBlur(plane, (0, 0), 0.35 * px), f"face {eye_mm} {tone}")


def drawn(photo, recipe="cut-paper", **dials):
    press = Press()
    sheet = fitted(press, photo, builtin.named(recipe).on(photo.key, ""))
    plate = sheet.plates[0]
    plate = plate.model_copy(update={"draw": plate.draw.model_copy(update=dials)})
    return press.cover(photo, sheet, plate, whole(sheet, photo, SIDE))


@pytest.mark.parametrize("tone", [80, 110])
def test_a_small_face_keeps_eyes_and_mouth_at_the_suggested_values(tone):
    ink = drawn(face(tone=tone))

    # Ink at each feature, and bare paper between and around them.
    for x, y in (*EYES, (500, 545)):
        assert ink[y, x] > 0.9
    for x, y in ((500, 480), (500, 515), (500, 590), (440, 500), (560, 500)):
        assert ink[y, x] < 0.1
    assert cv2.connectedComponents((ink > 0.5).astype(np.uint8))[0] - 1 == 4


def test_without_features_it_is_as_it_was():
    ink = drawn(face(tone=110), features=0.0)

    assert any(ink[y, x] < 0.5 for x, y in (*EYES, (500, 545)))


@pytest.mark.parametrize("tone", [110, 150])
def test_the_tee_of_a_portrait_keeps_what_the_bolder_one_lets_go(tone):
    photo = face(tone=tone)
    kept, bold = (drawn(photo, recipe) for recipe in ("tee-portrait", "tee-one-colour"))

    for x, y in (*EYES, (500, 545)):
        assert kept[y, x] > 0.9
    assert any(bold[y, x] < 0.5 for x, y in (*EYES, (500, 545)))


def test_an_uneven_surface_is_no_feature():
    rng = np.random.default_rng(5)
    plane = np.where(np.arange(SIDE)[None] < 500, 70, 190) + rng.normal(0, 4, (SIDE, SIDE))
    photo = grey_photo(np.clip(cv2.GaussianBlur(plane, (0, 0), 3), 0, 255), "two halves")

    ink = drawn(photo)

    assert cv2.connectedComponents((ink > 0.5).astype(np.uint8))[0] - 1 == 1
    assert ink[:, :480].min() > 0.9 and ink[:, 520:].max() < 0.1
