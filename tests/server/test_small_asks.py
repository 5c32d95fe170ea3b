"""The history as a list, colours picked, marks by number: small asks of a sheet on the bench."""

import numpy as np
import pytest

from tests.charts import blobs, png


@pytest.fixture
def record(client):
    """A stippled sheet of a photo whose left half is red."""
    pixels = np.repeat((blobs(90, 120) * 255)[..., None], 3, 2)
    pixels[:, :60] = (200, 40, 40)
    photo = client.post("/api/photos", files={"file": ("red.png", png(pixels))}).json()["id"]
    return client.post("/api/sheets", json={"photo": photo, "recipe": "stipple"}).json()


def titled(client, record, title):
    body = {
        "base": record["revision"],
        "sheet": {**record["sheet"], "title": title},
        "words": f"Title: {title}",
    }
    return client.put(f"/api/sheets/{record['id']}", json=body).json()


def test_the_history_is_a_list_to_jump_in(client, record):
    for title in "abc":
        record = titled(client, record, title)
    address = f"/api/sheets/{record['id']}/steps"

    back = client.post(f"{address}/1").json()
    steps = client.get(address).json()
    forth = client.post(f"{address}/3").json()

    assert [step["words"] for step in steps] == ["Begin", "Title: a", "Title: b", "Title: c"]
    assert [step["is_here"] for step in steps] == [False, True, False, False]
    assert (back["sheet"]["title"], back["undo"], back["redo"]) == ("a", "Title: a", "Title: b")
    assert (forth["sheet"]["title"], forth["redo"]) == ("c", None)
    assert client.post(f"{address}/9").status_code == 404


def test_a_colour_is_picked_with_its_hue(client, record):
    address = f"/api/sheets/{record['id']}/colour-at"

    red = client.post(address, json={"x": 0.2, "y": 0.5}).json()
    grey = client.post(address, json={"x": 0.9, "y": 0.5}).json()
    outside = client.post(address, json={"x": 1.2, "y": 0.5})

    assert red["colour"] == "#c82828" and red["hue"] == pytest.approx(0, abs=0.5)
    assert grey["hue"] is None
    assert outside.status_code == 422


def test_a_size_is_found_for_a_number_of_marks_and_nothing_is_changed(client, record):
    address = f"/api/sheets/{record['id']}"
    plate = record["sheet"]["plates"][0]["id"]

    found = client.post(f"{address}/marks", json={"plate": plate, "count": 4000}).json()

    assert found["dial"] == "dot" and found["marks"] == pytest.approx(4000, rel=0.05)
    assert client.get(address).json() == record
    refused = client.post(f"{address}/marks", json={"plate": "nobody", "count": 10})
    assert refused.status_code in (404, 422) and "no plate" in refused.json()["detail"]


def test_a_mixed_ink_is_kept_by_its_name_and_taken_away(client):
    pot = client.post("/api/pots", json={"name": " Rust ", "colour": "#AA4400"})

    assert pot.status_code == 201
    assert client.get("/api/pots").json() == [{"id": 1, "name": "Rust", "colour": "#aa4400"}]
    for wrong in ({"name": " ", "colour": "#aa4400"}, {"name": "Rust", "colour": "red"}):
        assert client.post("/api/pots", json=wrong).status_code == 422
    assert client.delete("/api/pots/1").status_code == 204
    assert client.get("/api/pots").json() == []
    assert client.delete("/api/pots/1").status_code == 404


def test_inks_papers_and_pairs_are_colours_with_names_of_their_own(client):
    colours = client.get("/api/catalogue").json()["colours"]

    for kind in ("inks", "papers", "cloths"):
        names = [pot["name"] for pot in colours[kind]]
        assert len(names) == len(set(names)) > 4
        assert len({pot["colour"] for pot in colours[kind]}) == len(names)
    for pair in colours["pairs"]:
        dark, light = (
            int(pair[side][1:3], 16) + int(pair[side][3:5], 16) for side in ("dark", "light")
        )
        assert dark < light
