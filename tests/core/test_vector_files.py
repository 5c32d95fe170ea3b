"""Files of shapes and marks, opened by independent readers and compared with the export."""

import itertools

import cv2
import numpy as np
import pypdfium2
import pytest
from ezdxf.filemanagement import readfile
from PIL import Image
from skimage.metrics import structural_similarity

from flinz.core.deliver.artwork import (
    Greys,
    VectorWish,
    leaves_as,
    leaves_as_marks,
)
from flinz.core.deliver.format import Delivery
from flinz.core.deliver.layering import flat_levels
from flinz.core.deliver.primitives import Lines, primitives
from flinz.core.deliver.registry import FORMATS
from flinz.core.deliver.shaping import artwork_of
from flinz.core.document.picture import Picture, Position
from flinz.core.document.setting import with_value
from flinz.core.document.sheet import Sheet
from flinz.core.marks.pen import dots_cover, strokes_cover
from flinz.core.marks.vectors import Dots, Shape, Strokes
from flinz.core.planes.textures import Surface
from flinz.core.press.framing import whole
from flinz.core.press.press import Press
from flinz.core.scale import whole_frame
from flinz.core.shapes.filled import filled
from flinz.core.stages.blend import Blend
from flinz.core.stages.ink import Ink
from flinz.core.stages.paper import AsPicture
from flinz.core.trace.tracing import Tracing, flattened
from tests.charts import blobs, delivered, grey_photo, read_back, sheet_of

EDGE_PX = 720
PAPER = AsPicture(long_edge=80.0)
# Greys leave in 300 dots an inch: a quarter of the paper is drawn four times as soon.
SMALL_PX = EDGE_PX // 2
SMALL = AsPicture(long_edge=40.0)
DARK = "#30503c"
LOOKS = [
    "threshold",
    "cut-paper",
    "ink-line",
    "outline",
    "stipple",
    "crosshatch",
    "contour-hatch",
    "loose-hatch",
    "dot-screen",
    "line-screen",
    "flat-tones",
    "pencil",
]


@pytest.fixture(scope="module")
def photo():
    smooth = cv2.resize(blobs(60, 80, seed=5), (480, 360), interpolation=cv2.INTER_CUBIC)
    return grey_photo(np.clip(smooth, 0, 1) * 255)


@pytest.fixture(scope="module")
def press():
    return Press(500_000_000)


def sheet_in(look, **dials) -> Sheet:
    return sheet_of(look, **dials).model_copy(update={"paper": PAPER})


def exported(press, photo, sheet, edge_px=EDGE_PX):
    frame = whole(sheet, photo, edge_px)
    picture = press.proof(photo, sheet, frame, exact=True)
    return np.rint(picture * 255).astype(np.uint8)


def likeness(file, reference):
    shown = read_back(file, reference.shape[1]).convert("RGB").resize(reference.shape[1::-1])
    grey = reference if reference.ndim == 2 else np.asarray(Image.fromarray(reference).convert("L"))
    return structural_similarity(np.asarray(shown.convert("L")), grey, data_range=255)


@pytest.mark.parametrize("look", LOOKS)
def test_shapes_and_marks_rendered_are_the_export(look, press, photo, tmp_path):
    sheet = sheet_in(look)

    file = delivered(tmp_path, press, photo, sheet, "svg")

    assert likeness(file, exported(press, photo, sheet)) >= 0.98


@pytest.mark.parametrize("kind", ["pdf", "eps"])
@pytest.mark.parametrize("look", ["cut-paper", "stipple", "crosshatch", "flat-tones"])
def test_other_formats_say_the_same(look, kind, press, photo, tmp_path):
    sheet = sheet_in(look)

    file = delivered(tmp_path, press, photo, sheet, kind)

    assert likeness(file, exported(press, photo, sheet)) >= 0.96


