import cv2
import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from skimage.metrics import structural_similarity

from flinz.core.document import builtin
from flinz.core.document.plate import STAGES, Plate
from flinz.core.document.setting import with_value
from flinz.core.document.sheet import Sheet
from flinz.core.looks.registry import LOOKS
from flinz.core.planes.photo import Photo
from flinz.core.press import drawing, fitting, proofing
from flinz.core.press.framing import whole
from flinz.core.press.press import Press
from flinz.core.press.proofing import Subject, in_steps
from flinz.core.scale import region_frame
from flinz.core.stages.clean import Clean
from flinz.core.stages.ink import Ink
from flinz.core.stages.paper import AsPicture
from flinz.core.stages.smooth import EdgeKeeping, Gaussian, Median
from flinz.core.stages.tone import Tone
from flinz.errors import DocumentError, Stopped
from tests.charts import blobs, grey_photo, sheet_of

# Looks that decide black or white from the photo's own detail may differ a little more.
LIKENESS = {name: 0.92 if look.decides else 0.97 for name, look in LOOKS.items()}


def likeness(one, other):
    return structural_similarity(one, other, data_range=1.0)


def fitted_sheet(photo, name):
    return fitting.fitted(Press(), photo, builtin.named(name).on(photo.key, name))


def drawn_at(photo, sheet, edge, **options):
    return Press().proof(photo, sheet, whole(sheet, photo, edge), **options)


@pytest.fixture(scope="module")
def odd(face):
    """The face in a shape that comes to no whole number of rows at most sizes."""
    return Photo(np.ascontiguousarray(face.pixels[:1333]), "odd")


@pytest.mark.parametrize("name", LOOKS)
def test_an_export_shrunk_is_the_proof(name, odd):
    sheet = fitted_sheet(odd, name)

    export = drawn_at(odd, sheet, 2800, exact=True)
    proof = drawn_at(odd, sheet, 700)

    shrunk = cv2.resize(export, proof.shape[::-1], interpolation=cv2.INTER_AREA)
    assert likeness(shrunk, proof) >= LIKENESS[name]


@pytest.mark.parametrize(
    ("name", "dial", "value"),
    [
        # Dots of a pixel or two.
        ("stipple", "draw.dot", 0.25),
        ("stipple", "draw.detail", 1.0),
        # What Clean makes of greys.
        ("pencil", "clean.sharpen", 2.0),
        ("pencil", "clean.fullest", 0.4),
        ("pencil", "clean.smooth", 0.8),
        ("crosshatch", "clean.thicken", -0.15),
        ("woodcut", "clean.thicken", 0.15),
    ],
)
def test_an_export_shrunk_is_the_proof_with_dials_turned(name, dial, value, face):
    sheet = with_value(fitted_sheet(face, name), dial, value)

    export = drawn_at(face, sheet, 2800, exact=True)
    proof = drawn_at(face, sheet, 700)

    shrunk = cv2.resize(export, proof.shape[::-1], interpolation=cv2.INTER_AREA)
    assert likeness(shrunk, proof) >= 0.97
    assert proof.mean() == pytest.approx(export.mean(), abs=0.01)


@pytest.mark.parametrize("name", ["ink-line", "threshold"])
@pytest.mark.parametrize("radius", [0.3, 0.4, 0.75])
def test_an_export_of_a_median_is_the_proof(name, radius, face):
    sheet = Sheet(plates=[Plate(draw=LOOKS[name].settings(), smooth=Median(radius=radius))])

    export = drawn_at(face, sheet, 2800, exact=True)
    proof = drawn_at(face, sheet, 700)

    shrunk = cv2.resize(export, proof.shape[::-1], interpolation=cv2.INTER_AREA)
    assert likeness(shrunk, proof) >= 0.92
    assert proof.mean() == pytest.approx(export.mean(), abs=0.01)


@pytest.mark.parametrize(
    ("name", "ink"),
    [
        ("crosshatch", Ink(offset_x=-2.6)),
        ("crosshatch", Ink(times=8)),
        ("dot-screen", Ink(times=6, opacity=0.5)),
        ("ink-line", Ink(offset_x=1.3, turn=2.0)),
        ("photocopy", Ink(turn=-2.15)),
        ("pencil", Ink(turn=-1.4)),
    ],
)
def test_an_export_out_of_register_or_printed_again_is_the_proof(name, ink, face):
    sheet = Sheet(plates=[Plate(draw=LOOKS[name].settings(), ink=ink)])

    export = drawn_at(face, sheet, 2800, exact=True)
    proof = drawn_at(face, sheet, 700)

    shrunk = cv2.resize(export, proof.shape[::-1], interpolation=cv2.INTER_AREA)
    assert likeness(shrunk, proof) >= LIKENESS[name]
    assert proof.mean() == pytest.approx(export.mean(), abs=0.01)


