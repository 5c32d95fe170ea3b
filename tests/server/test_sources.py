"""Fonts and marks of one's own, further photos and sheets within sheets, through the API."""

import io

import numpy as np
import pytest

from flinz.core.document.sheet_file import unpacked
from flinz.core.ground.faces import FOLDER
from flinz.core.ground.own_marks import rings_of_path
from tests.charts import blobs, opened, png, ramp
from tests.server.live import settled_answer, view

SLAB = (FOLDER / "slab.ttf").read_bytes()
SVG = b'<svg xmlns="http://www.w3.org/2000/svg"><path d="M0 0h4v8h-4z"/></svg>'


def sent(client, path, data, name="file"):
    return client.post(path, files={"file": (name, data)})


@pytest.fixture
def sheet(client):
    photo = sent(client, "/api/photos", png(ramp()), "ramp.png").json()["id"]
    return client.post("/api/sheets", json={"photo": photo, "recipe": "undrawn"}).json()


def changed(client, record, *plates, base=None):
    document = record["sheet"]
    for number, plate in enumerate(plates):
        document["plates"].append({"id": f"more-{number}", **plate})
    body = {"base": base or record["revision"], "sheet": document, "words": "More"}
    return client.put(f"/api/sheets/{record['id']}", json=body)


def pixels(client, record):
    data = client.get(f"/api/sheets/{record['id']}/picture?long_edge_px=200").content
    return np.asarray(opened(data).convert("L"), float)


def test_a_font_is_brought_once_and_set_in(client, sheet):
    first = sent(client, "/api/fonts", SLAB, "Slab.ttf")
    again = sent(client, "/api/fonts", SLAB, "Other name.ttf")

    assert first.status_code == 201 and again.json() == first.json()
    assert client.get("/api/fonts").json() == [first.json()]
    lettering = {"words": "Fair", "own": first.json()["id"], "size": 30}
    done = changed(client, sheet, {"source": {"kind": "lettering", "lettering": lettering}})
    assert done.status_code == 200
    # It goes along to another machine.
    file = unpacked(client.get(f"/api/sheets/{sheet['id']}/file").content)
    assert file.fonts == {first.json()["id"]: SLAB}


@pytest.mark.parametrize(
    ("path", "data", "said"),
    [
        ("/api/fonts", b"no font", "no font"),
        ("/api/fonts", SLAB[:3000], "no font"),
        ("/api/marks", b"<html/>", "no SVG"),
        ("/api/marks", SVG.replace(b"<path", b"<script/><path"), "script"),
    ],
)
def test_what_cannot_be_used_is_refused_with_a_sentence(client, path, data, said):
    answer = sent(client, path, data)

    assert answer.status_code == 422 and said in answer.json()["detail"]


def test_a_font_that_is_not_here_is_said_before_a_sheet_is_kept(client, sheet):
    lettering = {"words": "Fair", "own": "f" * 64}

    answer = changed(client, sheet, {"source": {"kind": "lettering", "lettering": lettering}})

    assert answer.status_code == 404 and "font" in answer.json()["detail"]


def test_a_mark_comes_back_as_a_path_of_its_own_box(client):
    path = sent(client, "/api/marks", SVG, "leaf.svg").json()["path"]

    corners = np.concatenate(rings_of_path(path))
    assert np.ptp(corners, axis=0).tolist() == pytest.approx([0.5, 1.0], abs=0.01)


def test_another_photo_must_be_here_and_goes_along(client, sheet):
    other = sent(client, "/api/photos", png(blobs(60, 80) * 255), "blobs.png").json()["id"]
    source = {"kind": "photo", "picture": {"photo": other}}
    missing = {"kind": "photo", "picture": {"photo": "gone"}}

    assert changed(client, sheet, {"source": missing}).status_code == 404
    sheet["sheet"]["plates"].pop()
    assert changed(client, sheet, {"source": source}).status_code == 200
    file = unpacked(client.get(f"/api/sheets/{sheet['id']}/file").content)
    assert set(file.photos) == {sheet["sheet"]["picture"]["photo"], other}


def test_a_sheet_within_follows_what_is_on_the_shelf_until_it_is_to_stay(client, sheet):
    inner = client.post(
        "/api/sheets", json={"photo": sheet["sheet"]["picture"]["photo"], "recipe": "threshold"}
    ).json()
    document = inner["sheet"]
    full = {"draw": {"look": "undrawn"}}
    sources = [
        {"kind": "sheet", "sheet": inner["id"], "document": document, "live": live}
        for live in (True, False)
    ]
    outers = []
    for source in sources:
        begun = client.post("/api/sheets/copy", json={"sheet": sheet["sheet"]}).json()
        outers.append(changed(client, begun, {"source": source, **full}).json())
    before = [pixels(client, outer) for outer in outers]

    document["plates"][0]["shown"] = False
    assert changed(client, inner).status_code == 200

    live, still = (pixels(client, outer) for outer in outers)
    assert np.abs(live - before[0]).max() > 50
    assert np.array_equal(still, before[1])
    # Taken off the shelf, it is still drawn.
    client.delete(f"/api/sheets/{inner['id']}")
    assert np.array_equal(pixels(client, outers[0]), live)


def test_the_live_picture_tells_how_everything_lies_and_what_has_no_glyph(client, sheet):
    lettering = {"words": "Fair ☂", "size": 10}
    source = {"kind": "lettering", "lettering": lettering, "position": {"x": 40, "turn": 10}}
    record = changed(client, sheet, {"source": source}).json()

    with client.websocket_connect("ws://localhost/api/sheets/live") as socket:
        socket.send_json({"ask": 1, "sheet": record["sheet"], "views": [view("main")]})
        head, _ = settled_answer(socket)

    lying = {each["plate"]: each for each in head["lying"]}["more-0"]
    assert lying["x"] == 40 and lying["turn"] == 10 and lying["missing"] == ["☂"]
    assert lying["height"] > 10


def test_beginnings_are_plates_that_can_be_added_as_they_are(client, sheet):
    beginnings = client.get("/api/catalogue").json()["beginnings"]
    plates = [
        {key: value for key, value in plate.items() if key != "id"}
        for kind, plate in beginnings.items()
        if kind not in ("photo", "sheet")
    ]

    assert changed(client, sheet, *plates).status_code == 200
    assert io.BytesIO(client.get(f"/api/sheets/{sheet['id']}/file").content)
