"""The demo: what ships with it is what would be made anew."""

import json
from importlib import resources

import pytest

from demo_fitted import fitted_anew
from flinz.demo import fitted
from flinz.demo.scenario import PHOTOS, begun


@pytest.mark.photo
def test_what_was_fitted_beforehand_is_what_its_photos_have():
    kept = json.loads((resources.files("flinz.demo") / fitted.FILE).read_text())

    assert kept == json.loads(json.dumps(fitted_anew()))


def test_sheets_of_the_demo_differ_by_their_titles():
    titles = [sheet.title for sheet, _, _ in begun({photo.file: photo.file for photo in PHOTOS})]

    assert len(set(titles)) == len(titles)
