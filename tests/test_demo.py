"""The demo: what ships with it is what would be made anew."""

import io
import json
from importlib import resources

import numpy as np
import pytest
from fastapi.testclient import TestClient
from PIL import Image

from demo_fitted import drawn_anew, fitted_anew
from flinz.core.press.warm import parts
from flinz.demo import fitted
from flinz.demo.scenario import PHOTOS, begun, drawn_before, fill
from flinz.server.app import make_app
from flinz.server.readiness import Readiness


@pytest.mark.photo
def test_what_was_fitted_beforehand_is_what_its_photos_have():
    kept = json.loads((resources.files("flinz.demo") / fitted.FILE).read_text())

    assert kept == json.loads(json.dumps(fitted_anew()))


@pytest.mark.photo
def test_what_the_shelf_shows_first_is_what_its_sheets_look_like(tmp_path):
    some = {"Old Barnaby, one-colour tee", "Autumn fair poster, two inks"}

    for title, drawn in drawn_anew(some):
        kept, anew = (
            np.asarray(Image.open(io.BytesIO(data)).convert("L"), float)
            for data in (drawn_before(title), drawn)
        )
        assert kept.shape == anew.shape and np.abs(kept - anew).mean() < 1


def test_every_sheet_of_a_new_demo_is_on_the_shelf_before_anything_can_be_drawn(tmp_path):
    fill(tmp_path)
    # Nothing is made ready here.
    app = make_app(tmp_path, readiness=Readiness(set(parts()), lambda load, stop: None))
    with TestClient(app, base_url="http://localhost") as web:
        records = web.get("/api/sheets").json()
        shown = [
            web.get(f"/api/sheets/{each['id']}/picture?long_edge_px=560&mark={each['mark']}")
            for each in records
        ]

    assert len(records) > 10 and {each.status_code for each in shown} == {200}


def test_sheets_of_the_demo_differ_by_their_titles():
    titles = [sheet.title for sheet, _, _ in begun({photo.file: photo.file for photo in PHOTOS})]

    assert len(set(titles)) == len(titles)
