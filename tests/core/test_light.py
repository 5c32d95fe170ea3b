"""Hue mix, shadows, highlights and local contrast."""

import colorsys

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from flinz.core.document.plate import Plate
from flinz.core.document.sheet import Sheet
from flinz.core.planes.guided import window_lines
from flinz.core.planes.photo import Photo
from flinz.core.press.framing import whole
from flinz.core.press.press import Press
from flinz.core.press.proofing import Subject
from flinz.core.scale import region_frame, whole_frame
from flinz.core.stages.grey import PLACES, hue_of, luminance_grey, pulled_grey, ring
from flinz.core.stages.light import EDGE, Split, lit_from, relit, split
from flinz.core.stages.paper import AsPicture
from flinz.core.stages.tone import Pull, Tone
from tests.charts import blobs, grey_photo

pulls = st.lists(st.tuples(st.floats(0, 359), st.floats(-1, 1), st.floats(20, 180)), max_size=8)
PULLED = (Pull(hue=0, pull=0.5),)
TONED = Subject("stage", "plate-1", "tone")


def pulled(rgb, *points):
    return pulled_grey(luminance_grey(rgb), rgb, points)


def colour_wheel(count=720, saturation=1.0):
    row = [colorsys.hsv_to_rgb(k / count, saturation, 0.8) for k in range(count)]
    return np.array(row, np.float32)[None]


def grain(height, width, amount):
    return np.random.default_rng(3).normal(0, amount, (height, width))


def toned(photo, settings, edge=None, long_edge=200.0):
    sheet = Sheet(plates=[Plate(tone=settings)], paper=AsPicture(long_edge=long_edge))
    return Press().proof(photo, sheet, whole(sheet, photo, edge), TONED)


@given(pulls)
def test_a_ring_never_moves_a_neutral_grey(points):
    row = np.repeat(np.arange(256, dtype=np.uint8)[None, :, None], 3, 2)

    assert np.array_equal(pulled(row, *points), luminance_grey(row))


@given(pulls)
def test_a_ring_stays_in_range_and_runs_smoothly_round_the_wheel(points):
    wheel = colour_wheel()
    moved = pulled(wheel, *points)[0] - luminance_grey(wheel)[0]

    assert np.all(moved + luminance_grey(wheel)[0] >= -1e-6)
    assert np.all(moved + luminance_grey(wheel)[0] <= 1 + 1e-6)
    steepest = sum(1.5 * abs(pull) / reach for _, pull, reach in points) * 360 / 720
    assert np.abs(np.diff(np.append(moved, moved[0]))).max() < 0.02 + steepest


@given(st.floats(0, 359), st.floats(10, 180), st.floats(0, 359))
def test_a_pull_is_full_at_its_hue_halved_halfway_and_nothing_beyond_its_reach(at, reach, turn):
    one = ring(((at, 1.0, reach),))
    step = 360 / PLACES
    away = np.abs((np.arange(PLACES + 1) * step - at + 180) % 360 - 180)

    assert one[np.argmin(away)] > 0.99
    assert abs(one[np.argmin(np.abs(away - reach / 2))] - 0.5) < 0.03
    assert np.all(one[away >= reach] == 0)
    # Turned as a whole it is the same ring, turned.
    places = round(turn / step)
    turned = ring((((at + places * step) % 360, 1.0, reach),))
    assert np.allclose(np.roll(one[:-1], places), turned[:-1], atol=1e-4)


def test_points_that_meet_add_up_and_points_that_do_not_leave_each_other_alone():
    first, second, far = (0.0, 0.4, 60.0), (30.0, 0.3, 60.0), (180.0, -0.8, 40.0)

    both = ring((first, second, far))

    assert np.allclose(both, ring((first,)) + ring((second,)) + ring((far,)), atol=1e-6)
    assert ring((first, first, first)).max() == 1


