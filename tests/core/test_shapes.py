"""Looks that cut shapes out of tone: cut paper, flat tones, outline; and the woodcut's lines."""

from itertools import pairwise

import cv2
import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from flinz.core.document.plate import Plate
from flinz.core.document.sheet import Sheet
from flinz.core.looks.registry import LOOKS
from flinz.core.planes.filters import blurred
from flinz.core.press.fitting import fitted
from flinz.core.press.framing import whole
from flinz.core.press.press import Press
from flinz.core.shapes.islands import without_pinholes, without_specks
from flinz.core.stages.paper import AsPicture
from tests.charts import blobs, grey_photo

BLOBS = grey_photo(blobs(240, 320, scale=14) * 255, "blobs")


def sheet_of(look, **dials):
    return Sheet(plates=[Plate(draw=LOOKS[look].settings(**dials))])


def drawn(photo, sheet, edge=None, exact=True):
    return Press().proof(photo, sheet, whole(sheet, photo, edge), exact=exact)


def pieces(mask):
    """Areas in pixels of what hangs together."""
    _, _, stats, _ = cv2.connectedComponentsWithStats(mask.astype(np.uint8), connectivity=8)
    return stats[1:, cv2.CC_STAT_AREA]


@pytest.mark.parametrize("look", ["cut-paper", "flat-tones", "outline"])
def test_a_blank_photo_stays_blank(look):
    photo = grey_photo(np.full((60, 80), 255))

    assert drawn(photo, sheet_of(look)).min() > 0.99


@given(st.floats(0.2, 0.8))
def test_ink_share_is_the_share_of_ink(share):
    ink = 1 - drawn(BLOBS, sheet_of("cut-paper", ink_share=share, crumbs=0)).mean()

    assert ink == pytest.approx(share, abs=0.06)


def test_more_ink_only_adds_ink():
    sheets = [sheet_of("cut-paper", ink_share=v, crumbs=0) for v in (0.3, 0.5, 0.7)]

    light, middle, dark = (drawn(BLOBS, sheet) for sheet in sheets)

    assert np.all(middle <= light + 1e-5) and np.all(dark <= middle + 1e-5)


@pytest.mark.parametrize("crumbs", [20.0, 80.0])
def test_no_shape_under_the_area_is_left(crumbs):
    sheet = sheet_of("cut-paper", crumbs=crumbs, finest=0.3)
    frame = whole(sheet, BLOBS)

    cut = drawn(BLOBS, sheet)

    least = 0.8 * frame.area_px(crumbs)
    assert all(area >= least for area in pieces(cut < 0.5))
    assert all(area >= least for area in pieces(cut >= 0.5))


def test_cut_paper_is_black_and_white_but_for_its_edges():
    cut = drawn(BLOBS, sheet_of("cut-paper"), 960)

    assert np.mean((cut > 0.02) & (cut < 0.98)) < 0.03


@pytest.mark.parametrize("steps", [2, 3, 5, 8])
def test_flat_tones_are_so_many_and_no_more(steps):
    flat = drawn(BLOBS, sheet_of("flat-tones", steps=steps, crumbs=0), 960)

    values, counts = np.unique(np.round(flat, 2), return_counts=True)
    broad = values[counts > 0.01 * flat.size]
    assert len(broad) <= steps
    assert np.allclose(broad * (steps - 1), np.round(broad * (steps - 1)), atol=0.05)


def test_flat_tones_keep_dark_dark_and_light_light():
    flat = drawn(BLOBS, sheet_of("flat-tones", steps=6))
    tone = BLOBS.pixels[..., 0] / 255

    assert np.corrcoef(blurred(flat, 3).ravel(), tone.ravel())[0, 1] > 0.93


