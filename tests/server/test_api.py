import json
import threading

import numpy as np
import pytest
from fastapi.testclient import TestClient

from flinz.core.deliver.registry import FORMATS
from flinz.core.document.plate import MAX_PLATES, STAGES
from flinz.core.document.sheet import MAX_WATCH_SPOTS, Sheet
from flinz.core.looks.registry import LOOKS
from flinz.core.planes.decoding import decode
from flinz.core.press.framing import whole
from flinz.core.press.press import Press
from flinz.server import app as app_module
from tests.charts import blobs, opened, png, ramp
from tests.server.apps import ready_app
from tests.server.live import answers, view

HOST = "http://localhost"
LIVE = "ws://localhost/api/sheets/live"


def add_photo(client, data=None, name="ramp.png"):
    return client.post("/api/photos", files={"file": (name, data or png(ramp()))})


@pytest.fixture
def sheet(client):
    photo = add_photo(client).json()["id"]
    return client.post("/api/sheets", json={"photo": photo, "recipe": "threshold"}).json()


def test_a_photo_comes_in_and_is_shown(client):
    added = add_photo(client, name="Plot_nine.png")

    assert added.status_code == 201
    assert added.json()["title"] == "Plot nine"
    picture = client.get(f"/api/photos/{added.json()['id']}/picture?long_edge_px=64")
    assert opened(picture.content).size == (64, 8)


@pytest.mark.parametrize("data", [b"\0", b"GIF89a", png(ramp())[:99]])
def test_a_bad_photo_is_a_problem_with_a_sentence(client, data):
    answer = add_photo(client, data)

    assert answer.status_code == 422
    assert answer.headers["content-type"] == "application/problem+json"
    assert answer.json()["detail"].endswith(".")


def test_a_sheet_begins_fitted_to_its_photo(client, sheet):
    assert sheet["sheet"]["plates"][0]["draw"]["level"] == 0.5
    assert sheet["undo"] is None


def test_change_undo_redo(client, sheet):
    path = f"/api/sheets/{sheet['id']}"
    changed = {**sheet["sheet"], "title": "New"}

    saved = client.put(path, json={"base": sheet["revision"], "sheet": changed, "words": "Title"})

    assert saved.json()["undo"] == "Title"
    assert client.post(f"{path}/undo").json()["sheet"] == sheet["sheet"]
    assert client.post(f"{path}/redo").json()["sheet"]["title"] == "New"


def test_two_tabs_do_not_overwrite_each_other(client, sheet):
    path = f"/api/sheets/{sheet['id']}"
    body = {"base": sheet["revision"], "sheet": sheet["sheet"], "words": "x"}
    client.put(path, json=body)

    late = client.put(path, json=body)

    assert late.status_code == 409
    assert "Nothing was overwritten" in late.json()["detail"]


@pytest.mark.parametrize(
    ("change", "part"),
    [
        ({"version": 9}, "newer Flinz"),
        ({"plates": [{"draw": {"look": "threshold", "level": 2}}]}, "1 or less"),
        ({"plates": [{"draw": {"look": "threshold", "level": "NaN"}}]}, "number"),
        ({"picture": {"photo": "nobody"}}, "no such photo"),
    ],
)
def test_a_bad_sheet_is_refused_and_nothing_is_lost(client, sheet, change, part):
    path = f"/api/sheets/{sheet['id']}"
    body = {"base": sheet["revision"], "sheet": {**sheet["sheet"], **change}, "words": "x"}

    answer = client.put(path, json=body)

    assert answer.status_code in (404, 422) and part in answer.json()["detail"]
    assert client.get(path).json() == sheet


def test_a_removed_sheet_can_be_put_back(client, sheet):
    path = f"/api/sheets/{sheet['id']}"
    client.delete(path)
    assert client.get("/api/sheets").json() == []

    client.post(f"{path}/restore")
    assert [s["id"] for s in client.get("/api/sheets").json()] == [sheet["id"]]


def test_an_export_job_gives_the_file(client, sheet):
    job = client.post(
        f"/api/sheets/{sheet['id']}/exports", json={"depth": "1-bit", "dpi": 25.4}
    ).json()

    events = client.get(f"/api/jobs/{job['id']}/events").text
    last = json.loads(events.strip().split("data: ")[-1])
    file = client.get(f"/api/jobs/{job['id']}/file")

    assert last["state"] == "done"
    assert opened(file.content).size == (200, 25)
    assert 'filename="ramp-threshold.png"' in file.headers["content-disposition"]


def test_an_export_can_be_stopped(client, sheet):
    wanted = {"long_edge_px": 20_000}
    job = client.post(f"/api/sheets/{sheet['id']}/exports", json=wanted).json()

    client.post(f"/api/jobs/{job['id']}/stop")

    last = json.loads(client.get(f"/api/jobs/{job['id']}/events").text.strip().split("data: ")[-1])
    assert last["state"] == "stopped"
    assert client.get(f"/api/jobs/{job['id']}/file").status_code == 404


