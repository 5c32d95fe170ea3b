import functools

import numpy as np
import pytest

from flinz.core.document import builtin
from flinz.core.document.plate import Plate
from flinz.core.document.setting import with_value
from flinz.core.document.sheet import Sheet
from flinz.core.hand.strokes import Brush, Stroke
from flinz.core.looks import registry
from flinz.core.looks.contour_hatch import ContourHatch
from flinz.core.looks.crosshatch import Crosshatch
from flinz.core.looks.dot_screen import DotScreen
from flinz.core.looks.ink_line import InkLine
from flinz.core.looks.line_screen import LineScreen
from flinz.core.looks.loose_hatch import LooseHatch
from flinz.core.looks.outline import Outline
from flinz.core.looks.stipple import Stipple
from flinz.core.planes.filters import blurred
from flinz.core.planes.photo import Photo
from flinz.core.press.fitting import fitted
from flinz.core.press.framing import whole
from flinz.core.press.press import Press
from flinz.core.press.results import Stock
from flinz.core.stages.paper import AsPicture
from flinz.core.stages.smooth import Gaussian
from tests.charts import grey_photo

LOOKS = (Stipple(dot=0.8), Crosshatch(spacing=1.0), ContourHatch(spacing=1.0), LooseHatch())
FOLLOWING = (Stipple, Crosshatch, ContourHatch, LooseHatch)
FULL = {"lightest": 1.0, "darkest": 0.0, "edges": 0.0}


