"""A stroke that is being made: what stands stays as it is, and only what lies round it is new."""

from itertools import count

import numpy as np
import pytest
from fastapi.testclient import TestClient
from hypothesis import given
from hypothesis import strategies as st

from flinz.core.document.picture import Position
from flinz.core.document.setting import with_value
from flinz.core.document.sheet import Sheet
from flinz.core.scale import whole_frame
from flinz.core.stages.paper import OwnSize
from flinz.server import schedule, standing
from flinz.server.said import SaidStroke
from flinz.server.standing import GIVES_WAY_MM, Measured, Patch, Standing, Stood, around
from flinz.server.views import Answer, View
from tests.charts import blobs, png
from tests.server.apps import ready_app
from tests.server.live import one_answer, view

LIVE = "ws://localhost/api/sheets/live"
EDGE = 960
FRAME = whole_frame(200.0, 400, 300)
shares = st.floats(-0.2, 1.2)
STROKE = {
    "stage": "tone",
    "verb": "darken",
    "size_mm": 16,
    "hardness": 1,
    "points": [[0.4, 0.5, 1], [0.5, 0.55, 1]],
}
lines = st.lists(st.tuples(shares, shares, st.just(1.0)), min_size=1, max_size=6)


def said(points, size_mm=10.0, **more):
    return SaidStroke(
        plate="plate-1", stage="tone", verb="lighten", size_mm=size_mm, points=points, **more
    )


def distance(points):
    """From each pixel's middle to the line, px."""
    x, y = np.meshgrid(np.arange(400) + 0.5, np.arange(300) + 0.5)
    places = np.array(points)[:, :2] * (400, 300)
    away = np.full(x.shape, np.inf)
    for k in range(max(1, len(places) - 1)):
        start, end = places[k], places[min(k + 1, len(places) - 1)]
        way = end - start
        long = max(way @ way, 1e-9)
        t = np.clip(((x - start[0]) * way[0] + (y - start[1]) * way[1]) / long, 0, 1)
        away = np.minimum(away, np.hypot(x - start[0] - t * way[0], y - start[1] - t * way[1]))
    return away


@given(lines, st.floats(1, 20), st.floats(0, 8))
def test_all_that_a_stroke_reaches_is_drawn_anew_and_nothing_far_off(points, size_mm, answers_mm):
    found = around(said(points, size_mm), FRAME, answers_mm)
    away, reach = distance(points), 2 * (size_mm / 2 + answers_mm)
    soft = 2 * GIVES_WAY_MM
    if found is None:
        # Beside the sheet, or nearly all over it.
        assert away.min() > reach or np.ptp(np.array(points), axis=0)[:2].max() > 0.3
        return
    part, share = found
    whole = np.zeros((300, 400), np.float32)
    whole[part.slices_in(FRAME)] = share

    # A square brush blurs the edge: farther along its corners.
    assert whole[away > reach + 1.5 * soft + 3].max(initial=0) == 0
    assert whole[away < reach - 1.5 * soft - 3].min(initial=1) == pytest.approx(1)


def test_a_stroke_over_most_of_the_picture_is_no_part_of_it():
    assert around(said([(0.0, 0.0, 1.0), (1.0, 1.0, 1.0)]), FRAME, 0.0) is None


def stood(pixels, sheet=None, **more):
    head = Answer(
        ask=1, view="main", left=0, top=0, width=400, height=300, full_width=400, full_height=300,
        channels=1, ms=1.0, **more,
    )  # fmt: skip
    return Stood(sheet or Sheet(), View(id="main", long_edge_px=400), head, pixels)