def test_an_export_too_large_is_refused_at_once(client, sheet):
    answer = client.post(f"/api/sheets/{sheet['id']}/export-size", json={"long_edge_px": 60_000})

    assert answer.status_code == 422 and "million" in answer.json()["detail"]


def test_unknown_paths_are_problems(client):
    for path in (
        "/api/nowhere",
        "/etc/passwd",
        "/assets/../../app.py",
        "/api/sheets/7",
        "/api/photos/7",
    ):
        answer = client.get(path)
        assert answer.status_code == 404
        assert answer.json()["detail"].endswith(".")


def test_every_route_is_described(client):
    document = client.get("/api/openapi.json").json()

    for path, methods in document["paths"].items():
        for method, operation in methods.items():
            assert operation.get("description"), f"{method} {path}"
            assert "default" in operation["responses"], f"{method} {path}"


def test_the_catalogue_tells_what_the_page_must_know(client):
    catalogue = client.get("/api/catalogue").json()

    steps = {step["name"]: step for step in catalogue["steps"]}
    assert list(steps) == ["photo", *STAGES, "paper"]
    looks = {kind["name"]: kind for kind in steps["draw"]["kinds"]}
    assert set(looks) == set(LOOKS)
    assert [name for name, kind in looks.items() if kind["answers_to_eyes"]] == ["threshold"]
    assert {each["name"] for each in catalogue["formats"]} == set(FORMATS)
    limits = catalogue["limits"]
    assert (limits["plates"], limits["watch_spots"]) == (MAX_PLATES, MAX_WATCH_SPOTS)


@pytest.mark.parametrize(
    "crop, part",
    [
        ({"left": 0.5, "right": 0.5}, "shares of the photo"),
        ({"top": 0.9, "bottom": 0.1}, "shares of the photo"),
        ({"right": 0.004}, "pixels of the photo"),
        ({"bottom": 0.02}, "pixels of the photo"),
    ],
)
def test_a_crop_that_leaves_too_little_is_refused_when_it_is_saved(client, sheet, crop, part):
    changed = {**sheet["sheet"]}
    changed["picture"] = {**changed["picture"], "crop": crop}
    body = {"base": sheet["revision"], "sheet": changed, "words": "Crop"}

    answer = client.put(f"/api/sheets/{sheet['id']}", json=body)

    assert answer.status_code == 422 and part in answer.json()["detail"]


# Live proofs


def test_live_pictures_are_what_the_core_draws(client):
    data = png(blobs() * 255)
    record = client.post(
        "/api/sheets", json={"photo": add_photo(client, data).json()["id"], "recipe": "pencil"}
    ).json()
    with client.websocket_connect(LIVE) as socket:
        part = view("part", region=[0.5, 0.5, 1, 1], exact=True)
        socket.send_json({"ask": 1, "sheet": record["sheet"], "views": [view("main"), part]})
        found = answers(socket, 2)

    sheet = Sheet.model_validate(record["sheet"])
    photo = decode(data, "x")
    expected = np.rint(Press().proof(photo, sheet, whole(sheet, photo, 128)) * 255)
    assert np.array_equal(found["main"][1][..., 0], expected)
    assert np.abs(found["part"][1][..., 0] - expected[48:, 64:]).max() <= 1
    assert found["main"][0]["figures"]["ink"] == pytest.approx(1 - expected.mean() / 255, abs=1e-3)
    assert "tone.black" in found["main"][0]["suggestions"]


def test_a_stage_the_photo_and_another_look_can_be_shown(client, sheet):
    plate = sheet["sheet"]["plates"][0]["id"]
    views = [
        view("tone", what="stage", plate=plate, stage="tone"),
        view("photo", what="photo"),
        view("look", what="stage", plate=plate, stage="draw", look="pencil"),
    ]
    with client.websocket_connect(LIVE) as socket:
        socket.send_json({"ask": 1, "sheet": sheet["sheet"], "views": views})
        found = answers(socket, 3)

    assert found["photo"][1].shape == (16, 128, 3)
    assert np.array_equal(found["tone"][1][..., 0], found["photo"][1][..., 1])
    assert found["look"][1].max() == 255


@pytest.mark.parametrize(
    "message",
    [
        "nonsense",
        "{}",
        '{"ask": 1, "sheet": {"version": 2}, "views": [{"id": "a", "long_edge_px": 9}]}',
        '{"ask": 1, "sheet": {}, "views": [{"id": "a", "long_edge_px": 900000}]}',
        '{"ask": 1, "sheet": {"photo": "nobody"}, "views": [{"id": "a", "long_edge_px": 9}]}',
        '{"ask": 1, "sheet": {}, "views": [{"id": "a", "long_edge_px": 9, "region": [0, 0, 1, 7]}]}',  # noqa: E501
    ],
)
def test_a_bad_ask_is_answered_and_the_connection_goes_on(client, sheet, message):
    with client.websocket_connect(LIVE) as socket:
        socket.send_text(message)
        assert socket.receive_json()["problem"].endswith(".")

        socket.send_json({"ask": 2, "sheet": sheet["sheet"], "views": [view("main")]})
        assert answers(socket, 1)["main"][0]["ask"] == 2


