"""Textures of paper: the same at every size, lit from one side, and what they do to ink."""

import cv2
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from skimage.metrics import structural_similarity

from flinz.core.deliver.format import Delivery
from flinz.core.deliver.raster import PictureWish, picture
from flinz.core.document.plate import Plate
from flinz.core.document.sheet import Sheet
from flinz.core.looks.threshold import Threshold
from flinz.core.planes.textures import (
    DEPTHS_MM,
    GRAINS_MM,
    ROUGHER,
    Surface,
    lit,
    relief,
    tops,
)
from flinz.core.press.framing import whole
from flinz.core.press.press import Press
from flinz.core.scale import whole_frame
from flinz.core.stages.paper import AsPicture
from tests.charts import grey_photo

CREAM = np.array([0.9, 0.85, 0.75], np.float32)
WHITE = np.ones(1, np.float32)
WHITE_PHOTO = grey_photo(np.full((90, 120), 255), "white")
BLACK_PHOTO = grey_photo(np.zeros((90, 120)), "black")


def shown(surface, px, part=None, grain=1.0, depth=1.0, colour=CREAM):
    frame = whole_frame(200.0, px, px * 3 // 4)
    if part is not None:
        frame = frame.part(*part)
    return lit(colour, relief(surface, frame, grain, 120.0), depth)


def held(surface, px, part, grain):
    frame = whole_frame(200.0, px, px * 3 // 4).part(*part)
    return tops(surface, relief(surface, frame, grain, 120.0), grain)


def small_and_large(draw, px):
    """Something drawn in a part of a sheet, and larger, and that shrunk."""
    part, times = (px // 8, px // 8, px // 8 + 300, px // 8 + 225), 4
    small, large = draw(px, part), draw(times * px, tuple(times * side for side in part))
    return small, cv2.resize(large, small.shape[1::-1], interpolation=cv2.INTER_AREA)


@pytest.mark.parametrize("surface", ROUGHER)
@pytest.mark.parametrize("px", [400, 900])
@pytest.mark.parametrize("depth", [1.0, 2.5])
def test_a_large_picture_shrunk_is_the_small_one(surface, px, depth):
    small, shrunk = small_and_large(lambda *of: shown(surface, *of, depth=depth), px)

    alike = structural_similarity(small, shrunk, channel_axis=2, data_range=1.0)
    # The deepest threads are finer than the pixels of the smaller picture.
    assert alike >= (0.96 if depth > 1 and px == 400 else 0.97)
    assert float(small.mean()) == pytest.approx(float(shrunk.mean()), abs=0.01)
    small, shrunk = small_and_large(lambda *of: shown(surface, *of, depth=depth, colour=WHITE), px)
    assert float(small.mean()) == pytest.approx(float(shrunk.mean()), abs=0.012)


@pytest.mark.parametrize("surface", ROUGHER)
@pytest.mark.parametrize("grain", [0.3, 1.0])
@pytest.mark.parametrize("px", [400, 900])
def test_a_paper_holds_as_much_ink_in_a_small_picture_as_in_a_large_one(surface, grain, px):
    small, shrunk = small_and_large(lambda *of: held(surface, *of, grain), px)

    assert float(small.mean()) == pytest.approx(float(shrunk.mean()), abs=0.012)
    if grain == 1.0:
        assert structural_similarity(small, shrunk, data_range=1.0) >= 0.94


@given(
    st.sampled_from(ROUGHER),
    st.tuples(st.integers(0, 500), st.integers(0, 300), st.integers(1, 90), st.integers(1, 90)),
    st.sampled_from([0.3, 1.0, 2.7]),
)
@settings(max_examples=25)
def test_a_part_is_a_crop_of_the_whole(surface, part, grain):
    left, top, width, height = part

    crop = shown(surface, 600, (left, top, left + width, top + height), grain)

    wider = shown(surface, 600, (0, 0, 600, 450), grain)
    beyond = wider[top : top + height, left : left + width]
    inside = crop[: beyond.shape[0], : beyond.shape[1]]
    # Single bits differ where places are rounded; an edge of a fibre may fall to its other side.
    assert np.abs(inside - beyond).mean() < 1e-4


@pytest.mark.parametrize("surface", [Surface.KRAFT, Surface.BOARD])
def test_fibres_lie_where_they_lie_far_from_the_corner_and_in_one_column(surface):
    # A sheet of 1.2 m at 24 px a mm: a step of a pixel is at the end of what its places can tell.
    whole_sheet = whole_frame(1200.0, 28_800, 21_600)

    def tint(left, right):
        part = whole_sheet.part(left, 20_000, right, 20_040)
        return relief(surface, part, 1.0, 120.0).tint

    wide = tint(28_000, 28_400)

    assert wide.std() > 0.02
    assert np.abs(tint(28_300, 28_400) - wide[:, 300:]).mean() < 0.002
    assert np.abs(tint(28_350, 28_351)[:, 0] - wide[:, 350]).mean() < 0.002


@pytest.mark.parametrize("surface", ROUGHER)
def test_light_from_the_other_side_turns_hills_into_hollows(surface):
    frame = whole_frame(200.0, 1600, 1200).part(200, 200, 600, 600)
    one, other = (relief(surface, frame, 1.0, angle).slope for angle in (120.0, -60.0))

    assert np.allclose(one, -other, atol=1e-5)
    assert one.std() > 0.005


@pytest.mark.parametrize("surface", [each for each in ROUGHER if each != Surface.BRICK])
def test_nothing_repeats_within_a_large_sheet(surface):
    # Patches of 25 mm, all over 600 mm: none looks like another.
    whole_sheet = whole_frame(600.0, 2400, 2400)
    patches = []
    for top in range(0, 2400, 300):
        for left in range(0, 2400, 300):
            part = whole_sheet.part(left, top, left + 100, top + 100)
            found = relief(surface, part, 1.0, 120.0)
            patch = (found.height - cv2.GaussianBlur(found.height, (0, 0), 8)).ravel()
            patches.append(patch / (np.linalg.norm(patch) + 1e-9))
    alike = np.array(patches) @ np.array(patches).T
    np.fill_diagonal(alike, 0)
    # Lines of a mould and of a weave are alike everywhere, as they should be.
    most = {Surface.LAID: 0.97, Surface.LINEN: 0.9}.get(surface, 0.8)
    assert np.abs(alike).max() < most


def sheet_on(surface=Surface.ROUGH, **paper):
    plates = [Plate(draw=Threshold(level=0.5))]
    return Sheet(plates=plates, paper=AsPicture(texture=surface, **paper))


def proof(photo, sheet, px=800):
    return Press().proof(photo, sheet, whole(sheet, photo, px))


def test_a_smooth_paper_is_even_and_a_rough_one_is_no_whiter_than_white():
    assert np.ptp(proof(WHITE_PHOTO, sheet_on(Surface.SMOOTH))) == 0
    rough = proof(WHITE_PHOTO, sheet_on())
    assert rough.max() <= 1 and rough.std() > 0.01 and rough.mean() > 0.8


def test_a_texture_leaves_only_where_it_is_to_be_printed():
    wish = PictureWish(long_edge_px=300)

    def left(**paper):
        image, _ = picture(Delivery(Press(), WHITE_PHOTO, sheet_on(**paper)), wish)
        return np.asarray(image)

    assert np.ptp(left()) == 0 and left().max() == 255
    assert left(printed=True).std() > 2


def test_a_texture_is_worked_out_once_however_deep_and_whatever_its_colour():
    press = Press()
    for paper in ({}, {"depth": 2.0}, {"colour": "#aabbcc"}, {"tooth": 0.5}, {"tooth": 0.8}):
        sheet = sheet_on(**paper)
        press.proof(WHITE_PHOTO, sheet, whole(sheet, WHITE_PHOTO, 400))

    assert press.counts["relief"] == 1
    lit_otherwise = sheet_on(light_from=30.0)
    press.proof(WHITE_PHOTO, lit_otherwise, whole(lit_otherwise, WHITE_PHOTO, 400))
    assert press.counts["relief"] == 2


def test_tooth_keeps_ink_on_the_tops():
    paper = {"depth": 0.0, "tooth": 1.0}
    solid, held = (1 - proof(BLACK_PHOTO, sheet_on(**each)) for each in ({"depth": 0.0}, paper))
    frame = whole(sheet_on(), BLACK_PHOTO, 800)
    height = relief(Surface.ROUGH, frame, 1.0, 0.0).height
    low, high = np.quantile(height, [0.1, 0.8])

    assert solid.min() > 0.99
    assert held[height > high].min() > 0.98
    assert held[height < low].mean() < 0.4


def test_ink_that_soaks_keeps_its_amount_and_roughens_its_edge():
    chart = np.full((90, 120), 255)
    chart[:, :60] = 0
    photo = grey_photo(chart, "half")
    plain, run = (1 - proof(photo, sheet_on(depth=0.0, soak=soak), 1600) for soak in (0.0, 0.6))

    edges = [(ink > 0.5).sum(1).astype(float).std() for ink in (plain, run)]
    assert edges[0] < 0.5 < 1.0 < edges[1]
    assert run.mean() == pytest.approx(plain.mean(), abs=0.01)
    # Half a millimetre reaches no farther than about a millimetre.
    assert run[:, : 800 - 16].min() > 0.98 and run[:, 800 + 16 :].max() < 0.02


@pytest.mark.parametrize("surface", ROUGHER)
def test_a_depth_is_from_the_dips_to_the_tops(surface):
    height = relief(surface, whole_frame(150.0, 1200, 900), 1.0, 120.0).height

    low, high = np.quantile(height, [0.02, 0.98])
    assert DEPTHS_MM[surface] == pytest.approx(high - low, rel=0.15)


@pytest.mark.parametrize("surface", [Surface.LAID, Surface.LINEN, Surface.BRICK])
def test_a_grain_is_from_one_line_thread_course_to_the_next(surface):
    grain = GRAINS_MM[surface]
    # Long across the grain, and fine enough for twenty places from one to the next.
    frame = whole_frame(30 * grain, 600, 1200)
    height = relief(surface, frame, 1.0, 120.0).height

    down = (height - height.mean()).mean(axis=1) if surface == Surface.LAID else height
    power = np.abs(np.fft.rfft(down - down.mean(axis=0), axis=0)) ** 2
    power = power if power.ndim == 1 else power.sum(axis=1)
    # 60 grains lie below each other; what is far broader is no grain.
    assert 20 + power[20:].argmax() == pytest.approx(60, abs=2)