@pytest.mark.parametrize("hue", range(0, 360, 45))
def test_a_colour_answers_to_a_pull_at_its_hue_and_not_to_the_opposite(hue):
    colour = np.array(colorsys.hsv_to_rgb(hue / 360, 0.7, 0.7), np.float32)[None, None]

    assert hue_of(colour[0, 0]) == pytest.approx(hue, abs=1e-3)
    assert pulled(colour, (hue, 1.0, 60.0)) > luminance_grey(colour) + 0.1
    assert pulled(colour, (hue, -1.0, 60.0)) < luminance_grey(colour) - 0.1
    assert pulled(colour, ((hue + 180) % 360, 1.0, 60.0)) == luminance_grey(colour)


def test_what_is_next_to_grey_has_no_hue():
    assert hue_of(np.array([0.5, 0.5, 0.5], np.float32)) is None
    assert hue_of(np.array([0.02, 0.0, 0.0], np.float32)) is None


def test_the_ring_is_the_same_for_bytes_words_and_floats():
    rgb = np.random.default_rng(1).integers(0, 256, (8, 9, 3)).astype(np.uint8)
    points = (10.0, -0.5, 60.0), (90.0, 0.8, 90.0), (200.0, -1.0, 40.0)

    floats = pulled((rgb / 255).astype(np.float32), *points)
    assert np.allclose(pulled(rgb, *points), floats, atol=1e-3)
    assert np.allclose(pulled(rgb.astype(np.uint16) * 257, *points), floats, atol=1e-3)


@pytest.mark.parametrize("amounts", [(1, 0, 0), (-1, 0, 0), (0, 1, 0), (0, -1, 0), (1, -1, 0)])
def test_no_halo_stands_along_an_edge_at_the_widest_reach(amounts):
    step = np.full((300, 400), 0.15, np.float32)
    step[:, 200:] = 0.8
    frame = whole_frame(200, 400, 300)

    out = relit(step, frame, split(step, frame, 40.0), amounts)

    # Each side is one tone, as far as the edge itself and beyond the reach alike.
    for side in (out[100:200, 2:199], out[100:200, 202:398]):
        assert side.max() - side.min() < 0.03


def test_shadows_open_the_dark_and_leave_the_light():
    pair = np.full((100, 200), 0.1, np.float32)
    pair[:, 100:] = 0.85
    frame = whole_frame(100, 200, 100)
    base = split(pair, frame, 5.0)

    opened = relit(pair, frame, base, (1.0, 0.0, 0.0))
    held = relit(pair, frame, base, (0.0, -1.0, 0.0))

    assert opened[50, 50] > 0.25 and abs(opened[50, 150] - 0.85) < 0.02
    assert held[50, 150] < 0.75 and abs(held[50, 50] - 0.1) < 0.02


@given(st.floats(-1, 1), st.floats(-1, 1))
def test_lighter_stays_lighter_whatever_the_light(shadows, highlights):
    tones = np.linspace(0, 1, 64, dtype=np.float32)
    patches = np.repeat(np.repeat(tones[None], 64, 0), 8, 1)
    frame = whole_frame(100, patches.shape[1], 64)

    out = relit(patches, frame, split(patches, frame, 1.0), (shadows, highlights, 0.0))

    assert np.diff(out[32]).min() > -0.01


def test_local_contrast_strengthens_detail_and_keeps_the_broad_tone():
    fine = 0.5 + 0.05 * (blobs(200, 200, scale=1.5) - 0.5)
    photo = grey_photo(np.rint(fine * 255))

    plain, more, less = (toned(photo, Tone(local=v)) for v in (0.0, 1.0, -1.0))

    assert more.std() > 1.5 * plain.std() and less.std() < 0.5 * plain.std()
    assert abs(more.mean() - plain.mean()) < 0.01


