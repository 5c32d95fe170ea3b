"""Dials that do nothing as others stand say so, and those do something elsewhere."""

import numpy as np
import pytest

from flinz.core.dial import dials_of
from flinz.core.document import builtin
from flinz.core.document.setting import with_value
from flinz.core.looks.registry import LOOKS
from flinz.core.press.framing import whole
from flinz.core.press.press import Press


def idle_dials():
    """(Recipe, stage, dial) of each dial that says that it may do nothing."""
    plates = {name: recipe.plates[0] for name, recipe in builtin.plain().items()}
    for name in LOOKS:
        stages = ("draw", "tone", "clean", "ink") if name == "pencil" else ("draw",)
        for stage in stages:
            dials = dials_of(type(getattr(plates[name], stage)))
            yield from ((name, stage, dial) for dial in dials if dial.idle_at)


@pytest.mark.parametrize(
    ("name", "stage", "dial"),
    [pytest.param(*each, id=f"{each[0]}-{each[1]}-{each[2].name}") for each in idle_dials()],
)
def test_a_dial_does_nothing_just_where_it_says_so(name, stage, dial, face):
    press = Press()
    sheet = builtin.named(name).on(face.key, "")
    frame = whole(sheet, face, 300)
    others = {each.name: each for each in dials_of(type(getattr(sheet.plates[0], stage)))}

    def change(**values):
        changed = sheet
        for other, value in values.items():
            changed = with_value(changed, f"{stage}.{other}", value)
        # A direction ends where it begins.
        places = dial.low, dial.low + 0.7 * (dial.high - dial.low)
        ends = (with_value(changed, f"{stage}.{dial.name}", place) for place in places)
        low, high = (press.proof(face, each, frame) for each in ends)
        return np.abs(high - low).mean()

    assert change(**dial.idle_at) == 0
    for other in dial.idle_at:
        middle = (others[other].low + others[other].high) / 2
        turned = {**dial.idle_at, other: others[other].high if middle == 0 else middle}
        if other == "layers":
            turned[other] = 2
        assert change(**turned) > 1e-4