@pytest.mark.parametrize("nib", [0.4, 0.8, 1.6])
def test_an_outline_is_as_wide_as_its_nib_all_round(nib):
    y, x = np.mgrid[-150:150, -200:200] / 10.0
    disc = np.where(np.hypot(x, y) < 9, 40, 220)
    photo = grey_photo(cv2.GaussianBlur(disc.astype(np.float32), (0, 0), 1))
    plate = Plate(draw=LOOKS["outline"].settings(nib=nib, shapes=1, smoothing=0.5))
    sheet = Sheet(plates=[plate], paper=AsPicture(long_edge=40))
    frame = whole(sheet, photo, 1200)

    ink = 1 - drawn(photo, sheet, 1200)

    # Area over the middle line's length.
    assert ink.sum() / frame.px_per_mm**2 / (2 * np.pi * 9) == pytest.approx(nib, rel=0.12)
    middle = frame.height // 2, frame.width // 2
    assert ink[middle] == 0


def test_an_outline_fills_nothing():
    lines = 1 - drawn(BLOBS, sheet_of("outline", nib=0.5), 960)
    frame = whole(sheet_of("outline"), BLOBS, 960)

    inked = (lines > 0.5).astype(np.uint8)
    thickest = cv2.distanceTransform(inked, cv2.DIST_L2, 5).max()
    # Where lines meet they may be twice as thick, no more.
    assert thickest <= frame.px(0.5) + 1


def test_a_woodcut_keeps_the_broad_tone():
    sheet = sheet_of("woodcut", edges=0, lightest=1.0, darkest=0.0, relief=0.0)

    cut = drawn(BLOBS, sheet, 1600)

    tone = cv2.resize(BLOBS.pixels[..., 0] / np.float32(255), cut.shape[::-1])
    middle = (tone > 0.15) & (tone < 0.85)
    gap = np.abs(blurred(cut, 14) - blurred(tone.astype(np.float32), 14))
    assert gap[middle].mean() < 0.03


def test_relief_bends_the_lines_of_a_woodcut():
    flat, bent = (
        drawn(BLOBS, sheet_of("woodcut", wobble=0, relief=relief), 960) for relief in (0.0, 1.0)
    )

    assert np.mean(np.abs(flat - bent) > 0.5) > 0.1
    assert abs(flat.mean() - bent.mean()) < 0.02


def ring_drawn(softest):
    """What is inked of a disc whose edge is crisp on the left, blurred by softest on the right."""
    y, x = np.mgrid[-150:150, -200:200].astype(np.float32)
    disc = np.where(np.hypot(x, y) < 90, 40, 220).astype(np.float32)
    crisp, soft = cv2.GaussianBlur(disc, (0, 0), 1), cv2.GaussianBlur(disc, (0, 0), softest)
    share = np.clip(x / 60 - 0.5, 0, 1)
    photo = grey_photo(crisp * (1 - share) + soft * share)
    plate = Plate(draw=LOOKS["outline"].settings(shapes=1, smoothing=0.4, detail=0.45))
    sheet = Sheet(plates=[plate], paper=AsPicture(long_edge=120))
    return 1 - drawn(photo, sheet, 1200) > 0.5


def test_a_line_that_is_mostly_an_edge_is_closed():
    inked = ring_drawn(softest=45)

    assert len(pieces(inked)) == 1
    # The ground and what the ring encloses.
    assert len(pieces(~inked)) == 2


def test_a_border_that_is_no_edge_anywhere_is_left_out_whole():
    y, x = np.mgrid[-150:150, -200:200].astype(np.float32)
    hill = grey_photo(120 + 60 * np.exp(-(x * x + y * y) / (2 * 90.0**2)))
    plate = Plate(draw=LOOKS["outline"].settings(shapes=1, detail=0.7))

    assert drawn(hill, Sheet(plates=[plate]), 960).min() > 0.99


def discs(contrast):
    """A sheet of 80 x 60 mm with three dark discs of 4, 2 and 1 mm on grey."""
    y, x = np.mgrid[:600, :800] / 10.0
    tone = np.full((600, 800), 0.5 + contrast / 2, np.float32)
    for middle, radius in ((20, 4.0), (40, 2.0), (60, 1.0)):
        tone[np.hypot(x - middle, y - 30) < radius] = 0.5 - contrast / 2
    return grey_photo(np.rint(cv2.GaussianBlur(tone, (0, 0), 1.5) * 255), f"discs-{contrast}")