def test_a_flood_of_asks_ends_with_the_newest(client, sheet):
    with client.websocket_connect(LIVE) as socket:
        for number in range(200):
            socket.send_json({"ask": number, "sheet": sheet["sheet"], "views": [view("main")]})
        seen = []
        while not seen or seen[-1] != 199:
            seen.append(answers(socket, 1)["main"][0]["ask"])

    assert seen == sorted(seen)


def test_a_picture_for_the_shelf_is_drawn_once_and_may_be_kept(client, sheet):
    path = f"/api/sheets/{sheet['id']}/picture?long_edge_px=64"
    press = client.app.state.studio.press

    first = client.get(f"{path}&mark={sheet['mark']}")
    drawn = press.counts["draw"]
    second = client.get(path)

    assert opened(first.content).size == (64, 8) and first.content == second.content
    assert drawn >= 1 and press.counts["draw"] == drawn
    assert "immutable" in first.headers["cache-control"]
    # Without its mark, or with another, an address may mean another picture tomorrow.
    assert second.headers["cache-control"] == "no-store"
    assert client.get(f"{path}&mark=999").headers["cache-control"] == "no-store"


def test_a_changed_sheet_has_another_picture_for_the_shelf(client, sheet):
    path = f"/api/sheets/{sheet['id']}"
    before = client.get(f"{path}/picture?long_edge_px=64").content
    changed = sheet["sheet"]
    changed["plates"][0]["draw"]["level"] = 0.2
    body = {"base": sheet["revision"], "sheet": changed, "words": "Level"}
    client.put(path, json=body)

    after = opened(client.get(f"{path}/picture?long_edge_px=64").content)
    assert np.asarray(after).mean() > np.asarray(opened(before)).mean()


def test_a_kept_picture_never_shows_in_another_data_folder(client, sheet, tmp_path):
    """Ids begin again with each folder, marks do not: what a browser keeps belongs to a drawing."""
    with TestClient(ready_app(tmp_path / "other"), base_url=HOST) as other:
        other.post("/api/photos", files={"file": ("r.png", png(ramp()))})
        photo = other.get("/api/photos").json()[0]["id"]
        theirs = other.post("/api/sheets", json={"photo": photo, "recipe": "stipple"}).json()
        path = f"/api/sheets/{theirs['id']}/picture?long_edge_px=64"
        answer = other.get(f"{path}&mark={sheet['mark']}")
        pull = other.post(f"/api/sheets/{theirs['id']}/pulls", json={"name": "First"}).json()
        path = f"/api/sheets/{theirs['id']}/pulls/{pull['id']}/picture?long_edge_px=64"
        kept = [other.get(f"{path}&mark={mark}") for mark in (pull["mark"], "x")]

    assert theirs["mark"] != sheet["mark"]
    assert answer.headers["cache-control"] == "no-store"
    assert "immutable" in kept[0].headers["cache-control"]
    assert kept[1].headers["cache-control"] == "no-store"


def test_nothing_is_left_running_by_a_server_that_stops_at_once(tmp_path):
    with TestClient(ready_app(tmp_path), base_url=HOST) as client:
        assert client.get("/api/photos").json() == []

    assert "warm-up" not in {thread.name for thread in threading.enumerate()}


def test_a_browser_keeps_files_named_by_their_content_and_asks_after_the_others(
    tmp_path, monkeypatch
):
    for name in ("index.html", "assets/index-6F6xlzaU.css", "assets/mark.svg", "guide/poster.html"):
        (tmp_path / "page" / name).parent.mkdir(parents=True, exist_ok=True)
        (tmp_path / "page" / name).write_text("Beans")
    monkeypatch.setattr(app_module, "PAGE", tmp_path / "page")

    with TestClient(ready_app(tmp_path), base_url="http://localhost") as client:
        kept = {
            path: client.get(path).headers["cache-control"]
            for path in (
                "/",
                "/assets/index-6F6xlzaU.css",
                "/assets/mark.svg",
                "/guide/poster.html",
            )
        }
        tag = client.get("/assets/mark.svg").headers["etag"]
        again = client.get("/assets/mark.svg", headers={"if-none-match": tag})

    assert "immutable" in kept.pop("/assets/index-6F6xlzaU.css")
    assert set(kept.values()) == {"no-cache"}
    assert again.status_code == 304 and again.headers["cache-control"] == "no-cache"