@pytest.mark.parametrize("kind", ["svg", "pdf", "eps"])
@pytest.mark.parametrize(
    ("look", "ink"),
    [
        ("pencil", {"times": 3}),
        ("pencil", {"times": 2, "colouring": "photo", "opacity": 0.6}),
        ("pencil", {"times": 3, "opacity": 0.5, "blend": "normal", "colour": "#cc4422"}),
        ("flat-tones", {"times": 3}),
        ("flat-tones", {"times": 3, "opacity": 0.4, "blend": "normal"}),
        ("flat-tones", {"blend": "normal", "colour": "#ffffff"}),
        ("flat-tones", {"blend": "exclusion"}),
        ("flat-tones", {"colouring": "two-colour", "colour": "#203060", "lights": "#f0c060"}),
        (
            "flat-tones",
            {"colouring": "two-colour", "lights": "#f0c060", "opacity": 0.4, "times": 2},
        ),
        ("crosshatch", {"times": 3, "opacity": 0.4}),
        ("cut-paper", {"times": 2, "opacity": 0.5, "blend": "normal", "colour": "#cc4422"}),
    ],
)
def test_an_ink_leaves_as_strong_as_it_prints(look, ink, kind, press, photo, tmp_path):
    sheet = sheet_in(look)
    plate = sheet.plates[0].model_copy(update={"ink": Ink(**ink)})
    # White ink is for dark paper.
    colour = DARK if ink.get("colour") == "#ffffff" else SMALL.colour
    paper = SMALL.model_copy(update={"colour": colour})
    sheet = sheet.with_plate(plate).model_copy(update={"paper": paper})

    file = delivered(tmp_path, press, photo, sheet, kind)

    export = exported(press, photo, sheet, SMALL_PX)
    assert likeness(file, export) >= 0.96
    shown = np.asarray(read_back(file, SMALL_PX).convert("RGB"), float) / 255
    assert shown.mean() == pytest.approx(export.mean() / 255, abs=0.01)


@pytest.mark.parametrize("look", ["pencil", "flat-tones", "undrawn", "ink-line"])
def test_a_drawing_that_is_small_on_its_paper_leaves_as_it_is(look, press, photo, tmp_path):
    position = Position(x=30.0, y=25.0, width=16.0)
    sheet = sheet_in(look)
    sheet = sheet.model_copy(update={"picture": Picture(position=position)})

    file = delivered(tmp_path, press, photo, sheet, "svg")

    export = exported(press, photo, sheet)
    assert likeness(file, export) >= 0.98
    shown = np.asarray(read_back(file, EDGE_PX).convert("RGB"), float)
    assert (255 - shown).mean() == pytest.approx((255 - export.astype(float)).mean(), rel=0.1)


def two_inks(slip=0.0):
    plates = [
        sheet_in("cut-paper").plates[0].model_copy(update={"id": "under", "name": "Ochre"}),
        sheet_in("outline").plates[0].model_copy(update={"id": "over", "name": "Soot & oil"}),
    ]
    sheet = sheet_in("cut-paper").model_copy(update={"plates": plates, "title": "Two <inks>"})
    for path, value in (("ink.colour", "#d08a20"), ("ink.offset_x", slip), ("ink.turn", slip)):
        sheet = with_value(sheet, path, str(value), 0)
    sheet = with_value(sheet, "ink.offset_y", str(-slip), 1)
    return with_value(sheet, "ink.turn", str(-2 * slip), 1)


@pytest.mark.parametrize("kind", ["svg", "pdf", "eps"])
def test_inks_meet_where_they_land(kind, press, photo, tmp_path):
    sheet = two_inks(slip=1.5)

    file = delivered(tmp_path, press, photo, sheet, kind)

    reference = exported(press, photo, sheet)
    shown = np.asarray(
        read_back(file, EDGE_PX).convert("RGB").resize(reference.shape[1::-1]), float
    )
    assert np.abs(shown - reference).mean() < 2.5


def test_a_plate_is_a_group_with_its_name(press, photo, tmp_path):
    text = delivered(tmp_path, press, photo, two_inks(), "svg").read_text()

    assert '<g id="under"' in text and "<title>Soot &amp; oil</title>" in text
    assert "mix-blend-mode:multiply" in text and "<title>Two &lt;inks&gt;</title>" in text
    assert 'width="80.000mm"' in text