def test_a_large_proof_is_drawn_as_the_export_is(face):
    sheet = fitted_sheet(face, "threshold")

    assert np.array_equal(drawn_at(face, sheet, 1500), drawn_at(face, sheet, 1500, exact=True))
    # A smaller one is drawn finer and shrunk: it has greys along its edges.
    assert not np.array_equal(drawn_at(face, sheet, 750), drawn_at(face, sheet, 750, exact=True))


def test_a_large_photo_is_averaged_down_by_way_of_smaller_ones():
    rng = np.random.default_rng(3)
    noise = rng.integers(0, 255, (600, 5000)).astype(np.uint8)
    pixels = cv2.merge([cv2.GaussianBlur(noise, (0, 0), 4)] * 3)
    large, sheet = Photo(pixels, "large"), sheet_of("pencil")
    frame = whole(sheet, large, 500)
    press = Press()

    shown = press.proof(large, sheet, frame, Subject("photo"))

    light = (pixels / 255).astype(np.float32)
    direct = cv2.resize(light, (frame.width, frame.height), interpolation=cv2.INTER_AREA)
    assert np.abs(shown - direct).max() < 0.01
    # 3,200, 1,000 and 500 pixels; what is larger than half of one does not come from it.
    assert press.counts["photo"] == 3
    press.proof(large, sheet, whole(sheet, large, 501), Subject("photo"))
    assert press.counts["photo"] == 4


@pytest.mark.parametrize("name", LOOKS)
def test_a_photo_and_its_half_give_the_same_drawing(name, face):
    size = face.width // 2, face.height // 2
    half = Photo(cv2.resize(face.pixels, size, interpolation=cv2.INTER_AREA), "half")
    sheet = fitted_sheet(face, name)

    assert likeness(drawn_at(face, sheet, 700), drawn_at(half, sheet, 700)) >= 0.93


@pytest.mark.parametrize("name", LOOKS)
def test_a_region_is_a_crop_of_the_whole(name, face):
    plain = builtin.named(name).on("", "").plates[0]
    changes = {"smooth": Gaussian(radius=0.4), "clean": Clean(smooth=0.3, specks=0.1)}
    sheet = Sheet(plates=[plain.model_copy(update=changes)])
    frame = whole(sheet, face, 1200)
    part = region_frame(frame, (0.4, 0.35, 0.6, 0.6))

    inside = Press().proof(face, sheet, frame)[part.slices_in(frame)]
    alone = Press().proof(face, sheet, part)

    assert np.mean(np.abs(inside - alone) > 0.02) < 0.003


@pytest.mark.parametrize("name", LOOKS)
def test_the_same_document_gives_the_same_bytes(name, pears):
    sheet = fitted_sheet(pears, name)
    again = Sheet.model_validate_json(sheet.model_dump_json())

    assert np.array_equal(drawn_at(pears, sheet, 500), drawn_at(pears, again, 500))


def full_plate():
    return Plate(
        tone=Tone(contrast=0.2),
        smooth=EdgeKeeping(),
        again=Median(),
        draw=LOOKS["pencil"].settings(),
        clean=Clean(sharpen=0.5),
    )


@pytest.mark.parametrize(
    ("stage", "changed", "redone"),
    [
        ("ink", Ink(colour="#335577"), set()),
        ("clean", Clean(sharpen=0.6), {"clean"}),
        ("draw", LOOKS["pencil"].settings(darkness=2), {"draw", "clean"}),
        ("smooth", EdgeKeeping(strength=0.2), {"smooth", "again", "draw", "clean"}),
        ("again", Median(radius=0.6), {"again", "draw", "clean"}),
        ("tone", Tone(contrast=0.3), {"tone", "smooth", "again", "draw", "clean"}),
    ],
)
def test_a_dial_redoes_only_what_comes_after_it(stage, changed, redone):
    photo = grey_photo(blobs() * 255)
    press, plate = Press(), full_plate()
    frame = whole(Sheet(), photo)
    press.proof(photo, Sheet(plates=[plate]), frame)
    press.counts.clear()

    press.proof(photo, Sheet(plates=[plate.model_copy(update={stage: changed})]), frame)

    stages = {"tone", "smooth", "again", "draw", "clean"} & set(press.counts)
    assert stages == redone


