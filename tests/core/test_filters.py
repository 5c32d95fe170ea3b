import cv2
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from flinz.core.planes.filters import blurred
from flinz.core.planes.flow import along_form, directed, direction_field, form_tensor
from flinz.core.planes.grain import paper_grain, paper_strokes
from flinz.core.planes.guided import guided
from flinz.core.scale import region_frame, whole_frame
from flinz.core.shapes.cutting import slope_of
from flinz.core.stages.smooth import EdgeKeeping, Gaussian, Median, smoothed
from tests.charts import blobs, frame_of


@pytest.mark.parametrize("sigma", [1.0, 5.9, 6.1, 9.0, 14.0])
def test_a_wide_blur_is_close_to_a_true_gaussian(sigma):
    y, x = np.mgrid[-150:150, -150:150]
    plane = ((np.hypot(x, y) < 60) | (x > 90)).astype(np.float32)

    exact = cv2.GaussianBlur(plane, (0, 0), sigma)

    assert np.abs(blurred(plane, sigma) - exact).max() < 0.02


@given(st.floats(0.1, 400), st.integers(2, 12), st.integers(2, 40))
def test_a_blur_of_any_width_keeps_a_flat_plane(sigma, height, width):
    flat = np.full((height, width), 0.7, np.float32)

    assert np.allclose(blurred(flat, sigma), 0.7, atol=1e-5)


def guided_twin(tone, radius, strength):
    """He et al. (2010), window by window."""
    height, width = tone.shape
    padded = np.pad(tone.astype(float), radius, "reflect")
    slopes, offsets = np.empty((2, height, width))
    for y in range(height):
        for x in range(width):
            window = padded[y : y + 2 * radius + 1, x : x + 2 * radius + 1]
            slopes[y, x] = window.var() / (window.var() + strength**2)
            offsets[y, x] = window.mean() * (1 - slopes[y, x])
    out = np.empty_like(slopes)
    slopes, offsets = np.pad(slopes, radius, "reflect"), np.pad(offsets, radius, "reflect")
    for y in range(height):
        for x in range(width):
            here = slice(y, y + 2 * radius + 1), slice(x, x + 2 * radius + 1)
            out[y, x] = slopes[here].mean() * tone[y, x] + offsets[here].mean()
    return out


def test_the_guided_filter_agrees_with_its_slow_twin():
    tone = blobs(18, 22, scale=2)

    assert np.abs(guided(tone, 3, 0.1) - guided_twin(tone, 3, 0.1)).max() < 1e-4


@pytest.mark.parametrize("radius", [10.4, 17, 30])
def test_a_coarser_fit_changes_next_to_nothing(radius):
    tone = blobs(160, 200, scale=3)

    exact = guided(tone, radius, 0.1, coarsest=1)

    assert np.abs(guided(tone, radius, 0.1) - exact).mean() < 0.004


@pytest.mark.parametrize("kind", [Gaussian(radius=0.6), Median(radius=0.6), EdgeKeeping(radius=1)])
def test_smoothing_calms_noise_and_keeps_the_mean(kind):
    noisy = np.random.default_rng(2).normal(0.5, 0.08, (80, 90)).clip(0, 1).astype(np.float32)

    calm = smoothed(noisy, kind, frame_of(noisy))

    assert calm.std() < 0.5 * noisy.std()
    assert abs(calm.mean() - noisy.mean()) < 0.01


def test_edge_keeping_keeps_a_strong_edge_where_a_blur_does_not():
    step = np.zeros((40, 60), np.float32)
    step[:, 30:] = 1

    kept = smoothed(step, EdgeKeeping(radius=1.5, strength=0.1), frame_of(step))
    soft = smoothed(step, Gaussian(radius=1.5), frame_of(step))

    assert kept[20, 31] - kept[20, 28] > 0.9
    assert soft[20, 31] - soft[20, 28] < 0.5