def patched_ramp():
    """A ramp from left to right, with fine texture of the same mean in the middle of its height."""
    rows, columns = np.mgrid[0:600, 0:800]
    tone = 0.15 + 0.65 * columns / 800
    texture = 0.12 * np.where((rows // 3 + columns // 3) % 2, 1, -1)
    there = (np.abs(rows - 300) < 110) & (columns > 200) & (columns < 600)
    return np.where(there, tone + texture, tone), there


TONE, DETAILED = patched_ramp()
PHOTO = Photo(np.repeat(np.rint(TONE * 65535).astype(np.uint16)[..., None], 3, 2), "patched ramp")


def sheet_of(look, **dials):
    return Sheet(plates=[Plate(draw=look.model_copy(update=dials))])


def places(sheet, **press):
    """Of each mark its middle, mm, and its size."""
    marks = Press(**press).marks(PHOTO, sheet, sheet.plates[0])
    if hasattr(marks, "radius"):
        return marks.x, marks.y, marks.radius
    return marks.x, marks.y, marks.width


@pytest.mark.parametrize("kind", FOLLOWING)
def test_at_nothing_all_is_as_it_was(kind):
    assert kind.model_fields["detail"].default == 0.0


@pytest.mark.parametrize("look", (Stipple(dot=1.0, **FULL), Crosshatch(spacing=1.2, **FULL)))
def test_tone_stays_where_marks_close_up_and_open(look):
    sheet = sheet_of(look, detail=1.0)
    frame = whole(sheet, PHOTO, 2400)
    drawn = Press().proof(PHOTO, sheet, frame, exact=True)
    pitch = 2 * (getattr(look, "dot", None) or look.spacing)
    wished = np.repeat(np.repeat(TONE.astype(np.float32), 3, 0), 3, 1)
    sigma = frame.px(1.5 * pitch)
    inside = (slice(round(2 * sigma), -round(2 * sigma)),) * 2

    apart = np.abs(blurred(drawn, sigma) - blurred(wished, sigma))[inside]

    assert apart.mean() < 0.02


def test_dots_close_up_in_detail_and_open_in_plain_ground():
    sheet = sheet_of(Stipple(dot=0.8, smallest=1.0), detail=1.0)
    x, y, radius = places(sheet)
    # 800 pixels are 200 mm.
    row, column = (
        np.clip(each * 4, 0, limit - 1).astype(int) for each, limit in ((y, 600), (x, 800))
    )
    near = DETAILED[row, column]

    # From half to double: a quarter.
    assert np.median(radius[near]) < 0.35 * np.median(radius[~near])
    plain = places(sheet_of(Stipple(dot=0.8, smallest=1.0)))[2]
    assert np.median(radius[~near]) > 1.7 * np.median(plain)


MARKED = (
    Stipple(dot=0.8),
    Crosshatch(),
    ContourHatch(),
    LooseHatch(),
    DotScreen(),
    LineScreen(),
    LineScreen(lines="concentric"),
)


@pytest.mark.parametrize("look", MARKED)
def test_the_hand_makes_marks_finer_where_it_goes(look):
    left = np.array([[0.2, 0.1, 1.0], [0.2, 0.65, 1.0]])
    stroke = Stroke(Brush(verb="finer", size=0.35, hardness=1.0), left)
    plain = grey_photo(np.full((300, 400), 110), "even")
    plate = Plate(draw=look, hand={"draw": "d" * 64})

    def marks(made):
        sheet = Sheet(plates=[made])
        return Press(stock=Stock(strokes_of=lambda _: [stroke])).marks(plain, sheet, made)

    painted, before = marks(plate), marks(plate.model_copy(update={"hand": {}}))

    def amount(found, low, high):
        inside = (found.x > low) & (found.x < high) & (found.y > 40) & (found.y < 110)
        return inside.sum()

    # Twice as close both ways for dots, and for lines one way, of points twice as dense.
    assert amount(painted, 25, 55) > 1.6 * amount(before, 25, 55)
    assert amount(painted, 120, 180) == pytest.approx(amount(before, 120, 180), rel=0.1)


def test_the_hand_makes_outlines_finer_where_it_goes():
    # Stripes of a millimetre are too narrow for the lines as they are, and wide enough for finer.
    columns = np.arange(800)[None] + np.zeros((600, 1))
    photo = grey_photo(np.where(columns // 4 % 2, 70, 190), "stripes")
    left = np.array([[0.2, 0.1, 1.0], [0.2, 0.65, 1.0]])
    brush = Brush(verb="finer", size=0.35, hardness=1.0)
    plate = Plate(draw=Outline(smoothing=1.6, nib=0.6), hand={"draw": "d" * 64})
    press = Press(stock=Stock(strokes_of=lambda _: [Stroke(brush, left)]))

    found = press.marks(photo, Sheet(plates=[plate]), plate)

    fine = (found.x > 15) & (found.x < 65) & (found.y > 30) & (found.y < 120)
    assert fine.sum() > 5 * ((found.x > 100) & (found.y > 30) & (found.y < 120)).sum()
    assert np.allclose(found.width[fine], 0.3)
    assert np.allclose(found.width[found.x > 90], 0.6)


# Dots push those beside them, a pen that turns goes on elsewhere, a long line is drawn or left out
# as one; strokes of other sizes along the form are laid round each other.
FARTHER = {
    "tone": {"stipple": 1e-4, "loose-hatch": 0.005, "outline": 0.003},
    "draw": {"stipple": 0.002, "loose-hatch": 0.005, "crosshatch": 0.002, "contour-hatch": 0.02},
}


def ways_by_hand():
    for name in registry.LOOKS:
        yield from ((name, "tone", verb) for verb in ("lighten", "darken"))
        # These have no lengths.
        if name not in ("undrawn", "threshold"):
            yield from ((name, "draw", verb) for verb in ("finer", "coarser"))


@pytest.fixture(scope="module")
def untouched(face):
    """Each look's sheet of the face, and its proof before any stroke: drawn once for both verbs."""

    @functools.cache
    def of(name, stage):
        plain = fitted(Press(), face, builtin.named(name).on(face.key, ""))
        plain = with_followed_detail(plain) if stage == "tone" else plain
        return plain, Press().proof(face, plain, whole(plain, face, 500))

    return of


@pytest.mark.parametrize(("name", "stage", "verb"), list(ways_by_hand()))
def test_every_look_answers_to_the_hand_there_and_nowhere_else(name, stage, verb, face, untouched):
    stroke = Stroke(Brush(verb=verb, size=0.2, hardness=0.8), np.array([[0.3, 0.3, 1.0]]))
    press = Press(stock=Stock(strokes_of=lambda _: [stroke]))
    plain, before = untouched(name, stage)
    painted = plain.with_plate(plain.plates[0].with_hand(stage, "d" * 64))
    frame = whole(plain, face, 500)

    after = press.proof(face, painted, frame)

    changed = np.abs(after - before)
    rows, columns = np.mgrid[0 : frame.height, 0 : frame.width]
    away = np.hypot(columns - 0.3 * 500, rows - 0.3 * 500)
    assert changed[away < 30].mean() > 0.004
    assert changed[away > 90].mean() <= FARTHER[stage].get(name, 1e-6)


def with_followed_detail(sheet):
    draw = sheet.plates[0].draw
    if not isinstance(draw, FOLLOWING):
        return sheet
    return with_value(sheet, "draw.detail", 0.6)


ROWS, COLUMNS = np.mgrid[0:300, 0:400]
DISC = grey_photo(np.where(np.hypot(COLUMNS - 200, ROWS - 150) < 90, 60, 200), "disc")
LOWER = np.array([[0.0, 0.65, 1.0], [1.0, 0.65, 1.0]])
COARSER = Stroke(Brush(verb="coarser", size=0.5, hardness=1.0), LOWER)


def test_a_look_that_leaves_it_to_others_is_drawn_finer_and_coarser_too():
    plate = Plate(draw=InkLine(blacks=0.0), hand={"draw": "d" * 64})
    sheet = Sheet(plates=[plate])
    frame = whole(sheet, DISC, 800)

    press = Press(stock=Stock(strokes_of=lambda _: [COARSER]))
    ink = 1 - press.proof(DISC, sheet, frame, exact=True)
    plain = 1 - Press().proof(
        DISC, Sheet(plates=[plate.model_copy(update={"hand": {}})]), frame, exact=True
    )

    assert ink[400:].sum() > 1.5 * plain[400:].sum() > 0
    assert np.abs(ink[:200] - plain[:200]).max() < 0.05


def test_what_strokes_choose_from_is_drawn_once_for_all_of_them():
    again = Stroke(COARSER.brush, LOWER - (0, 0.4, 0))
    lists = {"a" * 64: [COARSER], "b" * 64: [COARSER, again]}
    press = Press(stock=Stock(strokes_of=lists.__getitem__))
    plates = [Plate(draw=InkLine(), hand={"draw": name} if name else {}) for name in ("", *lists)]
    drawn, made = [], []
    for plate in plates:
        sheet = Sheet(plates=[plate])
        drawn.append(press.proof(DISC, sheet, whole(sheet, DISC, 400)))
        made.append(press.counts["draw:ink-line:form"])

    # As it is, and coarser.
    assert made == [1, 2, 2]
    assert not any(np.array_equal(drawn[k], drawn[k - 1]) for k in range(3))


def test_what_is_drawn_coarser_is_not_taken_for_a_sheet_of_half_the_size():
    press = Press(stock=Stock(strokes_of=lambda _: [COARSER]))
    plate = Plate(draw=InkLine(blacks=0.0), smooth=Gaussian(radius=0.4), hand={"draw": "d" * 64})
    for edge in (200.0, 100.0, 400.0):
        sheet = Sheet(plates=[plate], paper=AsPicture(long_edge=edge))
        fresh = Press(stock=Stock(strokes_of=lambda _: [COARSER]))
        frame = whole(sheet, DISC, 400)
        assert np.array_equal(press.proof(DISC, sheet, frame), fresh.proof(DISC, sheet, frame))
