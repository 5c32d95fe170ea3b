"""Files from the print room."""

import asyncio
import io
import json
import string
import threading

import numpy as np
import pytest
from fastapi.testclient import TestClient
from hypothesis import given
from hypothesis import strategies as st
from PIL import Image

from flinz.core.document.picture import Picture
from flinz.core.document.setting import with_value
from flinz.core.document.sheet import Sheet
from flinz.core.document.sheet_file import PackedPhoto, PhotoWords, SheetFile, packed
from flinz.server.files import file_stem
from flinz.server.routes.exports import job_events
from flinz.store.photos import content_id
from tests.charts import blobs, png
from tests.server.apps import ready_app


@pytest.fixture(scope="module")
def client(tmp_path_factory):
    app = ready_app(tmp_path_factory.mktemp("exports"))
    with TestClient(app, base_url="http://localhost") as client:
        client.post("/api/photos", files={"file": ("blobs.png", png(blobs(120, 160) * 255))})
        yield client


def sheet_of(client, recipe):
    photo = client.get("/api/photos").json()[0]["id"]
    return client.post("/api/sheets", json={"photo": photo, "recipe": recipe}).json()


def made(client, sheet_id, **wanted):
    """The events of an export, and its answer with the file."""
    job = client.post(f"/api/sheets/{sheet_id}/exports", json=wanted).json()
    with client.stream("GET", f"/api/jobs/{job['id']}/events") as stream:
        events = [json.loads(line[6:]) for line in stream.iter_lines() if line.startswith("data: ")]
    return events, client.get(f"/api/jobs/{job['id']}/file")


@pytest.mark.parametrize(
    ("kind", "media"), [("png", "image/png"), ("jpg", "image/jpeg"), ("tiff", "image/tiff")]
)
def test_every_format_comes_with_its_kind_size_and_name(client, kind, media):
    record = sheet_of(client, "pencil")

    events, answer = made(client, record["id"], format=kind, long_edge_px=320)

    assert events[-1]["state"] == "done" and events[-1]["share"] == 1
    assert answer.headers["content-type"] == media
    assert f".{kind}" in answer.headers["content-disposition"]
    picture = Image.open(io.BytesIO(answer.content))
    assert picture.size == (320, 240)


def test_the_resolution_of_the_file_prints_the_sheet_at_its_size(client):
    record = sheet_of(client, "threshold")

    size = client.post(f"/api/sheets/{record['id']}/export-size", json={"dpi": 100}).json()
    _, answer = made(client, record["id"], format="png", dpi=100)

    picture = Image.open(io.BytesIO(answer.content))
    assert picture.size == (size["width_px"], size["height_px"])
    dpi = picture.info["dpi"][0]
    assert picture.width / dpi * 25.4 == pytest.approx(size["width_mm"], abs=0.3)


def test_a_small_export_is_what_the_bench_shows(client):
    record = sheet_of(client, "stipple")

    _, answer = made(client, record["id"], format="png", long_edge_px=500)

    picture = np.asarray(Image.open(io.BytesIO(answer.content)))
    shown = client.get(f"/api/sheets/{record['id']}/picture?long_edge_px=500").content
    assert np.array_equal(picture, np.asarray(Image.open(io.BytesIO(shown))))


def test_one_bit_says_which_marks_will_not_hold_and_offers_a_size_that_does(client):
    path = f"/api/sheets/{sheet_of(client, 'crosshatch')['id']}/export-size"
    wish = {"format": "png", "dpi": 300}

    grey, bits = (client.post(path, json={**wish, "depth": d}).json() for d in ("grey", "1-bit"))

    assert grey["thin"] is None
    assert "will not hold" in bits["thin"]["sentence"]
    better = {**wish, "depth": "1-bit", "dpi": bits["thin"]["dpi"]}
    assert client.post(path, json=better).json()["thin"] is None


@pytest.mark.parametrize(
    ("depth", "mode"), [("1-bit", "1"), ("grey", "L"), ("colour", "RGB"), ("auto", "L")]
)
def test_the_file_has_the_depth_that_was_asked_for(client, depth, mode):
    record = sheet_of(client, "threshold")

    _, answer = made(client, record["id"], format="png", long_edge_px=160, depth=depth)

    assert Image.open(io.BytesIO(answer.content)).mode == mode


def test_two_inks_leave_as_colour(client):
    record = sheet_of(client, "fair-poster-two-inks")

    _, answer = made(client, record["id"], format="png", long_edge_px=300)

    picture = Image.open(io.BytesIO(answer.content))
    assert picture.mode == "RGB"
    colours = np.unique(np.array(picture).reshape(-1, 3), axis=0)
    assert len(colours) > 2


def test_the_sheet_is_exported_as_it_was_when_asked(client):
    record = sheet_of(client, "threshold")
    path = f"/api/sheets/{record['id']}"
    job = client.post(f"{path}/exports", json={"format": "png", "long_edge_px": 160}).json()
    black = {**record["sheet"]["plates"][0], "draw": {"look": "threshold", "level": 1.0}}
    sheet = {**record["sheet"], "plates": [black]}
    change = {"sheet": sheet, "base": record["revision"], "words": "Level", "gesture": "g"}
    assert client.put(path, json=change).status_code == 200
    with client.stream("GET", f"/api/jobs/{job['id']}/events") as stream:
        list(stream.iter_lines())

    picture = Image.open(io.BytesIO(client.get(f"/api/jobs/{job['id']}/file").content))

    assert np.array(picture).any()


def test_what_is_not_there_is_said(client):
    for path in ("/api/jobs/999", "/api/jobs/999/events", "/api/jobs/999/file"):
        answer = client.get(path)
        assert answer.status_code == 404 and answer.json()["detail"].endswith(".")
    assert client.post("/api/jobs/999/stop").status_code == 404


