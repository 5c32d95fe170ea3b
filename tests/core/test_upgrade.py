"""Documents of earlier versions, as they were written, and what becomes of them."""

import json

import pytest

from flinz.core.document.picture import Crop, Position
from flinz.core.document.reading import parsed, read_recipe
from flinz.core.document.recipe import Recipe
from flinz.core.document.setting import with_value
from flinz.core.document.sheet import Sheet
from flinz.core.document.upgrade import upgraded
from flinz.errors import DocumentError

SHEET = {
    "format": "flinz-sheet",
    "version": 1,
    "title": "Badge",
    "photo": "abc",
    "crop": {"left": 0.25, "top": 0.0, "right": 1.0, "bottom": 0.5, "quarter_turns": 3},
    "paper": {"long_edge": 280.0, "colour": "#f6efdf"},
    "plates": [{"id": "black", "draw": {"look": "threshold", "level": 0.4}}],
    "watch": [{"name": "eye", "left": 0.1, "top": 0.1, "right": 0.2, "bottom": 0.2}],
}
RECIPE = {
    "format": "flinz-recipe",
    "version": 1,
    "name": "Tee",
    "paper": {"long_edge": 280.0},
    "plates": [{"id": "black", "draw": {"look": "threshold", "level": 0.4}}],
}


def test_a_sheet_keeps_all_it_said():
    sheet = parsed(Sheet, SHEET)

    assert sheet.picture.photo == "abc"
    assert sheet.picture.crop == Crop(left=0.25, bottom=0.5, quarter_turns=3)
    # The paper had the picture's shape, which filled it.
    assert sheet.picture.position == Position()
    assert (sheet.paper.size, sheet.paper.long_edge) == ("as-picture", 280)
    assert sheet.paper.colour == "#f6efdf"
    assert sheet.plates[0].draw.level == 0.4 and sheet.plates[0].source.kind == "picture"
    assert (sheet.watch[0].name, sheet.hand_work, sheet.cutouts) == ("eye", [], {})


def test_a_recipe_keeps_all_it_said():
    recipe, notes = read_recipe(json.dumps(RECIPE))

    assert (recipe.name, recipe.paper.long_edge, notes) == ("Tee", 280, [])
    assert (recipe.made_on, recipe.as_drawn) == (None, 1.0)


@pytest.mark.parametrize(("model", "raw"), [(Sheet, SHEET), (Recipe, RECIPE)])
def test_what_was_upgraded_is_of_this_version_and_stays_as_it_is(model, raw):
    document = parsed(model, raw)
    written = document.model_dump(mode="json")

    assert written["version"] == 3
    assert upgraded(written) == written
    assert parsed(model, document.model_dump_json()) == document


def second(**plate):
    """A sheet of version 2 with one plate."""
    return {"format": "flinz-sheet", "version": 2, "plates": [plate]}


def test_six_dials_of_hue_become_points_of_the_ring():
    sheet = parsed(Sheet, second(tone={"reds": 0.4, "greens": 0.0, "magentas": -1.0, "local": 0.2}))

    tone = sheet.plates[0].tone
    assert tone.pulls == ((0, 0.4, 60), (300, -1.0, 60)) and tone.local == 0.2


def test_dials_that_are_called_otherwise_keep_their_values():
    loose = {"look": "loose-hatch", "spacing": 1.5, "curviness": 0.2, "variation": 0.9, "nib": 0.3}
    cut = {"look": "cut-paper", "balance": 0.3, "smoothing": 4.0}
    worn = {"look": "stipple", "roundness": 0.25}

    hatch, shapes, dots = (
        parsed(Sheet, second(draw=draw, fitted=["draw.balance", "tone.black"])).plates[0]
        for draw in (loose, cut, worn)
    )

    assert (hatch.draw.line_gap, hatch.draw.swing, hatch.draw.unevenness) == (1.5, 0.2, 0.9)
    assert (shapes.draw.ink_share, shapes.draw.finest) == (0.3, 4.0)
    assert shapes.fitted == ["draw.ink_share", "tone.black"]
    assert dots.draw.pen_wear == 0.75


def test_a_recipe_knows_its_photo_as_it_did():
    tones = {"black": 0.1, "white": 0.8, "middle": 0.4}

    recipe = parsed(Recipe, {**RECIPE, "version": 2, "made_on": tones, "paper": {"size": "own"}})

    assert recipe.made_on.photo.model_dump() == tones
    assert recipe.made_on.of_plate("black") == recipe.made_on.photo
    assert recipe.tones == "numbers"


def test_names_of_before_can_still_be_set():
    sheet = with_value(Sheet(), "tone.reds", "0.3")
    sheet = with_value(sheet, "tone.blues", -0.5)
    sheet = with_value(sheet, "tone.reds", -0.2)
    cut = with_value(with_value(sheet, "draw.look", "cut-paper"), "draw.balance", "0.2")
    worn = with_value(with_value(sheet, "draw.look", "stipple"), "draw.roundness", "0.4")

    assert sheet.plates[0].tone.pulls == ((240, -0.5, 60), (0, -0.2, 60))
    assert cut.plates[0].draw.ink_share == 0.2 and worn.plates[0].draw.pen_wear == 0.6
    with pytest.raises(DocumentError, match="has no dial 'balance' here"):
        with_value(sheet, "draw.balance", 0.2)


def test_a_ring_can_be_written_in_one_line():
    sheet = with_value(Sheet(), "tone.hues", "30:0.4 210:-0.3:90")

    assert sheet.plates[0].tone.pulls == ((30, 0.4, 60), (210, -0.3, 90))
    for wrong in ("red", "30", "400:0.2", "30:0.2:1:4", " ".join(["1:0.1"] * 9)):
        with pytest.raises(DocumentError):
            with_value(Sheet(), "tone.hues", wrong)


def test_fields_of_the_other_version_are_named():
    with pytest.raises(DocumentError, match="photo is not known"):
        parsed(Sheet, {**SHEET, "version": 2, "paper": {"size": "as-picture"}})
    with pytest.raises(DocumentError, match=r"paper\.as-picture\.width is not known"):
        parsed(Sheet, {**SHEET, "paper": {"width": 3}})


@pytest.mark.parametrize(
    "broken",
    [
        {"paper": 3},
        {"paper": None},
        {"crop": "all"},
        {"photo": 7},
        {"version": "one"},
        {"plates": {}},
    ],
)
def test_what_was_broken_before_is_named_not_dropped(broken):
    with pytest.raises(DocumentError) as caught:
        parsed(Sheet, {**SHEET, **broken})

    assert next(iter(broken)) in str(caught.value)


@pytest.mark.parametrize("crop", [{"left": 0.5, "right": 0.5}, {"top": 0.9, "bottom": 0.1}])
def test_a_crop_without_size_was_kept_once_and_is_let_go(crop):
    sheet = parsed(Sheet, {"format": "flinz-sheet", "version": 1, "photo": "p", "crop": crop})

    assert sheet.picture.photo == "p"
    assert sheet.picture.crop == Crop()