def test_turning_darkness_blurs_nothing_again():
    photo = grey_photo(blobs() * 255)
    press = Press()
    frame = whole(Sheet(), photo)
    press.proof(photo, sheet_of("pencil"), frame)
    press.counts.clear()

    press.proof(photo, sheet_of("pencil", darkness=2.0), frame)

    assert press.counts == {"draw": 1}


def test_memory_stays_within_its_bound():
    photo = grey_photo(blobs() * 255)
    press = Press(memory_bytes=1_000_000)

    for step in range(30):
        press.proof(photo, sheet_of("pencil", softness=1 + step / 10), whole(Sheet(), photo))

    assert 0 < press.results.held_bytes <= 1_000_000


def test_what_another_sheet_draws_leaves_the_small_copies_of_a_photo(face, pears):
    press = Press(memory_bytes=60_000_000)
    sheet, other = sheet_of("threshold"), sheet_of("pencil")
    press.proof(face, sheet, whole(sheet, face, 220), draft=True, exact=True)
    for edge in range(700, 1300, 50):
        press.proof(pears, other, whole(other, pears, edge), exact=True)
    press.counts.clear()

    press.proof(face, sheet, whole(sheet, face, 221), draft=True, exact=True)

    # Shrunk once, from the small copy, not from the photo by way of it.
    assert press.counts["photo"] == 1


@pytest.mark.parametrize("name", LOOKS)
def test_a_draft_before_it_leaves_the_settled_picture_as_it_is(name, face):
    press, sheet = Press(), sheet_of(name)
    frame = whole(sheet, face, 500)
    press.proof(face, sheet, frame, exact=True, draft=True)

    settled = press.proof(face, sheet, frame, exact=True)

    assert np.array_equal(settled, Press().proof(face, sheet, frame, exact=True))


@given(st.integers(60, 240))
def test_a_small_copy_keeps_the_tone_of_a_ramp(edge):
    ramp = np.tile(np.linspace(0, 255, 1200), (900, 1))
    photo = grey_photo(ramp)

    drawn = Press().proof(photo, Sheet(), whole(Sheet(), photo, edge), Subject("photo"))

    wanted = (np.arange(drawn.shape[1]) + 0.5) / drawn.shape[1]
    inner = drawn[:, 1:-1].reshape(drawn.shape[0], drawn.shape[1] - 2, -1)
    assert np.abs(inner - wanted[1:-1, None]).max() < 0.01


def test_two_plates_print_over_each_other_by_multiplying():
    photo = grey_photo(blobs() * 255)
    inks = [Ink(colour="#c04020", opacity=0.8), Ink(colour="#204080")]
    plates = [
        Plate(id=f"p{k}", draw=LOOKS["threshold"].settings(level=0.4 + 0.2 * k), ink=ink)
        for k, ink in enumerate(inks)
    ]
    sheet = Sheet(plates=plates, paper=AsPicture(colour="#f0e8d0"))
    frame = whole(sheet, photo)

    found = Press().proof(photo, sheet, frame, exact=True)

    expected = np.array([0xF0, 0xE8, 0xD0]) / 255 * np.ones((*found.shape[:2], 3))
    for plate, colour in zip(plates, ([192, 64, 32], [32, 64, 128]), strict=True):
        cover = Press().cover(photo, sheet, plate, frame, exact=True)[..., None]
        expected *= 1 - cover * (1 - np.array(colour) / 255) * plate.ink.opacity
    assert np.abs(found - expected).max() < 1e-5


def test_a_hidden_plate_does_not_print():
    photo = grey_photo(blobs() * 255)
    sheet = Sheet(plates=[full_plate().model_copy(update={"shown": False})])

    assert Press().proof(photo, sheet, whole(sheet, photo)).min() == 1


def test_a_run_stops_when_asked():
    photo = grey_photo(blobs() * 255)

    with pytest.raises(Stopped):
        Press().proof(photo, Sheet(), whole(Sheet(), photo), stop=lambda: True)


@pytest.mark.parametrize("stage", STAGES)
def test_every_stage_shows_what_leaves_it(stage):
    photo = grey_photo(blobs() * 255)
    sheet = Sheet(plates=[full_plate()])
    frame = whole(sheet, photo)

    picture = Press().proof(photo, sheet, frame, Subject("stage", "plate-1", stage))

    assert picture.shape == (frame.height, frame.width)
    assert 0 <= picture.min() < picture.max() <= 1


def test_suggestions_are_ones_the_dials_accept(face):
    for _name, look in LOOKS.items():
        plate = Plate(draw=look.settings())
        for path, value in Press().suggestions(face, Sheet(), plate).items():
            stage, _, dial = path.partition(".")
            settings = getattr(plate, stage)
            type(settings).model_validate({**settings.model_dump(), dial: value})


