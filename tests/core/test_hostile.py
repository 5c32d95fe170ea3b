"""Files and documents from anywhere: either they are understood, or a sentence says why not."""

import json

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from flinz.core.document import builtin, reading
from flinz.core.document.plate import Plate
from flinz.core.document.reading import parsed
from flinz.core.document.recipe import Recipe
from flinz.core.document.sheet import Sheet
from flinz.errors import DocumentError, FlinzError

# Words that mean something here, so that wrong values reach every field.
NAMES = [*Recipe.model_fields, *Sheet.model_fields, *Plate.model_fields, "look", "level", "kind"]
WORDS = st.sampled_from([*NAMES, "flinz-sheet", "flinz-recipe", "pencil", "median"])
PLAIN = st.one_of(
    st.none(),
    st.booleans(),
    st.integers(-5, 10**12),
    st.floats(allow_nan=True, allow_infinity=True),
    WORDS,
    st.text(max_size=6),
)
JSON = st.recursive(
    PLAIN,
    lambda inner: st.one_of(st.lists(inner, max_size=4), st.dictionaries(WORDS, inner, max_size=6)),
    max_leaves=25,
)


def checked(work):
    """Whatever happens is ours and is said in a sentence."""
    try:
        return work()
    except FlinzError as error:
        sentence = str(error)
        assert sentence.endswith((".", "…")) and len(sentence) > 15 and "Traceback" not in sentence
        return None


@given(JSON)
@settings(max_examples=150)
def test_any_json_is_a_sheet_or_a_sentence(data):
    found = checked(lambda: parsed(Sheet, data if isinstance(data, dict) else json.dumps(data)))

    assert found is None or isinstance(found, Sheet)


@given(JSON)
@settings(max_examples=150)
def test_any_json_is_a_recipe_or_a_sentence(data):
    found = checked(lambda: reading.read_recipe(json.dumps(data)))

    assert found is None or isinstance(found[0], Recipe)


@given(st.binary(max_size=200))
def test_any_bytes_are_a_recipe_or_a_sentence(data):
    checked(lambda: reading.read_recipe(data))


def leaves(node, path=()):
    """Paths of all values of a document that are neither lists nor objects."""
    items = node.items() if isinstance(node, dict) else enumerate(node)
    for key, value in items:
        if isinstance(value, dict | list):
            yield from leaves(value, (*path, key))
        else:
            yield (*path, key)


WHOLE = json.loads(builtin.named("tee-one-colour").model_dump_json())


@pytest.mark.parametrize("path", list(leaves(WHOLE)), ids=lambda path: ".".join(map(str, path)))
def test_a_wrong_value_is_refused_at_its_field_or_means_something(path):
    for bad in ([], {}, "nonsense", 1e300, None):
        spoiled = json.loads(json.dumps(WHOLE))
        node = spoiled
        for key in path[:-1]:
            node = node[key]
        node[path[-1]] = bad

        try:
            recipe, _ = reading.read_recipe(json.dumps(spoiled))
        except DocumentError as error:
            # What tells one kind from another is named by what it is the kind of.
            names = [key for key in path if isinstance(key, str)][-2:]
            assert any(name in str(error) for name in (*names, f"{bad!r} document"))
        else:
            assert Recipe.model_validate_json(recipe.model_dump_json()) == recipe
