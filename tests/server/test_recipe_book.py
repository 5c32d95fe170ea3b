"""The recipe book over HTTP: keep, import, export, rename, delete, and a recipe on a photo."""

import json

import pytest

from flinz.core.document import builtin
from tests.charts import blobs, png

PHOTO = png(blobs(90, 120) * 255)


@pytest.fixture
def photo(client):
    return client.post("/api/photos", files={"file": ("blobs.png", PHOTO)}).json()["id"]


@pytest.fixture
def sheet(client, photo):
    return client.post("/api/sheets", json={"photo": photo, "recipe": "threshold"}).json()


def own(client):
    return [each for each in client.get("/api/recipes").json() if each["own"]]


def kept(client, sheet, name="Tee", **more):
    body = {"sheet_id": sheet["id"], "name": name, **more}
    return client.post("/api/recipes/from-sheet", json=body)


def test_the_book_begins_with_the_houses_recipes(client):
    refs = [each["ref"] for each in client.get("/api/recipes").json()]

    assert refs == list(builtin.built_in())


def test_work_is_kept_and_put_on_another_photo(client, sheet, photo):
    ref = kept(client, sheet, notes="Mesh 77").json()["ref"]

    begun = client.post("/api/sheets", json={"photo": photo, "recipe": ref}).json()

    assert begun["sheet"]["plates"] == sheet["sheet"]["plates"]
    assert begun["sheet"]["title"].endswith("Tee")
    assert own(client)[0]["recipe"]["notes"] == "Mesh 77"


def test_exported_deleted_and_imported_it_is_the_same(client, sheet):
    record = kept(client, sheet).json()
    file = client.get(f"/api/recipes/{record['ref']}/file")
    assert 'filename="tee.json"' in file.headers["content-disposition"]
    assert client.delete(f"/api/recipes/{record['ref']}").status_code == 204
    assert own(client) == []

    imported = client.post("/api/recipes/import", json={"text": file.text}).json()

    assert imported["notes"] == []
    assert imported["record"]["recipe"] == record["recipe"]
    assert [each["ref"] for each in own(client)] == [imported["record"]["ref"]]


def test_a_recipe_knows_the_tones_of_the_photo_it_was_kept_of(client, sheet):
    recipe = kept(client, sheet).json()["recipe"]

    tones = recipe["made_on"]["photo"]
    assert 0 <= tones["black"] < tones["middle"] < tones["white"] <= 1


def test_a_deleted_recipe_can_be_put_back(client, sheet):
    ref = kept(client, sheet).json()["ref"]
    client.delete(f"/api/recipes/{ref}")

    assert client.post(f"/api/recipes/{ref}/restore").status_code == 204

    assert [each["ref"] for each in own(client)] == [ref]


def test_a_name_that_is_taken_gets_a_number(client, sheet):
    first, second = kept(client, sheet).json(), kept(client, sheet).json()
    copy = client.post("/api/recipes/pencil/duplicate").json()

    assert first["recipe"]["name"] == "Tee"
    assert second["recipe"]["name"] == "Tee 2"
    assert copy["recipe"]["name"] == "pencil 2"


def test_words_can_be_changed_of_own_recipes_only(client, sheet):
    ref = kept(client, sheet).json()["ref"]
    words = {"name": "Shirt", "purpose": "For the fair", "notes": "Black"}

    changed = client.put(f"/api/recipes/{ref}", json=words)
    refused = client.put("/api/recipes/pencil", json=words)

    assert {key: changed.json()["recipe"][key] for key in words} == words
    assert refused.status_code == 422 and "Duplicate it" in refused.json()["detail"]
    assert client.delete("/api/recipes/pencil").status_code == 422


@pytest.mark.parametrize(
    ("text", "said"),
    [
        ("not json", "not a JSON document"),
        (json.dumps({"format": "flinz-recipe", "name": "x", "plates": []}), "plates"),
        ("x" * 1_000_001, "too large"),
    ],
)
def test_a_bad_file_is_refused_and_the_book_stays(client, text, said):
    answer = client.post("/api/recipes/import", json={"text": text})

    assert answer.status_code == 422
    assert said in answer.json()["detail"]
    assert own(client) == []


def test_what_a_file_asks_for_and_is_not_here_is_named(client):
    raw = builtin.named("pencil").model_dump(mode="json")
    raw["plates"][0]["draw"] = {"look": "engine-turned"}

    answer = client.post("/api/recipes/import", json={"text": json.dumps(raw)})

    assert answer.status_code == 201
    assert "'engine-turned'" in answer.json()["notes"][0]


@pytest.mark.parametrize("ref", ["own-999", "own-", "own-1e9", "own-²", "nothing", "own--1"])
def test_a_recipe_that_is_not_there_is_said_to_be_so(client, ref):
    assert client.get(f"/api/recipes/{ref}/file").status_code == 404


def test_a_recipe_shows_itself_on_a_photo(client, photo):
    picture = client.get(f"/api/recipes/ink-line/picture?photo={photo}&long_edge_px=64")

    assert picture.headers["content-type"] == "image/png"


def test_plates_of_a_recipe_come_fitted_to_the_photo(client, photo):
    (plate,) = client.get(f"/api/recipes/threshold/plates?photo={photo}").json()
    begun = client.post("/api/sheets", json={"photo": photo, "recipe": "threshold"}).json()

    assert plate["draw"]["level"] == begun["sheet"]["plates"][0]["draw"]["level"]


def test_guesses_rank_every_recipe_of_the_book(client, photo, sheet):
    kept(client, sheet)

    guesses = client.get(f"/api/photos/{photo}/guesses").json()

    assert sorted(guesses["order"]) == sorted(
        each["ref"] for each in client.get("/api/recipes").json()
    )
    quick = guesses["quick"]
    assert {"dot-screen", "threshold"} <= set(quick) <= set(guesses["order"])
    assert not {"stipple", "woodblock"} & set(quick)
    assert all(0 <= value <= 1 for value in guesses["figures"].values())
    assert client.get("/api/photos/none/guesses").status_code == 404
