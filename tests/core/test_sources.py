"""Sources of plates: figures of known size and place, other photos, what is printed beneath."""

import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from flinz.core.document.reading import parsed
from flinz.core.document.sheet import Sheet
from flinz.core.ground.block import Block, Plain, figure_of
from flinz.core.planes.filters import averaged
from flinz.core.planes.photo import Photo
from flinz.core.press.framing import whole
from flinz.core.press.press import Press
from flinz.core.press.proofing import Subject
from flinz.core.press.results import Stock
from flinz.core.stages.paper import OwnSize
from flinz.errors import DocumentError
from tests.charts import blobs, grey_photo

PHOTO = grey_photo(40 + blobs(300, 400, scale=14.0) * 200, "blobs")
OTHER = grey_photo(np.tile(np.linspace(0, 255, 300, dtype=np.float32), (200, 1)), "ramp")
PAPER = {"size": "own", "width": 120, "height": 90}
PLAIN = {"look": "undrawn"}
STOCK = Stock(photo_of={"ramp": OTHER, "blobs": PHOTO}.__getitem__)


def sheet_of(*sources, draw=PLAIN, paper=PAPER, **plate):
    plates = [
        {"id": f"p{k}", "source": source, "draw": draw, **plate} for k, source in enumerate(sources)
    ]
    return parsed(Sheet, {"paper": paper, "picture": {"photo": "blobs"}, "plates": plates})


def ink_of(sheet, long_edge_px=480, press=None):
    frame = whole(sheet, PHOTO, long_edge_px)
    proof = (press or Press(stock=STOCK)).proof(PHOTO, sheet, frame, exact=True)
    return 1 - proof, frame


def block(position=None, **dials):
    return {"kind": "block", "block": dials, "position": position or {}}


AREAS = {
    "rectangle": 40 * 30,
    "ellipse": math.pi * 20 * 15,
    "ring": math.pi * (20 * 15 - 16 * 11),
    "rays": math.pi * 20 * 15 / 2,
}


@pytest.mark.parametrize("figure", AREAS)
def test_a_block_leaves_the_ink_of_its_area_where_it_lies(figure):
    source = block({"x": 50, "y": 40}, figure=figure, width=40, height=30, thickness=4)

    ink, frame = ink_of(sheet_of(source))

    rows, columns = np.indices(ink.shape) + 0.5
    assert ink.sum() / frame.px_per_mm**2 == pytest.approx(AREAS[figure], rel=0.005)
    middle = (ink * columns).sum() / ink.sum(), (ink * rows).sum() / ink.sum()
    assert np.array(middle) / frame.px_per_mm == pytest.approx([50, 40], abs=0.05)


def test_a_polygon_has_its_corners_and_a_star_its_dents():
    for sides in (3, 5, 8):
        plain = figure_of(Block(figure=Plain.POLYGON, sides=sides), (100, 100))
        star = figure_of(Block(figure=Plain.POLYGON, sides=sides, dent=0.5), (100, 100))

        assert [len(ring) for ring in plain.pieces[0].rings] == [sides]
        assert [len(ring) for ring in star.pieces[0].rings] == [2 * sides]


