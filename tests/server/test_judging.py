"""Pulls, directions, swapped photos, copies, and what is judged of a sheet."""

import base64
import io
import threading

import numpy as np
import pytest
from PIL import Image

from flinz.core.document.sheet import Sheet
from flinz.errors import NotReadyError, Stopped
from tests.charts import blobs, png

PHOTO, OTHER = png(blobs(90, 120) * 255), png(blobs(100, 100, seed=8) * 200)


def brought(client, data):
    return client.post("/api/photos", files={"file": ("photo.png", data)}).json()["id"]


@pytest.fixture
def record(client):
    body = {"photo": brought(client, PHOTO), "recipe": "threshold"}
    return client.post("/api/sheets", json=body).json()


def changed(client, record, **draw):
    sheet = record["sheet"]
    plate = sheet["plates"][0]
    plate = {**plate, "draw": {**plate["draw"], **draw}, "fitted": []}
    body = {"base": record["revision"], "sheet": {**sheet, "plates": [plate]}, "words": "Turn"}
    return client.put(f"/api/sheets/{record['id']}", json=body).json()


def test_a_pull_is_kept_named_gone_back_to_and_undone(client, record):
    address = f"/api/sheets/{record['id']}"
    pull = client.post(f"{address}/pulls", json={"name": "First"}).json()
    later = changed(client, record, level=0.9)
    client.put(f"{address}/pulls/{pull['id']}", json={"name": "Light one"})

    back = client.post(f"{address}/pulls/{pull['id']}/go-back", json={"base": later["revision"]})

    assert back.json()["sheet"] == record["sheet"]
    assert back.json()["undo"] == "Back to the pull Light one"
    assert client.post(f"{address}/undo").json()["sheet"] == later["sheet"]
    (listed,) = client.get(f"{address}/pulls").json()
    assert listed["name"] == "Light one"


def test_going_back_from_an_older_revision_is_refused(client, record):
    address = f"/api/sheets/{record['id']}"
    pull = client.post(f"{address}/pulls", json={"name": "First"}).json()
    changed(client, record, level=0.9)

    stale = client.post(f"{address}/pulls/{pull['id']}/go-back", json={"base": record["revision"]})

    assert stale.status_code == 409


def test_a_deleted_pull_comes_back(client, record):
    address = f"/api/sheets/{record['id']}/pulls"
    pull = client.post(address, json={"name": "First"}).json()
    client.delete(f"{address}/{pull['id']}")
    assert client.get(address).json() == []

    client.post(f"{address}/{pull['id']}/restore")

    assert [each["id"] for each in client.get(address).json()] == [pull["id"]]
    assert client.get(f"{address}/{pull['id']}/picture").headers["content-type"] == "image/png"


def test_pulls_belong_to_their_sheet(client, record):
    body = {"photo": record["sheet"]["picture"]["photo"], "recipe": "pencil"}
    other = client.post("/api/sheets", json=body).json()
    pull = client.post(f"/api/sheets/{record['id']}/pulls", json={"name": "First"}).json()

    assert client.get(f"/api/sheets/{other['id']}/pulls/{pull['id']}/picture").status_code == 404
    assert client.delete(f"/api/sheets/{other['id']}/pulls/{pull['id']}").status_code == 404


def test_another_direction_keeps_the_old_plates_as_a_pull(client, record):
    address = f"/api/sheets/{record['id']}"
    body = {"base": record["revision"], "recipe": "stipple"}

    turned = client.post(f"{address}/direction", json=body).json()

    assert turned["sheet"]["plates"][0]["draw"]["look"] == "stipple"
    assert turned["sheet"]["title"] == record["sheet"]["title"]
    (pull,) = client.get(f"{address}/pulls").json()
    assert pull["sheet"] == record["sheet"]
    assert client.post(f"{address}/undo").json()["sheet"] == record["sheet"]


def test_a_direction_from_a_stale_version_leaves_nothing_behind(client, record):
    address = f"/api/sheets/{record['id']}"
    body = {"base": record["revision"] + 1, "recipe": "stipple"}

    assert client.post(f"{address}/direction", json=body).status_code == 409

    assert client.get(f"{address}/pulls").json() == []
    assert client.get(address).json() == record


def test_a_swapped_photo_refits_only_what_followed_the_photo(client, record):
    other = brought(client, OTHER)
    body = {"base": record["revision"], "photo": other, "tones": "numbers"}

    swapped = client.post(f"/api/sheets/{record['id']}/photo", json=body).json()

    plate = swapped["record"]["sheet"]["plates"][0]
    fresh = client.post("/api/sheets", json={"photo": other, "recipe": "threshold"}).json()
    assert plate["draw"]["level"] == fresh["sheet"]["plates"][0]["draw"]["level"]
    assert plate["draw"]["level"] != record["sheet"]["plates"][0]["draw"]["level"]
    assert swapped["refitted"] == ["plate 1: Draw, level"]


def test_a_dial_that_was_set_stays_when_the_photo_is_swapped(client, record):
    later = changed(client, record, level=0.31)
    body = {"base": later["revision"], "photo": brought(client, OTHER)}

    swapped = client.post(f"/api/sheets/{record['id']}/photo", json=body).json()

    assert swapped["record"]["sheet"]["plates"][0]["draw"]["level"] == 0.31
    assert swapped["refitted"] == []


