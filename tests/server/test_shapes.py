"""Shapes of a sheet, as the page asks for them."""

import json
import threading

import cv2
import numpy as np
import pytest

from flinz.core.press.stopping import check
from flinz.core.trace.changes import MAX_CHANGES
from flinz.errors import NotReadyError
from flinz.server import tracings
from flinz.server.routes import shapes as route
from flinz.server.tracings import Tracings
from tests.charts import png
from tests.server.live import one_answer, settled_answer, view

KEY = "0" * 64


def two_pieces():
    values = np.full((240, 320), 230, np.uint8)
    values[60:120, 40:100] = 20
    cv2.circle(values, (230, 170), 30, 20, -1)
    return png(values)


@pytest.fixture
def sheet(client):
    file = {"file": ("photo.png", two_pieces())}
    photo = client.post("/api/photos", files=file).json()["id"]
    record = client.post("/api/sheets", json={"photo": photo, "recipe": "threshold"}).json()
    changed = {**record["sheet"], "paper": {**record["sheet"]["paper"], "long_edge": 80}}
    body = {"base": record["revision"], "sheet": changed, "words": "Smaller"}
    return client.put(f"/api/sheets/{record['id']}", json=body).json()


def traced(client, sheet, **wish):
    address = f"/api/sheets/{sheet['id']}/shapes"
    while True:
        state = client.post(address, json={"wish": wish}).json()
        if state.get("shapes") or "detail" in state:
            return state


def change(client, sheet, key, changes, act=None, **wish):
    body = {"key": key, "wish": wish, "changes": changes, "act": act}
    return client.post(f"/api/sheets/{sheet['id']}/shapes/changed", json=body)


def red_square(client, sheet):
    """The key of a sheet's tracing, and the change that makes its square red."""
    state = traced(client, sheet)
    square = next(k for k, each in enumerate(state["shapes"]["shapes"]) if not each["white"])
    act = {"verb": "colour", "shapes": [square], "colour": "#ff0000"}
    return state["key"], change(client, sheet, state["key"], [], act).json()["changes"]


def test_a_sheet_is_traced_once_and_its_shapes_are_told_once(client, sheet):
    state = traced(client, sheet)
    shapes = state["shapes"]["shapes"]
    ink = [each for each in shapes if not each["white"]]

    known = client.post(
        f"/api/sheets/{sheet['id']}/shapes", json={"wish": {}, "known": state["key"]}
    ).json()

    assert len(ink) == 2 and len(shapes) == 3
    assert ink[0]["box"] == pytest.approx([10, 15, 25, 30], abs=0.3)
    assert ink[0]["path"].startswith("M") and ink[0]["path"].endswith("z")
    assert known == {"key": state["key"], "share": 1.0, "shapes": None}


def test_what_is_done_to_shapes_comes_back_as_changes_and_is_kept_with_the_sheet(client, sheet):
    state = traced(client, sheet)
    number = next(k for k, each in enumerate(state["shapes"]["shapes"]) if not each["white"])
    act = {"verb": "colour", "shapes": [number], "colour": "#ff0000"}

    done = change(client, sheet, state["key"], [], act).json()
    body = {"base": sheet["revision"], "sheet": {**sheet["sheet"], "shapes": done["changes"]}}
    kept = client.put(f"/api/sheets/{sheet['id']}", json={**body, "words": done["said"]}).json()
    again = change(client, sheet, state["key"], kept["sheet"]["shapes"]).json()

    assert done["said"] == "1 shape recoloured"
    assert [(each["of"], each["colour"]) for each in done["shapes"]] == [([number], "#ff0000")]
    assert again["shapes"] == done["shapes"] and kept["undo"] == done["said"]
    # What is changed of shapes makes no new tracing.
    assert traced(client, sheet)["key"] == state["key"]
    assert client.post(f"/api/sheets/{sheet['id']}/undo").json()["sheet"]["shapes"] == []


def test_what_is_beneath_follows_changed_shapes(client, sheet):
    state = traced(client, sheet)
    number = next(k for k, each in enumerate(state["shapes"]["shapes"]) if not each["white"])
    act = {"verb": "delete", "shapes": [number]}
    changes = change(client, sheet, state["key"], [], act).json()["changes"]
    body = {
        "key": state["key"],
        "wish": {"under_layer": 1, "outline": 2, "under_colour": "#00ff00"},
    }
    address = f"/api/sheets/{sheet['id']}/shapes/beneath"

    both = client.post(address, json={**body, "changes": []}).json()
    one = client.post(address, json={**body, "changes": changes}).json()

    assert [each["name"] for each in both] == ["Outline", "Under-layer"]
    assert {each["colour"] for each in both} == {"#00ff00"}
    assert [each["path"].count("M") for each in both] == [2, 2]
    assert [each["path"].count("M") for each in one] == [1, 1]


def test_true_marks_are_shown_behind_and_are_no_shapes(client, sheet):
    stipple = {**sheet["sheet"]["plates"][0], "draw": {"look": "stipple"}}
    body = {"base": sheet["revision"], "sheet": {**sheet["sheet"], "plates": [stipple]}}
    client.put(f"/api/sheets/{sheet['id']}", json={**body, "words": "Stipple"})

    state = traced(client, sheet)

    assert state["shapes"]["shapes"] == [] and state["shapes"]["plates"] == []
    assert state["shapes"]["loose"].startswith("data:image/png;base64,")


