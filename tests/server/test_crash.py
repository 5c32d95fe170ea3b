import json
import signal
import subprocess
import sys
import urllib.request

from browser import free_port, wait_for
from flinz.store import database, sheets
from tests.charts import png, ramp


def asked(address, path, body=None, method="GET", kind="application/json"):
    data = json.dumps(body).encode() if isinstance(body, dict) else body
    request = urllib.request.Request(address + path, data, {"Content-Type": kind}, method=method)
    with urllib.request.urlopen(request, timeout=30) as answer:
        return json.load(answer)


def test_a_killed_server_loses_no_acknowledged_change(tmp_path):
    port = free_port()
    address = f"http://127.0.0.1:{port}"
    command = [sys.executable, "-m", "flinz", "serve", "--data", str(tmp_path), "--port", str(port)]
    with subprocess.Popen(command, stdout=subprocess.DEVNULL) as server:
        wait_for(address, server)
        body = b'--x\r\nContent-Disposition: form-data; name="file"; filename="r.png"\r\n\r\n'
        body += png(ramp()) + b"\r\n--x--\r\n"
        photo = asked(address, "/api/photos", body, "POST", "multipart/form-data; boundary=x")
        record = asked(address, "/api/sheets", {"photo": photo["id"]}, "POST")
        for number in range(40):
            change = {
                "base": record["revision"],
                "sheet": {**record["sheet"], "title": f"Edit {number}"},
                "words": f"Edit {number}",
            }
            record = asked(address, f"/api/sheets/{record['id']}", change, "PUT")
        server.send_signal(signal.SIGKILL)

    db = database.connect(tmp_path / "flinz.sqlite3")
    kept = sheets.one(db, record["id"])
    assert (kept.sheet.title, kept.revision) == ("Edit 39", record["revision"])
    for number in reversed(range(39)):
        assert sheets.undo(db, kept.id).sheet.title == f"Edit {number}"
    db.close()
