"""The house recipes, and what is built in."""

import numpy as np
import pytest

from flinz.core.document import builtin
from flinz.core.document.builtin import house
from flinz.core.document.plate import Plate
from flinz.core.document.reading import parsed
from flinz.core.document.recipe import Recipe
from flinz.core.looks.registry import LOOKS
from flinz.core.press import fitting
from flinz.core.press.framing import whole
from flinz.core.press.press import Press
from flinz.core.stages.ink import rgb_of
from tests.charts import blobs, grey_photo

HOUSE = house()


def test_each_has_a_name_and_a_reason_of_its_own():
    names = {recipe.name for recipe in HOUSE}
    reasons = {recipe.purpose for recipe in HOUSE if recipe.purpose}

    assert len(names) == len(reasons) == len(HOUSE)
    assert not names & set(LOOKS)


def test_every_look_has_a_plain_recipe_of_its_name():
    assert list(builtin.plain()) == list(LOOKS)
    assert list(builtin.built_in()) == [*LOOKS, *(recipe.name for recipe in HOUSE)]


def test_every_stage_is_put_to_use_by_some():
    plates = [plate for recipe in HOUSE for plate in recipe.plates]

    for stage in ("tone", "smooth", "draw", "clean", "ink"):
        start = Plate.model_fields[stage].default
        assert any(getattr(plate, stage) != start for plate in plates), stage


@pytest.mark.parametrize("recipe", HOUSE, ids=[recipe.name for recipe in HOUSE])
def test_a_house_recipe_survives_its_file(recipe):
    assert parsed(Recipe, recipe.model_dump_json()) == recipe


@pytest.mark.parametrize("recipe", HOUSE, ids=[recipe.name for recipe in HOUSE])
def test_a_house_recipe_draws_neither_nothing_nor_everything(recipe, face):
    press = Press()
    sheet = fitting.fitted(press, face, recipe.on(face.key, recipe.name))

    drawn = press.proof(face, sheet, whole(sheet, face, 260))

    assert np.isfinite(drawn).all() and drawn.min() >= 0 and drawn.max() <= 1
    assert 0.02 < press.figures(face, sheet, whole(sheet, face, 260)).ink < 0.995
    assert drawn.std() > 0.05


@pytest.mark.parametrize("recipe", HOUSE, ids=[recipe.name for recipe in HOUSE])
def test_a_blank_photo_leaves_the_paper_or_one_even_tone(recipe):
    photo = grey_photo(np.full((60, 80), 255))
    sheet = recipe.on(photo.key, recipe.name)

    drawn = Press().proof(photo, sheet, whole(sheet, photo, 120))

    inverted = any(plate.tone.invert for plate in sheet.plates)
    mapped = any(plate.ink.colouring == "two-colour" for plate in sheet.plates)
    if not (inverted or mapped or "copy" in recipe.name):
        paper = rgb_of(sheet.paper.colour)
        assert np.abs(drawn - (paper if drawn.ndim == 3 else paper[0])).mean() < 0.02


def test_fitting_follows_the_photo():
    dull = grey_photo(100 + blobs(60, 80) * 40)
    sheet = builtin.named("packet-engraved").on(dull.key, "dull")

    fitted = fitting.fitted(Press(), dull, sheet).plates[0].tone

    assert 0.35 < fitted.black < 0.45 and 0.5 < fitted.white < 0.6
