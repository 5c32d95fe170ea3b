"""Positions: what lies elsewhere on the paper is the same drawing, moved, turned or mirrored."""

import math
from functools import cache

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from PIL import Image

from flinz.core.document.picture import Picture, Position
from flinz.core.document.plate import Plate
from flinz.core.document.reading import parsed
from flinz.core.document.sheet import Sheet, WatchSpot
from flinz.core.hand.cutout import Cutout
from flinz.core.looks.registry import LOOKS
from flinz.core.looks.stipple import Stipple
from flinz.core.looks.threshold import Threshold
from flinz.core.marks.pen import dots_cover
from flinz.core.marks.vectors import Dots, Shape
from flinz.core.planes.filters import averaged, blurred
from flinz.core.press.framing import laid_box, whole
from flinz.core.press.press import Press
from flinz.core.press.proofing import Subject
from flinz.core.scale import Lay, region_frame, whole_frame
from flinz.core.stages.clean import Clean
from flinz.core.stages.ink import Ink
from flinz.core.stages.paper import CUTS, AsPicture, OwnSize
from flinz.core.stages.part import Part, Shows
from flinz.errors import DocumentError
from tests.charts import blobs, grey_photo

PHOTO = grey_photo(40 + blobs(300, 400, scale=14.0) * 200, "blobs")
PAPER = OwnSize(width=80, height=60)
GROWN, SOFTENED = Cutout(edge=1.5), Cutout(soft=2.0)
BOX_MM, EDGE_PX, FINER = 50.0, 400, 4
POSITIONS = {
    "moved": Position(x=41.3, y=32.7, width=BOX_MM),
    "turned": Position(width=BOX_MM, turn=7),
    "half": Position(width=BOX_MM / 2),
    "as drawn": Position(width=BOX_MM, as_drawn=1.6),
    "mirrored": Position(width=BOX_MM, mirrored=True),
    "all": Position(x=38, y=31, width=45, turn=-100, mirrored=True, as_drawn=1.2),
}
# Every way to be laid: marks, screens, and what is resampled.
DIALS = {
    "stipple": {"dot": 0.9},
    "crosshatch": {"outlines": 0.6},
    "loose-hatch": {"chalk": True},
    "contour-hatch": {},
    "dot-screen": {"ruling": 7, "dot": "elliptical", "angle": 20},
    "line-screen": {"ruling": 7, "lines": "concentric"},
    "pencil": {},
    "woodcut": {},
    "threshold": {},
}


def sheet_of(look, position=None, paper=PAPER, **plate):
    """A sheet of the chart with one plate of a look, in a position."""
    made = Plate(draw=LOOKS[look].settings(**DIALS.get(look, {})), **plate)
    picture = Picture(photo=PHOTO.key, position=position or Position())
    return Sheet(picture=picture, paper=paper, plates=[made])


@cache
def upright(look, long_edge, edge_px):
    """The drawing upright and for itself, ink 0..1."""
    sheet = sheet_of(look, paper=AsPicture(long_edge=long_edge))
    return Press().cover(PHOTO, sheet, sheet.plates[0], whole(sheet, PHOTO, edge_px), exact=True)


def transformed(look, sheet):
    """The upright drawing made large, laid on the paper by Pillow, shrunk."""
    laid = laid_box(sheet, PHOTO)
    paper = whole(sheet, PHOTO, EDGE_PX * FINER)
    edge_px = round(laid.box.long_edge * paper.px_per_mm * laid.lay.scale)
    drawn = upright(look, laid.box.long_edge, edge_px)
    back = laid.lay.box_mm(paper) * (drawn.shape[1] / laid.box.width)
    lain = Image.fromarray(drawn).transform(
        (paper.width, paper.height),
        Image.Transform.AFFINE,
        tuple(back.ravel()),
        Image.Resampling.BILINEAR,
    )
    small = whole(sheet, PHOTO, EDGE_PX)
    return averaged(np.asarray(lain, np.float32), small.width, small.height)


def correlation(one, other):
    return float(np.corrcoef(one.ravel(), other.ravel())[0, 1])


@pytest.mark.parametrize("name", POSITIONS)
@pytest.mark.parametrize("look", DIALS)
def test_a_placed_plate_is_the_upright_one_transformed(look, name):
    sheet = sheet_of(look, POSITIONS[name])

    ink = Press().cover(PHOTO, sheet, sheet.plates[0], whole(sheet, PHOTO, EDGE_PX))

    wished = transformed(look, sheet)
    assert correlation(ink, wished) > 0.985
    assert abs(float(ink.mean() - wished.mean())) < 0.004