def test_inks_of_a_pdf_are_named_spot_colours_on_a_page_of_true_size(press, photo, tmp_path):
    file = delivered(tmp_path, press, photo, two_inks(), "pdf")

    data = file.read_bytes()
    assert b"/Separation /Ochre /DeviceRGB" in data
    page = pypdfium2.PdfDocument(file)[0]
    assert page.get_width() == pytest.approx(80 / 25.4 * 72, abs=0.01)
    assert page.get_trimbox() == pytest.approx((0, 0, page.get_width(), page.get_height()))


@pytest.mark.parametrize("kind", ["svg", "pdf", "eps", "dxf"])
def test_equal_sheets_give_equal_bytes(kind, press, photo, tmp_path):
    sheet = two_inks()

    files = []
    for name in "ab":
        (tmp_path / name).mkdir()
        files.append(delivered(tmp_path / name, press, photo, sheet, kind).read_bytes())

    assert files[0] == files[1]


@pytest.mark.parametrize("blend", [Blend.MULTIPLY, Blend.NORMAL])
def test_a_bleed_goes_on_mirrored_and_leaves_what_is_within_the_trim(blend, press, tmp_path):
    values = np.full((120, 160), 230, np.uint8)
    # Ink at the left edge and in the lower right corner; a disc apart from the edges.
    values[30:60, :20] = values[100:, 130:] = 20
    cv2.circle(values, (80, 60), 20, 20, -1)
    photo, sheet = grey_photo(values, "edges"), sheet_of("threshold", level=0.5)
    sheet = sheet.model_copy(update={"paper": AsPicture(long_edge=80.0, colour="#f0e0c0")})
    sheet = with_value(with_value(sheet, "ink.blend", blend, 0), "ink.colour", "#204080", 0)

    plain = delivered(tmp_path, press, photo, sheet, "pdf")
    within = np.asarray(read_back(plain, 640).convert("RGB"), int)
    file = delivered(tmp_path, press, photo, sheet, "pdf", bleed=3.0)
    page = pypdfium2.PdfDocument(file)[0]
    # 8 px a mm; 7 mm for marks beyond the bleed of 3.
    pixels = np.asarray(page.render(scale=7.9999 * 25.4 / 72).to_pil().convert("RGB"), int)

    mm = 72 / 25.4
    assert page.get_trimbox() == pytest.approx([10 * mm, 10 * mm, 90 * mm, 70 * mm], abs=0.02)
    assert page.get_bleedbox() == pytest.approx([7 * mm, 7 * mm, 93 * mm, 73 * mm], abs=0.02)
    assert pixels.shape[:2] == (640, 800)
    trimmed = pixels[80:560, 80:720]
    assert np.abs(trimmed[2:-2, 2:-2] - within[2:-2, 2:-2]).mean() < 0.5
    # Just beyond the edge lies what lies just within it.
    assert np.abs(pixels[82:558, 60:78] - pixels[82:558, 99:81:-1]).mean() < 3
    assert np.abs(pixels[562:582, 722:742] - pixels[557:537:-1, 717:697:-1]).mean() < 3
    assert pixels[300, 30].tolist() == [255, 255, 255] and pixels[80, 5:45].min() < 160


def test_dots_leave_as_round_lines_of_no_length_by_their_sizes(press, photo, tmp_path):
    sheet = sheet_in("stipple", pen_wear=0.0)
    marks = press.marks(photo, sheet, sheet.plates[0])

    text = delivered(tmp_path, press, photo, sheet, "svg").read_text()

    assert text.count("h0") == len(marks)
    widths = {line.split('"')[1] for line in text.split("stroke-width=")[1:]}
    assert len(widths) == len(set(np.rint(2 * marks.radius / 0.005)))


def test_a_cutter_gets_closed_lines_in_mm(press, photo, tmp_path):
    sheet = sheet_in("cut-paper")
    tracing = artwork_of(Delivery(press, photo, sheet), VectorWish()).tracings[0]

    space = readfile(delivered(tmp_path, press, photo, sheet, "dxf")).modelspace()

    lines = [each for each in space if each.dxftype() == "LWPOLYLINE"]
    assert len(lines) == len(tracing.first) - 1
    assert all(line.closed for line in lines)
    points = np.concatenate([np.array(line.get_points("xy")) for line in lines])
    assert points.min() >= -0.01 and points[:, 0].max() <= 80.01
    assert points[:, 1].max() <= 60.01


