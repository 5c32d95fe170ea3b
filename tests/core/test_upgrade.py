"""Documents of version 1, as they were written, and what becomes of them."""

import json

import pytest

from flinz.core.document.picture import Crop, Position
from flinz.core.document.reading import parsed, read_recipe
from flinz.core.document.recipe import Recipe
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

    assert written["version"] == 2
    assert upgraded(written) == written
    assert parsed(model, document.model_dump_json()) == document


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