@pytest.mark.parametrize("look", ["stipple", "line-screen", "pencil", "threshold"])
def test_a_placed_proof_is_its_export_shrunk_and_parts_are_parts_of_the_whole(look):
    sheet, press = sheet_of(look, POSITIONS["all"]), Press()
    frame = whole(sheet, PHOTO, EDGE_PX)

    proof = press.proof(PHOTO, sheet, frame)
    export = press.proof(PHOTO, sheet, whole(sheet, PHOTO, FINER * EDGE_PX), exact=True)
    part = region_frame(frame, (0.31, 0.22, 0.83, 0.77))
    detail = press.proof(PHOTO, sheet, part)

    assert correlation(averaged(export, frame.width, frame.height), proof) > 0.985
    # What a threshold decides may turn by a sample of sixteen.
    off = np.abs(detail - proof[part.slices_in(frame)])
    assert off.max() < 0.1 and np.mean(off > 1e-3) < 1e-3


@pytest.mark.parametrize("look", ["stipple", "pencil", "dot-screen"])
def test_what_fills_the_paper_is_never_resampled(look):
    plain = sheet_of(look, paper=AsPicture(long_edge=80))
    numbers = sheet_of(look, Position(x=40, y=30, width=80), AsPicture(long_edge=80))
    own = sheet_of(look, paper=OwnSize(width=80, height=60))
    turned_over = sheet_of(look, Position(mirrored=True), AsPicture(long_edge=80))
    frame = whole(plain, PHOTO, 333)

    wished = Press().proof(PHOTO, plain, frame)
    for same in (numbers, own):
        assert np.array_equal(Press().proof(PHOTO, same, whole(same, PHOTO, 333)), wished)
    assert np.abs(Press().proof(PHOTO, turned_over, frame) - wished[:, ::-1]).max() < 1e-6


def test_as_drawn_is_the_smaller_drawing_pixel_for_pixel():
    larger = sheet_of("stipple", Position(as_drawn=2.0), AsPicture(long_edge=160))
    smaller = sheet_of("stipple", paper=AsPicture(long_edge=80))
    press = Press()

    drawn = press.proof(PHOTO, larger, whole(larger, PHOTO, 400))

    assert np.array_equal(drawn, press.proof(PHOTO, smaller, whole(smaller, PHOTO, 400)))
    dots, half = (press.marks(PHOTO, each, each.plates[0]) for each in (larger, smaller))
    assert np.allclose(dots.radius, 2 * half.radius) and np.allclose(dots.x, 2 * half.x, atol=1e-3)


def test_marks_leave_where_they_lie():
    sheet = sheet_of("stipple", POSITIONS["all"])
    plate = sheet.plates[0]
    frame = whole(sheet, PHOTO, 1600)

    dots = Press().marks(PHOTO, sheet, plate)

    ink = Press().cover(PHOTO, sheet, plate, frame, exact=True)
    assert correlation(dots_cover(dots, frame), ink) > 0.99


def test_blobs_turn_and_turn_over_with_their_dots():
    dots = Dots(*(np.full(1, v, np.float32) for v in (2.0, 2.0, 1.4)), blob=1.0)
    frame = whole_frame(4.0, 200, 200)
    drawn = dots_cover(dots, frame)

    over = dots_cover(dots.laid(Lay(4, 4, 2, 2, mirrored=True)), frame)
    quarter = dots_cover(dots.laid(Lay(4, 4, 2, 2, turn=90)), frame)

    assert np.abs(over - drawn[:, ::-1]).mean() < 1e-3
    assert np.abs(quarter - np.rot90(drawn)).mean() < 1e-3
    assert np.abs(over - drawn).mean() > 1e-2


def test_a_leaf_turns_the_way_its_box_does():
    leaf = Dots(
        *(np.full(1, v, np.float32) for v in (2.0, 2.0, 1.4, math.radians(30))), shape=Shape.LEAF
    )
    frame = whole_frame(4.0, 200, 200)
    drawn = dots_cover(leaf, frame)

    lain = dots_cover(leaf.laid(Lay(4, 4, 2, 2, mirrored=True, turn=90)), frame)

    assert np.abs(lain - np.rot90(drawn[:, ::-1])).mean() < 1e-3