def test_a_tracing_that_is_not_held_and_one_that_is_too_large_are_said(client, sheet, monkeypatch):
    gone = change(client, sheet, KEY, [])
    monkeypatch.setattr(route, "MAX_SHAPES", 2)

    assert gone.status_code == 404 and "Trace the sheet again" in gone.json()["detail"]
    assert "3 shapes" in traced(client, sheet)["detail"]


def test_a_tracing_is_told_how_far_it_is_and_can_be_stopped():
    works, far = Tracings(), threading.Event()
    begun = threading.Event()

    def make(progress, stop):
        begun.set()
        progress(0.4)
        while not far.is_set():
            check(stop)
        return "traced"

    share, found = works.begin(KEY, make)
    begun.wait(10)
    works.stop(KEY)
    far_again, _ = works.begin(KEY, make)
    far.set()
    while found is None:
        share, found = works.begin(KEY, make)

    assert 0 <= far_again < 1 and (share, found) == (1.0, "traced")
    assert works.held(KEY) == "traced" and works.held("1" * 64) is None
    works.close()


def test_a_tracing_that_nobody_asks_for_is_given_up(monkeypatch):
    monkeypatch.setattr(tracings, "LEFT_SECONDS", 0.0)
    works = Tracings()

    def make(progress, stop):
        while True:
            check(stop)

    with pytest.raises(NotReadyError, match="stopped"):
        works.begin(KEY, make)
    works.close()


def test_a_sheet_holds_thousands_of_changed_shapes_and_says_where_they_are_too_many(client, sheet):
    part = {"plate": "plate-1", "area": 0.01, "places": [10_000, 10_000] * 60}
    changes = [{"of": [part], "colour": "#ff0000"}] * MAX_CHANGES
    body = {"base": sheet["revision"], "words": "Many"}
    address = f"/api/sheets/{sheet['id']}"

    kept = client.put(address, json={**body, "sheet": {**sheet["sheet"], "shapes": changes}})
    more = {**sheet["sheet"], "shapes": [*changes, *changes[:1]]}
    refused = client.put(address, json={**body, "base": kept.json()["revision"], "sheet": more})

    assert kept.status_code == 200 and len(kept.json()["sheet"]["shapes"]) == MAX_CHANGES
    assert refused.status_code == 422


def test_a_turned_dial_shows_changed_shapes_before_it_is_traced_anew(client, sheet):
    key, changes = red_square(client, sheet)
    turned = {**sheet["sheet"], "shapes": changes}
    plate = turned["plates"][0]
    turned["plates"] = [{**plate, "draw": {**plate["draw"], "level": 0.45}}]

    with client.websocket_connect("ws://localhost/api/sheets/live") as socket:
        found = []
        for number, known in enumerate((key, "")):
            views = [view("main", exact=True, traced=known)]
            socket.send_text(json.dumps({"ask": number, "sheet": turned, "views": views}))
            _, rows = settled_answer(socket)
            # The middles of the square and of the disc, at 1.6 px a mm.
            found.append([rows[36, 28].tolist(), rows[68, 92].tolist()])

    assert found == [[[255, 0, 0], [0, 0, 0]], [[0], [0]]]


def test_a_sheet_that_lies_on_another_is_shown_with_its_changed_shapes(client, sheet):
    _, changes = red_square(client, sheet)
    plate = {
        "id": "laid",
        "source": {"kind": "sheet", "document": {**sheet["sheet"], "shapes": changes}},
        "draw": {"look": "undrawn", "ink": "full"},
        "ink": {"colouring": "photo"},
    }
    outer = {**sheet["sheet"], "plates": [plate]}

    with client.websocket_connect("ws://localhost/api/sheets/live") as socket:
        socket.send_text(json.dumps({"ask": 1, "sheet": outer, "views": [view("main")]}))
        _, rows = settled_answer(socket)

    # The middles of the square and of the disc, at 1.6 px a mm.
    assert [rows[36, 28].tolist(), rows[68, 92].tolist()] == [[255, 0, 0], [0, 0, 0]]


def test_a_stroke_over_changed_shapes_leaves_what_it_does_not_touch(client, sheet):
    key, changes = red_square(client, sheet)
    # Over the middle of the disc.
    stroke = {
        "plate": sheet["sheet"]["plates"][0]["id"],
        "stage": "clean",
        "verb": "white-out",
        # Many pixels of a draft, too, which is coarser the slower the machine is.
        "size_mm": 8,
        "hardness": 1,
        "points": [[0.72, 0.7, 1]],
    }
    drawn = {**sheet["sheet"], "shapes": changes}
    views = [view("main", exact=True, traced=key)]

    with client.websocket_connect("ws://localhost/api/sheets/live") as socket:
        for number, unfinished in enumerate((None, stroke)):
            ask = {"ask": number, "sheet": drawn, "views": views, "unfinished": unfinished}
            socket.send_text(json.dumps(ask))
            head, rows = one_answer(socket)
            # A stroke is painted over what has settled.
            while head["ask"] != number or (unfinished is None and head["draft"]):
                head, rows = one_answer(socket)
            found = [rows[36, 28].tolist(), rows[68, 92].tolist(), rows[74, 84].tolist()]
            if number == 0:
                assert found == [[255, 0, 0], [0, 0, 0], [0, 0, 0]]

    # The square, the middle of the disc, and its rim.
    assert found == [[255, 0, 0], [255, 255, 255], [0, 0, 0]]
