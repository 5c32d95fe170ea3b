import gc
import itertools
import subprocess
import sys
import tracemalloc
from functools import partial

import cv2
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from flinz.core.deliver.alpha import alpha_of, strokes_of
from flinz.core.document.picture import Crop, Picture
from flinz.core.document.plate import Plate
from flinz.core.document.sheet import Sheet
from flinz.core.hand.cutout import Cutout
from flinz.core.hand.strokes import Brush, Stroke
from flinz.core.looks.threshold import Threshold
from flinz.core.looks.undrawn import Undrawn
from flinz.core.planes.photo import Photo
from flinz.core.press.framing import whole
from flinz.core.press.parts import HAIR, needed_for
from flinz.core.press.press import Press
from flinz.core.press.proofing import Subject
from flinz.core.press.results import Stock
from flinz.core.scale import region_frame
from flinz.core.stages.ink import Ink
from flinz.core.stages.paper import AsPicture
from flinz.core.stages.part import Part
from flinz.errors import DocumentError

SIZE = 400, 300
GROUND, FIRST, SECOND = (70, 110, 60), (200, 150, 60), (190, 60, 50)
LIST = "c" * 64


def disc(x, y, radius):
    rows, columns = np.mgrid[0 : SIZE[1], 0 : SIZE[0]] + 0.5
    return np.clip(radius + 0.5 - np.hypot(columns - x, rows - y), 0, 1)


def photo_of(*shapes, key="discs"):
    """Grainy shapes (a mask and a colour each) on a grainy ground."""
    picture = np.ones((SIZE[1], SIZE[0], 3)) * GROUND
    for mask, colour in shapes:
        picture += mask[..., None] * (np.array(colour) - picture)
    picture += np.random.default_rng(4).normal(0, 5, picture.shape)
    return Photo(np.clip(picture, 0, 255).astype(np.uint8), key)


ONE, OTHER = disc(130, 150, 70), disc(310, 150, 50)
PHOTO = photo_of((ONE, FIRST), (OTHER, SECOND))
ALONE = photo_of((disc(200, 150, 80), FIRST), key="alone")


def stroke(verb, points, size=0.03, **brush):
    rows = np.array(points, float).reshape(-1, 2)
    return Stroke(
        Brush(verb=verb, size=size, hardness=1.0, **brush),
        np.column_stack([rows, np.ones(len(rows))]),
    )


def overlap(alpha, mask):
    found, wanted = alpha > 0.5, mask > 0.5
    return (found & wanted).sum() / (found | wanted).sum()


KEEP_ONE = stroke("keep", [(0.25, 0.35), (0.4, 0.4)])
KEEP_OTHER = stroke("keep", [(0.75, 0.35), (0.8, 0.4)])
DROP_OTHER = stroke("drop", [(0.75, 0.35), (0.8, 0.4)])
DROP_GROUND = stroke("drop", [(0.05, 0.05), (0.95, 0.05), (0.95, 0.7)])


def test_a_subject_is_found_with_no_stroke():
    assert overlap(alpha_of(ALONE, []), disc(200, 150, 80)) > 0.97


@pytest.mark.parametrize(
    ("strokes", "wanted"),
    [
        ([KEEP_ONE, DROP_GROUND, DROP_OTHER], ONE),
        ([KEEP_ONE, DROP_GROUND, KEEP_OTHER], np.maximum(ONE, OTHER)),
        # The later stroke counts where two went.
        ([DROP_GROUND, DROP_OTHER, KEEP_OTHER, KEEP_ONE], np.maximum(ONE, OTHER)),
        ([KEEP_OTHER, KEEP_ONE, DROP_GROUND, DROP_OTHER], ONE),
    ],
)
def test_strokes_say_what_is_kept_and_what_is_dropped(strokes, wanted):
    assert overlap(alpha_of(PHOTO, strokes), wanted) > 0.97


# A dish with a patch of the ground's colour, and a shadow that is found with it.
DISH = disc(200, 150, 80)
PATCH = DISH * disc(236, 178, 22)
SHADOW = disc(275, 205, 34) * (1 - DISH)
PATCHED = photo_of((DISH, FIRST), (PATCH, GROUND), (SHADOW, SECOND), key="patched")
KEEP_PATCH = stroke("keep", [(0.58, 0.44), (0.61, 0.46)])
DROP_SHADOW = stroke("drop", [(0.7, 0.53), (0.72, 0.55)])


