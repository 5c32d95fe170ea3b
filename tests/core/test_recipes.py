"""Recipes: kept from a sheet, read from files of any origin."""

import json

import pytest

from flinz.core.document import builtin, reading
from flinz.core.document.picture import Crop, Picture, Position
from flinz.core.document.recipe import MadeOn, Recipe, recipe_of
from flinz.core.document.sheet import Sheet
from flinz.core.document.tones import PhotoTones
from flinz.core.stages.clean import Clean
from flinz.core.stages.ink import Ink
from flinz.core.stages.paper import AsPicture
from flinz.core.stages.tone import Tone
from flinz.errors import DocumentError


def worked():
    """A sheet of two plates on which every stage was touched."""
    sheet = builtin.named("threshold").on("photo", "Fair")
    plate = sheet.plates[0].model_copy(
        update={
            "tone": Tone(contrast=0.4),
            "clean": Clean(specks=0.2),
            "ink": Ink(colour="#aa2200"),
            "fitted": ["draw.level", "tone.black"],
        }
    )
    second = plate.model_copy(update={"id": "plate-2", "name": "red"})
    return sheet.model_copy(update={"plates": [plate, second]})


def test_all_of_a_sheet_is_kept_but_what_belongs_to_the_photo():
    sheet = worked()

    tones = MadeOn(photo=PhotoTones(black=0.02, white=0.97, middle=0.4))
    recipe = recipe_of(sheet, "Fair", "For the fair", made_on=tones)

    assert recipe.made_on == tones
    again = recipe.on("other", "Next year")
    assert (again.photos, again.watch, again.plates) == (["other"], [], sheet.plates)


def test_position_crop_and_hand_work_stay_with_the_sheet():
    sheet = worked()
    plate = sheet.plates[0].model_copy(update={"hand": {"tone": "a" * 64}})
    lain = Position(x=10, y=20, width=90, turn=7, mirrored=True, as_drawn=2.0)
    picture = Picture(photo="photo", crop=Crop(left=0.5), position=lain)
    sheet = sheet.model_copy(
        update={"plates": [plate], "picture": picture, "cutouts": {"photo": "b" * 64}}
    )

    recipe = recipe_of(sheet, "Fair")

    assert "hand" not in recipe.model_dump(mode="json")["plates"][0]
    again = recipe.on("other", "Next year")
    # The drawing's lengths are the recipe's; where it lay is not.
    assert again.picture == Picture(photo="other", position=Position(as_drawn=2.0))
    assert (again.hand_work, again.cutouts) == ([], {})
    over = recipe.over(sheet)
    assert (over.picture, over.cutouts) == (sheet.picture, sheet.cutouts)


def test_a_position_that_another_paper_cannot_take_begins_anew():
    far = Sheet(
        paper=AsPicture(long_edge=400),
        picture=Picture(photo="photo", position=Position(x=5000, width=6000)),
    )

    over = builtin.named("stamp").over(far)

    assert over.picture.position == Position()
    assert reading.parsed(Sheet, over.model_dump_json()) == over


def test_stages_that_are_left_out_are_as_they_start():
    recipe = recipe_of(worked(), "Only ink", stages=["ink"], plates=["plate-2"])

    (plate,) = recipe.plates
    assert plate.tone == Tone() and plate.clean == Clean()
    assert plate.ink.colour == "#aa2200"
    # Draw is what a recipe is about: it stays, and so does what is fitted in it.
    assert plate.draw.look == "threshold"
    assert plate.fitted == ["draw.level"]


def test_a_recipe_needs_a_plate():
    with pytest.raises(DocumentError, match="at least one plate"):
        recipe_of(worked(), "None", plates=[])


def test_a_file_gives_back_the_recipe_it_was_written_from():
    for recipe in builtin.built_in().values():
        read, notes = reading.read_recipe(recipe.model_dump_json())
        assert (read, notes) == (recipe, [])


def test_an_unknown_look_is_named_and_the_rest_is_usable():
    raw = json.loads(recipe_of(worked(), "Fair").model_dump_json())
    raw["plates"][1]["draw"] = {"look": "engine-turned", "pitch": 3}

    recipe, notes = reading.read_recipe(json.dumps(raw))

    assert "'engine-turned'" in notes[0] and "Plate 2" in notes[0]
    assert recipe.plates[0].draw == worked().plates[0].draw
    assert recipe.plates[1].ink.colour == "#aa2200"


@pytest.mark.parametrize(
    ("change", "said"),
    [
        ({"plates": []}, "plates"),
        ({"plates": "two"}, "plates"),
        ({"plates": [{"tone": {"contrast": 9}}]}, "plates.0.tone.contrast is 9"),
        ({"plates": [{"id": "a"}, {"id": "a"}]}, "same id"),
        ({"name": ""}, "name"),
        ({"version": 4}, "newer Flinz"),
        ({"format": "flinz-sheet"}, "'flinz-sheet' document"),
        ({"script": "alert(1)"}, "script is not known"),
        ({"plates": [{"draw": ["look"]}]}, "plates.0.draw"),
        ({"paper": {"colour": "url(x)", "size": "as-picture"}}, "paper.as-picture.colour"),
        ({"paper": {"colour": "#ffffff"}}, "paper does not say its 'size'"),
    ],
)
def test_a_bad_file_says_what_is_wrong_at_which_field(change, said):
    raw = {**json.loads(recipe_of(worked(), "Fair").model_dump_json()), **change}

    with pytest.raises(DocumentError) as caught:
        reading.read_recipe(json.dumps(raw))

    assert said in str(caught.value)


@pytest.mark.parametrize("text", ["", "[", "[" * 50_000, "[]", "3", "null", '{"plates": [1]}'])
def test_what_is_no_recipe_at_all_is_refused_with_a_sentence(text):
    with pytest.raises(DocumentError) as caught:
        reading.read_recipe(text)

    assert str(caught.value).endswith(".")


def test_a_recipe_stands_on_its_own():
    recipe = recipe_of(worked(), "Fair")

    assert Recipe.model_validate_json(recipe.model_dump_json()) == recipe
    assert isinstance(recipe.on("photo", "x"), Sheet)
