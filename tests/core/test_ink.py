"""Colours, blend modes and register."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from hypothesis.extra.numpy import arrays

from flinz.core.deliver.inking import inked_share
from flinz.core.document.plate import Plate
from flinz.core.document.sheet import Sheet
from flinz.core.looks.registry import LOOKS
from flinz.core.planes.photo import Photo
from flinz.core.press.framing import whole
from flinz.core.press.impressions import left_by_all
from flinz.core.press.picking import colour_at
from flinz.core.press.press import Press
from flinz.core.scale import region_frame, whole_frame
from flinz.core.stages.blend import BY_COLOUR, Blend, blended, mixed
from flinz.core.stages.grey import luminance_grey
from flinz.core.stages.ink import (
    Colouring,
    Ink,
    hex_of,
    printing_share,
    registered,
    rgb_of,
)
from flinz.core.stages.paper import AsPicture
from flinz.core.stages.printing import left_by, printed
from tests.charts import blobs, grey_photo

RED = np.tile(np.array([0.8, 0.3, 0.3], np.float32), (4, 5, 1))
pixels = arrays(np.float32, (4, 5, 3), elements=st.floats(0, 1, width=32))
covers = arrays(np.float32, (4, 5), elements=st.floats(0, 1, width=32))


def value(mode, under, source):
    planes = (np.full((1, 1, 3), v, np.float32) for v in (under, source))
    return float(blended(*planes, mode)[0, 0, 0])


# By hand from the formulas of Compositing and Blending Level 1, backdrop 0.25, source 0.6.
BY_HAND = {
    Blend.NORMAL: 0.6,
    Blend.MULTIPLY: 0.15,
    Blend.SCREEN: 0.7,
    Blend.OVERLAY: 0.3,
    Blend.DARKEN: 0.25,
    Blend.LIGHTEN: 0.6,
    Blend.COLOR_DODGE: 0.625,
    Blend.COLOR_BURN: 0.0,
    Blend.HARD_LIGHT: 0.4,
    Blend.SOFT_LIGHT: 0.25 + 0.2 * (((16 * 0.25 - 12) * 0.25 + 4) * 0.25 - 0.25),
    Blend.DIFFERENCE: 0.35,
    Blend.EXCLUSION: 0.55,
    # Densities 0.75 and 0.4.
    Blend.SUM: 0.0,
    Blend.DENSITY_DIFFERENCE: 0.65,
}


@pytest.mark.parametrize("mode", BY_HAND)
def test_a_blend_mode_has_the_value_of_its_formula(mode):
    assert value(mode, 0.25, 0.6) == pytest.approx(BY_HAND[mode], abs=1e-5)


@pytest.mark.parametrize("mode", Blend)
@given(pixels, pixels)
def test_every_mode_stays_in_range(mode, under, source):
    out = blended(under, source, mode)

    assert np.isfinite(out).all() and out.min() >= -1e-5 and out.max() <= 1 + 1e-5


@given(pixels, pixels)
def test_the_modes_by_colour_take_the_luminosity_they_should(under, source):
    def lum(colour):
        return colour @ (0.3, 0.59, 0.11)

    for mode in (Blend.HUE, Blend.SATURATION, Blend.COLOR):
        assert np.allclose(lum(blended(under, source, mode)), lum(under), atol=1e-3)
    assert np.allclose(lum(blended(under, source, Blend.LUMINOSITY)), lum(source), atol=1e-3)


@pytest.mark.parametrize("mode", [m for m in Blend if m not in BY_COLOUR])
@given(covers, st.floats(0, 1))
def test_neutral_ink_prints_the_same_in_one_channel_as_in_three(mode, cover, opacity):
    settings = Ink(colour="#404040", opacity=opacity, blend=mode)
    grey = np.full((4, 5), 0.7, np.float32)

    one = printed(grey, cover, settings)
    three = printed(np.repeat(grey[..., None], 3, 2), cover, settings)

    assert np.allclose(one[..., None], three, atol=1e-5)


@given(covers)
def test_multiplying_is_the_same_by_the_short_way_and_the_formula(cover):
    settings = Ink(colour="#a04020", opacity=0.7)
    under = np.full((4, 5, 3), 0.8, np.float32)

    met = under * rgb_of("#a04020")
    alpha = 0.7 * cover[..., None]
    assert np.allclose(
        printed(under, cover, settings), (1 - alpha) * under + alpha * met, atol=1e-5
    )


@given(pixels, covers, st.integers(1, 4))
def test_what_an_ink_leaves_is_one_factor_for_whatever_lies_beneath(under, cover, times):
    settings = Ink(colour="#a04020", opacity=0.7, times=times)

    factor = left_by(cover, settings)

    assert np.allclose(printed(under, cover, settings), under * factor, atol=1e-6)
    once = left_by(cover, settings.model_copy(update={"times": 1}))
    assert np.allclose(factor, once**times, atol=1e-6)
    assert np.allclose(left_by(cover, settings, ndim=2), factor[..., 0], atol=1e-6)


@pytest.mark.parametrize("colouring", [Colouring.SINGLE, Colouring.PHOTO])
@pytest.mark.parametrize("blend", [Blend.MULTIPLY, Blend.NORMAL])
def test_marks_printed_again_stay_as_wide_as_they_were_drawn(colouring, blend, face):
    def left(times, opacity):
        ink = Ink(times=times, opacity=opacity, colouring=colouring, blend=blend)
        sheet = Sheet(plates=[Plate(draw=LOOKS["crosshatch"].settings(), ink=ink)])
        frame = whole(sheet, face, 300)
        press = Press()
        impression = press.impression(face, sheet, sheet.plates[0], frame)
        return (
            press.proof(face, sheet, frame),
            press.clear(face, sheet, frame)[..., 3],
            left_by_all([impression], 2),
            inked_share(impression),
        )

    # Black over black as strong as once: only multiplied colours of the photo grow darker.
    darkens = colouring == Colouring.PHOTO and blend == Blend.MULTIPLY
    for several, once in zip(left(3, 0.4), left(1, 1 - 0.6**3), strict=True):
        assert np.allclose(several, once, atol=1e-5) or (darkens and several.ndim == 3)


def test_greys_printed_again_fill_up(face):
    inks = {}
    for times in (1, 3):
        sheet = Sheet(plates=[Plate(ink=Ink(times=times))])
        inks[times] = 1 - Press().proof(face, sheet, whole(sheet, face, 900), exact=True)

    assert np.allclose(inks[3], 1 - (1 - inks[1]) ** 3, atol=1e-5)
    assert inks[3].mean() > inks[1].mean() + 0.02


@given(pixels, covers, pixels)
def test_a_sheet_takes_over_as_much_as_is_laid_on_it(under, share, over):
    found = mixed(under, over, share, Blend.NORMAL)

    assert np.allclose(found, under + share[..., None] * (over - under), atol=1e-6)
    assert np.array_equal(found[share == 0], under[share == 0])
    assert np.array_equal(found[share == 1], over[share == 1])


@pytest.mark.parametrize("colouring", Colouring)
def test_no_opacity_leaves_the_paper(colouring):
    under = np.full((4, 5, 3), 0.8, np.float32)
    settings = Ink(colouring=colouring, opacity=0.0, blend=Blend.NORMAL)

    out = printed(under, np.ones((4, 5), np.float32), settings, photo=under * 0)

    assert np.array_equal(out, under)


@given(covers, st.integers(0, 6))
def test_a_ladder_of_greys_between_black_and_white_keeps_every_tone(cover, between):
    rungs = [
        f"#{v:02x}{v:02x}{v:02x}" for v in np.rint(np.linspace(255, 0, between + 2)).astype(int)
    ]
    mids = {f"mid_{k}": each for k, each in enumerate(rungs[1:-1], 1)}
    settings = Ink(
        colouring=Colouring.TWO_COLOUR,
        colour=rungs[-1],
        lights=rungs[0],
        between=between,
        blend=Blend.NORMAL,
        **mids,
    )

    out = printed(np.ones((4, 5, 3), np.float32), cover, settings)

    assert np.allclose(out, 1 - cover[..., None], atol=0.5 / 255 + 1e-6)


def test_two_colours_stand_at_no_ink_and_full_ink():
    settings = Ink(
        colouring=Colouring.TWO_COLOUR, colour="#102030", lights="#f0e0d0", blend=Blend.NORMAL
    )
    cover = np.array([[0.0, 0.5, 1.0]], np.float32)

    out = printed(np.ones((1, 3, 3), np.float32), cover, settings)[0]

    ends = rgb_of("#f0e0d0"), rgb_of("#102030")
    assert np.allclose(out, [ends[0], (ends[0] + ends[1]) / 2, ends[1]], atol=1e-6)


def test_the_photos_own_colours_show_where_there_is_ink():
    rgb = np.zeros((40, 60, 3), np.uint8)
    rgb[..., 0] = 200
    photo = Photo(rgb, "red")
    draw = LOOKS["threshold"].settings(level=1.0)
    sheet = Sheet(plates=[Plate(draw=draw, ink=Ink(colouring=Colouring.PHOTO))])

    drawn = Press().proof(photo, sheet, whole(sheet, photo))

    assert np.allclose(drawn, [200 / 255, 0, 0], atol=1e-5)


def test_a_plate_out_of_register_lands_where_it_says():
    frame = whole_frame(50, 200, 160)
    cover = np.zeros((160, 200), np.float32)
    cover[60:80, 50:90] = 1

    landed = registered(cover, Ink(offset_x=5.0, offset_y=-2.5), frame)

    expected = np.zeros_like(cover)
    expected[50:70, 70:110] = 1
    assert np.allclose(landed, expected, atol=1e-5)


def test_a_turned_plate_turns_about_the_middle_of_the_sheet():
    frame = whole_frame(50, 201, 201)
    cover = np.zeros((201, 201), np.float32)
    cover[100, 100] = 1
    cover[100, 180] = 1

    landed = registered(cover, Ink(turn=15.0), frame)

    assert landed[100, 100] > 0.9
    y, x = np.unravel_index(np.argmax(np.where(landed < 0.9, landed, 0)), landed.shape)
    assert np.degrees(np.arctan2(100 - y, x - 100)) == pytest.approx(15, abs=1)


@pytest.mark.parametrize(
    "ink", [Ink(offset_x=4.0, offset_y=-3.0), Ink(turn=2.0), Ink(smear=3.0, smear_angle=40.0)]
)
def test_a_region_out_of_register_is_a_crop_of_the_whole(ink, face):
    sheet = Sheet(plates=[Plate(draw=LOOKS["threshold"].settings(), ink=ink)])
    frame = whole(sheet, face, 900)
    part = region_frame(frame, (0.3, 0.3, 0.6, 0.55))

    inside = Press().proof(face, sheet, frame)[part.slices_in(frame)]

    assert np.mean(np.abs(inside - Press().proof(face, sheet, part)) > 0.02) < 0.003


def test_a_plate_prints_only_in_its_window():
    ramp = np.tile(np.linspace(0, 1, 101, dtype=np.float32), (3, 1))

    share = printing_share(ramp, Ink(only_from=0.3, only_to=0.6, only_soft=0.1))[0]

    assert np.allclose(share[30:61], 1) and not share[:20].any() and not share[71:].any()
    assert 0 < share[25] < 1 and 0 < share[65] < 1


def test_a_window_is_of_the_photo_and_not_of_the_drawing():
    photo = grey_photo(np.repeat([40, 220], 50)[None].repeat(60, 0))
    ink = Ink(only_to=0.4, only_soft=0.01)
    sheet = Sheet(plates=[Plate(draw=LOOKS["threshold"].settings(level=1.0), ink=ink)])

    drawn = Press().proof(photo, sheet, whole(sheet, photo))

    assert drawn[:, :50].max() == 0 and drawn[:, 50:].min() == 1


def test_plates_print_in_their_order():
    photo = grey_photo(np.zeros((30, 40)))
    draw = LOOKS["threshold"].settings(level=1.0)
    red, blue = (
        Plate(id=name, draw=draw, ink=Ink(colour=colour, blend=Blend.NORMAL))
        for name, colour in (("red", "#ff0000"), ("blue", "#0000ff"))
    )

    for plates, last in (([red, blue], "#0000ff"), ([blue, red], "#ff0000")):
        sheet = Sheet(plates=plates)
        drawn = Press().proof(photo, sheet, whole(sheet, photo))
        assert np.allclose(drawn, rgb_of(last))


def test_light_ink_shows_on_dark_paper():
    photo = grey_photo(blobs(30, 40) * 255)
    ink = Ink(colour="#ffffff", blend=Blend.NORMAL)
    plate = Plate(draw=LOOKS["threshold"].settings(level=0.5), ink=ink)
    sheet = Sheet(plates=[plate], paper=AsPicture(colour="#000000"))

    drawn = Press().proof(photo, sheet, whole(sheet, photo))

    cover = Press().cover(photo, sheet, plate, whole(sheet, photo))
    assert np.allclose(drawn, cover)


def test_how_a_plate_prints_does_not_land_it_anew(face):
    press = Press()
    counted = []
    for ink in (Ink(smear=3.0), Ink(smear=3.0, opacity=0.5), Ink(smear=3.0, only_to=0.6)):
        sheet = Sheet(plates=[Plate(draw=LOOKS["threshold"].settings(), ink=ink)])
        press.proof(face, sheet, whole(sheet, face, 400))
        counted.append(press.counts["inked"])
    assert counted == [1, 1, 1]

    sheet = Sheet(plates=[Plate(draw=LOOKS["threshold"].settings(), ink=Ink(smear=4.0))])
    press.proof(face, sheet, whole(sheet, face, 400))
    assert press.counts["inked"] == 2


def test_a_little_more_smear_draws_a_detail_from_what_is_there(face):
    press = Press()
    for smear in (3.0, 3.1, 3.2):
        ink = Ink(smear=smear)
        sheet = Sheet(plates=[Plate(draw=LOOKS["threshold"].settings(), ink=ink)])
        part = region_frame(whole(sheet, face, 1600), (0.4, 0.4, 0.5, 0.5))
        press.proof(face, sheet, part)

    assert press.counts["draw"] == 1


@pytest.mark.parametrize("amount", [0.0, 0.5, 1.0, 2.0])
def test_the_photos_colours_can_be_paler_or_stronger_and_keep_their_grey(amount):
    ink = Ink(colouring=Colouring.PHOTO, blend=Blend.NORMAL, saturation=amount)

    out = printed(np.ones_like(RED), np.ones((4, 5), np.float32), ink, photo=RED)

    grey = luminance_grey(RED)[0, 0]
    assert np.allclose(out - grey, np.clip(amount * (RED - grey), -grey, 1 - grey), atol=1e-5)


@pytest.mark.parametrize("colour", ["#000000", "#ffffff", "#b5381f", "#1f6f66"])
def test_a_colour_is_written_as_it_was_read(colour):
    assert hex_of(rgb_of(colour)) == colour


def test_a_colour_is_picked_from_the_photo_or_from_what_is_printed():
    pixels = np.full((60, 80, 3), 255, np.uint8)
    pixels[:, :40] = (180, 40, 30)
    photo = Photo(pixels, "halves")
    plate = Plate(draw=LOOKS["threshold"].settings(level=0.7), ink=Ink(colour="#1f6f66"))
    sheet = Sheet(plates=[plate])

    def picked(x, of):
        return hex_of(colour_at(Press(), photo, sheet, x, 0.5, of))

    assert picked(0.2, "photo") == "#b4281e" and picked(0.8, "photo") == "#ffffff"
    assert picked(0.2, "sheet") == "#1f6f66" and picked(0.8, "sheet") == "#ffffff"
    # At the very edge there is no less to see.
    assert picked(0.0, "photo") == "#b4281e" and picked(1.0, "photo") == "#ffffff"
