"""A fresh machine: what is not compiled yet says so, and is drawn as soon as it can be."""

import threading

import pytest
from fastapi.testclient import TestClient

from flinz.core.document import builtin
from flinz.core.document.begun import beginnings
from flinz.core.press import warm
from flinz.core.press.framing import whole
from flinz.core.press.parts import needed
from flinz.core.press.press import Press
from flinz.core.press.proofing import Subject
from flinz.errors import NotReadyError, Stopped
from flinz.server.app import make_app
from flinz.server.readiness import Readiness
from tests.charts import blobs, grey_photo, png, sheet_of
from tests.server.live import one_answer, view

LIVE = "ws://localhost/api/sheets/live"


class Compiler:
    """Stands in for the processes that compile: each part is done when it is told to be."""

    def __init__(self):
        self.done = {name: threading.Event() for name in warm.parts()}

    def __call__(self, told, stop):
        for name, done in self.done.items():
            while not done.wait(0.02):
                if stop():
                    return
            told(name)


@pytest.fixture
def fresh(tmp_path):
    """A page's client, a sheet in stipple, and the compiler of a machine without any kernel."""
    compiler = Compiler()
    readiness = Readiness(set(warm.parts()), compiler)
    app = make_app(tmp_path, readiness=readiness)
    with TestClient(app, base_url="http://localhost") as client:
        client.post("/api/photos", files={"file": ("blobs.png", png(blobs(120, 160) * 255))})
        photo = client.get("/api/photos").json()[0]["id"]
        new = {"photo": photo, "recipe": "stipple"}
        sheet = client.post("/api/sheets", json=new).json()
        yield client, sheet, compiler


def ready(compiler):
    for done in compiler.done.values():
        done.set()


def test_every_plate_needs_only_parts_that_are_made_ready():
    plates = [plate for recipe in builtin.built_in().values() for plate in recipe.plates]
    plates += beginnings().values()

    wanted = set().union(*(needed(plate) for plate in plates))

    assert wanted <= set(warm.parts())
    # Something of the house uses nearly all of them.
    assert len(wanted) >= len(warm.parts()) - 5


def test_a_press_draws_what_is_ready_and_names_what_is_not():
    press = Press(gate=Readiness({"Stipple", "hues"}).check)
    photo = grey_photo(blobs() * 255)
    threshold, stipple = sheet_of("threshold"), sheet_of("stipple")

    press.proof(photo, threshold, whole(threshold, photo))
    press.proof(photo, stipple, whole(stipple, photo), Subject("stage", "plate-1", "tone"))
    press.proof(photo, stipple, whole(stipple, photo), Subject("photo"))

    with pytest.raises(NotReadyError, match=r"^Stipple is being made ready"):
        press.proof(photo, stipple, whole(stipple, photo))
    with pytest.raises(NotReadyError):
        press.suggestions(photo, stipple, stipple.plates[0])


def test_a_live_picture_says_what_it_waits_for_and_comes_by_itself(fresh):
    client, sheet, compiler = fresh
    with client.websocket_connect(LIVE) as socket:
        views = [view("main"), view("photo", what="photo")]
        socket.send_json({"ask": 1, "sheet": sheet["sheet"], "views": views})
        said = socket.receive_json()
        problem = said["problem"]
        # What needs no kernel shows meanwhile.
        assert one_answer(socket)[0]["view"] == "photo"
        ready(compiler)
        head = None
        while head is None:
            message = socket.receive()
            # It may be looked at once more before its last part is there.
            if message.get("bytes") is not None:
                head = message["bytes"]

    assert said["later"] and "the photo" in problem.lower() and "made ready" in problem
    assert b'"view":"main"' in head[:400]


def test_a_newer_ask_is_not_held_up_by_one_that_waits(fresh):
    client, sheet, _ = fresh
    with client.websocket_connect(LIVE) as socket:
        socket.send_json({"ask": 1, "sheet": sheet["sheet"], "views": [view("main")]})
        assert "made ready" in socket.receive_json()["problem"]
        photo = view("photo", what="photo")
        socket.send_json({"ask": 2, "sheet": sheet["sheet"], "views": [photo]})

        assert one_answer(socket)[0]["ask"] == 2


def test_an_export_waits_until_it_can_be_drawn(fresh):
    client, sheet, compiler = fresh
    wish = {"format": "png", "long_edge_px": 64}
    job = client.post(f"/api/sheets/{sheet['id']}/exports", json=wish).json()
    assert client.get(f"/api/jobs/{job['id']}").json()["state"] == "waiting"

    ready(compiler)
    with client.stream("GET", f"/api/jobs/{job['id']}/events") as stream:
        last = [line for line in stream.iter_lines() if line][-1]

    assert '"state":"done"' in last


def test_what_needs_a_kernel_at_once_is_refused_with_a_sentence(fresh):
    client, sheet, _ = fresh
    answer = client.get(f"/api/photos/{sheet['sheet']['picture']['photo']}/guesses")

    assert answer.status_code == 503 and answer.headers["retry-after"]
    assert "being made ready" in answer.json()["detail"]


def test_pictures_of_lists_say_at_once_that_they_come_later(fresh):
    """A browser asks for six things at a time: those that wait would hold up all else."""
    client, sheet, compiler = fresh
    path = f"/api/sheets/{sheet['id']}/picture?long_edge_px=64"
    early = client.get(path)
    ready(compiler)
    with client.websocket_connect(LIVE) as socket:
        # Once a live picture has come, everything is ready.
        socket.send_json({"ask": 1, "sheet": sheet["sheet"], "views": [view("main")]})
        while socket.receive().get("bytes") is None:
            pass

    assert early.status_code == 503 and early.headers["retry-after"]
    assert client.get(path).status_code == 200


def test_waiting_ends_when_nobody_wants_it():
    with pytest.raises(Stopped):
        Readiness({"Stipple"}).wait(lambda: True)
    Readiness(set()).wait(lambda: True)


def test_a_compiler_that_fails_leaves_everything_to_first_use():
    def fails(told, stop):
        raise ChildProcessError("no memory")

    readiness = Readiness({"Stipple"}, fails)
    readiness.make_ready(lambda: False)

    readiness.check({"Stipple"})