def test_a_border_keeps_its_distance_from_the_edges_of_any_paper():
    for width, height in ((120, 90), (60, 150)):
        source = block(figure="border", inset=8, thickness=3)
        ink, frame = ink_of(
            sheet_of(source, paper={"size": "own", "width": width, "height": height})
        )

        middle = ink[ink.shape[0] // 2]
        inked = np.flatnonzero(middle > 0.5) / frame.px_per_mm
        assert inked[0] == pytest.approx(8, abs=0.3)
        assert inked[-1] == pytest.approx(width - 8, abs=0.5)
        area = (width - 16) * (height - 16) - (width - 22) * (height - 22)
        assert ink.sum() / frame.px_per_mm**2 == pytest.approx(area, rel=0.005)


@given(
    st.floats(20, 100), st.floats(20, 70), st.floats(-180, 180), st.floats(0.3, 2), st.booleans()
)
@settings(max_examples=15, deadline=None)
def test_a_block_turned_mirrored_and_scaled_keeps_its_share_of_ink(x, y, turn, times, mirrored):
    source = block(
        {"x": x, "y": y, "turn": turn, "as_drawn": times, "mirrored": mirrored},
        width=12,
        height=9,
    )
    ink, frame = ink_of(sheet_of(source))

    far = math.hypot(12, 9) / 2 * times
    if far < min(x, y, 120 - x, 90 - y):
        assert ink.sum() / frame.px_per_mm**2 == pytest.approx(12 * 9 * times**2, rel=0.01)


@pytest.mark.parametrize("look", ["undrawn", "loose-hatch", "photocopy", "stipple"])
def test_lettering_exported_and_shrunk_is_its_proof(look):
    source = {
        "kind": "lettering",
        "lettering": {"words": "Fair", "size": 20, "face": "slab", "tone": 0.3},
        "position": {"turn": 12},
    }
    sheet = sheet_of(source, draw={"look": look})
    small, large = whole(sheet, PHOTO, 500), whole(sheet, PHOTO, 1500)
    press = Press(stock=STOCK)

    proof = press.proof(PHOTO, sheet, small)

    shrunk = averaged(press.proof(PHOTO, sheet, large, exact=True), small.width, small.height)
    assert abs(proof.mean() - shrunk.mean()) < 0.004
    assert np.abs(proof - shrunk).mean() < 0.012


def test_a_faded_block_goes_from_tone_to_tone():
    source = block(width=100, height=80, fade="straight", fade_angle=0, tone=0.2, tone_to=0.9)

    ink, frame = ink_of(sheet_of(source))

    row = ink[ink.shape[0] // 2]
    at = [round((10 + share * 100) * frame.px_per_mm) for share in (0.02, 0.5, 0.98)]
    assert 1 - row[at] == pytest.approx([0.214, 0.55, 0.886], abs=0.02)


def test_another_photo_lies_where_it_is_put_and_is_drawn_as_alone():
    source = {
        "kind": "photo",
        "picture": {"photo": "ramp", "position": {"x": 60, "y": 45, "width": 60}},
    }

    ink, frame = ink_of(sheet_of(source))

    row = 1 - ink[ink.shape[0] // 2]
    left, right = round(31 * frame.px_per_mm), round(89 * frame.px_per_mm)
    assert np.all(np.diff(row[left:right]) > -0.01)
    assert row[left] == pytest.approx(1 / 60, abs=0.02) and row[right] > 0.95
    assert ink[: round(20 * frame.px_per_mm)].max() == 0


def test_a_photo_that_is_not_there_is_said():
    source = {"kind": "photo", "picture": {"photo": "gone"}}

    with pytest.raises(Exception, match="not here"):
        ink_of(sheet_of(source), press=Press())


def test_what_is_printed_beneath_is_drawn_anew_and_can_take_its_place():
    first = block(width=60, height=40)
    over = {"kind": "beneath"}
    sheet = sheet_of(first, over)
    negative = sheet.plates[1].tone.model_copy(update={"invert": True})

    alone, _ = ink_of(sheet_of(first))
    both, _ = ink_of(sheet)
    turned = sheet.with_plate(sheet.plates[1].model_copy(update={"tone": negative}))
    covering = turned.plates[1].photo.model_copy(update={"covers": True})
    replaced = turned.with_plate(turned.plates[1].model_copy(update={"photo": covering}))

    assert np.allclose(both, alone, atol=0.01)
    assert ink_of(turned)[0].min() > 0.99
    assert np.allclose(ink_of(replaced)[0], 1 - alone, atol=0.01)


def test_the_print_beneath_follows_what_lies_there():
    over = {"kind": "beneath"}
    press = Press(stock=STOCK)
    for width in (60, 80):
        sheet = sheet_of(block(width=width, height=40), over)
        sheet = sheet.with_plate(sheet.plates[0].model_copy(update={"shown": False}))
        assert ink_of(sheet, press=press)[0].max() == 0
        shown = sheet.with_plate(sheet.plates[0].model_copy(update={"shown": True}))
        area = ink_of(shown, press=press)[0].sum()
        assert area == pytest.approx(width * 40 * 16, rel=0.02)


def test_the_outline_of_the_subject_reaches_as_far_as_asked():
    rgb = np.full((300, 400, 3), 230, np.uint8)
    yy, xx = np.indices((300, 400))
    disc = np.hypot(xx - 200, yy - 150) < 60
    rgb[disc] = (30, 90, 40)
    photo = Photo(rgb, "disc")
    sheet = sheet_of(block(figure="cutout", grow=6), paper={"size": "as-picture", "long_edge": 100})
    frame = whole(sheet, photo, 800)

    ink = 1 - Press().proof(photo, sheet, frame, exact=True)

    radius = math.sqrt(ink.sum() / math.pi) / frame.px_per_mm
    assert radius == pytest.approx(60 / 4 + 6, abs=0.3)


def test_the_outline_of_the_subject_is_as_wide_on_another_paper_in_the_same_pixels():
    rgb = np.full((300, 400, 3), 230, np.uint8)
    rgb[100:200, 150:250] = (30, 90, 40)
    photo, press, areas = Photo(rgb, "square"), Press(), []
    for long_edge in (100, 200):
        paper = {"size": "as-picture", "long_edge": long_edge}
        sheet = sheet_of(block(figure="cutout", grow=6), paper=paper)
        frame = whole(sheet, photo, 800)
        ink = 1 - press.proof(photo, sheet, frame, exact=True)
        areas.append(math.sqrt(ink.sum()) / frame.px_per_mm)

    # Twice as large a subject, and as much round it.
    assert areas[0] == pytest.approx(25 + 12, abs=1.2)
    assert areas[1] == pytest.approx(50 + 12, abs=1.2)


def test_a_draft_of_a_sheet_with_sources_is_like_its_proof():
    sheet = sheet_of(block(width=50, height=40), {"kind": "beneath"})
    frame = whole(sheet, PHOTO, 300)
    press = Press(stock=STOCK)

    draft = press.proof(PHOTO, sheet, frame, draft=True)

    assert np.abs(draft - press.proof(PHOTO, sheet, frame)).mean() < 0.01


def test_a_stage_of_a_plate_shows_what_it_is_drawn_from():
    sheet = sheet_of(block({"x": 30, "y": 30}, width=20, height=20), {"kind": "picture"})
    frame = whole(sheet, PHOTO, 240)
    press = Press(stock=STOCK)

    tone = press.proof(PHOTO, sheet, frame, Subject("stage", "p0", "tone"))
    own = press.proof(PHOTO, sheet, frame, Subject("photo", "p0"))

    assert tone[60, 60] == 0 and tone[170, 200] == 1
    assert own[60, 60].max() == 0 and own[170, 200].min() == 1
    assert not np.array_equal(own, press.proof(PHOTO, sheet, frame, Subject("photo")))


@pytest.mark.parametrize(
    ("source", "said"),
    [
        (block({"x": 1e5}), "far beside"),
        (block(width=0), "0.5 or more"),
        ({"kind": "lettering", "lettering": {"words": "x" * 10_000}}, "2000 characters"),
        ({"kind": "lettering", "lettering": {"own": "no id"}}, "not written as it should be"),
        ({"kind": "cloud"}, "can be"),
    ],
)
def test_sources_that_cannot_be_are_refused_with_a_sentence(source, said):
    with pytest.raises(DocumentError, match=said):
        sheet_of(source)


def sheet_within(inner, **source):
    document = inner.model_dump(mode="json")
    made = sheet_of({"kind": "sheet", "document": document, **source})
    colours = {"colouring": "photo", "blend": "normal"}
    full = {"look": "undrawn", "ink": "full"}
    raw = made.model_dump(mode="json")
    raw["plates"][0] |= {"draw": full, "ink": colours}
    return parsed(Sheet, raw)


def test_another_sheet_is_laid_as_it_prints():
    paper = PAPER | {"colour": "#f0d090"}
    inner = sheet_of(block(width=60, height=40), paper=paper)
    frame = whole(inner, PHOTO, 480)

    alone = Press(stock=STOCK).proof(PHOTO, inner, frame, exact=True)
    outer = Press(stock=STOCK).proof(PHOTO, sheet_within(inner), frame, exact=True)
    half = sheet_within(inner, position={"as_drawn": 0.5})
    smaller = Press(stock=STOCK).proof(PHOTO, half, frame, exact=True)

    assert np.allclose(outer, alone, atol=0.01)
    rows, columns = outer.shape[0] // 4, outer.shape[1] // 4
    middle = smaller[rows : -rows or None, columns : -columns or None]
    assert np.abs(middle - averaged(alone, middle.shape[1], middle.shape[0])).mean() < 0.01
    assert smaller[:rows].min() == 1


def test_what_is_drawn_from_a_print_sees_no_texture_that_does_not_leave():
    paper = {**PAPER, "texture": "laid", "depth": 1.0}
    over = {
        "id": "over",
        "source": {"kind": "beneath"},
        "draw": {"look": "threshold", "level": 0.9},
        "photo": {"covers": True},
    }
    beneath, within = [], []
    for depth in (1.0, 0.0):
        inner = sheet_of(block(width=60, height=40), paper={**paper, "depth": depth})
        raw = inner.model_dump(mode="json")
        raw["plates"].append(over)
        both = parsed(Sheet, raw)
        frame = whole(both, PHOTO, 400)
        beneath.append(Press(stock=STOCK).plate(PHOTO, both, both.plates[1], frame))
        within.append(ink_of(sheet_within(inner).model_copy(update={"paper": OwnSize()}))[0])

    assert np.array_equal(*beneath) and np.array_equal(*within)


def test_a_sheet_names_all_that_the_sheets_in_it_need():
    inner = sheet_of({"kind": "photo", "picture": {"photo": "ramp"}})
    inner = inner.with_plate(inner.plates[0].with_hand("clean", "b" * 64))

    outer = sheet_within(inner)

    assert outer.photos == ["blobs", "ramp"] and outer.hand_work == ["b" * 64]


def test_a_sheet_in_a_sheet_in_a_sheet_is_refused():
    inner = sheet_within(sheet_of(block()))

    with pytest.raises(DocumentError, match="itself drawn from a sheet"):
        sheet_within(inner)


def test_a_copy_of_a_sheet_with_another_sheet_in_it_is_drawn_from_that():
    first, second = (sheet_of(block(width=width, height=40)) for width in (20, 80))
    outer = sheet_within(first)
    assert outer.within["p0"] == first

    source = outer.plates[0].source.model_copy(update={"document": second.model_dump(mode="json")})
    other = outer.with_plate(outer.plates[0].model_copy(update={"source": source}))

    assert other.within["p0"] == second


def test_sheets_within_each_other_without_end_are_refused():
    document = {}
    for _ in range(150):
        document = {"plates": [{"source": {"kind": "sheet", "document": document}}]}

    with pytest.raises(DocumentError, match="itself drawn from a sheet"):
        parsed(Sheet, document)