@pytest.mark.parametrize("degrees", [0, 30, 60, 90, 120, 150])
def test_the_form_runs_along_stripes(degrees):
    y, x = np.mgrid[0:140, 0:140].astype(np.float32)
    across = x * np.sin(np.radians(degrees)) + y * np.cos(np.radians(degrees))
    stripes = (0.5 + 0.5 * np.sin(across / 3)).astype(np.float32)

    field = direction_field(stripes, frame_of(stripes), 1.4)

    middle = field.directions[field.directions.shape[0] // 2, field.directions.shape[1] // 2]
    along = np.array([np.cos(np.radians(degrees)), -np.sin(np.radians(degrees))])
    assert abs(middle @ along) > 0.99


def test_a_flat_place_runs_along_the_angle_of_rest():
    flat = np.full((60, 60), 0.5, np.float32)

    directions = directed(form_tensor(flat, frame_of(flat), 1.0), rest_deg=40).directions

    rest = np.array([np.cos(np.radians(40)), -np.sin(np.radians(40))])
    assert np.abs(directions @ rest).min() > 0.999


def test_a_mean_along_the_form_keeps_stripes_and_flattens_across():
    y, _ = np.mgrid[0:90, 0:90].astype(np.float32)
    stripes = (0.5 + 0.5 * np.sin(y)).astype(np.float32)
    noise = np.random.default_rng(1).normal(0, 0.2, stripes.shape).astype(np.float32)
    frame = frame_of(stripes)
    field = direction_field(blurred(stripes, 0.5), frame, 1.4)

    calm = along_form(stripes + noise, frame, field, 4.0)

    inner = slice(15, -15), slice(15, -15)
    assert (calm - stripes)[inner].std() < 0.45 * noise.std()


@settings(max_examples=20)
@given(st.floats(0.1, 1.2), st.integers(0, 99))
def test_grain_is_even_and_the_same_wherever_it_is_cut(grain_mm, seed):
    whole = whole_frame(40, 320, 240)
    part = region_frame(whole, (0.31, 0.2, 0.77, 0.9))

    grain = paper_grain(whole, grain_mm, seed)

    assert abs(grain.mean() - 0.5) < 0.06
    # Places are told to a 256th of a tile's pixel, and rounded from another corner.
    assert np.abs(grain[part.slices_in(whole)] - paper_grain(part, grain_mm, seed)).max() < 0.004


def test_coarse_grain_is_fine_grain_shrunk():
    fine = paper_grain(whole_frame(64, 1024, 512), 0.5, 4)
    coarse = paper_grain(whole_frame(64, 256, 128), 0.5, 4)

    shrunk = cv2.resize(fine, (256, 128), interpolation=cv2.INTER_AREA)

    assert np.corrcoef(shrunk.ravel(), coarse.ravel())[0, 1] > 0.97


def test_strokes_run_along_the_form():
    y, _ = np.mgrid[0:200, 0:200].astype(np.float32)
    stripes = (0.5 + 0.5 * np.sin(y / 4)).astype(np.float32)
    frame = frame_of(stripes)
    strokes = paper_strokes(frame, direction_field(stripes, frame, 1.4), 0.4, 5.0, 1)

    along = np.abs(np.diff(strokes, axis=1)).mean()
    across = np.abs(np.diff(strokes, axis=0)).mean()

    assert across > 2.5 * along


@pytest.mark.parametrize("shape", [(1, 1), (1, 6), (5, 1), (2, 2), (40, 57)])
def test_a_slope_is_that_of_sobel_and_always_the_same(shape):
    plane = np.random.default_rng(5).random(shape).astype(np.float32)
    x, y = (
        cv2.Sobel(plane, cv2.CV_32F, *way, scale=1 / 8, borderType=cv2.BORDER_REPLICATE)
        for way in ((1, 0), (0, 1))
    )

    assert np.allclose(slope_of(plane), np.hypot(x, y), atol=1e-6)
    assert np.array_equal(slope_of(plane), slope_of(plane.copy()))