@pytest.mark.parametrize("scale", [1.0, 0.8, 0.5])
def test_what_is_drawn_on_coarser_pixels_lies_where_it_belongs(scale):
    # A slope: wherever it were shifted to, it would be another.
    slope = np.tile(np.linspace(0.1, 0.9, 400, dtype=np.float32), (300, 1))
    stroke = said([(0.4, 0.5, 1.0), (0.5, 0.6, 1.0)])
    part, share = around(stroke, FRAME, 2.0)
    patch = Patch(stroke, stood(np.full((300, 400), 7, np.uint8)), FRAME, part, share)
    smaller = whole_frame(200.0, round(400 * scale), round(300 * scale))
    frame = patch.coarse(smaller)
    columns = (np.arange(frame.left, frame.right) + 0.5) / scale - 0.5
    drawn = np.tile(np.interp(columns, np.arange(400), slope[0]), (frame.height, 1))

    found = patch.laid_over(drawn.astype(np.float32), frame)

    new = np.zeros((300, 400), np.float32)
    new[part.slices_in(FRAME)] = share
    assert np.abs(found[new > 0.999] - 255 * slope[new > 0.999]).max() <= 1.5
    assert (found[new == 0] == 7).all()


def test_colour_over_a_grey_picture_makes_it_one_of_colours():
    stroke = said([(0.5, 0.5, 1.0)])
    part, share = around(stroke, FRAME, 2.0)
    patch = Patch(stroke, stood(np.full((300, 400), 255, np.uint8)), FRAME, part, share)
    red = np.broadcast_to(np.float32([1, 0, 0]), (part.height, part.width, 3))

    found = patch.laid_over(red, part)

    assert found.shape == (300, 400, 3)
    assert found[150, 200].tolist() == [255, 0, 0] and found[0, 0].tolist() == [255, 255, 255]


def test_once_a_stroke_is_made_what_was_painted_stands_for_its_sheet_alone():
    before = Sheet()
    made = before.with_plate(before.plates[0].with_hand("tone", "a" * 64))
    turned = with_value(made, "tone.contrast", 0.5)
    painted = stood(np.zeros((300, 400), np.uint8), before)

    def shown():
        found = Standing()
        found.settle(stood(np.full((300, 400), 255, np.uint8), before))
        found.paint(said([(0.5, 0.5, 1.0)]), painted)
        return found

    assert shown().under(before, painted.view).pixels[0, 0] == 255
    assert shown().under(made, painted.view).pixels[0, 0] == 0
    assert shown().under(turned, painted.view) is None
    other = painted.view.model_copy(update={"long_edge_px": 500})
    assert shown().under(before, other) is None


def test_a_stroke_that_is_given_up_stands_for_no_sheet():
    before = Sheet()
    sooner = before.with_plate(before.plates[0].with_hand("tone", "a" * 64))
    white, black = (np.full((300, 400), value, np.uint8) for value in (255, 0))
    page = Standing()
    page.settle(stood(white, before))
    page.paint(said([(0.5, 0.5, 1.0)]), stood(black, before))

    page.left(before)

    # What was undone then is another list of strokes, and not this one.
    assert page.under(sooner, stood(white).view) is None
    assert page.under(before, stood(white).view).pixels is white


def test_figures_of_drafts_are_worked_out_as_often_as_they_can_be_read(monkeypatch):
    clock, counts = [10.0], count(1)
    monkeypatch.setattr(standing.time, "monotonic", lambda: clock[0])
    page = Standing()

    def told(after, of="a sheet", *, draft=True):
        clock[0] += after
        found = page.measured(of, lambda: Measured(prints=next(counts)), may_be_old=draft)
        return found.prints

    assert [told(0), told(0.05), told(0.05), told(0.06), told(0.05)] == [1, 1, 1, 2, 2]
    assert [told(0.01, draft=False), told(0.01), told(0.01, "another")] == [3, 3, 4]


@pytest.fixture(autouse=True)
def no_look_is_quick(monkeypatch):
    """Each picture is drafted first, however quickly this machine draws it."""
    monkeypatch.setattr(schedule, "DRAFT_ABOVE_MS", -1.0)


@pytest.fixture(scope="module")
def client(tmp_path_factory):
    app = ready_app(tmp_path_factory.mktemp("standing"))
    with TestClient(app, base_url="http://localhost") as client:
        photo = png(70 + blobs(300, 400, scale=30.0) * 120)
        client.post("/api/photos", files={"file": ("blobs.png", photo)})
        yield client


def begun(client, recipe):
    photo = client.get("/api/photos").json()[0]["id"]
    return client.post("/api/sheets", json={"photo": photo, "recipe": recipe}).json()["sheet"]