def test_what_reshapes_ink_turns_marks_into_shapes_and_that_is_said():
    plain = sheet_in("stipple")
    cleaned = with_value(plain, "clean.thicken", "0.1", 0)

    assert leaves_as_marks(plain.plates[0], PAPER)
    assert not leaves_as_marks(cleaned.plates[0], PAPER)
    assert "true marks" in leaves_as(plain)[0]
    assert "Clean" in leaves_as(cleaned)[0]
    assert not leaves_as_marks(sheet_in("loose-hatch", chalk=True).plates[0], PAPER)


SOAKING = AsPicture(long_edge=40.0, texture=Surface.KRAFT, soak=0.6, depth=0.0)


def test_marks_on_paper_that_soaks_leave_as_they_run(press, photo, tmp_path):
    plain = sheet_in("stipple", dot=1.0).model_copy(update={"paper": SMALL})
    sheet = plain.model_copy(update={"paper": SOAKING})

    file = delivered(tmp_path, press, photo, sheet, "svg")

    large = exported(press, photo, sheet, 3 * SMALL_PX)
    assert likeness(file, np.asarray(Image.fromarray(large).reduce(3))) >= 0.97
    assert leaves_as(sheet) == ["Stipple: as shapes, since ink runs on this paper"]
    drawn = [
        delivered(tmp_path, press, photo, each, "plotter").read_text() for each in (sheet, plain)
    ]
    assert drawn[0] == drawn[1]


def test_greys_over_another_plate_are_said_to_be_one_picture_with_it_in_eps():
    greys = sheet_in("pencil").plates[0].model_copy(update={"id": "greys"})
    sheet = two_inks()
    sheet = sheet.model_copy(update={"plates": [*sheet.plates, greys]})

    assert leaves_as(sheet, FORMATS["eps"].wish())[2].endswith("one picture with what is beneath")
    assert leaves_as(sheet, FORMATS["svg"].wish())[2].endswith("as a picture")


def test_paper_is_dropped_and_an_under_layer_comes_first(press, photo):
    sheet = sheet_in("cut-paper")
    wish = VectorWish(drop_paper=True, under_layer=-0.5, under_colour="#fefefe", outline=2.0)

    artwork = artwork_of(Delivery(press, photo, sheet), wish)

    assert artwork.paper is None
    assert [layer.id for layer in artwork.layers][:2] == ["outline", "under-layer"]
    assert all(layer.blend == Blend.NORMAL for layer in artwork.layers[:2])
    band, under = (layer.items[0].content for layer in artwork.layers[:2])
    area = [sum(shape.area for shape in each.polygons()) for each in (band, under)]
    assert area[0] > area[1] > 0


def test_an_under_layer_that_is_eaten_up_is_told(press, photo):
    wish = VectorWish(under_layer=-20)

    artwork = artwork_of(Delivery(press, photo, sheet_in("outline")), wish)

    assert "leaves nothing" in artwork.notes[0]


def test_greys_leave_as_a_picture_or_parted_in_tones(press, photo):
    sheet = sheet_in("pencil").model_copy(update={"paper": SMALL})

    whole_art = artwork_of(Delivery(press, photo, sheet), VectorWish())
    parted = artwork_of(Delivery(press, photo, sheet), VectorWish(tones=3))

    assert isinstance(whole_art.layers[0].items[0].content, Greys)
    assert "picture" in whole_art.notes[0]
    assert [item.strength for item in parted.layers[0].items] == pytest.approx([1 / 3, 2 / 3, 1])
    assert all(isinstance(item.content, Tracing) for item in parted.layers[0].items)


