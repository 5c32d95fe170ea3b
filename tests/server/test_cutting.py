"""The cutout, pieces, areas apart and opened spots over the API."""

import json

import numpy as np
import pytest

from flinz.core.hand import pieces as lists
from tests.charts import png


def disc(inside=40, outside=220):
    """A disc in the middle of a photo, and at its left a patch of faint stripes in the dark."""
    rows, columns = np.mgrid[0:150, 0:200]
    picture = np.where(np.hypot(columns - 130, rows - 75) < 40, inside, outside)
    stripes = (columns < 60) & (columns > 15) & (np.abs(rows - 75) < 25)
    return np.where(stripes, 40 + 30 * ((columns // 3) % 2), picture).astype(np.uint8)


@pytest.fixture
def sheet(client):
    """A sheet of the disc, drawn by its level."""
    photo = client.post("/api/photos", files={"file": ("a.png", png(disc()))}).json()["id"]
    begun = client.post("/api/sheets", json={"photo": photo, "recipe": "threshold"}).json()
    begun["sheet"]["plates"][0] |= {"draw": {"look": "threshold", "level": 0.5}, "fitted": []}
    change = {"base": begun["revision"], "sheet": begun["sheet"], "words": "level"}
    return client.put(f"/api/sheets/{begun['id']}", json=change).json()


def painted(client, sheet, **stroke):
    plate = sheet["sheet"]["plates"][0]["id"]
    body = {"sheet_id": sheet["id"], "plate": plate, "size_mm": 4, **stroke}
    return client.post("/api/hand/paint", json=body)


def test_a_stroke_at_the_photo_is_the_cutouts(client, sheet):
    kept = painted(client, sheet, stage="photo", verb="keep", points=[[0.65, 0.5, 1]]).json()
    photo = sheet["sheet"]["picture"]["photo"]
    changed = {**sheet["sheet"], "cutouts": {photo: kept["id"]}}
    change = {"base": sheet["revision"], "sheet": changed, "words": "keep"}
    client.put(f"/api/sheets/{sheet['id']}", json=change)

    more = painted(client, sheet, stage="photo", verb="drop", points=[[0.1, 0.1, 1]]).json()

    assert (kept["count"], more["count"]) == (1, 2)
    refused = painted(client, sheet, stage="photo", verb="lighten", points=[[0.1, 0.1, 1]])
    assert refused.status_code == 422


def test_a_piece_is_painted_whole(client, sheet):
    made = painted(
        client, sheet, stage="clean", verb="white-out", by="piece", points=[[0.65, 0.5, 1]]
    ).json()

    page = client.get(f"/api/hand/pieces/{made['id']}").content
    assert made["count"] == 1 and lists.named_by(page)


def test_all_pieces_like_one_are_painted_at_once(client, sheet):
    made = painted(
        client, sheet, stage="clean", verb="white-out", by="alike", points=[[0.65, 0.5, 1]]
    ).json()
    stripe = painted(
        client, sheet, stage="clean", verb="white-out", by="alike", points=[[0.1025, 0.5, 1]]
    ).json()

    # The disc alone is like the disc; the stripes are like each other.
    assert made["count"] == stripe["count"] == 1
    strokes = {
        each["id"]: client.get(f"/api/hand/pieces/{each['id']}").content for each in (made, stripe)
    }
    assert len(set(strokes.values())) == 2


def test_two_plates_are_set_apart_at_an_area(client, sheet):
    plate = sheet["sheet"]["plates"][0]["id"]
    corners = [[0.5, 0.2, 1], [0.9, 0.2, 1], [0.9, 0.8, 1]]
    body = {"sheet_id": sheet["id"], "plate": plate, "points": corners}

    made = client.post("/api/hand/apart", json=body).json()

    assert (made["beside"]["count"], made["within"]["count"]) == (1, 3)
    assert client.post("/api/hand/apart", json={**body, "points": corners[:2]}).status_code == 422


def test_what_is_lost_is_opened_and_said_in_figures(client, sheet):
    plate = sheet["sheet"]["plates"][0]["id"]
    body = {"sheet_id": sheet["id"], "plate": plate, "x": 0.19, "y": 0.5}

    done = client.post("/api/hand/open", json=body).json()

    assert done["verb"] == "lighten" and done["after"] <= done["before"] / 2
    nothing = client.post("/api/hand/open", json={**body, "x": 0.95, "y": 0.05})
    assert nothing.status_code == 422 and "Nothing is lost" in nothing.json()["detail"]


def drawn(live, **ask):
    """Settled pictures of all views of an ask, by their ids."""
    live.send_json({"ask": 1, **ask})
    seen = {}
    while len(seen) < len(ask["views"]):
        message = live.receive_bytes()
        size = int.from_bytes(message[:4], "big")
        head = json.loads(message[4 : 4 + size])
        if not head["draft"]:
            pixels = np.frombuffer(message[4 + size :], np.uint8)
            seen[head["view"]] = pixels.reshape(head["height"], head["width"], -1)
    return seen


def test_a_stroke_that_is_being_made_is_drawn_and_kept_nowhere(client, sheet):
    plate = sheet["sheet"]["plates"][0]["id"]
    view = {"id": "main", "what": "sheet", "long_edge_px": 200}
    stroke = {
        "plate": plate,
        "stage": "clean",
        "verb": "white-out",
        "size_mm": 20,
        "hardness": 1,
        "points": [[0.65, 0.5, 1]],
    }
    with client.websocket_connect("ws://localhost/api/sheets/live") as live:
        ask = {"sheet": sheet["sheet"], "views": [view]}
        plain = drawn(live, **ask)["main"]
        made = drawn(live, **ask, unfinished=stroke)["main"]
        again = drawn(live, **ask)["main"]
        live.send_json({"ask": 2, **ask, "unfinished": {**stroke, "verb": "keep"}})
        assert "no strokes that keep" in live.receive_json()["problem"]

    assert plain[75, 130] == [0] and made[75, 130] == [255]
    assert np.array_equal(again, plain)


def test_the_cutout_is_seen_in_four_ways(client, sheet):
    ask = {"ask": 1, "sheet": sheet["sheet"], "views": []}
    for what in ("cutout", "cutout-black", "cutout-white", "cutout-alone"):
        ask["views"].append({"id": what, "what": what, "long_edge_px": 200})
    with client.websocket_connect("ws://localhost/api/sheets/live") as live:
        seen = drawn(live, sheet=ask["sheet"], views=ask["views"])

    corner, middle = (3, 3), (75, 130)
    assert seen["cutout-black"][corner].max() < 5 and seen["cutout-white"][corner].min() > 250
    assert seen["cutout-alone"][corner] == [0] and seen["cutout-alone"][middle] == [255]
    assert np.abs(seen["cutout"][middle].astype(int) - 40).max() < 6
