import contextlib
import http.client
import json
import signal
import subprocess
import sys
import threading
import urllib.request
from datetime import UTC, datetime

import pytest

from browser import free_port, wait_for
from flinz.core.document.picture import Picture
from flinz.core.document.sheet import Sheet
from flinz.core.document.sheet_file import PackedPhoto, PhotoWords, SheetFile, packed
from flinz.core.hand import pieces as lists
from flinz.store import database, photos, pieces, sheets
from tests.charts import png, ramp


def asked(address, path, body=None, method="GET", kind="application/json"):
    data = json.dumps(body).encode() if isinstance(body, dict) else body
    request = urllib.request.Request(address + path, data, {"Content-Type": kind}, method=method)
    with urllib.request.urlopen(request, timeout=150) as answer:
        return json.load(answer)


def sent(address, path, data, name):
    """The answer to a file that is sent as a form does."""
    head = f'--x\r\nContent-Disposition: form-data; name="file"; filename="{name}"\r\n\r\n'
    body = head.encode() + data + b"\r\n--x--\r\n"
    return asked(address, path, body, "POST", "multipart/form-data; boundary=x")


@contextlib.contextmanager
def serving(folder, **options):
    """The address and the process of a server over a data folder; options: of the process."""
    port = free_port()
    address = f"http://127.0.0.1:{port}"
    command = [sys.executable, "-m", "flinz", "serve", "--data", str(folder), "--port", str(port)]
    with subprocess.Popen(command, stdout=subprocess.DEVNULL, **options) as server:
        try:
            wait_for(address, server)
            yield address, server
        finally:
            server.kill()


def test_a_server_that_is_stopped_lets_go_of_who_watches(tmp_path):
    """It ends of itself: what has to be cut off is told as a fault, in many lines."""
    with serving(tmp_path, stderr=subprocess.PIPE) as (address, server):
        photo = sent(address, "/api/photos", png(ramp()), "r.png")
        body = {"photo": photo["id"], "recipe": "stipple"}
        sheet = asked(address, "/api/sheets", body, "POST")
        large = {"format": "png", "long_edge_px": 9_000}
        job = asked(address, f"/api/sheets/{sheet['id']}/exports", large, "POST")
        watch = urllib.request.urlopen(f"{address}/api/jobs/{job['id']}/events", timeout=150)
        with watch:
            assert b"data" in watch.readline()
            server.send_signal(signal.SIGTERM)
            watch.read()
        said = server.stderr.read().decode()

    assert said == ""


def test_a_killed_server_loses_no_acknowledged_change(tmp_path):
    with serving(tmp_path) as (address, server):
        photo = sent(address, "/api/photos", png(ramp()), "r.png")
        record = asked(address, "/api/sheets", {"photo": photo["id"]}, "POST")
        for number in range(40):
            change = {
                "base": record["revision"],
                "sheet": {**record["sheet"], "title": f"Edit {number}"},
                "words": f"Edit {number}",
            }
            record = asked(address, f"/api/sheets/{record['id']}", change, "PUT")
        server.kill()

    db = database.connect(tmp_path / "flinz.sqlite3")
    kept = sheets.one(db, record["id"])
    assert (kept.sheet.title, kept.revision) == ("Edit 39", record["revision"])
    for number in reversed(range(39)):
        assert sheets.undo(db, kept.id).sheet.title == f"Edit {number}"
    db.close()


@pytest.mark.parametrize("kill_after", [1, 6])
def test_a_server_killed_amid_sheet_files_has_all_it_acknowledged_and_no_half(tmp_path, kill_after):
    acknowledged = []
    enough = threading.Event()

    def send(address, first):
        for number in range(first, 200, 2):
            photo = png(ramp(64 + number))
            sheet = Sheet(picture=Picture(photo=photos.content_id(photo)), title=f"Sheet {number}")
            words = PhotoWords(title=f"Photo {number}")
            data = packed(SheetFile(sheet, {sheet.picture.photo: PackedPhoto(photo, words)}))
            try:
                record = sent(address, "/api/sheets/open", data, "a.flinz")
            except (OSError, http.client.HTTPException):
                return
            acknowledged.append((record["id"], sheet.title))
            if len(acknowledged) >= kill_after:
                enough.set()

    with serving(tmp_path) as (address, server):
        senders = [threading.Thread(target=send, args=(address, first)) for first in (0, 1)]
        for sender in senders:
            sender.start()
        assert enough.wait(150)
        server.kill()
        for sender in senders:
            sender.join()

    with contextlib.closing(database.connect(tmp_path / "flinz.sqlite3")) as db:
        kept = {record.id: record for record in sheets.every(db)}
        assert {number: kept[number].sheet.title for number, _ in acknowledged} == dict(
            acknowledged
        )
        # One more may have been stored than was acknowledged by each sender, but whole.
        assert len(kept) <= len(acknowledged) + 2
        for record in kept.values():
            (photo,) = record.sheet.photos
            assert photos.content_id(photos.original(db, photo)) == photo
        assert db.execute("PRAGMA integrity_check").fetchone()[0] == "ok"


def test_a_server_killed_amid_hand_work_has_every_stroke_of_what_it_acknowledged(tmp_path):
    stroke = {"brush": {"verb": "darken"}, "points": [[0.1, 0.2, 0.5], [0.3, 0.3, 1.0]]}
    acknowledged = {}
    enough = threading.Event()

    def paint(address, record):
        strokes = None
        for number in range(1, 400):
            try:
                edit = {"of": strokes, "add": [stroke]}
                strokes = asked(address, "/api/hand/strokes", edit, "POST")["id"]
                record["sheet"]["plates"][0]["hand"] = {"tone": strokes}
                change = {"base": record["revision"], "sheet": record["sheet"], "words": "darken"}
                record = asked(address, f"/api/sheets/{record['id']}", change, "PUT")
            except (OSError, http.client.HTTPException):
                return
            acknowledged[record["id"]] = number
            if number > 20:
                enough.set()

    with serving(tmp_path) as (address, server):
        photo = sent(address, "/api/photos", png(ramp()), "r.png")["id"]
        begun = [asked(address, "/api/sheets", {"photo": photo}, "POST") for _ in range(2)]
        painters = [threading.Thread(target=paint, args=(address, record)) for record in begun]
        for painter in painters:
            painter.start()
        assert enough.wait(150)
        server.kill()
        for painter in painters:
            painter.join()

    with contextlib.closing(database.connect(tmp_path / "flinz.sqlite3")) as db:
        for sheet_id, number in acknowledged.items():
            record = sheets.one(db, sheet_id)
            (strokes,) = record.sheet.hand_work
            count = len(lists.read(strokes, lambda piece: pieces.get(db, piece)))
            # One more may have been stored than was acknowledged.
            assert count in (number, number + 1)
        pieces.sweep(db, datetime.now(UTC) + 2 * pieces.GRACE)
        while (record := sheets.undo(db, sheet_id)).undo is not None:
            count -= 1
            (strokes,) = record.sheet.hand_work
            assert len(lists.read(strokes, lambda piece: pieces.get(db, piece))) == count
        assert db.execute("PRAGMA integrity_check").fetchone()[0] == "ok"