def test_strokes_that_mend_a_place_leave_the_rest_as_it_was_found():
    found = overlap(alpha_of(PATCHED, []), DISH)

    for mend in (KEEP_PATCH, DROP_SHADOW):
        assert overlap(alpha_of(PATCHED, [mend]), DISH) > found + 0.05
    assert overlap(alpha_of(PATCHED, [KEEP_PATCH, DROP_SHADOW]), DISH) > 0.99


@pytest.mark.parametrize("dab", [stroke("keep", [(0.45, 0.35), (0.55, 0.4)]), DROP_GROUND])
def test_a_stroke_where_all_is_well_changes_nothing(dab):
    assert np.array_equal(alpha_of(ALONE, [dab]) > 0.5, alpha_of(ALONE, []) > 0.5)


PEBBLES = [disc(x, y, 9) for x, y in ((330, 60), (350, 200), (280, 270))]
# A bar of the ground's colour parts a stalk from what it grows from.
STALK = np.zeros((SIZE[1], SIZE[0]))
STALK[95:119, 180:228] = 1
BAR = np.zeros_like(STALK)
BAR[:, 205:211] = 1


def test_what_is_like_the_subject_but_lies_by_itself_is_kept_only_where_it_is_stroked():
    lying = np.max(PEBBLES, 0)
    photo = photo_of((np.maximum(ONE, lying), FIRST), key="pebbles")
    picked = stroke("keep", [(330 / 400, 60 / 400)])

    assert overlap(alpha_of(photo, [KEEP_ONE, DROP_GROUND]), ONE) > 0.98
    with_one = alpha_of(photo, [KEEP_ONE, DROP_GROUND, picked])
    assert overlap(with_one, np.maximum(ONE, PEBBLES[0])) > 0.98


def test_what_goes_on_behind_something_narrow_is_kept():
    whole = np.maximum(ONE, STALK)
    photo = photo_of((whole, FIRST), (BAR, GROUND), key="stalk")

    assert overlap(alpha_of(photo, [KEEP_ONE, DROP_GROUND]), whole * (1 - BAR)) > 0.985


def test_what_was_rubbed_out_says_nothing():
    rub = stroke("rub", [(0.7, 0.35), (0.85, 0.4)], size=0.1)

    rubbed = alpha_of(PHOTO, [KEEP_ONE, DROP_GROUND, DROP_OTHER, rub])

    assert np.array_equal(rubbed, alpha_of(PHOTO, [KEEP_ONE, DROP_GROUND]))


@given(st.lists(st.tuples(st.floats(0, 1), st.floats(0, 0.75)), min_size=1, max_size=3))
@settings(max_examples=5)
def test_exact_strokes_always_win(points):
    strokes = [KEEP_ONE, DROP_GROUND, stroke("exactly-out", points), stroke("keep", points)]
    inside = painted(strokes[2])

    assert alpha_of(PHOTO, strokes)[inside > 0.99].max(initial=0) < 0.01
    taken = [*strokes, stroke("exactly-in", points)]
    assert alpha_of(PHOTO, taken)[inside > 0.99].min(initial=1) > 0.99


def painted(made):
    """What lies surely under a stroke: farther within its rim than a pixel."""
    rows, columns = np.indices(SIZE[::-1]) + 0.5
    places = made.points[:, :2] * SIZE[0]
    away = np.full(SIZE[::-1], np.inf)
    for begin, end in itertools.pairwise([places[0], *places]):
        way = end - begin
        along = (columns - begin[0]) * way[0] + (rows - begin[1]) * way[1]
        share = np.clip(along / max(float(way @ way), 1e-9), 0, 1)
        near = np.hypot(columns - begin[0] - share * way[0], rows - begin[1] - share * way[1])
        away = np.minimum(away, near)
    return (away < made.brush.size * SIZE[0] / 2 - 1).astype(np.float32)


def sheet_of(part, *, strokes=True, **picture):
    plates = [Plate(draw=Threshold(level=0.99), photo=part)]
    return Sheet(
        picture=Picture(photo="p", **picture),
        plates=plates,
        cutouts={"p": LIST} if strokes else {},
    )


