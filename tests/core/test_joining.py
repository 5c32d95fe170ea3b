"""Loose ends of lines meet the ink they point at, and nothing else."""

import cv2
import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from flinz.core.document.builtin import built_in
from flinz.core.document.plate import Plate
from flinz.core.document.sheet import Sheet
from flinz.core.looks.registry import LOOKS
from flinz.core.marks.joining import GAP_NIBS, joints, standing
from flinz.core.marks.pen import strokes_cover
from flinz.core.marks.vectors import Strokes, joined
from flinz.core.planes.decoding import decode
from flinz.core.press.framing import whole
from flinz.core.press.press import Press
from flinz.core.scale import region_frame, whole_frame
from flinz.demo.scenario import picture
from flinz.quality.coherence import line_figures
from tests.charts import grey_photo

NIB = 0.5
SHEET = whole_frame(40, 600, 450)


def line(*points, width=NIB):
    x, y = np.array(points, np.float32).T
    return Strokes(x, y, np.full(len(x), width, np.float32), np.array([0, len(x)]))


def drawn(*lines, frame=SHEET):
    return strokes_cover(joined(list(lines)), frame)


def parts(cover):
    return cv2.connectedComponents((cover >= 0.5).astype(np.uint8), connectivity=8)[0] - 1


def with_joints(cover, frame=SHEET):
    return np.maximum(cover, strokes_cover(joints(cover, frame, NIB), frame))


@given(st.floats(-180, 180), st.floats(0.8, GAP_NIBS - 1.4))
def test_a_line_that_breaks_goes_on_whatever_its_direction(angle, gap_nibs):
    way = np.array([np.cos(np.radians(angle)), np.sin(np.radians(angle))])
    middle = np.array([20.0, 15.0])
    # Round ends take half a nib of the gap each.
    apart = (gap_nibs + 1) * NIB / 2
    cover = drawn(
        line(middle - 8 * way, middle - apart * way),
        line(middle + apart * way, middle + 8 * way),
    )
    assert parts(cover) == 2
    assert parts(with_joints(cover)) == 1


def test_a_joint_lies_on_its_line_on_paper_of_any_rows():
    frame = whole_frame(40, 600, 480, height_mm=30)
    cover = drawn(line((5, 27), (18, 27)), line((19.6, 27), (35, 27)), frame=frame)

    found = joints(cover, frame, NIB)

    assert len(found) and found.y == pytest.approx(27, abs=NIB / 2)
    assert len(standing(found, cover > 0.5, frame)) == len(found)


def test_an_end_meets_the_line_it_points_at():
    stem, bar = line((10, 4), (10, 13.2)), line((4, 15), (16, 15))
    assert parts(drawn(stem, bar)) == 2
    assert parts(with_joints(drawn(stem, bar))) == 1


def test_a_wide_gap_stays_open():
    apart = (GAP_NIBS + 2.5) * NIB
    cover = drawn(line((5, 10), (15, 10)), line((15 + apart, 10), (30, 10)))
    assert len(joints(cover, SHEET, NIB)) == 0


@pytest.mark.parametrize("apart", [2, 3])
def test_lines_side_by_side_stay_apart(apart):
    cover = drawn(*(line((5, y), (30, y)) for y in 5 + np.arange(6) * apart * NIB))
    assert len(joints(cover, SHEET, NIB)) == 0


def test_a_line_does_not_meet_itself():
    angles = np.linspace(0, 2 * np.pi * 0.9, 60)
    bow = line(*np.stack([20 + 8 * np.cos(angles), 15 + 8 * np.sin(angles)], 1))
    assert len(joints(drawn(bow), SHEET, NIB)) == 0


def test_a_ring_that_is_nearly_closed_is_closed():
    turn = 2 * np.pi - 2.4 * NIB / 4
    angles = np.linspace(0, turn, 80)
    cover = drawn(line(*np.stack([20 + 4 * np.cos(angles), 15 + 4 * np.sin(angles)], 1)))
    holes = [
        cv2.connectedComponents((each < 0.5).astype(np.uint8), connectivity=4)[0]
        for each in (cover, with_joints(cover))
    ]
    assert holes == [2, 3]


def test_a_part_of_a_sheet_is_joined_as_the_whole_is():
    rng = np.random.default_rng(4)
    starts = rng.uniform((2, 2), (36, 26), (60, 2))
    ways = rng.uniform(0, np.pi, 60)
    ends = starts + 4 * np.stack([np.cos(ways), np.sin(ways)], 1)
    cover = drawn(*(line(a, b) for a, b in zip(starts, ends, strict=True)))
    part = region_frame(SHEET, (0.25, 0.25, 0.75, 0.75))
    cut = np.s_[part.top : part.bottom, part.left : part.right]
    of_whole = with_joints(cover)[cut]
    of_part = with_joints(cover[cut], part)
    reach = int(2 * GAP_NIBS * part.px(NIB))
    inner = np.s_[reach:-reach, reach:-reach]
    assert len(joints(cover, SHEET, NIB)) > 5
    assert np.abs(of_part - of_whole)[inner].max() < 0.05


@pytest.mark.parametrize("name", ["hedgehog", "pears"])
def test_the_lines_of_a_photo_hang_together(name):
    photo = decode(picture(f"{name}.jpg"), name)
    sheet = built_in()["ink-line"].on("", "")
    frame = whole(sheet, photo, 1400)
    cover = Press().cover(photo, sheet, sheet.plates[0], frame, exact=True)
    figures = line_figures(cover, frame)
    assert figures.line_mm > 300
    assert figures.parts_per_1000_mm < 25


def test_what_is_left_out_leaves_no_grey_rim():
    grey = np.full((450, 600), 204, np.float32)
    for x in range(60, 600, 60):
        for y in range(45, 450, 45):
            cv2.circle(grey, (x, y), 2, 13, -1, cv2.LINE_AA)
    sheet = Sheet(plates=[Plate(draw=LOOKS["ink-line"].settings(shortest=20.0, blacks=0.5))])
    photo = grey_photo(grey)
    cover = Press().cover(photo, sheet, sheet.plates[0], whole(sheet, photo, 1200), exact=True)
    assert cover.max() < 0.02
