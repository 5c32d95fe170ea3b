"""Who may call: names, origins, keys and sizes of requests; and who waits for whom."""

import asyncio
import threading
import time

import pytest
from fastapi.testclient import TestClient
from starlette.websockets import WebSocketDisconnect

from flinz.server import guard
from tests.charts import png, ramp
from tests.server.apps import ready_app
from tests.server.live import view

HOST = "http://localhost"
LIVE = "ws://localhost/api/sheets/live"
KEY = "a key of pears and plums"


@pytest.mark.parametrize("host", ["evil.example", "localhost.evil.example", "192.168.1.4:8320"])
def test_a_foreign_host_name_is_refused(client, host):
    assert client.get("/api/sheets", headers={"host": host}).status_code == 403


@pytest.mark.parametrize("host", ["localhost:8320", "127.0.0.1:9", "[::1]:8320"])
def test_loopback_names_are_let_in(client, host):
    assert client.get("/api/sheets", headers={"host": host}).status_code == 200


def test_another_pages_requests_are_refused(client):
    answer = client.post("/api/sheets", json={}, headers={"origin": "http://evil.example"})

    assert answer.status_code == 403
    assert client.post("/api/sheets", json={}, headers={"origin": HOST}).status_code == 422


def test_another_pages_live_connection_is_refused(client):
    with (
        pytest.raises(WebSocketDisconnect),
        client.websocket_connect(LIVE, headers={"origin": "http://evil.example"}),
    ):
        pass


def test_nothing_may_be_loaded_from_outside(client):
    policy = client.get("/api/catalogue").headers["content-security-policy"]

    assert "default-src 'none'" in policy and "http" not in policy and "unsafe" not in policy


def test_a_key_is_needed_where_one_is_set(tmp_path, monkeypatch):
    monkeypatch.setattr(guard, "WRONG_KEY_SECONDS", 0.0)
    with TestClient(ready_app(tmp_path, key=KEY), base_url="http://garden.example") as client:
        assert client.get("/api/sheets").status_code == 403
        assert client.get("/api/sheets", params={"key": "apple"}).status_code == 403
        assert client.get("/api/sheets", params={"key": KEY}).status_code == 200
        assert client.get("/api/sheets").status_code == 200


@pytest.mark.parametrize("key", ["pear", "birne; süß = ja", "\u68a8", 'a "pear"', "p" * 300])
def test_a_key_of_any_letters_opens_and_is_kept(tmp_path, key):
    with TestClient(ready_app(tmp_path, key=key), base_url="http://garden.example") as client:
        assert client.get("/api/sheets", params={"key": key}).status_code == 200
        # Other cookies of the same name of machine are no key, and are no hindrance.
        client.cookies.set("theme", "dark")
        client.cookies.set("odd", "a,b\\c")
        assert client.get("/api/sheets").status_code == 200
        kept = client.cookies["flinz_key"]
        client.cookies.clear()
        assert key not in kept
        assert client.get("/api/sheets", headers={"Cookie": "flinz_key=x"}).status_code == 403


@pytest.mark.parametrize(
    "host",
    ["me@localhost", "localhost/evil", "localhost#x", "[::1", "localhost:80:80", "", "a b", "[x]"],
)
def test_a_host_that_could_be_read_otherwise_is_refused(client, host):
    answer = client.get("/api/sheets", headers={"host": host})

    assert answer.status_code == 403
    # The refusals of the guard are as guarded as all else.
    assert "default-src 'none'" in answer.headers["content-security-policy"]
    assert answer.headers["content-type"] == "application/problem+json"


@pytest.mark.parametrize("origin", ["http://[::1", "null", "http://localhost@evil.example", ""])
def test_an_origin_that_is_none_is_refused(client, origin):
    assert client.get("/api/sheets", headers={"origin": origin}).status_code == 403


@pytest.mark.parametrize("site, status", [("same-origin", 200), ("none", 200), ("cross-site", 403)])
def test_what_a_browser_says_of_a_fetch_is_heeded(client, site, status):
    headers = {"sec-fetch-site": site, "sec-fetch-mode": "cors"}

    assert client.get("/api/sheets", headers=headers).status_code == status


def test_a_link_from_elsewhere_may_be_followed_to_a_page_and_not_to_what_is_behind_it(client):
    headers = {"sec-fetch-site": "cross-site", "sec-fetch-mode": "navigate"}

    assert client.get("/", headers=headers).status_code != 403
    assert client.get("/api/sheets", headers=headers).status_code == 403


