import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from flinz.core.looks.desk import bare_desk
from flinz.core.looks.pencil import LIFT, Pencil, draw
from flinz.core.planes.filters import blurred
from tests.charts import blobs, frame_of

PLAIN = {"accents": 0, "shading": 0, "tooth": 0, "stroke": 0, "point": 0}


def cover(tone, **dials):
    return draw(tone, Pencil(**dials), frame_of(tone), bare_desk(tone, frame_of(tone)))


@given(st.floats(0.46, 1), st.floats(0.2, 12), st.floats(0.2, 4))
def test_a_flat_light_picture_is_white(tone, softness, darkness):
    flat = np.full((60, 60), tone, np.float32)

    assert cover(flat, softness=softness, darkness=darkness).max() < 1e-4


@given(st.floats(0, 1))
def test_without_shading_every_flat_picture_is_white(tone):
    assert cover(np.full((40, 40), tone, np.float32), shading=0).max() < 1e-4


def test_a_large_black_does_not_come_out_white():
    tone = np.full((200, 200), 0.9, np.float32)
    tone[40:160, 40:160] = 0.03

    middle = cover(tone, softness=0.5)[90:110, 90:110].mean()

    assert middle > 0.35


def test_the_plain_drawing_is_a_colour_dodge():
    tone = blobs()
    dodge = np.minimum(1, (tone + LIFT) / (blurred(tone, 5.0) + LIFT))
    frame = frame_of(tone, 2.5)

    dials = Pencil(softness=2.0, darkness=1.0, clean_up=0, **PLAIN)
    found = draw(tone, dials, frame, bare_desk(tone, frame))

    assert np.abs(1 - found - dodge).max() < 1e-5


def test_broad_shading_is_the_same_on_a_fine_grid():
    tone = blobs(240, 320, scale=16)
    frame = frame_of(tone, 10.0)
    exact = np.minimum(1, (tone + LIFT) / (blurred(tone, 20.0) + LIFT))

    dials = Pencil(softness=2.0, darkness=1.0, clean_up=0, **PLAIN)
    found = 1 - draw(tone, dials, frame, bare_desk(tone, frame))

    assert np.abs(found - exact).mean() < 0.005


@given(st.floats(0.2, 2), st.floats(2, 4))
def test_a_darker_pencil_never_draws_less(low, high):
    tone = blobs()

    assert not np.any(
        cover(tone, darkness=low, **PLAIN) > cover(tone, darkness=high, **PLAIN) + 1e-6
    )


def test_tooth_and_stroke_keep_the_tone():
    tone = blobs(200, 240)
    smooth = cover(tone, darkness=2, **PLAIN)
    rough = cover(tone, darkness=2, **{**PLAIN, "tooth": 0.8, "stroke": 0.8})

    assert abs(rough.mean() - smooth.mean()) < 0.01
    assert rough.std() > smooth.std()


def test_accents_draw_the_dark_side_of_an_edge():
    tone = np.full((80, 80), 0.8, np.float32)
    tone[:, 40:] = 0.5

    line = cover(tone, **{**PLAIN, "accents": 1.0}) - cover(tone, **PLAIN)

    assert line[20:60, 40:42].mean() > 0.2
    assert np.abs(line[20:60, :30]).max() < 0.01


@settings(max_examples=40)
@given(
    st.builds(
        Pencil,
        softness=st.floats(0.1, 40),
        darkness=st.floats(0.2, 6),
        clean_up=st.floats(0, 0.5),
        accents=st.floats(0, 1),
        shading=st.floats(0, 1),
        tooth=st.floats(0, 1),
        stroke=st.floats(0, 1),
        point=st.floats(0, 2),
    ),
    st.sampled_from([(3, 3), (2, 40), (24, 17)]),
)
def test_any_dials_on_any_small_picture_stay_in_range(dials, shape):
    tone = np.random.default_rng(1).random(shape).astype(np.float32)

    first = draw(tone, dials, frame_of(tone), bare_desk(tone, frame_of(tone)))
    again = draw(tone, dials, frame_of(tone), bare_desk(tone, frame_of(tone)))

    assert np.isfinite(first).all() and first.min() >= 0 and first.max() <= 1
    assert np.array_equal(first, again)
