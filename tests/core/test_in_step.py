"""Plates that keep in step, times printed, colours by tone, grain before drawing, recipes."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from flinz.core.document.reading import parsed
from flinz.core.document.recipe import recipe_of
from flinz.core.document.sheet import Sheet
from flinz.core.planes.filters import averaged
from flinz.core.press.framing import whole
from flinz.core.press.press import Press
from flinz.core.stages.ink import Ink, rgb_of
from flinz.core.stages.printing import printed
from flinz.errors import DocumentError
from tests.charts import grey_photo

RAMP = grey_photo(np.tile(np.linspace(0, 255, 400, dtype=np.float32), (200, 1)), "ramp")
LIST = "a" * 64


def sheet_of(*plates):
    return parsed(Sheet, {"plates": [{"id": f"p{k}", **plate} for k, plate in enumerate(plates)]})


def test_a_plate_in_step_goes_through_the_stages_of_the_other():
    ahead = {
        "tone": {"black": 0.2},
        "draw": {"look": "stipple", "dot": 1.5},
        "hand": {"clean": LIST},
    }
    sheet = sheet_of(ahead, {"follows": "p0", "ink": {"colour": "#ff0000"}, "tone": {"white": 0.5}})

    first, second = sheet.plates

    assert (second.tone, second.draw, second.hand) == (first.tone, first.draw, first.hand)
    assert second.ink.colour == "#ff0000"


def test_a_stage_made_its_own_is_no_longer_followed():
    ahead = {"tone": {"black": 0.2}, "hand": {"tone": LIST}}
    sheet = sheet_of(ahead, {"follows": "p0", "own": ["tone"], "tone": {"black": 0.4}})

    assert sheet.plates[1].tone.black == 0.4 and sheet.plates[1].hand == {}


def test_what_follows_a_follower_follows_both():
    sheet = sheet_of({"follows": "p1"}, {"follows": "p2"}, {"draw": {"look": "woodcut"}})

    assert [plate.draw.look for plate in sheet.plates] == ["woodcut"] * 3


def test_plates_cannot_follow_in_a_ring():
    with pytest.raises(DocumentError, match="follow each other"):
        sheet_of({"follows": "p1"}, {"follows": "p0"})


def test_a_plate_whose_leader_is_gone_stays_as_it_is():
    sheet = sheet_of({"follows": "gone", "draw": {"look": "woodcut"}})

    assert sheet.plates[0].draw.look == "woodcut"


@given(st.floats(0, 1), st.integers(1, 8), st.sampled_from(["multiply", "normal", "screen"]))
def test_printed_several_times_is_printed_one_after_the_other(cover, times, blend):
    under = np.full((2, 2, 3), 0.9, np.float32)
    plane = np.full((2, 2), cover, np.float32)
    once = Ink(colour="#336699", blend=blend, opacity=0.7)

    one_by_one = under
    for _ in range(times):
        one_by_one = printed(one_by_one, plane, once)

    all_at_once = printed(under, plane, once.model_copy(update={"times": times}))
    assert np.allclose(all_at_once, one_by_one, atol=1e-5)


def test_each_flat_tone_takes_a_colour_of_its_own():
    colours = ["#fff3cf", "#e8a13a", "#a03020", "#2a1a40"]
    ink = {
        "colouring": "two-colour",
        "blend": "normal",
        "between": 2,
        **dict(zip(["lights", "mid_1", "mid_2", "colour"], colours, strict=True)),
    }
    sheet = sheet_of({"draw": {"look": "flat-tones", "steps": 4, "smoothing": 0}, "ink": ink})

    proof = Press().proof(RAMP, sheet, whole(sheet, RAMP, 800), exact=True)

    row = proof[proof.shape[0] // 2]
    seen = {tuple(np.round(row[at] * 255).astype(int)) for at in (10, 300, 560, 790)}
    assert seen == {tuple(np.round(rgb_of(each) * 255).astype(int)) for each in colours}


def test_grain_lies_on_the_tones_it_is_meant_for_and_keeps_them_on_the_whole():
    plain = sheet_of({"draw": {"look": "undrawn"}})
    grain = {"grain_amount": 0.5, "grain_from": 0.55, "grain": 0.6}
    grained = sheet_of({"draw": {"look": "undrawn"}, "tone": grain})
    frame = whole(plain, RAMP, 800)

    one, two = (Press().proof(RAMP, sheet, frame, exact=True) for sheet in (plain, grained))

    assert np.abs(two - one)[:, :350].max() < 0.01
    assert np.abs(two - one)[:, 500:700].std() > 0.03
    assert abs(two.mean() - one.mean()) < 0.01


def test_grain_before_drawing_is_the_same_at_every_size():
    sheet = sheet_of({"draw": {"look": "undrawn"}, "tone": {"grain_amount": 0.6, "grain": 1}})
    small, large = whole(sheet, RAMP, 400), whole(sheet, RAMP, 1600)
    press = Press()

    shrunk = averaged(press.proof(RAMP, sheet, large, exact=True), small.width, small.height)

    assert np.abs(shrunk - press.proof(RAMP, sheet, small)).mean() < 0.02


def test_a_recipe_keeps_words_blocks_and_pens_but_no_photo_and_no_font():
    sources = [
        {"kind": "lettering", "lettering": {"words": "Fair", "own": LIST}},
        {"kind": "block", "block": {"figure": "border"}},
        {"kind": "lines", "lines": {"nib": "marks", "mark": "leaf"}},
        {"kind": "photo", "picture": {"photo": "another"}},
    ]
    sheet = sheet_of(*({"source": source, "hand": {"lines": LIST}} for source in sources))

    recipe = recipe_of(sheet, "kept")

    kinds = [plate.source.kind for plate in recipe.plates]
    assert kinds == ["lettering", "block", "lines", "picture"]
    assert recipe.plates[0].source.lettering.words == "Fair"
    assert LIST not in recipe.model_dump_json() and "another" not in recipe.model_dump_json()
