"""Pieces taken at a press, and strokes that are kept where they may go."""

import numpy as np
import pytest

from flinz.core.document.picture import Picture
from flinz.core.document.plate import Plate
from flinz.core.document.sheet import Sheet
from flinz.core.hand.strokes import Brush, Stroke
from flinz.core.looks.threshold import Threshold
from flinz.core.press.framing import whole
from flinz.core.press.painting import on_photo
from flinz.core.press.press import Press
from flinz.core.press.results import Stock
from flinz.core.press.taking import pieces_at
from flinz.errors import DocumentError
from tests.charts import grey_photo

ROWS, COLUMNS = np.mgrid[0:300, 0:400] + 0.5
AWAY = np.hypot(COLUMNS - 120, ROWS - 150)
RING, DOT = (AWAY < 80) & (AWAY > 45), np.hypot(COLUMNS - 320, ROWS - 80) < 30
PHOTO = grey_photo(np.where(RING | DOT, 30, 220), "ring and dot")
SHEET = Sheet(plates=[Plate(draw=Threshold(level=0.5))], picture=Picture(photo="p"))
PLATE = SHEET.plates[0]
LIST = "e" * 64


def with_piece(at, spread=0.0, verb="white-out"):
    (outline,) = pieces_at(Press(), PHOTO, SHEET, PLATE, at, spread)
    points, size = on_photo(
        Press().placed(PHOTO, SHEET), np.column_stack([outline, np.ones(len(outline))]), 0.05
    )
    return ink_with(Stroke(Brush(verb=verb, by="area", size=size, hardness=1.0), points))


def ink_with(*strokes, cutouts=None, stage="clean"):
    plate = PLATE.model_copy(update={"hand": {stage: LIST}} if strokes else {})
    sheet = SHEET.model_copy(update={"plates": [plate], "cutouts": cutouts or {}})
    press = Press(
        stock=Stock(strokes_of=lambda name: list(strokes) if name == LIST else cutouts_of[name])
    )
    return 1 - press.proof(PHOTO, sheet, whole(sheet, PHOTO, 800), exact=True)


cutouts_of = {
    "f" * 64: [
        Stroke(Brush(verb="keep", size=0.05), np.array([[0.3, 0.22, 1], [0.15, 0.4, 1.0]])),
        Stroke(Brush(verb="drop", size=0.05), np.array([[0.05, 0.05, 1], [0.95, 0.05, 1.0]])),
        Stroke(Brush(verb="drop", size=0.04), np.array([[0.79, 0.2, 1], [0.81, 0.2, 1.0]])),
    ]
}


def large(mask):
    return np.repeat(np.repeat(mask, 2, 0), 2, 1)


def test_a_piece_of_ink_is_taken_whole_and_nothing_else():
    ink = with_piece((0.3, 0.13 + 0.15))

    assert ink[large(RING)].mean() < 0.02
    assert ink[large(DOT)].mean() > 0.98


def test_a_piece_has_its_holes():
    # The paper round the ring: neither the ring nor the paper within it.
    ink = with_piece((0.05, 0.05), verb="black-in")

    assert ink[large(AWAY < 42)].mean() < 0.02
    assert ink[large((AWAY > 84) & ~DOT)].mean() > 0.98


def test_a_piece_spreads_by_millimetres():
    plain, spread = (with_piece((0.8, 80 / 300), by, "black-in") for by in (0.0, 3.0))

    # Three millimetres are six pixels of the photo.
    grown = (spread.sum() - plain.sum()) / 4
    assert grown == pytest.approx(np.pi * (36**2 - 30**2), rel=0.08)


def test_all_pieces_like_one_are_taken_and_no_others():
    rng = np.random.default_rng(3)
    places = [(40 + 60 * k, 30 + 24 * n) for k in range(6) for n in range(10)]
    small, large_ones = places[::2], places[1::2]
    chart = np.full((300, 400), 220.0)
    for kind, radius in ((small, 4), (large_ones, 9)):
        for x, y in kind:
            chart[np.hypot(COLUMNS - x, ROWS - y) < radius + rng.uniform(-0.4, 0.4)] = 30
    photo = grey_photo(chart, "dots")
    at = ((small[7][0]) / 400, small[7][1] / 300)

    found = pieces_at(Press(), photo, SHEET, PLATE, at, 0.5, all_alike=True)

    strokes = []
    for outline in found:
        points, size = on_photo(
            Press().placed(photo, SHEET), np.column_stack([outline, np.ones(len(outline))]), 0.05
        )
        strokes.append(Stroke(Brush(verb="white-out", by="area", size=size, hardness=1.0), points))
    plate = PLATE.model_copy(update={"hand": {"clean": LIST}})
    sheet = SHEET.model_copy(update={"plates": [plate]})
    press = Press(stock=Stock(strokes_of=lambda _: strokes))
    ink = 1 - press.proof(photo, sheet, whole(sheet, photo, 400), exact=True)
    of = lambda kind: [ink[round(y), round(x)] for x, y in kind]  # noqa: E731
    assert max(of(small)) < 0.05
    assert min(of(large_ones)) > 0.95


def test_more_pieces_than_are_taken_at_once_are_refused():
    chart = np.where((ROWS.astype(int) % 4 < 2) & (COLUMNS.astype(int) % 4 < 2), 20, 230)
    photo = grey_photo(chart, "many")

    with pytest.raises(DocumentError, match="pieces like this one; up to 2,000"):
        pieces_at(Press(), photo, SHEET, PLATE, (1 / 400, 1 / 300), 0.0, all_alike=True)


def test_there_is_nothing_beside_the_sheet():
    with pytest.raises(DocumentError, match="beside the sheet"):
        pieces_at(Press(), PHOTO, SHEET, PLATE, (1.2, 0.5), 0.0)


ALL_OVER = np.array([[0.0, 0.0, 1], [1, 0, 1], [1, 1, 1], [0, 1, 1]])


def over_all(**brush):
    return Stroke(Brush(verb="white-out", by="area", size=1e-4, hardness=1.0, **brush), ALL_OVER)


def test_a_stroke_is_kept_to_the_subject_or_the_backdrop():
    cut = {"p": "f" * 64}
    subject = ink_with(over_all(kept_to="subject"), cutouts=cut)
    backdrop = ink_with(over_all(kept_to="backdrop"), cutouts=cut)

    assert subject[large(RING)].mean() < 0.03 and subject[large(DOT)].mean() > 0.95
    assert backdrop[large(RING)].mean() > 0.97 and backdrop[large(DOT)].mean() < 0.05


def test_a_stroke_is_kept_to_a_window_of_tone():
    dark = ink_with(over_all(tone_to=0.5))
    light = ink_with(over_all(tone_from=0.7))

    assert dark.mean() < 0.01
    assert np.abs(light - ink_with()).max() < 0.02
