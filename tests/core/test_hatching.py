"""Lines that carry tone: where they lie, where they break, and the ink they leave."""

import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from flinz.core.dial import dial_of
from flinz.core.document import builtin
from flinz.core.document.plate import Plate
from flinz.core.document.setting import with_value
from flinz.core.document.sheet import Sheet
from flinz.core.keeping import keep_nothing
from flinz.core.looks.registry import LOOKS
from flinz.core.marks.hatching import (
    MAX_POINTS,
    bent,
    broken,
    laid_in,
    on_sheet,
    predicted_points,
    read,
    roughly_settled,
    ruled,
    settled,
)
from flinz.core.marks.pen import strokes_cover
from flinz.core.marks.vectors import Strokes
from flinz.core.planes.filters import blurred
from flinz.core.planes.photo import Photo
from flinz.core.press.framing import whole
from flinz.core.press.press import Press
from flinz.core.scale import region_frame, whole_frame
from flinz.core.stages.paper import AsPicture
from flinz.core.stages.tone import Tone
from flinz.errors import DocumentError
from tests.charts import blobs, grey_photo

GRID = whole_frame(60, 240, 180)


def one_line(count=50, width=0.5):
    x = np.arange(count, dtype=np.float32)
    return Strokes(x, np.zeros_like(x), np.full(count, width, np.float32), np.array([0, count]))


@given(st.floats(-180, 180), st.floats(0.4, 8))
def test_ruled_lines_cover_the_sheet_at_their_angle_and_spacing(angle, spacing):
    lines = ruled(GRID, angle, spacing, margin_mm=spacing).lines

    longest = lines.first[np.argmax(lines.points)]
    way = lines.x[longest + 1] - lines.x[longest], -(lines.y[longest + 1] - lines.y[longest])
    turn = math.degrees(math.atan2(way[1], way[0])) - angle
    assert abs((turn + 90) % 180 - 90) < 0.5
    sine, cosine = math.sin(math.radians(angle)), math.cos(math.radians(angle))
    starts = lines.first[:-1]
    across = lines.x[starts] * sine + lines.y[starts] * cosine
    assert np.allclose(np.diff(across), spacing, atol=1e-3)
    corners = np.array([(0, 0), (60, 0), (0, 45), (60, 45)]) @ (sine, cosine)
    assert across.min() <= corners.min() + 1e-3 and across.max() >= corners.max() - 1e-3


def test_a_plane_is_read_linearly_where_it_is_asked_for():
    plane = np.tile(np.arange(240, dtype=np.float32), (180, 1))

    x = np.array([[10.0, 10.1], [30.0, 59.0]], np.float32)
    found = read(plane, GRID, x, np.full((2, 2), 20.0, np.float32))

    assert np.allclose(found, x * 4 - 0.5, atol=0.02)
    assert read(plane, GRID, x[:0], x[:0]).shape == (0, 2)


def test_lines_that_part_are_told_so():
    down = np.repeat(np.arange(180, dtype=np.float32)[:, None] / 4, 240, 1)

    # Straying by a fifth of the height pulls lines a fifth farther apart.
    lines, apart = bent(ruled(GRID, 0, 2.0), 0, np.float32(0.2) * down, GRID)

    assert np.allclose(apart, 1.2, atol=1e-3)
    rows = np.unique(np.round(lines.y[(lines.y > 3) & (lines.y < 40)], 2))
    assert np.allclose(np.diff(rows), 2.4, atol=0.05)


def test_a_line_breaks_where_it_is_not_wanted():
    there = np.zeros(50, np.bool_)
    there[5:10] = there[20:40] = True
    there[45] = True  # a single point is no stroke

    strokes = broken(one_line(), there, 1.0)

    assert [int(strokes.x[k]) for k in strokes.first[:-1]] == [5, 20]
    assert np.diff(strokes.first).tolist() == [5, 20]


