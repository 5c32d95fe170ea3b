"""Editions through the server: every photo small, drawn all, stopped, gone on with, taken."""

import io
import json
import threading
import zipfile
from concurrent.futures import ThreadPoolExecutor

import pytest
from fastapi.testclient import TestClient

from flinz.core.edition import crew
from flinz.server import edition_records
from tests.charts import blobs, png
from tests.server.apps import ready_app

NAMES = ("Leeks", "Runner beans", "Peas")
SMALL = {"format": "png", "long_edge_px": 120}
LARGE = {"format": "png", "dpi": 900}


@pytest.fixture(scope="module")
def folder(tmp_path_factory):
    return tmp_path_factory.mktemp("editions")


def served(folder):
    app = ready_app(folder)
    # Two processes begin no sooner than one, and these photos are few.
    app.state.studio.editions.hands = 1
    return TestClient(app, base_url="http://localhost")


@pytest.fixture(scope="module")
def client(folder):
    """A server for all, since each begins by loading all kernels; every test has its edition."""
    with served(folder) as client:
        bring_in_photos(client)
        yield client


def bring_in_photos(client):
    for seed, name in enumerate(NAMES):
        data = png(blobs(60, 80, seed=seed) * 255)
        client.post("/api/photos", files={"file": (f"{name}.png", data)})


def photos_of(client):
    """Ids of the photos, in the order they were brought in."""
    found = {photo["title"]: photo["id"] for photo in client.get("/api/photos").json()}
    return [found[name] for name in NAMES]


def begun(client, **more):
    """An edition of all photos, whose files are small."""
    said = {"photos": photos_of(client), "recipe": "threshold", "title": "Packets", **more}
    return changed(client, client.post("/api/editions", json=said).json(), wish=SMALL)


def changed(client, record, **values):
    body = {"base": record["revision"], "edition": record["edition"] | values, "words": "Change"}
    answer = client.put(f"/api/editions/{record['id']}", json=body)
    assert answer.status_code == 200, answer.text
    return answer.json()


def shown(client, record):
    return client.get(f"/api/editions/{record['id']}").json()


def states(record):
    return [entry["state"] for entry in record["entries"]]


def events(client, record):
    """What is told of a run until it has ended."""
    with client.stream("GET", f"/api/editions/{record['id']}/events") as stream:
        return [json.loads(line[6:]) for line in stream.iter_lines() if line.startswith("data: ")]


def drawn(client, record, **wanted):
    """The edition after a run to its end."""
    client.post(f"/api/editions/{record['id']}/run", json=wanted)
    events(client, record)
    return shown(client, record)


def unzipped(client, record):
    data = client.get(f"/api/editions/{record['id']}/zip").content
    with zipfile.ZipFile(io.BytesIO(data)) as archive:
        assert archive.testzip() is None
        return {name: archive.read(name) for name in archive.namelist()}


def exported(client, sheet_id):
    """A sheet's file as the print room writes it."""
    job = client.post(f"/api/sheets/{sheet_id}/exports", json=SMALL).json()
    with client.stream("GET", f"/api/jobs/{job['id']}/events") as stream:
        for _ in stream.iter_lines():
            pass
    return client.get(f"/api/jobs/{job['id']}/file").content


def test_all_photos_are_drawn_and_each_file_is_the_print_rooms(client):
    record = begun(client)
    assert states(record) == ["waiting"] * 3 and record["by"] == "threshold"
    assert [entry["name"] for entry in record["entries"]][1] == "2 Runner beans.png"

    record = drawn(client, record)
    files = unzipped(client, record)

    assert states(record) == ["done"] * 3 and list(files) == [
        f"{k} {n}.png" for k, n in enumerate(NAMES, 1)
    ]
    for entry, data in zip(record["entries"], files.values(), strict=True):
        new = {"photo": entry["photo"], "recipe": "threshold"}
        sheet = client.post("/api/sheets", json=new).json()
        assert exported(client, sheet["id"]) == data
        alone = client.get(f"/api/editions/{record['id']}/entries/{entry['id']}/file")
        assert alone.content == data


