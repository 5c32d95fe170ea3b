"""Drafts of a part of a sheet: the marks near it are those of the whole, and lines lie still while
a stroke is made.
"""

from dataclasses import replace

import numpy as np
import pytest
from skimage.metrics import structural_similarity

from flinz.core.document.plate import Plate
from flinz.core.document.sheet import Sheet
from flinz.core.hand.strokes import Brush, Stroke
from flinz.core.looks.contour_hatch import ContourHatch
from flinz.core.looks.crosshatch import Crosshatch
from flinz.core.looks.loose_hatch import LooseHatch
from flinz.core.looks.stipple import Stipple
from flinz.core.press.framing import whole
from flinz.core.press.press import Press
from flinz.core.press.results import Stock
from flinz.core.scale import region_frame
from flinz.core.stages.paper import AsPicture
from flinz.core.stages.tone import Tone
from flinz.errors import DocumentError
from tests.charts import blobs, grey_photo

PHOTO = grey_photo(60 + 150 * blobs(300, 400, scale=25.0), "soft blobs")
LOOKS = (Stipple(dot=0.8), Crosshatch(), Crosshatch(follow=0.6), LooseHatch(), ContourHatch())
REGION = (0.35, 0.3, 0.6, 0.62)
MADE, OLD = "b" * 64, "a" * 64
BEFORE = Stroke(Brush(verb="darken", size=0.05), np.array([[0.1, 0.1, 1.0], [0.2, 0.1, 1.0]]))
NOW = Stroke(
    Brush(verb="lighten", size=0.2, hardness=0.9),
    np.array([[0.45, 0.3, 1.0], [0.5, 0.35, 1.0], [0.52, 0.36, 1.0]]),
)
SPECKS = blobs(300, 400, scale=3.0) * np.linspace(0, 1, 400)


def stock(lists):
    made_of = {MADE: OLD if OLD in lists else None}
    return Stock(strokes_of=lists.__getitem__, made_of=lambda name: made_of.get(name, name))


def sheet_of(look, **hand):
    return Sheet(plates=[Plate(draw=look, hand=hand)])


@pytest.mark.parametrize("look", LOOKS, ids=lambda look: look.look)
def test_a_draft_of_a_part_is_the_part_of_the_drawing(look):
    sheet = sheet_of(look)
    frame = whole(sheet, PHOTO, 1600)
    part = region_frame(frame, REGION)
    drawn = Press().proof(PHOTO, sheet, frame)[part.slices_in(frame)]

    press = Press()
    draft = press.proof(PHOTO, sheet, part, draft=True)

    # Of dots a draft leaves those where the grid puts them, and of lines that follow the form it
    # lays those of half as many steps.
    if isinstance(look, Stipple):
        rough = Press().proof(PHOTO, sheet, frame, draft=True)[part.slices_in(frame)]
        assert np.abs(draft - rough).max() < 1e-5
        assert draft.mean() == pytest.approx(drawn.mean(), abs=0.03)
    elif isinstance(look, ContourHatch):
        assert draft.mean() == pytest.approx(drawn.mean(), abs=0.03)
    else:
        assert structural_similarity(drawn, draft, data_range=1.0) > 0.97
    assert press.counts[f"whole:{look.look}:strokes"] == press.counts["whole:stipple:marks"] == 0


@pytest.mark.parametrize("look", LOOKS, ids=lambda look: look.look)
def test_marks_that_follow_detail_are_of_the_same_sizes_in_a_part(look):
    sheet = sheet_of(look.model_copy(update={"detail": 0.8}))
    frame = whole(sheet, PHOTO, 1600)
    part = region_frame(frame, REGION)
    rough = Press().proof(PHOTO, sheet, frame, draft=True)[part.slices_in(frame)]

    draft = Press().proof(PHOTO, sheet, part, draft=True)

    if isinstance(look, ContourHatch):
        # Other lines lie there, which leave the same ink, and as much as when they have settled.
        settled = Press().proof(PHOTO, sheet, frame)[part.slices_in(frame)]
        assert draft.mean() == pytest.approx(rough.mean(), abs=0.02)
        assert draft.mean() == pytest.approx(settled.mean(), abs=0.02)
    else:
        assert structural_similarity(rough, draft, data_range=1.0) > 0.97


@pytest.mark.parametrize("look", LOOKS, ids=lambda look: look.look)
def test_marks_that_stand_are_not_placed_again_for_a_part(look):
    press, sheet = Press(), sheet_of(look)
    frame = whole(sheet, PHOTO, 800)
    part = region_frame(frame, REGION)
    rough = press.proof(PHOTO, sheet, frame, draft=True)

    draft = press.proof(PHOTO, sheet, part, draft=True)

    assert np.abs(draft - rough[part.slices_in(frame)]).max() < 1e-5


