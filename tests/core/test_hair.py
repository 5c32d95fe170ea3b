"""Single hairs along a cut, by the colours on its two sides."""

import cv2
import numpy as np
import pytest

from flinz.core.deliver.alpha import alpha_of
from flinz.core.hand.cutout import Found, hard_edge, studied
from flinz.core.hand.hair import hair_edge
from flinz.core.hand.matting import matted
from flinz.core.hand.nearby import CELL_PX, colours_of, likely_subject
from flinz.core.hand.strokes import Brush, Stroke
from flinz.core.planes.filters import from_edge
from flinz.core.planes.photo import Photo
from flinz.quality.cutouts import over_hair

WIDTH, HEIGHT, LINE = 400, 300, 150
GREEN, STRAW, RED = np.array([(70, 110, 60), (200, 165, 80), (190, 60, 50)], np.float32) / 255
BODY = np.zeros((HEIGHT, WIDTH), np.float32)
BODY[LINE:] = 1
NOWHERE = np.zeros(BODY.shape, bool)
NOBODY = np.zeros(BODY.shape, np.int8)


def straws(length):
    """Thin straws, so many pixels high, that stand on the body."""
    drawn = np.zeros_like(BODY)
    for at in range(12, WIDTH - 12, 9):
        cv2.line(drawn, (at, LINE), (at + length // 4, LINE - length), 1.0, 2, cv2.LINE_AA)
    return np.maximum(drawn, BODY)


def painted(mask, ours=STRAW, theirs=GREEN):
    """A grainy picture, (H, W, 3) 0..1, of a subject on its ground."""
    picture = theirs + mask[..., None] * (ours - theirs)
    picture += np.random.default_rng(4).normal(0, 0.02, picture.shape)
    return np.clip(picture, 0, 1).astype(np.float32)


def cut(photo, mask, said=NOBODY, speaks=0.0):
    """A cut of a photo, of whose regions those on the subject's side say so as loudly as speaks."""
    regions = photo.regions
    ours = np.bincount(regions.labels.ravel(), mask.ravel()) / regions.sizes > 0.5
    loud = np.where(ours, speaks, -speaks).astype(np.float32)
    return Found(mask > 0.5, NOWHERE, said, loud)


def test_fine_hair_is_found_where_a_hard_cut_has_none():
    hair = np.zeros((HEIGHT, WIDTH), np.float32)
    for k in range(24):
        at = 20 + 15 * k
        cv2.line(hair, (at, 60), (at + 10, 8), 1.0, 1, cv2.LINE_AA)
    body = np.zeros_like(hair)
    body[60:] = 1
    true = np.maximum(hair, body)
    rgb = true[..., None] * (0.9, 0.8, 0.5) + (1 - true[..., None]) * (0.1, 0.25, 0.3)
    mask = body > 0.5

    alpha = matted(rgb.astype(np.float32), mask, from_edge(mask) <= 58.0)

    apart, hard = (np.abs(each - true)[2:58].mean() for each in (alpha, mask))
    assert apart < 0.25 * hard


def test_straws_are_found_farther_out_than_the_band_where_their_colour_speaks_for_them():
    true = straws(14)
    photo = studied(painted(true))
    beyond = slice(LINE - 14, LINE - 5)

    alpha = hair_edge(photo, cut(photo, BODY), 4.0)
    narrow = matted(photo.rgb, BODY > 0.5, from_edge(BODY > 0.5) <= 4.0)

    found, before = (np.abs(each - true)[beyond].mean() for each in (alpha, narrow))
    assert found < 0.35 * before
    # Gaps into the body are found as well: the other way round it is the same.
    turned = hair_edge(photo, cut(photo, 1 - BODY), 4.0)
    assert np.abs(turned - (1 - alpha)).max() < 0.02


def test_a_cut_whose_colours_agree_with_it_is_as_narrow_as_the_band():
    photo = studied(painted(BODY))

    alpha = hair_edge(photo, cut(photo, BODY), 3.0)

    far = np.abs(np.arange(HEIGHT) - LINE) > 4
    assert np.array_equal(alpha[far], BODY[far])
    assert np.abs(alpha - hard_edge(cut(photo, BODY))).mean() < 0.002


def test_a_cut_that_runs_beside_the_edge_comes_to_lie_on_it():
    photo = studied(painted(BODY))
    # By as much as a region may be too wide.
    for off in (-5, 5):
        beside = np.zeros_like(BODY)
        beside[LINE + off :] = 1

        alpha = hair_edge(photo, cut(photo, beside), 3.0)

        assert np.abs(alpha - BODY).mean() < 0.25 * np.abs(beside - BODY).mean()


def tooth():
    """The body with a tooth as high as hair is looked for, and the middle of its upper half."""
    with_tooth = BODY.copy()
    with_tooth[LINE - 12 : LINE, 180:220] = 1
    return with_tooth, (slice(LINE - 10, LINE - 7), slice(185, 215))


def test_what_a_stroke_said_stands_against_colours():
    true, upper = tooth()
    photo = studied(painted(true))
    said = NOBODY.copy()
    said[LINE - 13 : LINE - 5, 178:222] = -1

    assert hair_edge(photo, cut(photo, BODY), 3.0)[upper].min() > 0.8
    assert hair_edge(photo, cut(photo, BODY, said), 3.0)[upper].mean() < 0.05


def test_what_all_strokes_say_of_a_region_weighs_against_colours_nearby():
    true, upper = tooth()
    # Nearby both sides have of that colour, the body more than its ground.
    beyond = np.zeros_like(BODY)
    beyond[LINE - 40 : LINE - 18] = 1
    picture = painted(np.maximum(true, beyond))
    photo = studied(picture)

    unsaid, said = (hair_edge(photo, cut(photo, BODY, NOBODY, loud), 3.0) for loud in (0.0, 1.0))

    assert unsaid[upper].mean() > 0.8
    assert said[upper].mean() < 0.2


def test_pieces_of_like_colours_that_lie_by_themselves_are_none_of_it_nor_are_holes():
    for mask in (BODY, 1 - BODY):
        true = mask.copy()
        true[LINE - 12 : LINE - 8, 100:300] = mask[-1, 0]
        photo = studied(painted(true))

        alpha = hair_edge(photo, cut(photo, mask), 3.0)

        assert np.abs(alpha - mask)[: LINE - 4].max() < 0.05


def test_a_stroke_beside_the_subject_is_not_undone_by_its_hair():
    strip = np.zeros_like(BODY)
    strip[LINE - 12 : LINE - 7, 60:340] = 1
    picture = painted(np.maximum(BODY, strip))
    photo = Photo(np.rint(picture * 255).astype(np.uint8), "strip")

    def stroke(verb, y, size):
        points = np.array([(0.18, y / WIDTH, 1.0), (0.82, y / WIDTH, 1.0)])
        return Stroke(Brush(verb=verb, size=size / WIDTH, hardness=1.0), points)

    strokes = [
        stroke("keep", 220, 12),
        stroke("drop", 60, 12),
        stroke("drop", LINE - 9.5, 5),
    ]

    alpha = alpha_of(photo, strokes)

    assert alpha[LINE - 10 : LINE - 9, 90:310].max() < 0.1
    assert alpha[LINE + 6 :].min() > 0.9


@pytest.mark.parametrize(
    "moved", [(0, 0), (CELL_PX, 0), (0, 3 * CELL_PX), (5 * CELL_PX, 2 * CELL_PX)]
)
def test_colours_speak_for_their_own_neighbourhood_only(moved):
    # Straw on green to the left, green on straw to the right.
    rows, columns = np.indices((HEIGHT, 2 * WIDTH))
    mask = np.roll((rows - 150) ** 2 + (columns % WIDTH - 200) ** 2 < 70**2, moved, (0, 1))
    left = np.roll(columns < WIDTH, moved[1], 1)
    picture = np.where((mask == left)[..., None], STRAW, GREEN).astype(np.float32)

    likely = likely_subject(colours_of(picture), mask, from_edge(mask))

    near = cv2.dilate(mask.astype(np.uint8), np.ones((31, 31))) > 0
    assert likely[mask].min() > 0.95
    assert likely[near & ~mask].max() < 0.05


def test_a_colour_of_both_sides_or_of_none_says_nothing():
    picture = painted(BODY)
    picture[:, :200] = RED
    # A patch that is not counted.
    picture[LINE - 20 : LINE + 20, 300:340] = (0.1, 0.2, 0.9)
    known = np.ones(BODY.shape, bool)
    known[LINE - 20 : LINE + 20, 300:340] = False

    likely = likely_subject(colours_of(picture), BODY > 0.5, from_edge(BODY > 0.5) * known)

    assert np.abs(likely[LINE - 2 : LINE + 2, :150] - 0.5).max() < 0.1
    assert np.abs(likely[~known] - 0.5).max() < 0.02


@pytest.mark.parametrize("size", [(2, 2), (3, 5), (6, 50), (50, 4), (40, 60)])
def test_a_photo_of_few_pixels_is_cut_out_too(size):
    noise = np.random.default_rng(0).integers(0, 255, (*size, 3)).astype(np.uint8)

    for pixels in (noise, np.full_like(noise, 90)):
        alpha = alpha_of(Photo(pixels, "tiny"), [])

        assert alpha.shape == size
        assert alpha.min() >= 0 and alpha.max() <= 1


@pytest.mark.parametrize("across_px", [12, 24])
def test_the_judged_hand_strokes_a_soft_rim_as_broadly_as_it_is_soft(across_px):
    rows, columns = np.mgrid[:300, :400]
    out = np.hypot(rows - 150, columns - 200) - 90
    soft = np.clip(0.5 - out / across_px, 0, 1).astype(np.float32)

    stroke = over_hair(soft)

    assert stroke is not None and stroke.brush.verb == "hair"
    assert across_px * 0.7 < stroke.brush.size * 400 < across_px * 1.3
    away = np.hypot(*(stroke.points[:, :2] * 400 - (200, 150)).T)
    assert np.abs(away - 90).max() < 3
    assert over_hair((out < 0).astype(np.float32)) is None