def test_small_pictures_are_what_the_bench_shows_and_keep_their_mark(client):
    record = begun(client)
    entry = record["entries"][0]
    address = f"/api/editions/{record['id']}/entries/{entry['id']}/picture?long_edge_px=90"

    small = client.get(f"{address}&mark={entry['mark']}")
    new = {"photo": entry["photo"], "recipe": "threshold"}
    sheet = client.post("/api/sheets", json=new).json()

    assert "immutable" in small.headers["cache-control"]
    assert small.content == client.get(f"/api/sheets/{sheet['id']}/picture?long_edge_px=90").content
    other = changed(client, record, recipe="pencil")["entries"][0]
    assert other["mark"] != entry["mark"]
    assert client.get(f"{address}&mark={entry['mark']}").headers["cache-control"] == "no-store"


def test_a_photo_that_is_adjusted_has_a_sheet_that_the_edition_follows(client):
    record = drawn(client, begun(client))
    before = unzipped(client, record)
    entry = record["entries"][1]

    adjusted = client.post(f"/api/editions/{record['id']}/entries/{entry['id']}/adjust").json()
    sheet = client.get(f"/api/sheets/{adjusted['sheet']}").json()
    sheet["sheet"]["plates"][0]["draw"]["level"] = 0.3
    change = {"base": sheet["revision"], "sheet": sheet["sheet"], "words": "Level"}
    client.put(f"/api/sheets/{sheet['id']}", json=change)
    turned = shown(client, record)
    after = drawn(client, turned)

    assert sheet["sheet"]["title"] == "Runner beans" and turned["undo"] == "Adjust Runner beans"
    assert states(turned) == ["done", "waiting", "done"]
    files = unzipped(client, after)
    assert files["1 Leeks.png"] == before["1 Leeks.png"]
    assert files["2 Runner beans.png"] == exported(client, sheet["id"])
    assert files["2 Runner beans.png"] != before["2 Runner beans.png"]
    back = client.post(f"/api/editions/{record['id']}/undo").json()
    assert back["entries"][1]["sheet"] == 0


def test_photos_that_are_adjusted_at_once_each_have_their_sheet(client):
    record = begun(client)
    begin = threading.Barrier(len(NAMES))

    def adjust(entry):
        begin.wait()
        return client.post(f"/api/editions/{record['id']}/entries/{entry['id']}/adjust")

    with ThreadPoolExecutor(len(NAMES)) as at_once:
        answers = list(at_once.map(adjust, record["entries"]))

    assert [answer.status_code for answer in answers] == [201] * len(NAMES)
    sheets = [answer.json()["sheet"] for answer in answers]
    assert [entry["sheet"] for entry in shown(client, record)["entries"]] == sheets


def test_what_is_drawn_is_not_drawn_again_also_after_a_restart(tmp_path, monkeypatch):
    asked, real = [], crew.draw

    def counting(works, *rest):
        listed = list(works)
        asked.extend(work.number for work in listed)
        real(listed, *rest)

    monkeypatch.setattr(crew, "draw", counting)
    with served(tmp_path) as client:
        bring_in_photos(client)
        record = drawn(client, begun(client), entries=[2])
        assert states(record) == ["waiting", "done", "waiting"]

    with served(tmp_path) as client:
        after = drawn(client, shown(client, record))
        assert states(after) == ["done"] * 3 and asked == [2, 1, 3]
        # Another name is no other file; another recipe is.
        renamed = changed(client, after, names="{title}")
        assert states(drawn(client, renamed)) == ["done"] * 3 and len(asked) == 3
        assert "Peas.png" in unzipped(client, renamed)
        assert states(changed(client, renamed, recipe="pencil")) == ["waiting"] * 3


def test_a_run_is_stopped_at_once_and_goes_on_from_there(client):
    record = changed(client, begun(client, recipe="stipple"), wish=LARGE)
    client.post(f"/api/editions/{record['id']}/run", json={})
    client.post(f"/api/editions/{record['id']}/stop")

    told = events(client, record)
    after = shown(client, record)

    assert not told[-1]["is_running"] and "waiting" in states(after)
    assert states(drawn(client, changed(client, after, wish=SMALL))) == ["done"] * 3


def test_a_run_that_ends_while_it_is_told_of_is_looked_at_again(client, monkeypatch):
    record = begun(client)
    client.post(f"/api/editions/{record['id']}/run", json={})
    entries = edition_records._entries

    def told_late(*asked):
        found = entries(*asked)
        events(client, record)
        return found

    monkeypatch.setattr(edition_records, "_entries", told_late)
    late = shown(client, record)
    monkeypatch.undo()

    # What ended meanwhile may be missing; then the run is told of too, whose end is watched for.
    assert late["is_running"] or states(late) == ["done"] * 3
    assert states(shown(client, record)) == ["done"] * 3


