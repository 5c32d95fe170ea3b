"""Ways of meeting that vector files have no word for, as they are shown by readers."""

import pytest

from flinz.core.deliver.artwork import NO_NAME, VectorWish
from flinz.core.deliver.format import Delivery
from flinz.core.deliver.shaping import artwork_of
from flinz.core.deliver.wording import in_named_modes
from flinz.core.stages.blend import Blend
from tests.core.test_covering import PHOTO, PRESS, off, sheet_in

RED, BLUE = {"colour": "#c83232"}, {"colour": "#3264c8"}


@pytest.mark.parametrize("blend", NO_NAME)
@pytest.mark.parametrize("kind", ["svg", "pdf"])
@pytest.mark.parametrize(
    ("beneath", "over"),
    [
        ([], ("threshold", BLUE | {"opacity": 0.8})),
        ([], ("pencil", BLUE)),
        ([("threshold", RED)], ("threshold", BLUE | {"opacity": 0.8})),
        ([("threshold", RED)], ("threshold", {"colour": "#000000"})),
        ([("threshold", RED)], ("flat-tones", BLUE)),
        ([("threshold", RED)], ("pencil", BLUE)),
        ([("pencil", RED)], ("pencil", {"colour": "#000000"})),
    ],
)
def test_two_inks_meet_as_they_print(blend, kind, beneath, over, tmp_path):
    look, ink = over
    # Tones of a middle colour over others have no word that is true of all of them.
    bound = 8 if (look, blend) == ("flat-tones", Blend.DENSITY_DIFFERENCE) else 1.5

    assert off(tmp_path, sheet_in(*beneath, (look, ink | {"blend": blend})), kind) < bound


@pytest.mark.parametrize("blend", ["screen", "color-burn", "difference"])
@pytest.mark.parametrize("kind", ["svg", "pdf"])
def test_ink_that_is_printed_several_times_adds_up_as_it_prints(blend, kind, tmp_path):
    strong = BLUE | {"blend": blend, "opacity": 0.6, "times": 3}

    assert off(tmp_path, sheet_in(("threshold", RED), ("threshold", strong)), kind) < 0.3


@pytest.mark.parametrize("blend", NO_NAME)
def test_inks_that_are_full_stay_one_layer_and_all_modes_have_names(blend):
    def layers(first, second):
        sheet = sheet_in(("threshold", first), ("threshold", second | {"blend": blend}))
        artwork = artwork_of(Delivery(PRESS, PHOTO, sheet), VectorWish())
        return in_named_modes(artwork).layers

    black = {"colour": "#000000"}
    assert [len(layers(*inks)) for inks in ((RED, black), (RED, BLUE))] == [2, 3]
    assert not {layer.blend for layer in layers(RED, BLUE)} & set(NO_NAME)


def test_without_paper_it_multiplies_and_says_so():
    sheet = sheet_in(("threshold", RED), ("threshold", BLUE | {"blend": Blend.SUM}))

    artwork = artwork_of(Delivery(PRESS, PHOTO, sheet), VectorWish(drop_paper=True))

    assert [each.blend for each in in_named_modes(artwork).layers] == [Blend.MULTIPLY] * 2
    assert any("is multiplied" in note for note in artwork.notes)


def test_greys_come_near_and_say_so():
    sheet = sheet_in(("threshold", RED), ("pencil", BLUE | {"blend": Blend.SUM}))

    notes = artwork_of(Delivery(PRESS, PHOTO, sheet), VectorWish()).notes

    assert any("nearly as it prints" in note for note in notes)