def test_light_of_a_region_is_a_crop_of_the_whole(face):
    sheet = Sheet(plates=[Plate(tone=Tone(shadows=0.7, highlights=-0.4, local=0.5, reach=20))])
    frame = whole(sheet, face, 900)
    part = region_frame(frame, (0.3, 0.2, 0.6, 0.5))

    inside = Press().proof(face, sheet, frame, TONED)[part.slices_in(frame)]

    assert np.allclose(inside, Press().proof(face, sheet, part, TONED), atol=0.01)


def test_light_does_not_depend_on_the_size_of_the_proof(face):
    settings = Tone(shadows=0.8, local=0.6, reach=15)

    small, large = toned(face, settings, 300), toned(face, settings, 1200)

    shrunk = large.reshape(small.shape[0], 4, small.shape[1], 4).mean((1, 3))
    assert np.abs(shrunk - small).mean() < 0.01


def test_a_mix_alone_leaves_a_grey_photo_alone():
    photo = grey_photo(blobs(40, 50) * 255)

    assert np.array_equal(
        toned(photo, Tone(hues=(Pull(hue=0, pull=-1), Pull(hue=240, pull=1)))), toned(photo, Tone())
    )


def test_turning_the_curve_does_not_work_out_the_light_again():
    rgb = np.random.default_rng(2).integers(0, 256, (40, 60, 3)).astype(np.uint8)
    photo, press = Photo(rgb, "colours"), Press()
    for contrast in (0.0, 0.2, 0.4):
        sheet = Sheet(plates=[Plate(tone=Tone(hues=PULLED, shadows=0.5, contrast=contrast))])
        press.proof(photo, sheet, whole(sheet, photo), TONED)

    assert press.counts["relit"] == 1 and press.counts["light"] == 1


@pytest.mark.parametrize("reach", [1.0, 4.0, 9.0])
def test_wide_windows_on_averages_find_the_base_that_all_pixels_have(reach):
    picture = 0.25 + 0.5 * (blobs(300, 400, scale=30) > 0.5) + grain(300, 400, 0.1)
    picture = np.clip(picture, 0, 1).astype(np.float32)
    frame = whole_frame(100, 400, 300)
    whole_windows = Split(*window_lines(picture, picture**2, round(frame.px(reach)), EDGE), frame)

    for amounts in ((0.0, 0.0, 1.0), (1.0, -1.0, 0.0)):
        ours, theirs = (
            relit(picture, frame, base, amounts)
            for base in (split(picture, frame, reach), whole_windows)
        )
        assert np.abs(ours - theirs).max() < 0.03
        assert np.abs(ours - theirs).mean() < 0.003


@given(st.floats(0.2, 30))
@settings(max_examples=40, deadline=None)
def test_a_slightly_wider_reach_gives_nearly_the_same_light(reach):
    picture = blobs(120, 160, scale=6).astype(np.float32)
    frame = whole_frame(80, 160, 120)

    near, wider = (
        relit(picture, frame, split(picture, frame, mm), (0.5, -0.5, 0.5))
        for mm in (reach, 1.02 * reach)
    )

    assert np.abs(near - wider).mean() < 0.003


@pytest.mark.parametrize("angle", [-150, -60, 0, 45, 120])
def test_where_light_comes_from_is_told_by_what_it_falls_on(angle):
    rows, columns = np.indices((240, 320)) + 0.5
    tone = np.full((240, 320), 0.35, np.float32)
    turn = np.radians(angle)
    for x, y, radius in ((80, 80, 50), (220, 130, 70), (110, 190, 35)):
        across, down = (columns - x) / radius, (rows - y) / radius
        inside = across**2 + down**2 < 1
        high = np.sqrt(np.clip(1 - across**2 - down**2, 0, 1))
        facing = across * np.cos(turn) - down * np.sin(turn)
        tone[inside] = (0.45 + 0.3 * facing + 0.2 * high)[inside]

    found = lit_from(np.asarray(tone, np.float32))

    assert abs((found - angle + 180) % 360 - 180) < 15


def test_an_even_picture_does_not_tell_where_light_comes_from():
    assert lit_from(np.full((100, 100), 0.5, np.float32)) is None