def test_wrong_keys_wait_for_one_another_and_the_right_one_does_not():
    """Time is told by what the guard sleeps, not by a clock."""
    asked = []

    async def app(scope, receive, send):
        asked.append("in")

    async def tried(key):
        sent = []

        async def send(message):
            sent.append(message)

        headers = [(b"host", b"garden.example")]
        scope = {"type": "http", "method": "GET", "path": "/", "headers": headers}
        await watch(scope | {"query_string": f"key={key}".encode()}, None, send)
        return sent

    async def all_at_once():
        wrong = [asyncio.create_task(tried("wrong")) for _ in range(50)]
        await asyncio.sleep(0)
        await tried(KEY.replace(" ", "+"))
        answered = sum(task.done() for task in wrong)
        for task in wrong:
            task.cancel()
        return answered

    watch = guard.Guard(app, key=KEY)
    answered_at_once = asyncio.run(all_at_once())

    assert asked == ["in"]
    # Beyond those that may wait, wrong ones are refused on the spot; no other is answered yet.
    assert answered_at_once == 50 - guard.MAX_WRONG_KEYS


@pytest.mark.parametrize("path", ["/api/sheets", "/api/recipes/import", "/api/hand/announce"])
def test_a_body_that_is_too_large_is_refused_before_it_is_read(client, path):
    def endless():
        for _ in range(100):
            sent.append(1)
            yield b"x" * 100_000

    sent = []
    told = client.post(path, content=b"x" * 3_000_000)
    untold = client.post(path, content=endless())

    assert told.status_code == untold.status_code == 413
    assert "2 MB" in untold.json()["detail"]


def test_what_is_wrong_is_not_echoed_whole(client):
    title = "t" * 1_500_000

    for body in ({"photo": title, "recipe": "pencil"}, {"photo": "x", "recipe": title}):
        answer = client.post("/api/sheets", json=body)
        assert answer.status_code in (404, 422)
        assert len(answer.content) < 3000
    assert len(client.get(f"/api/{'x' * 5000}").content) < 3000


@pytest.mark.parametrize("number", ["9223372036854775808", "-1", "9" * 400])
def test_numbers_that_no_row_can_have_are_refused(client, number):
    for path in (f"/api/sheets/{number}", f"/api/jobs/{number}", f"/api/sheets/1/pulls/{number}"):
        assert client.request("DELETE", path).status_code in (404, 405, 422)
        assert client.get(path).status_code in (404, 405, 422)
    body = f'{{"sheet_id": {number}, "name": "x", "photo": "x", "recipe": "y"}}'
    answer = client.post(
        "/api/recipes/from-sheet", content=body, headers={"content-type": "application/json"}
    )
    assert answer.status_code == 422


@pytest.mark.parametrize("text", ['"\\ud800"', '"a\\udfffb"'])
def test_half_letters_are_refused(client, text):
    body = f'{{"photo": {text}, "recipe": {text}, "title": {text}}}'

    answer = client.post("/api/sheets", content=body, headers={"content-type": "application/json"})

    assert answer.status_code in (404, 422) and answer.json()["detail"].endswith(".")


def test_bytes_on_the_live_connection_are_said_to_be_no_ask(client):
    with client.websocket_connect(LIVE) as socket:
        socket.send_bytes(b"\x00\x01")

        assert "problem" in socket.receive_json()


def test_lists_answer_while_many_pages_draw(client, monkeypatch):
    """Drawing never takes the threads that other requests need."""
    going, go_on = threading.Semaphore(0), threading.Event()
    studio = client.app.state.studio

    def drawn(*args, **kwargs):
        going.release()
        go_on.wait(150)
        raise RuntimeError("enough")

    photo = client.post("/api/photos", files={"file": ("r.png", png(ramp()))}).json()["id"]
    sheet = client.post("/api/sheets", json={"photo": photo, "recipe": "threshold"}).json()
    monkeypatch.setattr(studio.press, "proof", drawn)
    pages = [client.websocket_connect(LIVE) for _ in range(45)]
    for page in pages:
        page.__enter__()
        page.send_json({"ask": 1, "sheet": sheet["sheet"], "views": [view("main")]})
    for _ in range(4):
        assert going.acquire(timeout=150)

    began = time.monotonic()
    listed = client.get("/api/sheets").json()
    lasted = time.monotonic() - began
    go_on.set()
    for page in pages:
        page.__exit__(None, None, None)

    assert [each["id"] for each in listed] == [sheet["id"]]
    # Drawing goes on until it is let go: an answer before that waited for none of it.
    assert lasted < 30