def test_ink_ends_at_the_edge_of_the_box():
    sheet = sheet_of("loose-hatch", POSITIONS["turned"])
    press, frame = Press(), whole(sheet, PHOTO, EDGE_PX)

    ink = press.cover(PHOTO, sheet, sheet.plates[0], frame)

    share = press.placed(PHOTO, sheet).box_share(frame)
    # Chalk on black: without an edge all of the paper would be black.
    assert ink[share == 0].max() < 0.02
    assert ink[share > 0.9999].mean() > 0.3


def test_lights_and_the_photo_stay_within_the_box():
    inks = Ink(colouring="two-colour", lights="#f2d9a0")
    sheet = sheet_of("threshold", POSITIONS["half"], ink=inks)
    frame, press = whole(sheet, PHOTO, EDGE_PX), Press()

    assert np.all(press.proof(PHOTO, sheet, frame)[:20] == 1)
    paper = sheet.model_copy(update={"paper": OwnSize(width=80, height=60, colour="#aabbcc")})
    seen = press.proof(PHOTO, paper, frame, Subject("photo"))
    assert np.allclose(seen[0, 0] * 255, (0xAA, 0xBB, 0xCC), atol=0.01)
    toned = press.proof(PHOTO, sheet, frame, Subject("stage", "plate-1", "tone"))
    assert toned[0, 0] == 1 and toned[frame.height // 2].min() < 0.9


def test_clean_acts_in_the_box():
    position = POSITIONS["turned"]
    rough, clean = (
        sheet_of("threshold", position, clean=settings) for settings in (Clean(), Clean(specks=4.0))
    )
    press, frame = Press(), whole(rough, PHOTO, EDGE_PX)

    before, after = (
        press.cover(PHOTO, each, each.plates[0], frame, exact=True) for each in (rough, clean)
    )

    assert np.any(before != after) and np.all(after <= before + 0.51)


def test_figures_judgements_and_suggestions_follow_the_box():
    eye = WatchSpot(left=0.45, top=0.45, right=0.55, bottom=0.55, is_eye=True)
    beside = WatchSpot(left=0.0, top=0.0, right=0.05, bottom=0.05, is_eye=True)
    sheet = sheet_of("threshold", POSITIONS["half"])
    watched = sheet.model_copy(update={"watch": [eye, beside]})
    plain = sheet.model_copy(update={"paper": AsPicture(long_edge=25), "picture": Picture()})
    press = Press()

    found = press.suggestions(PHOTO, sheet, sheet.plates[0])

    assert found == press.suggestions(PHOTO, plain, plain.plates[0])
    assert press.suggestions(PHOTO, watched, watched.plates[0]).keys() == found.keys()
    ink = press.figures(PHOTO, sheet, whole(sheet, PHOTO, EDGE_PX)).ink
    alone = press.figures(PHOTO, plain, whole(plain, PHOTO, 125)).ink
    assert ink == pytest.approx(alone * (25 * 18.75) / (80 * 60), abs=0.002)


@pytest.mark.parametrize(
    "position",
    [
        Position(x=-700, y=30),
        Position(x=40, y=1400, turn=45),
        Position(width=1.0),
        Position(width=900),
        Position(width=60, as_drawn=20.0),
    ],
)
def test_odd_positions_draw_something_or_nothing(position):
    plates = [Plate(draw=Threshold()), Plate(id="b", draw=Stipple(dot=1.0))]
    sheet = Sheet(picture=Picture(position=position), paper=PAPER, plates=plates)
    sheet = parsed(Sheet, sheet.model_dump_json())

    drawn = Press().proof(PHOTO, sheet, whole(sheet, PHOTO, 200))

    assert drawn.shape == (150, 200) and np.isfinite(drawn).all()
    if position.x is not None:
        assert np.all(drawn == 1)


@pytest.mark.parametrize(
    ("position", "said"),
    [
        ({"width": 0}, "it must be 1 or more"),
        ({"width": 80_000}, "80,000 mm wide on a paper of 80 mm"),
        ({"x": 1e5}, "far beside a paper of 80 mm"),
        ({"y": -1e9}, "picture.position.y"),
        ({"turn": 1000}, "picture.position.turn"),
        ({"as_drawn": 0}, "picture.position.as_drawn"),
        ({"x": float("nan")}, "must be a number"),
    ],
)
def test_impossible_positions_are_refused_with_a_sentence(position, said):
    document = {"version": 2, "paper": PAPER.model_dump(), "picture": {"position": position}}

    with pytest.raises(DocumentError, match=said):
        parsed(Sheet, document)


LAYS = st.builds(
    Lay,
    width=st.floats(1, 900),
    height=st.floats(1, 900),
    x=st.floats(-500, 500),
    y=st.floats(-500, 500),
    scale=st.floats(0.05, 20),
    turn=st.floats(-180, 180),
    mirrored=st.booleans(),
)


@given(LAYS, st.floats(-900, 900), st.floats(-900, 900))
def test_the_way_to_the_paper_and_back_is_no_way(lay, x, y):
    there = lay.to_paper @ (x, y, 1)

    assert np.allclose(lay.to_box @ (*there, 1), (x, y), atol=1e-6)
    assert np.allclose(lay.to_paper @ (lay.width / 2, lay.height / 2, 1), (lay.x, lay.y))


@given(st.floats(10, 45), st.floats(-180, 180))
@settings(deadline=None)
def test_the_share_of_a_box_in_pixels_sums_to_its_area(width, turn):
    sheet = sheet_of("threshold", Position(width=width, turn=turn))
    frame = whole(sheet, PHOTO, 160)

    share = Press().placed(PHOTO, sheet).box_share(frame)

    area = width * width * PHOTO.height / PHOTO.width * frame.px_per_mm**2
    assert float(share.sum()) == pytest.approx(area, rel=1e-4)


@pytest.mark.parametrize("cut", CUTS, ids=[cut.name for cut in CUTS])
def test_a_picture_stays_within_the_margins_of_its_paper(cut):
    photo = grey_photo(np.zeros((90, 120)), "solid")
    paper = OwnSize(width=cut.width, height=cut.height, margin=10.0)
    sheet = Sheet(plates=[Plate(draw=Threshold(level=0.5))], paper=paper)

    frame = whole(sheet, photo, 500)
    ink = 1 - Press().proof(photo, sheet, frame, exact=True)

    rows, columns = np.nonzero(ink > 0.5)
    left, right = columns.min() / frame.px_per_mm, (columns.max() + 1) / frame.px_per_mm
    top, bottom = rows.min() / frame.px_per_mm, (rows.max() + 1) / frame.px_per_mm
    # It reaches two of them, and has its own shape.
    pixel = 1.5 / frame.px_per_mm
    assert min(left, top) == pytest.approx(10.0, abs=pixel)
    assert max(right - cut.width, bottom - cut.height) == pytest.approx(-10.0, abs=pixel)
    assert (right - left) / (bottom - top) == pytest.approx(4 / 3, abs=0.04)


def test_a_press_that_remembers_parts_draws_what_a_new_one_does():
    pixels = np.full((300, 400), 230.0)
    pixels[100:200, 150:250] = 60
    photo = grey_photo(pixels, "a thing")
    sheet = sheet_of("pencil", photo=Part(part=Shows.SUBJECT))
    turned, moved = (
        Picture(photo=photo.key, position=POSITIONS[each]) for each in ("turned", "moved")
    )
    wide, soft = (moved.model_copy(update={"cutout": each}) for each in (GROWN, SOFTENED))
    press = Press()

    seen = []
    for picture in (turned, moved, wide, soft, moved):
        now = sheet.model_copy(update={"picture": picture})
        frame = whole(now, photo, EDGE_PX)
        # Of a draft, whose edge is hard before hair is found, nothing is left in what settles.
        press.proof(photo, now, frame, draft=True)
        seen.append(press.proof(photo, now, frame))
        assert np.array_equal(seen[-1], Press().proof(photo, now, frame))
    assert not any(np.array_equal(seen[1], other) for other in (seen[0], seen[2], seen[3]))
    assert np.array_equal(seen[1], seen[4])


@pytest.mark.parametrize("look", ["stipple", "loose-hatch"])
def test_marks_that_are_moved_are_drawn_once_until_the_hand_rests(look):
    press = Press()

    def at(x):
        return sheet_of(look, Position(x=x, y=31, width=BOX_MM, turn=7))

    frame = whole(at(40), PHOTO, EDGE_PX)
    drawn = []
    for x in (38.2, 39.1, 41.3):
        moved = press.proof(PHOTO, at(x), frame, draft=True)
        drawn.append(press.results.counts["draw"])

    # At first as they lie, then in their box, and then not again.
    assert np.array_equal(np.diff(drawn), [1, 0])
    wished = Press().proof(PHOTO, at(41.3), frame, draft=True)
    assert np.abs(blurred(moved, 1.5) - blurred(wished, 1.5)).mean() < 0.01
    settled = press.proof(PHOTO, at(41.3), frame)
    assert np.array_equal(settled, Press().proof(PHOTO, at(41.3), frame))