def press_with(*strokes):
    return Press(stock=Stock(strokes_of=lambda _: list(strokes)))


def test_subject_and_backdrop_are_all_there_is():
    press = press_with(KEEP_ONE, DROP_GROUND, DROP_OTHER)
    ink = []
    for name in ("whole", "subject", "backdrop"):
        sheet = sheet_of(Part(part=name))
        drawn = press.proof(PHOTO, sheet, whole(sheet, PHOTO, 400), exact=True)
        ink.append(1 - drawn)

    assert np.abs(ink[1] + ink[2] - ink[0]).max() < 0.01
    assert ink[1][ONE > 0.99].mean() > 0.98
    assert ink[1][cv2.dilate(ONE, np.ones((9, 9))) < 0.01].max() < 0.01


def test_a_plain_tone_is_laid_where_nothing_is_to_be_drawn():
    press = press_with(KEEP_ONE, DROP_GROUND, DROP_OTHER)
    for ground, ink in ((0.0, 1.0), (1.0, 0.0)):
        sheet = sheet_of(Part(part="subject", outside="ground", ground=ground))
        frame = whole(sheet, PHOTO, 400)
        drawn = press.proof(PHOTO, sheet, frame, exact=True)
        beside = cv2.dilate(ONE, np.ones((9, 9))) < 0.01

        assert np.abs((1 - drawn)[beside] - ink).max() < 0.02


def test_a_figure_that_covers_hides_what_lies_beneath():
    press = press_with(KEEP_ONE, DROP_GROUND, DROP_OTHER)
    beneath = Plate(id="a", draw=Threshold(level=0.99), ink=Ink(colour="#ff0000"))
    above = Plate(id="b", draw=Threshold(level=0.0), photo=Part(part="subject", covers=True))
    sheet = sheet_of(Part()).model_copy(update={"plates": [beneath, above]})
    drawn = press.proof(PHOTO, sheet, whole(sheet, PHOTO, 400), exact=True)

    assert drawn[cv2.erode(ONE, np.ones((9, 9))) > 0.99].min() > 0.98
    assert np.abs(drawn[OTHER > 0.99] - (1, 0, 0)).max() < 0.02


def test_the_edge_is_drawn_with_a_nib_of_its_own():
    press = press_with(KEEP_ONE, DROP_GROUND, DROP_OTHER)
    sheet = sheet_of(Part(part="subject", contour=2.0))
    sheet = sheet.model_copy(
        update={"plates": [sheet.plates[0].model_copy(update={"draw": Threshold(level=0.0)})]}
    )
    ink = 1 - press.proof(PHOTO, sheet, whole(sheet, PHOTO, 400), exact=True)

    # Two millimetres are four pixels here; the line runs round the disc once.
    assert ink.sum() == pytest.approx(2 * np.pi * 70 * 4, rel=0.04)


def test_the_cutout_stays_on_its_feature_when_the_photo_is_cropped_and_turned():
    press = press_with(KEEP_ONE, DROP_GROUND, DROP_OTHER)
    plain = sheet_of(Part(part="subject"))
    alpha = press.alpha(PHOTO, plain, whole(plain, PHOTO))
    crop = Crop(left=0.1, top=0.2, right=0.8, bottom=0.9, quarter_turns=1)
    turned = sheet_of(Part(part="subject"), crop=crop)
    left, top, right, bottom = crop.cropping.bounds_px(*SIZE)

    seen = press.alpha(PHOTO, turned, whole(turned, PHOTO))

    assert np.abs(seen - np.rot90(alpha)[top:bottom, left:right]).max() < 0.05


def test_a_larger_alpha_shrunk_is_the_smaller_one_and_a_part_is_a_crop():
    press = press_with(KEEP_ONE, DROP_GROUND, DROP_OTHER)
    sheet = sheet_of(Part(part="subject"), cutout=Cutout(edge=0.5, soft=1.0))
    large, small = (press.alpha(PHOTO, sheet, whole(sheet, PHOTO, px)) for px in (800, 400))

    shrunk = cv2.resize(large, small.shape[::-1], interpolation=cv2.INTER_AREA)
    assert np.abs(shrunk - small).mean() < 0.004
    frame = whole(sheet, PHOTO, 800)
    part = region_frame(frame, (0.2, 0.1, 0.6, 0.8))
    apart = np.abs(press.alpha(PHOTO, sheet, part) - large[part.slices_in(frame)])
    assert apart.max() < 0.02