def test_the_tones_of_a_swapped_photo_come_to_where_the_first_ones_were(client, record):
    other = brought(client, OTHER)
    body = {"base": record["revision"], "photo": other, "tones": "matched"}

    swapped = client.post(f"/api/sheets/{record['id']}/photo", json=body).json()

    tone = swapped["record"]["sheet"]["plates"][0]["tone"]
    # Its white is 200 of 255, that of the first was white.
    assert tone["white"] == pytest.approx(200 / 255, abs=0.03)
    assert tone["black"] == pytest.approx(0, abs=0.03)


def test_a_title_that_names_the_photo_names_the_one_it_is_drawn_from(client, record):
    data = {"file": ("Hill.png", OTHER)}
    other = client.post("/api/photos", files=data).json()["id"]

    def swap(title):
        sheet = {**record["sheet"], "title": title}
        present = client.get(f"/api/sheets/{record['id']}").json()
        body = {"base": present["revision"], "sheet": sheet, "words": "Title"}
        base = client.put(f"/api/sheets/{record['id']}", json=body).json()["revision"]
        asked = {"base": base, "photo": other}
        return client.post(f"/api/sheets/{record['id']}/photo", json=asked).json()["record"]

    assert swap("photo, in two inks")["sheet"]["title"] == "Hill, in two inks"
    assert swap("The fair")["sheet"]["title"] == "The fair"


def test_a_change_that_came_too_late_can_become_a_copy(client, record):
    mine = {**record["sheet"], "title": "Mine"}

    copy = client.post("/api/sheets/copy", json={"sheet": mine})

    assert copy.status_code == 201
    assert copy.json()["id"] != record["id"]
    assert copy.json()["sheet"] == mine


def test_lost_detail_comes_with_a_map_of_the_sheet(client, record):
    light = changed(client, record, level=0.02)

    found = client.get(f"/api/sheets/{record['id']}/lost").json()

    assert found["revision"] == light["revision"]
    assert found["share"] > 0.3
    picture = Image.open(io.BytesIO(base64.b64decode(found["map"].partition(",")[2])))
    alpha = np.asarray(picture)[..., 3]
    place = found["places"][0]
    height, width = alpha.shape
    part = alpha[
        int(place["top"] * height) : int(place["bottom"] * height),
        int(place["left"] * width) : int(place["right"] * width),
    ]
    assert part.mean() > alpha.mean()


def test_the_print_report_is_of_the_sheet_as_it_is(client, record):
    found = client.get(f"/api/sheets/{record['id']}/print-report").json()

    (report,) = found["reports"]
    assert found["revision"] == record["revision"]
    assert report["plate"] == record["sheet"]["plates"][0]["id"]
    assert report["thinnest_mm"] > 0 and not report["is_grey"]


def until_stopped(begun):
    """A judgement that goes on until it is given up."""

    def judge(press, photo, sheet, stop):
        begun.set()
        while not stop():
            waited.wait(0.01)
        raise Stopped("Given up.")

    waited = threading.Event()
    return judge


def test_a_judgement_that_nobody_waits_for_is_given_up(client):
    begun, left = threading.Event(), threading.Event()
    studio = client.app.state.studio

    def hang_up():
        begun.wait(30)
        left.set()

    threading.Thread(target=hang_up).start()
    with pytest.raises(Stopped):
        studio.judged(until_stopped(begun), None, None, left.is_set)

    # The next one has its turn.
    assert studio.judged(lambda *_: "judged", None, None, lambda: False) == "judged"


def test_what_was_judged_of_a_drawing_is_told_again(client, record):
    studio, judged = client.app.state.studio, []

    def judge(press, photo, sheet, stop):
        judged.append(sheet)
        return b"%d" % len(judged)

    def told(sheet, what="lost"):
        return studio.judged_once(what, judge, studio.photo_of(sheet), sheet, lambda: False)

    sheet = Sheet.model_validate(record["sheet"])
    lighter = Sheet.model_validate(changed(client, record, level=0.1)["sheet"])

    assert told(sheet) == told(sheet.model_copy(update={"title": "Renamed"})) == b"1"
    assert told(lighter) == b"2"
    assert told(sheet, "another judgement") == b"3"
    assert told(sheet) == b"1"


def test_of_too_many_judgements_the_oldest_that_wait_are_let_go(client, monkeypatch):
    monkeypatch.setattr("flinz.server.studio.MAX_JUDGEMENTS", 1)
    begun, left = threading.Event(), threading.Event()
    studio, found = client.app.state.studio, []

    def ask(judge, gone):
        try:
            found.append(studio.judged(judge, None, None, gone))
        except (NotReadyError, Stopped) as error:
            found.append(type(error))

    first = threading.Thread(target=ask, args=(until_stopped(begun), left.is_set))
    first.start()
    assert begun.wait(30)
    second = threading.Thread(target=ask, args=(lambda *_: "second", lambda: False))
    second.start()
    while studio._judging._work_queue.qsize() < 1:
        assert second.is_alive() and not left.wait(0.01)
    third = threading.Thread(target=ask, args=(lambda *_: "third", lambda: False))
    third.start()
    second.join(30)
    assert found == [NotReadyError]

    left.set()
    for each in (first, third):
        each.join(30)
    assert set(found) == {NotReadyError, Stopped, "third"}