def pictures(socket, sheet, number, unfinished=None):
    """The drafts of the main picture of an ask, and the settled one."""
    ask = {"ask": number, "sheet": sheet, "views": [view("main", long_edge_px=EDGE)]}
    socket.send_json({**ask, "unfinished": unfinished})
    drafts = []
    while True:
        head, rows = one_answer(socket)
        assert head["ask"] == number
        if not head["draft"]:
            return drafts, rows
        drafts.append(rows)


@pytest.mark.parametrize(
    "recipe", ["stipple", "crosshatch", "loose-hatch", "contour-hatch", "ink-line", "pencil"]
)
def test_while_a_stroke_is_made_the_sheet_stays_and_what_it_touches_is_true(client, recipe):
    sheet = begun(client, recipe)
    stroke = {**STROKE, "plate": sheet["plates"][0]["id"]}
    with client.websocket_connect(LIVE) as socket:
        _, before = pictures(socket, sheet, 1)
        drafts, settled = pictures(socket, sheet, 2, stroke)
        _, once_more = pictures(socket, sheet, 3)
    (draft,) = drafts

    assert np.array_equal(before, once_more)
    far = np.ones(before.shape[:2], bool)
    far[120:640, 120:760] = False
    assert np.array_equal(draft[far], before[far])
    within = slice(280, 460), slice(300, 580)
    ink = [1 - picture[within].mean() / 255 for picture in (before, draft, settled)]
    assert abs(ink[0] - ink[2]) > 0.02
    assert ink[1] == pytest.approx(ink[2], abs=0.2 * abs(ink[0] - ink[2]))


def test_zoomed_in_on_a_picture_that_lies_turned_a_stroke_is_drawn_where_it_is_made(client):
    sheet = Sheet.model_validate(begun(client, "crosshatch"))
    turned = with_value(
        sheet.model_copy(update={"paper": OwnSize(width=200, height=200)}), "ink.colour", "#203080"
    )
    picture = turned.picture.model_copy(update={"position": Position(turn=20.0)})
    document = turned.model_copy(update={"picture": picture}).model_dump(mode="json")
    stroke = {**STROKE, "plate": document["plates"][0]["id"], "points": [[0.5, 0.5, 1]]}
    close = view("main", long_edge_px=2000, region=[0.3, 0.3, 0.75, 0.7])

    def pictures(number, unfinished):
        ask = {"ask": number, "sheet": document, "views": [close], "unfinished": unfinished}
        socket.send_json(ask)
        found = []
        while not found or found[-1][0]["draft"]:
            found.append(one_answer(socket))
        return [rows.astype(int) for _, rows in found]

    with client.websocket_connect(LIVE) as socket:
        *_, before = pictures(1, None)
        draft, settled = pictures(2, stroke)

    changed = np.abs(settled - before).max(axis=2) > 40
    rows, columns = np.nonzero(changed)
    # Of the whole sheet of 2,000 px, the middle.
    assert abs(rows.mean() + 600 - 1000) < 25 and abs(columns.mean() + 600 - 1000) < 25
    assert np.abs(draft - settled).max(axis=2)[changed].mean() < 20
    assert np.array_equal(draft[:60], before[:60])


def test_another_picture_beside_it_brings_no_draft_over_the_one_that_is_shown(client):
    sheet = begun(client, "pencil")
    of = {"what": "stage", "plate": sheet["plates"][0]["id"], "long_edge_px": 60}
    beside = view("look-stipple", look="stipple", **of)
    with client.websocket_connect(LIVE) as socket:
        drafts, shown = pictures(socket, sheet, 1)
        ask = {"ask": 2, "sheet": sheet, "views": [view("main", long_edge_px=EDGE), beside]}
        socket.send_json(ask)
        again, other = (one_answer(socket) for _ in range(2))
        turned = {**sheet, "plates": [{**sheet["plates"][0], "shown": False}]}
        drafts_of_another, _ = pictures(socket, turned, 3)

    assert len(drafts) == len(drafts_of_another) == 1
    assert [head["view"] for head, _ in (again, other)] == ["main", "look-stipple"]
    assert not again[0]["draft"] and np.array_equal(again[1], shown)