@given(st.lists(st.booleans(), min_size=50, max_size=50), st.integers(0, 6))
def test_overshoot_only_adds_and_never_more_than_asked(wanted, more):
    there = np.array(wanted)

    plain = set(broken(one_line(), there, 1.0).x.tolist())
    longer = broken(one_line(), there, 1.0, overshoot_mm=float(more), thinnest_mm=0.1)

    assert plain <= set(longer.x.tolist())
    # A lone point may become a stroke with its overshoot; nothing else is far from the wish.
    near = np.flatnonzero(there)
    assert all(np.abs(near - x).min() <= more for x in longer.x)


def test_strokes_taper_to_their_ends_and_overshoot_at_the_thinnest():
    there = np.zeros(50, np.bool_)
    there[10:40] = True

    strokes = broken(one_line(), there, 1.0, taper_mm=5.0, overshoot_mm=3.0, thinnest_mm=0.1)

    assert strokes.x[0] == 7 and strokes.x[-1] == 42
    assert strokes.width[0] < 0.05 and strokes.width[len(strokes.width) // 2] == 0.5


def test_lines_of_different_strokes_do_not_run_into_each_other():
    lines = ruled(GRID, 0, 5.0).lines

    strokes = broken(lines, np.ones(len(lines.x), np.bool_), 1.0, overshoot_mm=4.0)

    assert np.array_equal(strokes.first, lines.first)


@given(st.integers(0, 1000))
def test_settled_lines_leave_the_wished_ink(seed):
    wish = 0.15 + 0.6 * blobs(180, 240, seed=seed, scale=25)
    ruling = ruled(GRID, 20, 1.0)
    # Every third line is left out: what remains must become half as broad again.
    lines = ruling.lines
    thinned = lines.with_width(np.full_like(lines.x, 0.3))
    there = np.repeat(np.arange(len(lines)) % 3 > 0, lines.points)

    found = broken(thinned, there, ruling.step)
    wished = blurred(wish, 8)

    def off(strokes):
        assert strokes.width.min() >= np.float32(0.1)
        ink = blurred(strokes_cover(strokes, GRID), 8)
        return np.abs(ink - wished)[20:-20, 20:-20].mean()

    assert off(settled(found, wish, GRID, 1.0, 0.1, 3.0, rounds=4)) < 0.03
    # Of what is lacking before a draft leaves less than a fifth.
    rough = roughly_settled(found, wish, GRID, 1.0, 0.1, 3.0, ruling.step)
    assert off(rough) < 0.2 * off(found)


@pytest.mark.parametrize("name", ["crosshatch", "contour-hatch", "loose-hatch", "line-screen"])
def test_too_many_points_are_refused_with_a_way_on(name):
    photo = grey_photo(np.full((30, 40), 90))
    dial = {"line-screen": "ruling", "loose-hatch": "line_gap"}.get(name, "spacing")
    tight = {dial: 80.0 if dial == "ruling" else 0.2}
    plate = Plate(draw=LOOKS[name].settings(**tight))
    sheet = Sheet(plates=[plate], paper=AsPicture(long_edge=2000))

    with pytest.raises(DocumentError, match="Choose"):
        Press().marks(photo, sheet, plate)


@given(st.floats(-90, 90), st.floats(0.3, 5))
def test_the_number_of_points_is_known_beforehand(angle, spacing):
    sheet = whole_frame(200, 800, 600)
    points = len(ruled(sheet, angle, spacing, margin_mm=spacing).lines.x)

    assert points == pytest.approx(predicted_points(sheet, spacing, 1), rel=0.05)


def test_the_finest_lines_of_the_tracks_can_be_drawn_on_a_new_sheet():
    square = whole_frame(200, 800, 800)
    for name, dial in (("crosshatch", "spacing"), ("loose-hatch", "line_gap")):
        spacing = dial_of(LOOKS[name].settings, dial).low
        layers = round(dial_of(LOOKS[name].settings, "layers").high)

        assert predicted_points(square, spacing, layers) < MAX_POINTS


@pytest.mark.parametrize("lean", [0.43, 0.91, 1.77])
def test_lines_that_run_aslant_leave_the_same_ink(lean):
    right = np.tile(np.arange(240, dtype=np.float32) / 4, (180, 1))

    lines, apart = bent(ruled(GRID, 0, 2.0, margin_mm=110), 0, np.float32(lean) * right, GRID)
    strokes = lines.with_width(np.asarray(0.6 * apart, np.float32))

    assert strokes_cover(strokes, GRID)[20:-20, 20:-20].mean() == pytest.approx(0.3, abs=0.01)


@pytest.mark.parametrize("name", ["stipple", "crosshatch", "contour-hatch", "loose-hatch"])
def test_a_draft_has_the_tone_of_the_settled_drawing(name, face):
    sheet = Sheet(plates=[Plate(draw=LOOKS[name].settings())])
    frame = whole(sheet, face, 800)

    draft, drawn = (Press().proof(face, sheet, frame, draft=draft) for draft in (True, False))

    sigma = frame.px(2.0)
    assert np.abs(blurred(draft, sigma) - blurred(drawn, sigma)).mean() < 0.03


@pytest.mark.parametrize("name", ["crosshatch", "contour-hatch", "loose-hatch"])
def test_marks_do_not_depend_on_the_size_of_the_proof(name, face):
    plate = Plate(draw=LOOKS[name].settings())
    sheet, press = Sheet(plates=[plate]), Press()
    for edge in (300, 900):
        press.proof(face, sheet, whole(sheet, face, edge))

    # The strokes of the whole sheet were placed once, and served both proofs.
    assert press.counts[f"whole:{name}:{'lines' if name == 'contour-hatch' else 'strokes'}"] == 1


@pytest.mark.parametrize("ink", [0.055, 0.065, 0.075, 0.085, 0.095])
def test_of_the_thinnest_lines_fewer_carry_lighter_tones(ink):
    even = Photo(np.full((300, 400, 3), round((1 - ink) * 65535), np.uint16), f"{ink}")
    plain = {"wobble": 0, "taper": 0, "overshoot": 0, "lightest": 1, "darkest": 0, "edges": 0}
    plate = Plate(draw=LOOKS["crosshatch"].settings(**plain))
    sheet = Sheet(plates=[plate])

    cover = Press().cover(even, sheet, plate, whole(sheet, even, 1600), exact=True)

    # A tenth is what all of them leave.
    assert cover.mean() == pytest.approx(ink, abs=0.004)


def test_crosshatch_lines_are_crossed_only_in_the_dark():
    light = Plate(draw=LOOKS["crosshatch"].settings(wobble=0, overshoot=0))
    sheet = Sheet(plates=[light])

    def lines(grey):
        return len(Press().marks(grey_photo(np.full((60, 80), grey), str(grey)), sheet, light))

    assert lines(250) == 0
    assert lines(40) > 1.5 * lines(190) > 0


def test_outlines_are_drawn_beneath_crosshatch():
    y, x = np.mgrid[-60:60, -80:80]
    photo = grey_photo(np.where(np.hypot(x, y) < 40, 200, 255))
    plain = LOOKS["crosshatch"].settings(lightest=0.5)
    sheet = Sheet(plates=[Plate(draw=plain)])
    lined = Sheet(plates=[Plate(draw=plain.model_copy(update={"outlines": 0.8}))])
    frame = whole(sheet, photo, 400)

    bare, drawn = (Press().proof(photo, s, frame) for s in (sheet, lined))

    assert bare.min() == 1.0
    ring = drawn < 0.5
    assert ring.any() and not ring[150, 200]


def test_loose_hatching_seldom_lifts_the_pen():
    photo = grey_photo(np.full((120, 160), 60))
    plate = Plate(draw=LOOKS["loose-hatch"].settings(layers=1, unevenness=0))

    line = Press().marks(photo, Sheet(plates=[plate]), plate)

    # One sweep of the sheet is about 200 mm; the pen goes on for many.
    length = np.hypot(np.diff(line.x), np.diff(line.y)).sum()
    assert length / len(line) > 1000


def test_chalk_draws_the_lights():
    photo = grey_photo(np.repeat([30, 230], 80)[None].repeat(120, 0))
    sheet = Sheet(plates=[Plate(draw=LOOKS["loose-hatch"].settings(chalk=True))])

    drawn = Press().proof(photo, sheet, whole(sheet, photo, 400))

    assert drawn[:, :180].mean() < 0.02 and drawn[:, 220:].mean() > 0.3


def test_stretches_too_short_to_draw_are_left_out():
    there = np.zeros(50, np.bool_)
    there[5:8] = there[20:40] = True

    strokes = broken(one_line(), there, 1.0, shortest_mm=5.0)

    assert strokes.x[0] == 20 and len(strokes) == 1


@pytest.mark.parametrize("name", ["crosshatch", "contour-hatch"])
def test_black_is_black(name):
    photo = grey_photo(np.zeros((120, 160)))
    sheet = Sheet(plates=[Plate(draw=LOOKS[name].settings())])

    drawn = Press().proof(photo, sheet, whole(sheet, photo, 1400), exact=True)

    assert drawn[40:-40, 40:-40].mean() < 0.004


@given(
    st.floats(0.3, 3.0),
    st.floats(-90, 90),
    st.lists(st.floats(0, 1), min_size=4, max_size=4),
)
def test_lines_of_a_part_are_those_of_the_sheet_that_lie_there(spacing, angle, sides):
    left, right = sorted(sides[:2])
    top, bottom = sorted(sides[2:])
    grid = whole_frame(90.0, 180, 120)
    part = region_frame(grid, (left, top, right, bottom))

    def lay(frame):
        ruling = ruled(frame, angle, spacing)
        return ruling.lines, (np.repeat(ruling.number, ruling.lines.points),), ruling.step

    def points(lines, columns):
        inside = on_sheet(lines.x, lines.y, part, -1e-3)
        places = zip(lines.x[inside], lines.y[inside], columns[0][inside], strict=True)
        return {(round(float(x), 3), round(float(y), 3), int(n)) for x, y, n in places}

    lines, columns, step = laid_in(part, keep_nothing, "ruled", lay)
    all_lines, all_columns, all_step = laid_in(grid, keep_nothing, "ruled", lay)

    assert step == all_step and len(columns[0]) == len(lines.x)
    assert on_sheet(lines.x, lines.y, part, 1e-3).all() or part.in_blocks(50) == part
    assert points(lines, columns) == points(all_lines, all_columns)


def broken_by_hand(lines, there, step, taper, overshoot, thinnest, shortest):
    """The strokes of broken() as (points, widths), one line and one stretch after the other."""
    more, strokes = round(overshoot / step), []
    for begin, end in zip(lines.first[:-1], lines.first[1:], strict=True):
        wanted = np.zeros(end - begin, bool)
        edges = np.flatnonzero(np.diff(np.concatenate([[0], there[begin:end], [0]])))
        for start, stop in edges.reshape(-1, 2):
            wanted[start:stop] = (stop - start) * step >= shortest - 1e-9
        reached = (
            np.convolve(wanted, np.ones(2 * more + 1), "full")[more : more + len(wanted)] > 0.5
        )
        edges = np.flatnonzero(np.diff(np.concatenate([[0], reached, [0]])))
        for start, stop in edges.reshape(-1, 2):
            if stop - start < 2:
                continue
            at = np.arange(start, stop)
            width = np.where(wanted[at], lines.width[begin + at], thinnest)
            if taper:
                from_end = np.minimum(at - start, stop - 1 - at) * step
                width = width * np.sqrt(np.clip(from_end / taper + 0.1, 0, 1))
            strokes.append((begin + at, width))
    return strokes


@given(
    st.lists(st.integers(1, 30), min_size=1, max_size=6),
    st.integers(0, 2**32 - 1),
    st.floats(0.05, 0.95),
    st.sampled_from([0.0, 1.3]),
    st.sampled_from([0.0, 0.4, 1.0]),
    st.sampled_from([0.0, 0.6]),
)
def test_lines_break_as_they_would_by_hand(lengths, seed, share, taper, overshoot, shortest):
    rng = np.random.default_rng(seed)
    first = np.concatenate([[0], np.cumsum(lengths)]).astype(np.int64)
    x, y, width = rng.random((3, first[-1]), dtype=np.float32)
    lines, there = Strokes(x, y, width, first), rng.random(first[-1]) < share

    found = broken(lines, there, 0.2, taper, overshoot, 0.05, shortest)

    expected = broken_by_hand(lines, there, 0.2, taper, overshoot, 0.05, shortest)
    assert found.points.tolist() == [len(points) for points, _ in expected]
    if expected:
        points = np.concatenate([points for points, _ in expected])
        assert np.array_equal(found.x, x[points]) and np.array_equal(found.y, y[points])
        assert np.allclose(found.width, np.concatenate([w for _, w in expected]), atol=1e-6)


def test_a_restless_pen_goes_on_without_a_jump(face):
    plate = Plate(draw=LOOKS["loose-hatch"].settings(line_gap=1.5))
    line = Press().marks(face, Sheet(plates=[plate]), plate)

    ways = np.hypot(np.diff(line.x), np.diff(line.y))
    ways[line.first[1:-1] - 1] = 0
    assert len(line) < len(line.x) / 20
    assert ways.max() < 3 * 1.5


def test_a_tone_dial_bends_no_line_anew(face):
    press = Press()
    for name in ("crosshatch", "loose-hatch"):
        press.counts.clear()
        for lightest in (0.8, 0.85):
            plate = Plate(draw=LOOKS[name].settings(lightest=lightest))
            press.marks(face, Sheet(plates=[plate]), plate)
        layers = round(plate.draw.layers)
        assert press.counts[f"whole:{name}:strokes"] == 2
        assert press.counts[f"paper:{name}:laid"] == layers


@given(st.integers(30, 199), st.booleans())
@settings(max_examples=12)
def test_lines_that_follow_the_form_are_drawn_on_a_sheet_of_any_shape(width, draft):
    photo = grey_photo(np.tile(np.linspace(0, 255, width), (211, 1)))
    for turned in (photo, Photo(np.ascontiguousarray(photo.pixels.swapaxes(0, 1)), "turned")):
        sheet = Sheet(plates=[Plate(draw=LOOKS["crosshatch"].settings(follow=0.5))])

        drawn = Press().proof(turned, sheet, whole(sheet, turned, 90), draft=draft)

        assert 0.02 < 1 - drawn.mean() < 0.98


def test_lines_that_follow_nothing_stay_whatever_the_tone(face):
    press = Press()
    for follow, wanted in ((0.0, 1), (0.5, 2)):
        for contrast in (0.0, 0.2):
            draw = LOOKS["crosshatch"].settings(follow=follow, layers=1)
            plate = Plate(tone=Tone(contrast=contrast), draw=draw)
            press.marks(face, Sheet(plates=[plate]), plate)
        where = "whole" if follow else "paper"
        assert press.counts[f"{where}:crosshatch:laid"] == wanted


def test_a_draft_keeps_the_lines_that_are_laid_already(face):
    press, sheet = Press(), builtin.named("contour-hatch").on(face.key, "")
    frame = whole(sheet, face, 400)
    press.proof(face, sheet, frame)
    laid = "whole:contour-hatch:lines"

    press.proof(face, with_value(sheet, "draw.thinnest", 0.15), frame, draft=True)
    assert press.counts[laid] == 1

    turned = with_value(sheet, "draw.angle", 60.0)
    press.proof(face, turned, frame, draft=True)
    assert press.counts[laid] == 2
    # The draft laid rougher ones, which do not serve the settled drawing.
    press.proof(face, turned, frame)
    assert press.counts[laid] == 3


@pytest.mark.parametrize("name", ["contour-hatch", "crosshatch", "loose-hatch"])
def test_details_are_drawn_with_the_strokes_of_the_whole(name, face):
    press, sheet = Press(), builtin.named(name).on(face.key, "")
    frame = whole(sheet, face, 1600)
    kind = f"whole:{name}:strokes"

    for left in (0.1, 0.3, 0.5):
        press.proof(face, sheet, region_frame(frame, (left, 0.3, left + 0.2, 0.5)))

    assert press.counts[kind] == 1
    # An edge that weighs more asks for other strokes.
    press.proof(face, with_value(sheet, "draw.edges", 0.9), frame)
    assert press.counts[kind] == 2
