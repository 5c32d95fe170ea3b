"""Fades, parts that arrive, undrawn plates, spatter: what one plate leaves of another."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from flinz.core.document.picture import Picture, Position
from flinz.core.document.plate import Plate
from flinz.core.document.sheet import Sheet
from flinz.core.hand.raster import Placing, covered, drops_of
from flinz.core.hand.strokes import Brush, Stroke
from flinz.core.looks.crosshatch import Crosshatch
from flinz.core.looks.stipple import Stipple
from flinz.core.looks.threshold import Threshold
from flinz.core.looks.undrawn import Undrawn
from flinz.core.planes.photo import Photo
from flinz.core.press.framing import whole
from flinz.core.press.press import Press
from flinz.core.press.proofing import Subject
from flinz.core.scale import region_frame, whole_frame
from flinz.core.stages.clean import Clean
from flinz.core.stages.ink import Ink, faded_share
from flinz.core.stages.smooth import Gaussian
from flinz.core.stages.tone import Tone
from tests.charts import blobs, grey_photo

PHOTO = grey_photo(np.rint(40 + 170 * blobs()).astype(np.uint8), "blobs")
BLACK = Threshold(level=1.0)


def drawn(plate, photo=PHOTO, px=400, **sheet):
    made = Sheet(plates=[plate], **sheet)
    return Press().proof(photo, made, whole(made, photo, px), exact=True)


def test_a_straight_fade_prints_on_one_side_and_not_on_the_other():
    ink = Ink(fade="straight", fade_x=0.3, fade_y=0.5, gone_x=0.7, gone_y=0.5)

    found = 1 - drawn(Plate(draw=BLACK, ink=ink))

    assert found[:, :115].min() > 0.99 and found[:, 285:].max() < 0.01
    assert found[:, 200].mean() == pytest.approx(0.5, abs=0.01)
    turned = 1 - drawn(Plate(draw=BLACK, ink=ink.model_copy(update={"fade_beside": True})))
    assert np.abs(turned + found - 1).max() < 0.01


def test_a_round_fade_is_round_on_paper():
    ink = Ink(fade="round", fade_x=0.5, fade_y=0.5, gone_x=0.7, gone_y=0.5)

    found = faded_share(ink, whole_frame(200.0, 400, 300))

    rows, columns = np.mgrid[0:300, 0:400] + 0.5
    away = np.hypot(columns - 200, rows - 150)
    assert found[away > 81].max() < 1e-6 and found[away < 4].min() > 0.98
    assert np.ptp(found[(away > 39.5) & (away < 40.5)]) < 0.05


@given(
    st.sampled_from(["straight", "round"]),
    st.tuples(*[st.floats(-1, 2)] * 4),
    st.tuples(st.floats(0, 0.6), st.floats(0, 0.6)),
)
def test_a_part_of_a_fade_is_a_crop_of_the_whole(fade, ends, corner):
    names = ("fade_x", "fade_y", "gone_x", "gone_y")
    ink = Ink(fade=fade, **dict(zip(names, ends, strict=True)))
    frame = whole_frame(200.0, 80, 60)
    part = region_frame(frame, (*corner, corner[0] + 0.4, corner[1] + 0.4))

    found = faded_share(ink, frame)

    assert np.allclose(faded_share(ink, part), found[part.slices_in(frame)], atol=1e-4)
    assert found.min() >= 0 and found.max() <= 1


@pytest.mark.parametrize("look", [Stipple(dot=1.2), Crosshatch()])
def test_marks_thin_out_with_a_fade_in_one_ink_throughout(look):
    grey = grey_photo(np.full((120, 160), 90, np.uint8), "grey")
    ink = Ink(fade="straight", fade_x=0.1, fade_y=0.5, gone_x=0.9, gone_y=0.5)

    found = 1 - drawn(Plate(draw=look, ink=ink), grey, 1200)
    plain = 1 - drawn(Plate(draw=look), grey, 1200)

    # Pure ink or bare paper, as without a fade, and less of it the further out.
    assert ((found > 0.2) & (found < 0.8)).mean() < 1.5 * ((plain > 0.2) & (plain < 0.8)).mean()
    ink_by_column = [found[:, k : k + 120].mean() for k in range(120, 1200, 240)]
    assert all(np.diff(ink_by_column) <= 0) and found[:, 1100:].mean() < 0.02
    assert ink_by_column[0] > 2 * ink_by_column[2]


def test_a_fade_lies_with_the_picture_wherever_it_lies():
    ink = Ink(fade="straight", fade_x=0.45, fade_y=0.5, gone_x=0.55, gone_y=0.5)
    mirrored = Picture(position=Position(mirrored=True))

    plain, turned = (
        drawn(Plate(draw=BLACK, ink=ink), picture=each) for each in (Picture(), mirrored)
    )

    assert np.abs(plain - turned[:, ::-1]).max() < 0.01


def test_all_but_some_tones_is_the_rest_of_them():
    only = {"only_from": 0.4, "only_to": 0.6}
    some, others = (
        1 - drawn(Plate(draw=BLACK, ink=Ink(**only, only_beside=beside)))
        for beside in (False, True)
    )

    assert np.abs(some + others - 1).max() < 0.01
    assert 0.05 < some.mean() < 0.95


def test_half_of_a_smoothing_is_half_way_to_it():
    def tone(arrives):
        plate = Plate(smooth=Gaussian(radius=4.0, arrives=arrives))
        sheet = Sheet(plates=[plate])
        subject = Subject("stage", plate.id, "smooth")
        return Press().proof(PHOTO, sheet, whole(sheet, PHOTO, 300), subject, exact=True)

    none, half, full = tone(0.0), tone(0.5), tone(1.0)

    assert np.abs(half - (none + full) / 2).max() < 1e-4
    assert np.abs(none - full).max() > 0.02


def test_half_of_a_cleaning_is_half_way_to_it():
    def ink(arrives):
        return drawn(Plate(draw=Threshold(), clean=Clean(thicken=1.0, arrives=arrives)))

    assert np.abs(ink(0.5) - (ink(0.0) + ink(1.0)) / 2).max() < 1e-4
    assert np.array_equal(ink(0.0), drawn(Plate(draw=Threshold())))


def test_softening_spreads_ink_and_keeps_its_amount():
    plain = 1 - drawn(Plate(draw=Threshold()))
    soft = 1 - drawn(Plate(draw=Threshold(), clean=Clean(soften=3.0)))

    assert soft.mean() == pytest.approx(plain.mean(), rel=0.02)
    assert ((soft > 0.1) & (soft < 0.9)).mean() > 5 * ((plain > 0.1) & (plain < 0.9)).mean()


def test_undrawn_is_the_photo_itself():
    pixels = np.random.default_rng(1).integers(0, 256, (60, 80, 3)).astype(np.uint8)
    photo = Photo(pixels, "noise")
    full = Plate(draw=Undrawn(ink="full"), ink=Ink(colouring="photo"))
    toned = drawn(Plate(draw=Undrawn(), tone=Tone()), photo, 80)

    assert np.abs(drawn(full, photo, 80) - pixels / 255).max() < 1e-3
    luminance = pixels @ (0.2126, 0.7152, 0.0722) / 255
    assert np.corrcoef(toned.ravel(), luminance.ravel())[0, 1] > 0.95


SPATTER = Stroke(
    Brush(verb="spatter", size=0.3, hardness=1.0), np.array([[0.3, 0.5, 1.0], [0.7, 0.5, 1.0]])
)


def placing(scale, left=0, top=0, size=None):
    return Placing(
        np.array([[scale, 0, -left], [0, scale, -top]]), size or (scale, scale), float(scale)
    )


def test_spatter_is_drops_that_lie_where_their_stroke_lies():
    drops = drops_of(SPATTER)
    x, y, radius = drops.T

    assert np.array_equal(drops, drops_of(SPATTER)) and len(drops) > 40
    assert np.abs(y - 0.5).max() < 0.151 and x.min() > 0.14 and x.max() < 0.86
    # Denser in the middle; most of them small.
    assert (np.abs(y - 0.5) < 0.05).sum() > (np.abs(y - 0.5) > 0.1).sum()
    assert np.median(radius) < 0.5 * radius.max()
    plane = covered([SPATTER], placing(600))[..., 1]
    assert plane.sum() / 600**2 == pytest.approx((np.pi * radius**2).sum(), rel=0.15)
    part = covered([SPATTER], placing(600, 200, 250, (90, 120)))[..., 1]
    assert np.abs(part - plane[250:340, 200:320]).max() < 0.02
