"""Strokes of the hand as planes, and what they do to a drawing."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from flinz.core.document.picture import Crop, Picture, Position
from flinz.core.document.plate import Plate
from flinz.core.document.sheet import Sheet
from flinz.core.hand.raster import Placing, covered, inked, moved, swept
from flinz.core.hand.strokes import Brush, Stroke
from flinz.core.looks.threshold import Threshold
from flinz.core.planes.filters import averaged
from flinz.core.press.framing import whole
from flinz.core.press.painting import on_photo
from flinz.core.press.press import Press
from flinz.core.press.proofing import Subject
from flinz.core.press.results import Stock
from flinz.core.scale import region_frame
from flinz.core.stages.clean import Clean
from flinz.core.stages.paper import AsPicture, OwnSize
from flinz.core.stages.smooth import Gaussian
from tests.charts import blobs, grey_photo

PX = 200
LINE = np.array([[0.2, 0.5, 1.0], [0.8, 0.5, 1.0]])


def placing(scale=PX, left=0.0, top=0.0, size=(PX, PX)):
    return Placing(np.array([[scale, 0, -left], [0, scale, -top]], float), size, scale)


def stroke(points=LINE, verb="lighten", **brush):
    return Stroke(Brush(verb=verb, **{"size": 0.1, **brush}), np.asarray(points, float))


def plane_of(made, where):
    plane = np.zeros(where.size, np.float32)
    found = swept(made, where)
    if found is not None:
        plane[found[1]] = found[0]
    return plane


def test_a_hard_brush_covers_a_capsule_of_its_size():
    plane = plane_of(stroke(hardness=1.0), placing())

    area = 0.6 * 0.1 + np.pi * 0.05**2
    assert plane.sum() / PX**2 == pytest.approx(area, rel=0.01)
    assert plane[PX // 2, PX // 2] == 1 and plane[PX // 2 + 12, PX // 2] == 0
    assert (plane.min(), plane.max()) == (0, 1)


def test_a_soft_brush_falls_off_from_its_middle_to_its_rim():
    plane = plane_of(stroke(hardness=0.0, size=0.4), placing())

    across = plane[PX // 2 :, PX // 2]
    assert np.all(np.diff(across) <= 1e-6)
    assert across[0] > 0.95 and across[20] == pytest.approx(0.5, abs=0.05) and across[41] == 0


def test_pressure_narrows_a_stroke_and_a_stroke_over_itself_is_no_fuller():
    tapered = plane_of(stroke([[0.2, 0.5, 1.0], [0.8, 0.5, 0.2]], hardness=1.0), placing())
    widths = (tapered > 0.5).sum(0)
    assert widths[50] > 2.5 * widths[150] > 0

    there = plane_of(stroke(), placing())
    back = plane_of(stroke([*LINE, *LINE[::-1]]), placing())
    assert np.allclose(there, back, atol=1e-5)


def test_gestures_add_up_and_rub_takes_them_away():
    twice = moved([stroke(strength=0.5), stroke(strength=0.5)], placing())
    once = moved([stroke(strength=0.5)], placing())
    against = moved([stroke(), stroke(verb="darken")], placing())
    rubbed = moved([stroke(), stroke(verb="rub", size=0.2)], placing())

    assert np.allclose(twice, 2 * once, atol=1e-5)
    assert np.abs(against).max() < 1e-6
    assert np.abs(rubbed).max() < 0.02
    # However often, no further than it may.
    assert moved([stroke()] * 5, placing()).max() == 4


def test_an_area_is_full_inside_and_nothing_outside():
    square = [[0.2, 0.2, 1], [0.8, 0.2, 1], [0.8, 0.6, 1], [0.2, 0.6, 1]]

    plane = plane_of(stroke(square, by="area", hardness=1.0), placing())

    assert plane.sum() / PX**2 == pytest.approx(0.24, rel=0.01)
    assert plane[80, 100] == 1 and plane[10, 10] == 0


@given(
    st.lists(
        st.tuples(st.floats(-0.3, 1.3), st.floats(-0.3, 1.3), st.floats(0, 1)),
        min_size=1,
        max_size=6,
    ),
    st.floats(0.001, 0.5),
    st.floats(0, 1),
    st.sampled_from(["brush", "area"]),
)
def test_a_part_of_a_frame_shows_what_the_whole_shows_there(points, size, hardness, by):
    made = stroke(points, size=size, hardness=hardness, by=by)
    part = placing(left=60, top=30, size=(90, 110))

    whole_plane = plane_of(made, placing())

    apart = np.abs(plane_of(made, part) - whole_plane[30:120, 60:170])
    # A corner of an area is rounded to a fraction of a pixel, which a sliver of one may show.
    assert apart.max() < 0.02 or (by == "area" and apart.mean() < 0.004 and apart.max() < 0.3)
    assert whole_plane.min() >= 0 and whole_plane.max() <= 1


def test_a_larger_frame_shrunk_is_the_smaller_one():
    made = [stroke([[0.2, 0.3, 1], [0.5, 0.7, 0.4], [0.9, 0.2, 1]], size=0.08)]

    small = moved(made, placing())
    large = moved(made, placing(scale=3 * PX, size=(3 * PX, 3 * PX)))

    assert np.abs(averaged(large, PX, PX) - small).mean() < 0.004


def test_more_strokes_on_what_is_held_are_all_strokes_at_once():
    first, second = stroke(size=0.2), stroke([[0.5, 0.1, 1], [0.5, 0.9, 1]], verb="darken")

    assert np.array_equal(
        moved([second], placing(), moved([first], placing())), moved([first, second], placing())
    )


def test_ink_is_whited_out_blacked_in_and_both_at_half_strength():
    ink = np.full((PX, PX), 0.6, np.float32)
    middle = PX // 2, PX // 2

    def after(*strokes):
        return inked(ink, covered(strokes, placing()))[middle]

    assert after(stroke(verb="white-out")) == pytest.approx(0)
    assert after(stroke(verb="black-in")) == pytest.approx(1)
    assert after(stroke(verb="white-out", strength=0.5)) == pytest.approx(0.3)
    assert after(stroke(verb="white-out"), stroke(verb="black-in", strength=0.5)) == 0.5
    assert after(stroke(verb="black-in"), stroke(verb="rub")) == pytest.approx(0.6)
    # Beside the strokes nothing is touched.
    assert inked(ink, covered([stroke(verb="white-out")], placing()))[0, 0] == np.float32(0.6)


class Painted:
    """A sheet whose hand work is in memory."""

    def __init__(self, plate, stage, strokes, **sheet):
        self.lists = {"a" * 64: strokes, "b" * 64: []}
        plate = plate.model_copy(update={"hand": {stage: "a" * 64}})
        self.sheet = Sheet(plates=[plate], **sheet)
        self.bare = Sheet(plates=[plate.model_copy(update={"hand": {}})], **sheet)
        self.press = Press(stock=Stock(strokes_of=self.lists.__getitem__))

    def both(self, photo, subject=None, edge=400):
        """The sheet with and without its strokes."""
        frame = whole(self.sheet, photo, edge)
        more = () if subject is None else (subject,)
        return (
            self.press.proof(photo, sheet, frame, *more, exact=True)
            for sheet in (self.sheet, self.bare)
        )


PHOTO = grey_photo(60 + blobs(300, 400) * 120)
TOP = np.array([[0.0, 0.1, 1.0], [1.0, 0.1, 1.0]])
TONED, SMOOTHED = (Subject("stage", "plate-1", stage) for stage in ("tone", "smooth"))
TWICE = Subject("stage", "plate-1", "again")


def test_tone_is_lightened_by_stops_of_light_where_the_hand_went_and_nowhere_else():
    made = stroke(TOP, size=0.1, hardness=1.0, strength=0.5)
    painted = Painted(Plate(), "tone", [made])

    after, before = painted.both(PHOTO, TONED)

    light = lambda v: ((v + 0.055) / 1.055) ** 2.4  # noqa: E731
    assert np.allclose(light(after[40, 100:300]), 2 * light(before[40, 100:300]), atol=0.01)
    assert np.array_equal(after[80:], before[80:])


def test_smoothing_is_kept_from_spared_places():
    painted = Painted(
        Plate(smooth=Gaussian(radius=4)), "smooth", [stroke(TOP, verb="spare", hardness=1.0)]
    )

    after, before = painted.both(PHOTO, SMOOTHED)
    sharp = painted.press.proof(
        PHOTO, painted.sheet, whole(painted.sheet, PHOTO, 400), TONED, exact=True
    )

    assert np.allclose(after[40], sharp[40], atol=1e-5)
    assert np.array_equal(after[100:], before[100:])


def test_a_second_smoothing_is_of_the_first_and_has_spared_places_of_its_own():
    once, twice = Plate(smooth=Gaussian(radius=4)), Plate(again=Gaussian(radius=3))
    both = once.model_copy(update={"again": twice.again})
    painted = Painted(both, "again", [stroke(TOP, verb="spare", hardness=1.0)])

    after, before = painted.both(PHOTO, TWICE)
    first, _ = Painted(once, "again", []).both(PHOTO, SMOOTHED)
    wider, _ = Painted(Plate(smooth=Gaussian(radius=5)), "smooth", []).both(PHOTO, SMOOTHED)

    # Variances of blurs add up.
    assert np.abs(before - wider)[60:-60, 60:-60].max() < 0.01
    assert np.abs(before - first).max() > 0.02
    assert np.allclose(after[40], first[40], atol=1e-5)
    assert np.array_equal(after[100:], before[100:])


def test_finished_ink_is_whited_out_and_cleaning_spared():
    plate = Plate(draw=Threshold(level=0.6), clean=Clean(thicken=0.6))
    white = Painted(plate, "clean", [stroke(TOP, verb="white-out", hardness=1.0)])
    spared = Painted(plate, "clean", [stroke(TOP, verb="spare", hardness=1.0)])

    after, before = white.both(PHOTO)
    assert after[40].min() == 1 and before[40].min() < 0.5
    assert np.array_equal(after[100:], before[100:])
    thin, thick = spared.both(PHOTO)
    assert thin[40].mean() > thick[40].mean() and np.array_equal(thin[100:], thick[100:])


def test_a_plate_is_hidden_and_shown_again_by_hand():
    plate = Plate(draw=Threshold(level=0.6))
    hidden = Painted(plate, "ink", [stroke(TOP, verb="hide", hardness=1.0)])
    shown = Painted(plate, "ink", [stroke(TOP, verb="hide"), stroke(TOP, verb="show")])

    after, before = hidden.both(PHOTO)
    assert after[40].min() == 1 and np.array_equal(after[100:], before[100:])
    again, before = shown.both(PHOTO)
    assert np.allclose(again, before, atol=1e-5)


def test_an_empty_list_of_strokes_changes_nothing():
    painted = Painted(Plate(draw=Threshold(level=0.6)), "clean", [])

    after, before = painted.both(PHOTO)

    assert np.array_equal(after, before)


@pytest.mark.parametrize("stage", ["tone", "clean", "ink"])
def test_a_region_of_a_painted_sheet_is_a_crop_of_the_whole(stage):
    verb = {"tone": "darken", "clean": "white-out", "ink": "hide"}[stage]
    painted = Painted(
        Plate(draw=Threshold(level=0.6)), stage, [stroke([[0.2, 0.1, 1], [0.9, 0.6, 0.5]], verb)]
    )
    frame = whole(painted.sheet, PHOTO, 400)
    part = region_frame(frame, (0.3, 0.2, 0.8, 0.9))

    inside = painted.press.proof(PHOTO, painted.sheet, frame, exact=True)[part.slices_in(frame)]

    seen = painted.press.proof(PHOTO, painted.sheet, part, exact=True)
    assert np.abs(inside - seen).max() < 0.02


@pytest.mark.parametrize(
    "picture",
    [
        Picture(),
        Picture(crop=Crop(left=0.2, top=0.1, right=0.9, bottom=0.8)),
        Picture(crop=Crop(quarter_turns=1)),
        Picture(crop=Crop(left=0.1, top=0.3, right=0.8, bottom=0.9, quarter_turns=3)),
        Picture(crop=Crop(straighten=-9.0)),
        Picture(crop=Crop(left=0.1, bottom=0.9, quarter_turns=1, straighten=6.0, mirrored=True)),
        Picture(position=Position(mirrored=True)),
        Picture(position=Position(x=120, y=80, width=140, turn=25)),
        Picture(position=Position(as_drawn=2.0)),
    ],
)
def test_what_is_painted_lies_where_it_was_painted_however_the_photo_lies(picture):
    paper = OwnSize(width=200, height=150) if picture.position.width else AsPicture()
    sheet = Sheet(picture=picture, paper=paper, plates=[Plate(draw=Threshold(level=1.0))])
    # A dot of 20 mm, a little off the middle of the sheet.
    at = np.array([[0.55, 0.45, 1.0]])
    points, size = on_photo(Press().placed(PHOTO, sheet), at, 20.0)
    dot = Stroke(Brush(verb="white-out", size=size, hardness=1.0), points)
    plate = sheet.plates[0].model_copy(update={"hand": {"clean": "a" * 64}})
    sheet = sheet.model_copy(update={"plates": [plate]})
    frame = whole(sheet, PHOTO, 600)

    drawn = Press(stock=Stock(strokes_of=lambda _: [dot])).proof(PHOTO, sheet, frame, exact=True)

    # All is black but the dot.
    y, x = np.mgrid[0 : frame.height, 0 : frame.width] + 0.5
    away = np.hypot(x - 0.55 * frame.width, y - 0.45 * frame.height) / frame.px_per_mm
    assert drawn[away < 9.3].min() > 0.9
    assert drawn[(away > 10.7) & (away < 30)].max() < 0.1


def test_a_new_stroke_is_added_to_what_is_held():
    lists = {"a" * 64: [stroke(TOP)] * 3, "b" * 64: [stroke(TOP)] * 3 + [stroke(LINE)]}
    asked = []
    press = Press(stock=Stock(strokes_of=lambda name: asked.append(name) or lists[name]))
    frame = whole(Sheet(), PHOTO, 300)
    for name in ("a" * 64, "b" * 64, "a" * 64):
        sheet = Sheet(plates=[Plate(hand={"tone": name})])
        press.proof(PHOTO, sheet, frame, TONED)

    assert asked == ["a" * 64, "b" * 64]
    assert press.counts["hand"] == 2
