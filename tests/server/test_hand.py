"""Hand work over the API: sent once, refused when altered, there before its sheet."""

import io

import numpy as np
import pytest
from fastapi.testclient import TestClient
from PIL import Image

from flinz.core.hand import pieces as lists
from tests.charts import blobs, png, ramp
from tests.server.apps import ready_app

BRUSH = {"verb": "darken", "size": 0.02, "hardness": 0.5}
STROKE = {"brush": BRUSH, "points": [[0.1, 0.2, 0.5], [0.15, 0.22, 0.75]]}


def edited(client, **edit):
    return client.post("/api/hand/strokes", json=edit)


def test_strokes_are_added_and_taken_back_as_new_lists(client):
    first = edited(client, add=[STROKE] * 3).json()
    second = edited(client, of=first["id"], without=[0, 2]).json()

    assert (first["count"], second["count"]) == (3, 1)
    assert edited(client, of=first["id"], without=[0, 2]).json() == second
    assert client.get(f"/api/hand/pieces/{first['id']}").status_code == 200


def test_a_sheet_with_strokes_goes_round_by_its_pieces(client, tmp_path):
    strokes = edited(client, add=[STROKE] * 40).json()["id"]
    waiting, sent = [strokes], {}
    while waiting:
        answer = client.get(f"/api/hand/pieces/{waiting[-1]}")
        assert "immutable" in answer.headers["cache-control"]
        sent[waiting.pop()] = answer.content
        waiting += lists.named_by(answer.content)
    with TestClient(ready_app(tmp_path / "other"), base_url="http://localhost") as other:
        lacking = other.post("/api/hand/announce", json={"ids": list(sent)}).json()["missing"]
        assert lacking == list(sent)
        # What holds others comes after them.
        for piece in reversed(lacking):
            answer = other.put(f"/api/hand/pieces/{piece}", content=sent[piece])
            assert answer.status_code == 204
        assert other.post("/api/hand/announce", json={"ids": list(sent)}).json()["missing"] == []
        photo = other.post("/api/photos", files={"file": ("a.png", png(ramp()))}).json()["id"]
        begun = other.post("/api/sheets", json={"photo": photo}).json()
        begun["sheet"]["plates"][0]["hand"] = {"tone": strokes}
        change = {"base": begun["revision"], "sheet": begun["sheet"], "words": "darken, 14 mm"}
        assert (
            other.put(f"/api/sheets/{begun['id']}", json=change).json()["undo"] == change["words"]
        )
        file = other.get(f"/api/sheets/{begun['id']}/file").content

    opened = client.post("/api/sheets/open", files={"file": ("a.flinz", file)}).json()

    assert opened["sheet"]["plates"][0]["hand"] == {"tone": strokes}


@pytest.mark.parametrize(
    ("change", "said"),
    [
        ({"points": []}, "points"),
        ({"points": [[0, 0, 2]]}, "pressure"),
        ({"points": [[1e12, 0, 0.5]]}, "far beside"),
        ({"points": [[0, 0, 0.5]] * 4001}, "points"),
        ({"brush": {**BRUSH, "size": -1}}, "size"),
        ({"brush": {"verb": "erase"}}, "verb"),
    ],
)
def test_impossible_strokes_are_refused_with_a_sentence(client, change, said):
    answer = edited(client, add=[{**STROKE, **change}])

    assert answer.status_code == 422
    assert said in answer.json()["detail"]


def test_altered_too_large_and_unknown_pieces_are_refused(client):
    strokes = edited(client, add=[STROKE]).json()["id"]
    data = client.get(f"/api/hand/pieces/{strokes}").content

    altered = client.put(f"/api/hand/pieces/{strokes}", content=data + b"x")
    large = client.put(f"/api/hand/pieces/{'0' * 64}", content=b"x" * 300_000)
    unknown = client.get(f"/api/hand/pieces/{'0' * 64}")

    assert (altered.status_code, large.status_code, unknown.status_code) == (422, 422, 404)
    assert "altered" in altered.json()["detail"] and "262,144" in large.json()["detail"]
    assert client.get("/api/hand/pieces/up").status_code == 422
    assert edited(client, of="0" * 64, add=[STROKE]).status_code == 404


def test_a_sheet_that_names_what_was_not_sent_is_refused_and_stays(client):
    photo = client.post("/api/photos", files={"file": ("a.png", png(ramp()))}).json()["id"]
    begun = client.post("/api/sheets", json={"photo": photo}).json()
    sheet = {**begun["sheet"], "cutouts": {photo: "0" * 64}}
    path = f"/api/sheets/{begun['id']}"

    answer = client.put(path, json={"base": 1, "sheet": sheet, "words": "cut out"})

    assert answer.status_code == 422 and "not here" in answer.json()["detail"]
    assert client.get(path).json() == begun


@pytest.fixture
def painted(client):
    """A sheet of a threshold, and a way to paint on it."""
    photo = client.post("/api/photos", files={"file": ("p.png", png(blobs(90, 120) * 255))}).json()
    body = {"photo": photo["id"], "recipe": "threshold"}
    record = client.post("/api/sheets", json=body).json()

    def paint(**more):
        asked = {
            "sheet_id": record["id"],
            "plate": record["sheet"]["plates"][0]["id"],
            "stage": "clean",
            "verb": "white-out",
            "size_mm": 20.0,
            "points": [[0.2, 0.5, 1.0], [0.8, 0.5, 1.0]],
        }
        return client.post("/api/hand/paint", json={**asked, **more})

    return record, paint


def test_a_painted_stroke_is_named_by_the_sheet_drawn_and_undone(client, painted):
    record, paint = painted
    address = f"/api/sheets/{record['id']}"
    first = paint().json()
    plate = {**record["sheet"]["plates"][0], "hand": {"clean": first["id"]}}
    sheet = {**record["sheet"], "plates": [plate]}
    body = {"base": record["revision"], "sheet": sheet, "words": "Clean: white out, 20 mm"}
    saved = client.put(address, json=body).json()
    second = paint(points=[[0.5, 0.1, 1.0]]).json()

    assert (first["count"], second["count"]) == (1, 2)
    assert client.get(f"/api/hand/lists/{second['id']}").json() == second
    drawn = client.get(f"{address}/picture", params={"long_edge_px": 120})
    pixels = np.asarray(Image.open(io.BytesIO(drawn.content)).convert("L"))
    assert pixels[40:50, 30:90].min() == 255
    undone = client.post(f"{address}/undo").json()
    assert saved["undo"] == "Clean: white out, 20 mm" and undone["sheet"] == record["sheet"]


@pytest.mark.parametrize(
    ("wrong", "said"),
    [
        ({"verb": "lighten"}, "no strokes that lighten"),
        ({"stage": "draw"}, "no strokes"),
        ({"points": []}, "points"),
        ({"points": [[0.5, 0.5, 2.0]]}, "pressure"),
        ({"size_mm": -1}, "size_mm"),
        ({"plate": "nobody"}, "no plate"),
    ],
)
def test_a_stroke_that_cannot_be_is_refused_by_name(painted, wrong, said):
    _, paint = painted

    answer = paint(**wrong)

    assert answer.status_code == 422 and said in answer.json()["detail"]