@pytest.mark.parametrize("look, dials", [("outline", {}), ("ink-line", {"blacks": 0.0})])
@pytest.mark.parametrize("contrast", [0.8, 0.3, 0.1, 0.04])
def test_faint_discs_are_whole_rings_at_the_suggested_detail(look, dials, contrast):
    photo = discs(contrast)
    plate = Plate(draw=LOOKS[look].settings(**dials), fitted=list(LOOKS[look].fitted))
    sheet = Sheet(plates=[plate], paper=AsPicture(long_edge=80))

    ink = drawn(photo, fitted(Press(), photo, sheet)) < 0.5

    assert len(pieces(ink)) == 3
    assert len(pieces(~ink)) == 4


@pytest.mark.parametrize("look", ["outline", "ink-line"])
def test_a_pale_photo_has_the_lines_of_a_strong_one(look, face):
    pale = grey_photo(127.5 + 0.3 * (face.pixels[..., 0] - 127.5), "pale")
    plate = Plate(draw=LOOKS[look].settings(), fitted=list(LOOKS[look].fitted))
    inks = [
        drawn(photo, fitted(Press(), photo, Sheet(plates=[plate])), 700) < 0.5
        for photo in (face, pale)
    ]

    # Blacks of an ink line are where it is dark, and nothing of a pale photo is.
    assert inks[1].sum() > (0.9 if look == "outline" else 0.5) * inks[0].sum()


def test_an_outline_lies_on_the_edges_of_small_shapes_too():
    photo = discs(0.6)
    plate = Plate(draw=LOOKS["outline"].settings(crumbs=1.0))
    sheet = Sheet(plates=[plate], paper=AsPicture(long_edge=80))

    lines = Press().marks(photo, sheet, plate)

    found = sorted(float(np.ptp(lines.x[a:b])) / 2 for a, b in pairwise(lines.first))
    assert found == pytest.approx([1.0, 2.0, 4.0], abs=0.15)


def test_an_outline_does_not_run_along_soft_shading():
    # A ball lit from one side: a map of its tones would have lines in it.
    y, x = np.mgrid[-300:300, -400:400] / 10.0
    height = np.sqrt(np.clip(1 - (x**2 + y**2) / 400, 0, 1))
    ball = np.where(height > 0, 0.25 + 0.6 * np.clip((height + x / 40) / 1.2, 0, 1), 0.05)
    photo = grey_photo(ball * 255, "ball")
    plate = Plate(draw=LOOKS["outline"].settings())
    sheet = Sheet(plates=[plate], paper=AsPicture(long_edge=80))

    lines = Press().marks(photo, sheet, plate)

    inner = np.hypot(lines.x - 40, lines.y - 30) < 17
    assert len(lines) >= 1
    assert inner.sum() < 0.1 * len(lines.x)


@given(st.integers(0, 2**32 - 1), st.sampled_from([2.0, 9.0, 40.0]))
def test_small_islands_are_those_that_labels_tell(seed, least):
    rng = np.random.default_rng(seed)
    noise = rng.random(rng.integers(1, 60, 2)).astype(np.float32)
    cover = np.clip(6 * blurred(noise, 0.3 + 2 * rng.random()) - 2.5, 0, 1).astype(np.float32)

    for found, mask, connectivity, value in (
        (without_specks(cover, least, True), cover > 0, 8, 0),
        (without_pinholes(cover, least, True), cover < 1, 4, 1),
    ):
        _, labels, stats, _ = cv2.connectedComponentsWithStats(
            mask.astype(np.uint8), connectivity=connectivity
        )
        small = (stats[:, cv2.CC_STAT_AREA] < least)[labels] & mask
        assert np.array_equal(found, np.where(small, np.float32(value), cover))