@pytest.mark.parametrize("shape", [(3, 3), (2, 80), (80, 2)])
@pytest.mark.parametrize("value", [0, 255, None])
@pytest.mark.parametrize("name", LOOKS)
def test_odd_pictures_are_drawn(name, shape, value):
    pixels = (
        np.random.default_rng(0).integers(0, 256, shape) if value is None else np.full(shape, value)
    )
    photo = grey_photo(pixels)

    for edge in (None, 40):
        sheet = sheet_of(name)
        drawn = Press().proof(photo, sheet, whole(sheet, photo, edge))
        assert np.isfinite(drawn).all() and drawn.min() >= 0 and drawn.max() <= 1


def test_a_grid_that_would_take_all_memory_is_refused_before_it_is_made():
    photo = grey_photo(np.full((30, 40), 120))
    draw = LOOKS["stipple"].settings(dot=0.1)
    sheet = Sheet(plates=[Plate(draw=draw)], paper=AsPicture(long_edge=2000))

    with pytest.raises(DocumentError, match="Choose a larger dot"):
        Press().proof(photo, sheet, whole(sheet, photo, 64))


@given(st.floats(0.01, 20_000), st.floats(1.0, 1.2))
def test_margins_reach_far_enough_and_seldom_change_while_a_dial_turns(reach_px, turned):
    margin = in_steps(reach_px)

    assert reach_px < margin < 1.5 * (reach_px + 3) + 1
    # A fifth more asks for at most one step more.
    assert in_steps(reach_px * turned) in (margin, in_steps(1.5 * (reach_px + 3) - 3))
    assert len({in_steps(reach_px * (1 + 0.002 * k)) for k in range(100)}) <= 2


@pytest.mark.parametrize("ask", ["cover", "plate", "figures", "marks", "predicted", "suggestions"])
def test_whatever_is_asked_of_a_press_can_be_stopped(ask, face):
    sheet = sheet_of("stipple")
    plate, frame = sheet.plates[0], whole(sheet, face, 300)
    what = {"cover": (plate, frame), "plate": (plate, frame), "figures": (frame,)}.get(
        ask, (plate,)
    )
    asked: list[int] = []

    def later() -> bool:
        asked.append(1)
        return len(asked) > 2

    with pytest.raises(Stopped):
        getattr(Press(), ask)(face, sheet, *what, stop=later)


def test_a_plate_is_handed_out_where_it_lands_and_in_any_frame(face):
    sheet = sheet_of("threshold")
    plate = sheet.plates[0].model_copy(update={"ink": Ink(offset_x=5.0, offset_y=3.0)})
    sheet = sheet.model_copy(update={"plates": [plate]})
    frame, press = whole(sheet, face, 400), Press()

    landed = press.plate(face, sheet, plate, frame, exact=True)
    drawn = press.cover(face, sheet, plate, frame, exact=True)

    # Two pixels a millimetre.
    right, down = 10, 6
    assert np.array_equal(landed[down:, right:], drawn[:-down, :-right])
    part = region_frame(frame, (0.3, 0.4, 0.7, 0.8))
    alone = press.plate(face, sheet, plate, part, exact=True)
    assert np.abs(alone - landed[part.slices_in(frame)]).max() < 1e-3


def test_far_zoomed_in_what_reaches_far_is_drawn_coarser_and_enlarged(face, monkeypatch):
    plate = Plate(draw=LOOKS["cut-paper"].settings(finest=4.0))
    sheet = Sheet(plates=[plate])
    frame = region_frame(whole(sheet, face, 4000), (0.4, 0.4, 0.5, 0.5))
    near = Press().proof(face, sheet, frame, exact=True)

    monkeypatch.setattr(drawing, "MAX_OUTER_PIXELS", 500_000)
    far = Press().proof(face, sheet, frame, exact=True)

    assert far.shape == near.shape
    assert np.abs(far - near).mean() < 0.02


def test_a_large_cover_is_drawn_in_tiles_to_the_same(face, monkeypatch):
    plate = Plate(draw=LOOKS["threshold"].settings())
    sheet = Sheet(plates=[plate])
    frame = whole(sheet, face, 900)
    at_once = Press().proof(face, sheet, frame)

    monkeypatch.setattr(proofing, "AT_ONCE_PIXELS", 300_000)
    monkeypatch.setattr(proofing, "TILE_PX", 500)

    assert np.abs(Press().proof(face, sheet, frame) - at_once).max() < 1e-5