def test_flat_tones_are_told_from_edges_and_from_greys():
    frame = whole_frame(10, 200, 200)
    disc = [np.array([[2, 2], [8, 2.5], [7, 8], [2.5, 7]], float)]
    edges = filled(disc, frame)
    ramp = np.tile(np.linspace(0, 1, 200, dtype=np.float32), (200, 1))

    assert flat_levels(edges) == [(0.5, 1.0)]
    assert flat_levels(edges * np.float32(0.6)) == [(pytest.approx(0.3), pytest.approx(0.6))]
    assert flat_levels(ramp) is None
    assert len(flat_levels(ramp, 5)) == 5


@pytest.mark.parametrize("shape", Shape)
def test_every_dot_leaves_as_it_is_drawn(shape):
    rng = np.random.default_rng(4)
    x, y, turn = rng.uniform(3, 17, 30), rng.uniform(3, 17, 30), rng.uniform(0, 6, 30)
    columns = (each.astype(np.float32) for each in (x, y, rng.uniform(0.4, 1.6, 30), turn))
    dots = Dots(*columns, shape=shape, blob=0.6 if shape == Shape.ROUND else 0.0)
    frame = whole_frame(20, 600, 600)

    drawn = np.zeros((600, 600), np.float32)
    for each in primitives(dots):
        for low, high in itertools.pairwise(each.first):
            one = Tracing(each.curves[low:high], np.array([0, high - low]), np.zeros(1, int), None)
            drawn = (
                drawn + rings_of(one, frame)
                if shape == Shape.RING
                else np.maximum(drawn, rings_of(one, frame))
            )

    assert np.abs(np.clip(drawn, 0, 1) - dots_cover(dots, frame)).mean() < 0.01


def rings_of(tracing, frame):
    ring = flattened(tracing, 16)[0]
    share = filled([ring], frame)
    area = np.sum(ring[:, 0] * np.roll(ring[:, 1], -1) - ring[:, 1] * np.roll(ring[:, 0], -1))
    return share if area > 0 else -share


def test_a_stroke_that_swells_is_the_hull_of_its_pen():
    x = np.linspace(2, 18, 24, dtype=np.float32)
    y = (10 + 4 * np.sin(x)).astype(np.float32)
    width = (0.2 + 1.5 * np.abs(np.sin(2 * x))).astype(np.float32)
    strokes = Strokes(x, y, width, np.array([0, 24]))
    frame = whole_frame(20, 600, 600)

    (each,) = primitives(strokes)
    drawn = filled([each.curves[:, :2]], frame)

    cover = strokes_cover(strokes, frame)
    assert np.abs(drawn - cover).sum() < 0.02 * cover.sum()


def test_a_hundred_thousand_dots_are_a_small_file_that_opens(tmp_path):
    rng = np.random.default_rng(3)
    places = rng.uniform(0, 200, (2, 100_000)).astype(np.float32)
    radius = rng.choice(np.linspace(0.1, 0.3, 12), 100_000).astype(np.float32)

    lots = list(primitives(Dots(*places, radius)))

    assert len(lots) == 12 and all(isinstance(each, Lines) for each in lots)
    assert sum(len(each.points) for each in lots) == 100_000


# A window's soft rims thin marks here; in pixels they make them paler.
@pytest.mark.parametrize(
    "path, value, least", [("ink.only_from", "0.4", 0.9), ("photo.part", "subject", 0.96)]
)
def test_marks_are_cut_where_their_plate_may_not_print(path, value, least, press, photo, tmp_path):
    sheet = with_value(sheet_in("crosshatch"), path, value, 0)

    file = delivered(tmp_path, press, photo, sheet, "svg")

    assert likeness(file, exported(press, photo, sheet)) >= least


def test_a_sheet_of_two_colours_by_tone_is_two_shapes(press, photo, tmp_path):
    sheet = with_value(sheet_in("cut-paper"), "ink.colouring", "two-colour", 0)
    sheet = with_value(sheet, "ink.lights", "#f0d060", 0)

    file = delivered(tmp_path, press, photo, sheet, "svg")

    shown = np.asarray(read_back(file, EDGE_PX).convert("RGB"), float)
    reference = exported(press, photo, sheet)
    assert np.abs(shown[: len(reference)] - reference[: len(shown)]).mean() < 2