def test_a_part_of_too_many_marks_is_refused_as_all_of_it_is():
    sheet = sheet_of(Stipple(dot=0.1)).model_copy(update={"paper": AsPicture(long_edge=2000)})
    frame = whole(sheet, PHOTO, 800)

    with pytest.raises(DocumentError, match="million places"):
        Press().proof(PHOTO, sheet, region_frame(frame, REGION), draft=True)


def test_lines_lie_still_while_a_stroke_is_made_and_once_it_is():
    lists = {OLD: [BEFORE], MADE: [BEFORE, NOW]}
    press = Press(stock=stock(lists))
    before, made = (sheet_of(ContourHatch(), tone=name) for name in (OLD, MADE))
    frame = whole(before, PHOTO, 800)
    press.proof(PHOTO, before, frame)

    press.proof(PHOTO, made, region_frame(frame, REGION), draft=True)
    settled = press.proof(PHOTO, made, frame)

    assert press.counts["whole:contour-hatch:lines"] == 1
    # As though the stroke had been there from the first.
    plain = Press(stock=Stock(strokes_of=lists.__getitem__)).proof(PHOTO, made, frame)
    assert np.array_equal(settled, plain)


@pytest.mark.parametrize("look", (Crosshatch(), LooseHatch()), ids=lambda look: look.look)
def test_a_part_that_grows_lays_no_lines_anew_within_a_block(look):
    press, sheet = Press(), sheet_of(look)
    frame = whole(sheet, PHOTO, 800)
    laid = f"paper:{look.look}:laid"

    for right in (0.49, 0.53, 0.57):
        part = region_frame(frame, (0.35, 0.3, right, 0.5))
        press.proof(PHOTO, sheet, part, draft=True)
    assert press.counts[laid] == round(look.layers)


def test_lines_of_several_sizes_lie_still_while_it_is_turned_how_much_they_follow_detail():
    fine = grey_photo(60 + 100 * blobs(300, 400, scale=25.0) + 80 * SPECKS, "fine on one side")
    press = Press()
    sheets = [
        sheet_of(ContourHatch(detail=detail, lightest=lightest))
        for detail, lightest in ((0.8, 0.98), (0.9, 0.98), (0.9, 0.9))
    ]
    frame = whole(sheets[0], fine, 800)
    first = press.proof(fine, sheets[0], frame)
    laid = press.counts["whole:contour-hatch:lines"]

    drawn = [press.proof(fine, sheet, frame) for sheet in sheets[1:]]

    assert press.counts["whole:contour-hatch:lines"] == laid > 1
    assert press.counts["whole:contour-hatch:form"] == 1
    assert not np.array_equal(drawn[0], first)
    for sheet, picture in zip(sheets[1:], drawn, strict=True):
        assert np.array_equal(Press().proof(fine, sheet, frame), picture)


@pytest.mark.parametrize("has_old", [True, False])
def test_what_the_hand_did_is_the_same_in_a_part_that_is_drafted(has_old):
    lists = {MADE: [NOW]} | ({OLD: [BEFORE], MADE: [BEFORE, NOW]} if has_old else {})
    press = Press(stock=stock(lists))
    sheet = sheet_of(ContourHatch(), tone=MADE)
    frame = whole(sheet, PHOTO, 800)
    plate = sheet.plates[0]
    tone = press.placed(PHOTO, sheet).stops(plate, frame)
    for region in (REGION, (0.0, 0.0, 0.3, 0.4), (0.3, 0.3, 0.7, 0.8)):
        part = region_frame(frame, region)

        drafted = replace(press.placed(PHOTO, sheet), draft=True).stops(plate, part)

        assert np.allclose(drafted, tone[part.slices_in(frame)], atol=1e-6)


def test_a_stroke_that_goes_on_is_told_apart_without_a_look_at_those_before_it():
    lists = {OLD: [BEFORE] * 5, MADE: [*[BEFORE] * 5, NOW]}
    press = Press(stock=stock(lists))
    own = press.placed(PHOTO, sheet_of(Stipple(), tone=MADE))
    plain = Press(stock=Stock(strokes_of=lists.__getitem__)).placed(PHOTO, sheet_of(Stipple()))

    assert own.listed(MADE).keys == plain.listed(MADE).keys
    assert own.listed(MADE).keys[:5] == own.listed(OLD).keys


@pytest.mark.parametrize("look", LOOKS, ids=lambda look: look.look)
def test_a_look_that_reads_only_the_whole_has_no_tone_worked_out_for_its_frame(look):
    press, sheet = Press(), Sheet(plates=[Plate(draw=look, tone=Tone(contrast=0.3))])
    frame = whole(sheet, PHOTO, 1600)
    press.proof(PHOTO, sheet, frame)
    made = press.counts["tone"]

    # Another size of the same sheet: its marks stand, and they are all it needs.
    press.proof(PHOTO, sheet, whole(sheet, PHOTO, 1500))

    assert press.counts["tone"] == made