@pytest.mark.parametrize(
    "wanted",
    [
        {"format": "bmp"},
        {"dpi": -1},
        {"long_edge_px": 0},
        {"depth": "2-bit"},
        {"format": "png", "quality": "best"},
    ],
)
def test_a_wish_that_makes_no_sense_is_refused(client, wanted):
    record = sheet_of(client, "threshold")

    answer = client.post(f"/api/sheets/{record['id']}/exports", json=wanted)

    assert answer.status_code == 422 and answer.json()["detail"]


@given(st.text(max_size=120))
def test_any_title_makes_a_file_name_that_every_system_takes(title):
    stem = file_stem(title)

    assert 0 < len(stem) <= 80
    assert set(stem) <= set(string.ascii_lowercase + string.digits + "-")
    assert not stem.startswith("-")


@pytest.mark.parametrize(
    ("title", "stem"),
    [
        ("Old Barnaby for the autumn fair", "old-barnaby-for-the-autumn-fair"),
        ("Crème brûlée, 3 €", "creme-brulee-3"),
        ("../../etc/passwd", "etc-passwd"),
        ("🌻", "sheet"),
        ("", "sheet"),
    ],
)
def test_titles_keep_what_can_be_kept(title, stem):
    assert file_stem(title) == stem


def test_a_sheet_file_opens_on_another_shelf_as_it_was(client, tmp_path):
    record = sheet_of(client, "fair-poster-two-inks")
    file = client.get(f"/api/sheets/{record['id']}/file")
    assert file.headers["content-disposition"].endswith('.flinz"')
    picture = client.get(f"/api/sheets/{record['id']}/picture?long_edge_px=160").content

    with TestClient(ready_app(tmp_path), base_url="http://localhost") as other:
        opened = other.post("/api/sheets/open", files={"file": ("a.flinz", file.content)})
        sheet = opened.json()
        again = other.get(f"/api/sheets/{sheet['id']}/picture?long_edge_px=160").content
        photos = [photo["title"] for photo in other.get("/api/photos").json()]

    assert opened.status_code == 201
    assert sheet["sheet"] == record["sheet"]
    assert again == picture
    assert photos == ["blobs"]
    assert client.get(f"/api/sheets/{record['id']}/file").content == file.content


def test_a_sheet_file_that_is_none_leaves_nothing_on_the_shelf(tmp_path):
    with TestClient(ready_app(tmp_path), base_url="http://localhost") as other:
        answer = other.post("/api/sheets/open", files={"file": ("a.flinz", b"Dear allotments")})

        assert answer.status_code == 422 and "no sheet file" in answer.json()["detail"]
        assert other.get("/api/sheets").json() == other.get("/api/photos").json() == []


def test_a_sheet_file_whose_photo_is_none_leaves_nothing_on_the_shelf(tmp_path):
    letter = b"Dear allotment holders"
    words = PhotoWords(title="A letter")
    sheet = Sheet(picture=Picture(photo=content_id(letter)))
    data = packed(SheetFile(sheet, {sheet.picture.photo: PackedPhoto(letter, words)}))
    with TestClient(ready_app(tmp_path), base_url="http://localhost") as other:
        answer = other.post("/api/sheets/open", files={"file": ("a.flinz", data)})

        assert answer.status_code == 422 and "not a picture" in answer.json()["detail"]
        assert other.get("/api/sheets").json() == other.get("/api/photos").json() == []


def coloured(client, record, path, value):
    sheet = with_value(Sheet.model_validate(record["sheet"]), path, value)
    body = {"base": record["revision"], "sheet": sheet.model_dump(mode="json"), "words": path}
    return client.put(f"/api/sheets/{record['id']}", json=body).json()


def test_a_sheet_is_offered_to_leave_as_it_is_and_as_it_left_last(client):
    record = sheet_of(client, "pencil")
    address = f"/api/sheets/{record['id']}/leaving"

    assert client.get(address).json() | {"depth": "grey", "dpi": 300} == client.get(address).json()
    coloured(client, record, "ink.colour", "#aa2200")
    assert client.get(address).json()["depth"] == "colour"
    wish = {"format": "tiff", "depth": "1-bit", "greys": "grain", "long_edge_px": 900}
    assert client.put(address, json=wish).status_code == 204
    assert client.get(address).json() | wish == client.get(address).json()
    refused = client.put(address, json={**wish, "dpi": 3})
    assert refused.status_code == 422
    assert refused.json()["detail"].endswith("dpi is 3; it must be 10 or more.")
    assert "body" not in refused.json()["detail"]
    assert client.get("/api/sheets/999/leaving").status_code == 404


def test_who_stops_watching_a_job_closes_nothing_that_is_read_from(client, monkeypatch):
    sheet = sheet_of(client, "threshold")
    studio = client.app.state.studio
    job = client.post(
        f"/api/sheets/{sheet['id']}/exports", json={"format": "png", "long_edge_px": 320}
    ).json()
    reading, left, read = threading.Event(), threading.Event(), threading.Event()
    came_to = []
    record = studio.jobs.record

    def held_up(db, job_id):
        reading.set()
        left.wait(30)
        try:
            came_to.append(record(db, job_id).id)
        finally:
            read.set()

    monkeypatch.setattr(studio.jobs, "record", held_up)

    async def watched_for_a_moment():
        watching = asyncio.ensure_future(anext(job_events(studio, job["id"])))
        await asyncio.to_thread(reading.wait, 30)
        watching.cancel()
        await asyncio.gather(watching, return_exceptions=True)
        left.set()

    asyncio.run(watched_for_a_moment())

    assert read.wait(30)
    assert came_to == [job["id"]]