def test_what_is_asked_for_during_a_run_is_drawn_after_it(client):
    slow = begun(client, recipe="stipple")
    client.post(f"/api/editions/{slow['id']}/run", json={"entries": [1]})
    # Twice asked is once drawn.
    for _ in range(2):
        told = client.post(f"/api/editions/{slow['id']}/run", json={"entries": [3]}).json()

    assert told["is_running"] and told["total"] == 2
    events(client, slow)
    assert states(shown(client, slow)) == ["done", "waiting", "done"]


def test_what_is_asked_for_otherwise_during_a_run_is_drawn_as_it_was_asked_last(client):
    record = changed(client, begun(client, recipe="stipple"), wish=LARGE)
    client.post(f"/api/editions/{record['id']}/run", json={"entries": [1, 2]})
    record = changed(client, record, wish=SMALL)
    client.post(f"/api/editions/{record['id']}/run", json={"entries": [1, 2]})
    events(client, record)

    assert states(shown(client, record)) == ["done", "done", "waiting"]


def test_a_photo_that_is_damaged_fails_alone_and_is_drawn_again_once_it_is_whole(client, folder):
    record = begun(client)
    ids = [entry["photo"] for entry in record["entries"]]
    data = client.app.state.studio.store.connect()
    whole = data.execute("SELECT bytes FROM photo WHERE id = ?", (ids[1],)).fetchone()["bytes"]
    data.execute("UPDATE photo SET bytes = ? WHERE id = ?", (b"worm-eaten", ids[1]))

    record = drawn(client, record)

    assert states(record) == ["done", "failed", "done"]
    assert record["entries"][1]["trouble"] and list(unzipped(client, record)) == [
        "1 Leeks.png",
        "3 Peas.png",
    ]
    # Drawn by nothing else here, so that no picture of it is remembered.
    other = begun(client, recipe="dot-screen")
    contact = client.get(f"/api/editions/{other['id']}/contact")
    assert contact.status_code == 200 and contact.content.startswith(b"%PDF")
    data.execute("UPDATE photo SET bytes = ? WHERE id = ?", (whole, ids[1]))
    data.close()
    assert states(drawn(client, record, entries=[2])) == ["done"] * 3


def test_words_come_from_a_table_and_a_photo_without_a_line_says_so(client):
    new = {"photo": photos_of(client)[0], "recipe": "threshold"}
    sheet = client.post("/api/sheets", json=new).json()
    words = {"id": "name", "source": {"kind": "lettering", "lettering": {"words": "Name"}}}
    sheet["sheet"]["plates"].append(words)
    change = {"base": sheet["revision"], "sheet": sheet["sheet"], "words": "Words"}
    assert client.put(f"/api/sheets/{sheet['id']}", json=change).status_code == 200
    csv = b"photo;Latin\nleeks;Allium porrum\npeas.png;Pisum sativum\n"
    table = client.post("/api/editions/table", files={"file": ("t.csv", csv)}).json()
    record = begun(client, sheet=sheet["id"])
    assert record["lettering"] == [{"plate": "name", "name": "Plate 2", "words": "Name"}]

    record = changed(client, record, table=table, words={"name": "{Latin}"})

    assert record["fields"] == ["title", "caption", "number", "photo", "latin"]
    assert [entry["trouble"] for entry in record["entries"]] == [
        "",
        "The table has no line for 'Runner beans'.",
        "",
    ]
    assert states(drawn(client, record)) == ["done", "waiting", "done"]
    adjusted = client.post(f"/api/editions/{record['id']}/entries/3/adjust").json()
    plates = client.get(f"/api/sheets/{adjusted['sheet']}").json()["sheet"]["plates"]
    assert plates[1]["source"]["lettering"]["words"] == "Pisum sativum"
    missing = client.get(f"/api/editions/{record['id']}/entries/2/picture")
    assert missing.status_code == 422 and "no line" in missing.json()["detail"]


def test_one_left_out_is_neither_drawn_named_nor_counted(client):
    record = begun(client)
    entries = record["edition"]["entries"]
    entries[0]["left_out"] = True

    record = drawn(client, changed(client, record, entries=entries))

    assert states(record) == ["left-out", "done", "done"]
    assert list(unzipped(client, record)) == ["1 Runner beans.png", "2 Peas.png"]
    card = client.get("/api/editions").json()[0]
    assert (card["title"], len(card["photos"]), card["done"]) == ("Packets", 2, 2)


