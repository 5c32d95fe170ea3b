"""What a press would lose of a drawing at its starting values: thin ink and narrow gaps."""

import numpy as np
import pytest

from flinz.core.document.builtin import built_in
from flinz.core.document.plate import Plate
from flinz.core.document.sheet import Sheet
from flinz.core.judge.printing import report
from flinz.core.looks.registry import LOOKS
from flinz.core.planes.decoding import decode
from flinz.core.press.fitting import fitted
from flinz.core.press.framing import whole
from flinz.core.press.press import Press
from flinz.core.scale import region_frame
from flinz.core.stages.paper import AsPicture
from flinz.demo.scenario import picture
from tests.charts import grey_photo

BOUND = 0.02
MARKED = ("stipple", "crosshatch", "contour-hatch", "loose-hatch", "photocopy")


@pytest.fixture(scope="module")
def photos():
    return {name: decode(picture(f"{name}.jpg"), name) for name in ("scarecrow", "boots")}


def figures_of(photo, sheet, edge_px, region):
    frame = region_frame(whole(sheet, photo, edge_px), region)
    cover = Press().cover(photo, sheet, sheet.plates[0], frame, exact=True)
    return report(cover, frame), cover


@pytest.mark.parametrize("photo", ["scarecrow", "boots"])
@pytest.mark.parametrize("name", MARKED)
def test_marks_can_be_printed_at_starting_values(photos, name, photo):
    sheet = fitted(Press(), photos[photo], built_in()[name].on(photo, ""))

    found, _ = figures_of(photos[photo], sheet, 6000, (0.35, 0.3, 0.65, 0.65))

    assert found.thin_ink <= BOUND
    assert found.narrow_paper <= BOUND


def even(name, tone, long_edge=60.0, **dials):
    draw = LOOKS[name].settings(**dials)
    sheet = Sheet(plates=[Plate(draw=draw)], paper=AsPicture(long_edge=long_edge))
    photo = grey_photo(np.full((90, 90), round(tone * 255)))
    return figures_of(photo, sheet, round(30 * long_edge), (0.2, 0.2, 0.8, 0.8))


@pytest.mark.parametrize("tone", [0.5, 0.6, 0.7, 0.8])
def test_dots_of_light_and_middle_tones_leave_open_paper(tone):
    found, _ = even("stipple", tone)

    assert found.narrow_paper <= BOUND


@pytest.mark.parametrize("dot", [0.25, 0.5, 1.0])
def test_dots_darken_with_the_tone_at_every_size(dot):
    inks = [even("stipple", tone, dot=dot)[1].mean() for tone in (0.8, 0.6, 0.4, 0.2)]

    assert np.all(np.diff(inks) > 0.1)


def test_the_darkest_tone_of_loose_hatch_is_solid():
    _, cover = even("loose-hatch", 0.04)

    assert (cover >= 0.5).mean() > 0.995


def test_no_stroke_of_contour_hatch_is_thinner_than_the_pen():
    photo = grey_photo(np.tile(np.linspace(60, 225, 200), (120, 1)))
    draw = LOOKS["contour-hatch"].settings(taper=0.0, thinnest=0.2)
    sheet = Sheet(plates=[Plate(draw=draw)])

    strokes = Press().marks(photo, sheet, sheet.plates[0])

    assert strokes.width.min() >= np.float32(0.2)
