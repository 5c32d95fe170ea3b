"""What every look must hold, and the tone of those that carry it by marks."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from flinz.core.dial import dials_of
from flinz.core.document.plate import Plate
from flinz.core.document.sheet import Sheet
from flinz.core.looks.registry import LOOKS
from flinz.core.looks.stipple import Stipple, marks
from flinz.core.marks.bluenoise import SIDE, ranked_tile
from flinz.core.marks.pen import dots_cover
from flinz.core.marks.screens import line_cover
from flinz.core.marks.vectors import Dots
from flinz.core.planes.filters import blurred
from flinz.core.press.framing import whole
from flinz.core.press.press import Press
from flinz.core.scale import whole_frame
from flinz.errors import DocumentError
from flinz.quality import ramp
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
                values[dial.name] = st.sampled_from([option.name for option in dial.options])
    return st.builds(model, **values)


@settings(max_examples=50)
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


@pytest.mark.parametrize(("name", "turned"), [*ramp.cases()])
def test_a_ramp_keeps_its_tone(name, turned):
    assert ramp.tone_error(name, turned) <= LOOKS[name].tone_error


@given(st.floats(0, 1), st.floats(0.01, 3), st.floats(0, 1))
def test_a_line_screen_keeps_its_ink_at_any_scale(share, footprint, shift):
    phase = (np.arange(3000, dtype=np.float32) * np.float32(footprint) + np.float32(shift))[None]
    cover = np.full(phase.shape, share, np.float32)

    assert abs(line_cover(cover, phase).mean() - share) < 0.05


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
        marks(Stipple(dot=0.15), Desk(keep_nothing, whole_black, draft=True))


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
    from flinz.core.stages.paper import AsPicture

    for name in ("ink-line", "outline"):
        dials = {"blacks": 0.0} if name == "ink-line" else {"shapes": 1, "crumbs": 0.5}
        sheet = Sheet(
            plates=[Plate(draw=LOOKS[name].settings(**dials))], paper=AsPicture(long_edge=20)
        )
        drawn = Press().proof(photo, sheet, whole(sheet, photo), exact=True) < 0.5
        parts = cv2.connectedComponents(drawn.astype(np.uint8), connectivity=8)[0] - 1
        holes = cv2.connectedComponents((~drawn).astype(np.uint8), connectivity=4)[0] - 1
        assert (parts, holes) == (1, 2), name


@pytest.mark.parametrize("dot", [0.4, 1.0, 2.5])
@pytest.mark.parametrize("mark", ["round", "dash", "leaf"])
def test_the_number_of_dots_is_known_beforehand_within_a_twentieth(dot, mark, face):
    plate = Plate(draw=Stipple(dot=dot, mark=mark))
    sheet, press = Sheet(plates=[plate]), Press()

    predicted, placed = (
        press.predicted(face, sheet, plate),
        len(press.marks(face, sheet, plate)),
    )

    assert predicted == pytest.approx(placed, rel=0.05)


def test_settled_stipple_is_blue_noise():
    from flinz.quality.table import low_frequency_power

    assert low_frequency_power() <= 0.1


@pytest.mark.parametrize(
    ("name", "dials"),
    [
        ("dot-screen", {}),
        ("dot-screen", {"dot": "diamond"}),
        ("line-screen", {}),
        ("line-screen", {"lines": "crossed"}),
        ("line-screen", {"lines": "concentric"}),
    ],
)
def test_a_screen_as_marks_has_the_ink_of_the_screen_as_drawn(name, dials, face):
    from flinz.core.marks.pen import strokes_cover

    plate = Plate(draw=LOOKS[name].settings(**dials))
    sheet, press = Sheet(plates=[plate]), Press()
    frame = whole(sheet, face, 2000)
    marked = press.marks(face, sheet, plate)

    cover = (dots_cover if name == "dot-screen" else strokes_cover)(marked, frame)

    drawn = press.cover(face, sheet, plate, frame, exact=True)
    sigma = frame.px(1.5)
    assert np.abs(blurred(cover, sigma) - blurred(drawn, sigma)).mean() < 0.015


def test_a_darker_photo_never_gives_fewer_dots():
    counts = []
    for grey in (230, 170, 110, 50):
        photo, plate = grey_photo(np.full((40, 60), grey), str(grey)), Plate(draw=Stipple(dot=2))
        counts.append(len(Press().marks(photo, Sheet(plates=[plate]), plate)))

    assert counts == sorted(counts) and counts[0] < counts[-1]


def test_dust_on_the_glass_is_the_same_at_every_size():
    photo = grey_photo(np.full((120, 160), 255))
    sheet = Sheet(plates=[Plate(draw=LOOKS["photocopy"].settings(dirt=1.0, grain=0.0))])

    inks = [1 - Press().proof(photo, sheet, whole(sheet, photo, e)).mean() for e in (500, 1500)]

    assert inks[0] == pytest.approx(inks[1], rel=0.05) and inks[0] > 0.001


def test_more_dirt_only_adds_to_the_dust():
    photo = grey_photo(np.full((120, 160), 255))

    def drawn(dirt):
        sheet = Sheet(plates=[Plate(draw=LOOKS["photocopy"].settings(dirt=dirt, grain=0.0))])
        return Press().proof(photo, sheet, whole(sheet, photo, 500))

    assert np.all(drawn(0.8) <= drawn(0.3) + 1e-6)


def test_worn_corners_lose_their_toner_and_the_middle_keeps_it():
    photo = grey_photo(np.zeros((120, 160)))
    sheet = Sheet(plates=[Plate(draw=LOOKS["photocopy"].settings(corners=30.0, hollow=0.0))])

    drawn = Press().proof(photo, sheet, whole(sheet, photo, 400))

    for corner in (drawn[:8, :8], drawn[:8, -8:], drawn[-8:, :8], drawn[-8:, -8:]):
        assert corner.mean() > 0.95
    assert drawn[130:170, 180:220].mean() < 0.1


def test_scraps_of_line_are_left_out_and_long_lines_stay():
    picture = np.full((200, 280), 255.0)
    picture[40, 20:260] = 60  # 171 mm
    picture[120, 130:136] = 60  # 4 mm
    photo = grey_photo(blurred(picture.astype(np.float32), 0.8))
    sheets = [
        Sheet(plates=[Plate(draw=LOOKS["ink-line"].settings(blacks=0, shortest=shortest))])
        for shortest in (0.0, 20.0)
    ]

    every, long = (Press().proof(photo, s, whole(s, photo, 1120), exact=True) for s in sheets)

    assert every[440:520].min() < 0.5 and long[440:520].min() > 0.9
    assert long[152:172, 560].min() < 0.5