def test_the_contact_print_has_every_photo_under_its_name(client):
    pdfium = pytest.importorskip("pypdfium2")
    record = begun(client)

    answer = client.get(f"/api/editions/{record['id']}/contact")

    document = pdfium.PdfDocument(answer.content)
    text = document[0].get_textpage().get_text_range()
    assert all(f"{k} {name}.png" in text for k, name in enumerate(NAMES, 1))
    picture = document[0].render(scale=1).to_pil().convert("L")
    # Three pictures in the topmost row, and nothing beneath.
    assert picture.crop((36, 210, 560, 800)).getextrema() == (255, 255)
    assert picture.crop((36, 90, 420, 165)).getextrema()[0] < 60


def test_what_is_wrong_is_said_and_nothing_is_lost(client):
    record = begun(client)
    address = f"/api/editions/{record['id']}"

    def refused(answer, status, words):
        assert answer.status_code == status and words in answer.json()["detail"], answer.text

    edition = record["edition"]
    stale = {"base": 0, "edition": edition, "words": "Change"}
    refused(client.put(address, json=stale), 409, "This edition was changed elsewhere")
    wrong = {"base": record["revision"], "words": "Change"}
    refused(
        client.put(address, json=wrong | {"edition": edition | {"wish": {"format": "gif"}}}),
        422,
        "wish",
    )
    unknown = edition | {"entries": [{"id": 1, "photo": "0" * 64}]}
    refused(client.put(address, json=wrong | {"edition": unknown}), 404, "no such photo")
    refused(client.get(f"{address}/zip"), 404, "No file of this edition")
    refused(client.get(f"{address}/entries/1/file"), 404, "not drawn yet")
    refused(client.get(f"{address}/entries/77/picture"), 404, "not in the edition")
    refused(client.post("/api/editions", json={"sheet": 99}), 404, "no sheet 99")
    refused(client.get("/api/editions/99"), 404, "no edition 99")
    refused(client.post("/api/editions/table", files={"file": ("t.csv", b"x")}), 422, "first line")
    assert shown(client, record) == record


def test_an_edition_taken_off_the_shelf_takes_its_files_and_comes_back(client, folder):
    record = drawn(client, begun(client))
    files = folder / "editions" / str(record["id"])
    assert list(files.iterdir())

    client.delete(f"/api/editions/{record['id']}")
    ids = {card["id"] for card in client.get("/api/editions").json()}
    assert record["id"] not in ids and not files.exists()
    client.post(f"/api/editions/{record['id']}/restore")
    assert states(shown(client, record)) == ["waiting"] * 3


def test_an_edition_taken_off_the_shelf_while_it_is_drawn_leaves_no_file(client, folder):
    record = changed(client, begun(client, recipe="stipple"), wish=LARGE)
    client.post(f"/api/editions/{record['id']}/run", json={})
    client.delete(f"/api/editions/{record['id']}")
    events(client, record)

    assert not (folder / "editions" / str(record["id"])).exists()


def test_a_photo_may_be_called_otherwise_and_its_file_with_it(client):
    record = begun(client)
    photo, title = record["entries"][0]["photo"], record["entries"][0]["title"]
    words = {"title": "Giant leeks", "caption": "Show bench, second prize"}
    assert client.put(f"/api/photos/{photo}", json=words).json()["title"] == "Giant leeks"
    assert client.put(f"/api/photos/{photo}", json={"title": ""}).status_code == 422
    assert client.put("/api/photos/none", json=words).status_code == 404

    entry = shown(client, record)["entries"][0]
    assert entry["name"] == "1 Giant leeks.png" and entry["caption"] == words["caption"]
    client.put(f"/api/photos/{photo}", json={"title": title})


def test_two_photos_of_one_name_are_told_apart_and_it_is_said(client):
    data = png(blobs(60, 80, seed=8) * 255)
    twin = client.post("/api/photos", files={"file": ("Leeks.png", data)}).json()
    photos = photos_of(client)

    record = begun(client, photos=[twin["id"], *photos[1:], *photos[:1]])
    client.delete(f"/api/photos/{twin['id']}")
    record = changed(client, record, names="{title}")

    names = [entry["name"] for entry in record["entries"]]
    assert "Leeks.png" in names and "Leeks 2.png" in names and len(set(names)) == len(names)
    assert "come to one name" in record["notes"][0]
