"""Keys tell apart whatever could give another result, and refuse what they cannot tell apart."""

from dataclasses import dataclass
from enum import Enum

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from flinz.core.press.keys import content_key, step_key
from flinz.core.scale import whole_frame
from flinz.core.stages.clean import Clean
from flinz.core.stages.tone import Pull, Tone

FRAME = whole_frame(200.0, 400, 300)
LEAVES = st.none() | st.booleans() | st.integers() | st.floats(allow_nan=False) | st.text()
VALUES = st.recursive(LEAVES, lambda inner: st.lists(inner, max_size=4).map(tuple), max_leaves=8)


class Way(Enum):
    THERE = 1
    BACK = 2


@dataclass(frozen=True)
class Pair:
    one: float
    other: object


def typed(value):
    """A value with the types of all that is in it, as keys see it."""
    if isinstance(value, tuple):
        return tuple(typed(each) for each in value)
    # A zero has a sign, which a division would show.
    return type(value).__name__, repr(value)


@given(VALUES, VALUES)
def test_two_values_have_one_key_only_if_they_are_equal(one, other):
    assert (content_key(one) == content_key(other)) == (typed(one) == typed(other))


@given(st.lists(st.text(), max_size=4), st.lists(st.text(), max_size=4))
def test_parts_of_a_key_do_not_run_into_each_other(parts, others):
    assert (content_key(*parts) == content_key(*others)) == (parts == others)


@pytest.mark.parametrize(
    ("one", "other"),
    [
        (Tone(), Clean()),
        (Tone(hues=(Pull(hue=0, pull=0.1),)), Tone(hues=(Pull(hue=0, pull=0.2),))),
        (Way.THERE, Way.BACK),
        (np.float32(0.1), np.float32(0.2)),
        (np.float32(1), 1.0),
        (FRAME, whole_frame(201.0, 400, 300)),
        (Pair(1.0, (2,)), Pair(1.0, (3,))),
        (1, True),
        ("1", 1),
        (b"a", "a"),
    ],
)
def test_what_says_something_else_has_another_key(one, other):
    assert content_key(one) == content_key(one)
    assert content_key(one) != content_key(other)


@pytest.mark.parametrize(
    "value",
    [
        np.zeros(5000),
        (1, np.zeros(2)),
        Pair(1.0, np.zeros(2)),
        lambda: 1,
        object(),
        {"a": 1},
    ],
)
def test_what_does_not_say_all_it_holds_is_refused(value):
    with pytest.raises(TypeError, match="No key can be made"):
        content_key(value)


WHOLE_STEP = {"before": "b", "settings": 1.0, "where": FRAME, "draft": False}


@pytest.mark.parametrize(
    "other", [{"before": "c"}, {"settings": 2.0}, {"where": 200.0}, {"draft": True}]
)
def test_a_step_differs_in_everything_it_depends_on(other):
    assert step_key("draw", **WHOLE_STEP) != step_key("draw", **{**WHOLE_STEP, **other})
    assert step_key("draw", **WHOLE_STEP) != step_key("clean", **WHOLE_STEP)


@pytest.mark.parametrize("part", WHOLE_STEP)
def test_nothing_that_a_step_depends_on_can_be_left_out(part):
    rest = {name: value for name, value in WHOLE_STEP.items() if name != part}

    with pytest.raises(TypeError, match=part):
        step_key("draw", **rest)