def test_edge_softness_and_islands_are_in_millimetres():
    press = press_with(KEEP_ONE, DROP_GROUND, KEEP_OTHER)

    def ink(**dials):
        sheet = sheet_of(Part(part="subject"), cutout=Cutout(**dials))
        return press.alpha(PHOTO, sheet, whole(sheet, PHOTO, 400))

    plain = ink()
    # Three millimetres are six pixels: what the two outlines sweep.
    assert ink(edge=3.0).sum() - plain.sum() == pytest.approx(2 * np.pi * 126 * 6, rel=0.1)
    assert ink(edge=-3.0).sum() - plain.sum() == pytest.approx(-2 * np.pi * 114 * 6, rel=0.1)
    assert (np.abs(ink(soft=3.0) - 0.5) < 0.4).sum() > 2 * (np.abs(plain - 0.5) < 0.4).sum()
    # The small disc has 1,963 mm².
    assert overlap(ink(islands=2500.0), ONE) > 0.97


def test_a_draft_shows_the_hard_cut_until_the_fine_one_is_there():
    press = press_with(KEEP_ONE, DROP_GROUND, DROP_OTHER)
    sheet = sheet_of(Part(part="subject"))
    frame = whole(sheet, PHOTO, 400)

    draft = press.alpha(PHOTO, sheet, frame, draft=True)
    settled = press.alpha(PHOTO, sheet, frame)

    assert overlap(draft, settled) > 0.98
    assert np.array_equal(press.alpha(PHOTO, sheet, frame, draft=True), settled)


@pytest.mark.parametrize("text", ["", "0.1", "0.1,0.2,0.3", "a,b", "0.5,1.2", "nan,0.5"])
def test_what_is_no_stroke_is_refused(text):
    with pytest.raises(DocumentError, match="is no stroke"):
        strokes_of(PHOTO, [("keep", text)], 4.0)


@pytest.mark.parametrize("size", [0.0, -1.0, float("nan"), 1e9])
def test_a_stroke_of_no_width_is_refused(size):
    with pytest.raises(DocumentError, match="size of a stroke"):
        strokes_of(PHOTO, [("keep", "0.5,0.5")], size)


def drawn(press, **sheet):
    made = sheet_of(sheet.pop("part"), **sheet)
    return press.proof(PHOTO, made, whole(made, PHOTO, 400))


def test_what_is_remembered_of_one_part_or_edge_is_not_taken_for_another():
    press, fresh = press_with(KEEP_ONE, DROP_GROUND), partial(press_with, KEEP_ONE, DROP_GROUND)
    sheets = [
        {"part": Part(part="whole")},
        {"part": Part(part="subject")},
        {"part": Part(part="backdrop")},
        {"part": Part(part="subject", contour=2.0)},
        {"part": Part(part="subject"), "cutout": Cutout(edge=2.0)},
        {"part": Part(part="subject"), "strokes": False},
    ]

    for sheet in sheets:
        assert np.array_equal(drawn(press, **sheet), drawn(fresh(), **sheet))
    assert press.counts["studied"] == 1


def test_the_width_of_hair_is_on_paper_and_other_dials_look_for_none_anew():
    press = press_with(KEEP_ONE, DROP_GROUND)
    for edge in (0.0, 0.5, 1.0):
        drawn(press, part=Part(part="subject"), cutout=Cutout(edge=edge, soft=edge))
    # The long edge stays as it is, and a millimetre with it.
    crop = Crop(top=0.1)
    drawn(press, part=Part(part="subject"), crop=crop)
    assert press.counts["edge"] == 1
    small = sheet_of(Part(part="subject")).model_copy(update={"paper": AsPicture(long_edge=100.0)})

    press.proof(PHOTO, small, whole(small, PHOTO, 400))

    assert press.counts["edge"] == 2


