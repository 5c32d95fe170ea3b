"""What every look must hold, and the tone of those that carry it by marks."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from flinz.core.bluenoise import SIDE, ranked_tile
from flinz.core.dial import dials_of
from flinz.core.document import Plate, Sheet
from flinz.core.filters import blurred
from flinz.core.looks import LOOKS
from flinz.core.looks.stipple import Stipple, marks
from flinz.core.marks import Dots
from flinz.core.pen import dots_cover
from flinz.core.photo import Photo
from flinz.core.press import Press, whole
from flinz.core.scale import whole_frame
from flinz.core.screens import line_cover
from flinz.errors import DocumentError
from tests.charts import blobs, grey_photo

SMALL = grey_photo(blobs(30, 42, scale=3) * 255, "small")


def any_dials(model):
    values = {}
    for dial in dials_of(model):
        match dial.kind:
            case "dial":
                values[dial.name] = st.floats(dial.minimum, dial.maximum)
            case "switch":
                values[dial.name] = st.booleans()
            case "choice":
                values[dial.name] = st.sampled_from(dial.options)
    return st.builds(model, **values)


@settings(max_examples=120)
@given(st.sampled_from(sorted(LOOKS)).flatmap(lambda name: any_dials(LOOKS[name].settings)))
def test_any_dials_draw_something_in_range_or_say_why_not(draw):
    sheet = Sheet(plates=[Plate(draw=draw)])
    frame = whole(sheet, SMALL)
    try:
        first = Press(0).proof(SMALL, sheet, frame)
    except DocumentError as error:
        assert "Choose" in str(error)
        return

    assert np.isfinite(first).all() and first.min() >= 0 and first.max() <= 1
    assert np.array_equal(first, Press(0).proof(SMALL, sheet, frame))


def ramp_photo():
    row = np.round(np.linspace(0.1, 0.9, 1200) * 65535).astype(np.uint16)
    return Photo(np.repeat(np.tile(row, (400, 1))[..., None], 3, 2), "ramp")


@pytest.mark.parametrize(
    ("name", "pitch_mm", "bound"),
    [
        ("line-screen", 1.0, 0.01),
        ("dot-screen", 0.83, 0.01),
        ("crosshatch", 1.0, 0.02),
        ("stipple", 0.5, 0.02),
        ("contour-hatch", 0.7, 0.02),
    ],
)
def test_a_ramp_keeps_its_tone(name, pitch_mm, bound):
    dials = {"lightest": 1.0, "darkest": 0.0}
    if name in ("stipple", "crosshatch", "contour-hatch"):
        dials["edges"] = 0.0
    draw = LOOKS[name].settings(**dials)
    photo, sheet = ramp_photo(), Sheet(plates=[Plate(draw=draw)])
    frame = whole(sheet, photo, 2400)

    drawn = Press().proof(photo, sheet, frame, exact=True)

    wished = np.tile(np.linspace(0.1, 0.9, frame.width, dtype=np.float32), (frame.height, 1))
    sigma = frame.px(1.5 * pitch_mm)
    inner = slice(80, -80), slice(80, -80)
    error = np.abs(blurred(drawn, sigma) - blurred(wished, sigma))[inner]
    assert error.mean() <= bound


@given(st.floats(0, 1), st.floats(0.01, 3), st.floats(0, 1))
def test_a_line_screen_keeps_its_ink_at_any_scale(share, footprint, shift):
    phase = (np.arange(3000, dtype=np.float32) * np.float32(footprint) + np.float32(shift))[None]
    cover = np.full(phase.shape, share, np.float32)

    drawn = line_cover(cover, phase, np.float32(footprint))

    assert abs(drawn.mean() - share) < 0.05


def test_the_ranks_of_the_tile_are_even_and_spread():
    ranks = ranked_tile()

    assert np.allclose(np.sort(ranks, None), (np.arange(SIDE**2) + 0.5) / SIDE**2)
    few = np.abs(np.fft.fft2((ranks < 0.1) - 0.1)) ** 2
    away = np.hypot(*np.meshgrid(np.fft.fftfreq(SIDE), np.fft.fftfreq(SIDE)))
    # Below half the principal frequency of a tenth of the cells there is next to nothing.
    low, plateau = few[(away > 0) & (away < 0.16)].mean(), few[away > 0.4].mean()
    assert low < 0.1 * plateau


def test_a_dot_has_the_ink_of_its_area_at_any_scale():
    dot = Dots(*(np.array([v], np.float32) for v in (5.03, 4.91, 1.7)))

    for px_per_mm in (3, 10, 40):
        frame = whole_frame(10, 10 * px_per_mm, 10 * px_per_mm)
        ink = float(dots_cover(dot, frame).sum()) / px_per_mm**2
        assert ink == pytest.approx(np.pi * 1.7**2, rel=0.03)


def test_too_many_dots_are_refused_with_a_way_on():
    from flinz.core.keeping import keep_nothing
    from flinz.core.looks.desk import Desk

    def whole_black(px_per_mm):
        side = round(200 * px_per_mm)
        frame = whole_frame(200, side, side)
        return np.zeros((side, side), np.float32), frame

    with pytest.raises(DocumentError, match="larger dot"):
        marks(Stipple(dot=0.2), Desk(keep_nothing, whole_black, draft=True))


def test_a_draft_has_the_dots_of_the_settled_drawing():
    photo = grey_photo(blobs() * 255)
    sheet = Sheet(plates=[Plate(draw=Stipple(dot=2.0))])
    frame = whole(sheet, photo, 600)

    draft = Press().proof(photo, sheet, frame, draft=True)
    settled = Press().proof(photo, sheet, frame)

    assert abs(draft.mean() - settled.mean()) < 0.02
    assert np.corrcoef(blurred(draft, 9).ravel(), blurred(settled, 9).ravel())[0, 1] > 0.98


@pytest.mark.parametrize("radius", [1.0, 2.0, 5.0])
def test_an_ink_line_round_a_disc_is_one_ring(radius):
    import cv2

    y, x = np.mgrid[-120:120, -120:120] / 12.0
    disc = np.where(np.hypot(x, y) < radius, 0.2, 0.9).astype(np.float32)
    photo = grey_photo(cv2.GaussianBlur(disc, (0, 0), 1) * 255)
    from flinz.core.stages.paper import Paper

    for name in ("ink-line", "outline"):
        dials = {"blacks": 0.0} if name == "ink-line" else {"shapes": 1, "crumbs": 0.5}
        sheet = Sheet(plates=[Plate(draw=LOOKS[name].settings(**dials))], paper=Paper(long_edge=20))
        drawn = Press().proof(photo, sheet, whole(sheet, photo), exact=True) < 0.5
        parts = cv2.connectedComponents(drawn.astype(np.uint8), connectivity=8)[0] - 1
        holes = cv2.connectedComponents((~drawn).astype(np.uint8), connectivity=4)[0] - 1
        assert (parts, holes) == (1, 2), name
