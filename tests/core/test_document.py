import json

import pytest
from hypothesis import given
from hypothesis import strategies as st
from pydantic import ValidationError

from flinz.core.dial import dials_of
from flinz.core.document.builtin import plain
from flinz.core.document.picture import Picture
from flinz.core.document.plate import Plate, Settled
from flinz.core.document.reading import parsed
from flinz.core.document.recipe import Recipe
from flinz.core.document.setting import with_value
from flinz.core.document.sheet import Sheet
from flinz.core.document.steps import steps
from flinz.errors import DocumentError


def refused(data, model=Sheet) -> str:
    with pytest.raises(DocumentError) as found:
        parsed(model, data)
    return str(found.value)


def every_model():
    return [kind.settings for step in steps().values() for kind in step.kinds.values()]


@pytest.mark.parametrize("model", every_model(), ids=lambda m: m.__name__)
def test_every_dial_has_words_and_a_start_within_its_track(model):
    for dial in dials_of(model):
        assert dial.label and dial.hint
        if dial.kind == "dial":
            assert dial.minimum <= dial.low <= dial.start <= dial.high <= dial.maximum
            assert 0 < dial.step <= dial.high - dial.low
            assert len(dial.hint) <= 48


@given(st.sampled_from(every_model()), st.data())
def test_values_beyond_a_limit_are_refused(model, data):
    dials = [dial for dial in dials_of(model) if dial.kind == "dial"]
    if not dials:
        return
    dial = data.draw(st.sampled_from(dials))
    beyond = data.draw(
        st.sampled_from([dial.minimum - 0.5, dial.maximum + 0.5, float("nan"), float("inf")])
    )

    with pytest.raises(ValidationError):
        model(**{dial.name: beyond})


def test_a_sheet_survives_the_way_through_json():
    sheet = Sheet(
        plates=[Plate(id="a"), Plate(id="b", fitted=["draw.level"])], picture=Picture(photo="x")
    )

    assert parsed(Sheet, sheet.model_dump_json()) == sheet


def test_a_newer_version_is_refused_with_a_way_on():
    assert "Update Flinz" in refused({"version": 4})


@pytest.mark.parametrize(
    ("data", "part"),
    [
        ("not json", "JSON"),
        ("[1]", "JSON object"),
        ({"format": "flinz-recipe"}, "flinz-sheet"),
        ({"colour": 1}, "colour is not known"),
        ({"plates": []}, "plates"),
        ({"plates": [{}, {}]}, "same id"),
        ({"plates": [{"draw": {"look": "oil"}}]}, "'oil'"),
        ({"plates": [{"tone": {"black": "NaN"}}]}, "number"),
        ({"plates": [{"tone": {"black": 7}}]}, "0.95 or less"),
        ({"plates": [{"fitted": ["nonsense"]}]}, "nonsense"),
        ({"title": "x" * 300}, "title"),
    ],
)
def test_a_bad_document_is_named_at_its_field(data, part):
    assert part in refused(data)


def test_deeply_nested_json_is_refused():
    assert "JSON" in refused("[" * 100_000)


def test_every_plain_recipe_leaves_the_other_stages_neutral():
    for name, recipe in plain().items():
        plate = recipe.plates[0]
        bare = Settled(draw=plate.draw, fitted=plate.fitted)
        assert plate == bare and plate.draw.look == name
        assert parsed(Recipe, recipe.model_dump_json()) == recipe


def test_setting_a_dial_lets_go_of_its_suggestion():
    recipe = plain()["threshold"]

    changed = with_value(recipe, "draw.level", "0.25")

    assert changed.plates[0].draw.level == 0.25
    assert changed.plates[0].fitted == []


def test_choosing_a_kind_starts_it_at_its_own_values():
    changed = with_value(Sheet(), "smooth.kind", "median")

    assert changed.plates[0].smooth.kind == "median"


def test_a_pen_is_turned_for_all_lines_that_share_it():
    def lined(number, pen, **made):
        source = {"kind": "lines", "pen": pen, "lines": made}
        return {"id": f"plate-{number}", "source": source}

    drawn = [("vine", {}), ("vine", {"tone": 0.5}), ("", {}), ("vine", {"width": 9}), ("stem", {})]
    sheet = Sheet(plates=[lined(number, pen, **made) for number, (pen, made) in enumerate(drawn)])

    penned = with_value(sheet, "photo.width", "3", plate=1)
    toned = with_value(sheet, "photo.tone", "0.25", plate=1)

    assert [plate.source.lines.width for plate in penned.plates] == [3, 3, 1.2, 9, 1.2]
    assert [plate.source.lines.tone for plate in toned.plates] == [
        plate.source.lines.tone if number != 1 else 0.25
        for number, plate in enumerate(sheet.plates)
    ]


@pytest.mark.parametrize(
    ("path", "value", "part"),
    [
        ("level", "1", "STAGE.NAME"),
        ("draw.nonsense", "1", "softness"),
        ("draw.softness", "soft", "not a number"),
        ("draw.softness", "99", "40 or less"),
        ("draw.softness", "nan", "number"),
        ("tone.invert", "perhaps", "neither"),
        ("draw.look", "oil", "oil"),
    ],
)
def test_a_bad_setting_says_what_is_allowed(path, value, part):
    with pytest.raises(DocumentError) as found:
        with_value(Sheet(), path, value)

    assert part in str(found.value)


def test_the_page_is_told_every_limit():
    text = json.dumps([dial.model_dump() for model in every_model() for dial in dials_of(model)])

    assert "NaN" not in text and "Infinity" not in text