def test_cutting_again_and_again_takes_no_more_memory():
    cuts = {f"{each:064}": [stroke("keep", [(0.3 + each / 100, 0.4)])] for each in range(8)}
    press = Press(memory_bytes=10_000_000, stock=Stock(strokes_of=cuts.__getitem__))
    held = []
    tracemalloc.start()
    for cut in cuts:
        sheet = sheet_of(Part(part="subject")).model_copy(update={"cutouts": {"p": cut}})
        press.proof(PHOTO, sheet, whole(sheet, PHOTO, 400))
        gc.collect()
        held.append(tracemalloc.get_traced_memory()[0])
    tracemalloc.stop()

    # All that there is room for is there after some.
    assert held[-1] - held[3] < 2_000_000


def test_strokes_kept_to_the_subject_follow_its_cutout():
    everywhere = stroke("darken", [(0, 0), (1, 0), (1, 0.75), (0, 0.75)], by="area", strength=0.5)
    kept = Stroke(everywhere.brush.model_copy(update={"kept_to": "subject"}), everywhere.points)
    lists = {"1" * 64: [kept], "2" * 64: [KEEP_ONE, DROP_OTHER], "3" * 64: [KEEP_OTHER]}
    plate = Plate(draw=Threshold(level=0.3), hand={"tone": "1" * 64})

    def inked(press, cut):
        sheet = Sheet(picture=Picture(photo="p"), plates=[plate], cutouts={"p": cut})
        return press.proof(PHOTO, sheet, whole(sheet, PHOTO, 400))

    stock = Stock(strokes_of=lists.__getitem__)
    press = Press(stock=stock)
    for cut in ("2" * 64, "3" * 64):
        assert np.array_equal(inked(press, cut), inked(Press(stock=stock), cut))


@pytest.mark.parametrize(("part", "own", "other"), [("subject", 0, 1), ("backdrop", 1, 0)])
def test_a_parts_own_colours_are_free_of_what_lay_beside_it(part, own, other):
    soft = cv2.GaussianBlur(disc(200, 150, 80).astype(np.float32), (0, 0), 3)
    colours = np.array([(200, 40, 40), (40, 180, 60)])
    picture = colours[1] + soft[..., None] * (colours[0] - colours[1])
    picture += np.random.default_rng(4).normal(0, 3, picture.shape)
    photo = Photo(np.clip(picture, 0, 255).astype(np.uint8), "soft")
    sheet = Sheet(
        picture=Picture(photo="soft", cutout=Cutout(hair=4.0)),
        plates=[Plate(photo=Part(part=part), draw=Undrawn(ink="full"), ink=Ink(colouring="photo"))],
    )

    shown = Press().proof(photo, sheet, whole(sheet, photo, 400)) * 255

    # On white paper it is its own colour thinned out, without any of the other.
    share = (soft if part == "subject" else 1 - soft)[..., None]
    mixed = (share > 0.3) & (share < 0.7)
    pure, with_other = (255 + share * (each - 255) for each in (colours[own], picture))
    assert np.abs(shown - pure)[mixed[..., 0]].mean() < 12
    assert np.abs(with_other - pure)[mixed[..., 0]].mean() > 25


def test_colours_are_freed_only_once_what_frees_them_is_ready():
    def needs(part, colouring, what="sheet"):
        plate = Plate(photo=Part(part=part), ink=Ink(colouring=colouring))
        sheet = Sheet(picture=Picture(cutout=Cutout(hair=0.0)), plates=[plate])
        return HAIR in needed_for(sheet, Subject(what))

    assert needs("subject", "photo") and needs("backdrop", "photo")
    assert not needs("whole", "photo") and not needs("subject", "single")
    assert needs("whole", "single", "cutout-black") and not needs("whole", "single", "cutout")


def test_of_the_matting_library_only_what_is_used_is_loaded():
    # All the rest of it would be compiled, for most of a minute, on a fresh machine.
    script = (
        "import sys; from flinz.core.press import warm; warm._hair();"
        "print(sorted(each for each in sys.modules if each.startswith('pymatting.laplacian.')));"
        # Other programs have the rest of it all the same.
        "from pymatting.solver import CounterCallback; print(CounterCallback.__name__)"
    )
    said = subprocess.run([sys.executable, "-c", script], capture_output=True, check=True)
    found = said.stdout.decode().split("\n")
    assert found[:2] == ["['pymatting.laplacian.cf_laplacian']", "CounterCallback"]
