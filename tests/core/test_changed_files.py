"""Sheets whose shapes were changed, as files that others read."""

import io
import re
import zipfile

import cv2
import numpy as np
import pypdfium2
import pytest
from ezdxf.filemanagement import readfile
from PIL import Image

from flinz.core.deliver.artwork import VectorWish
from flinz.core.deliver.format import Delivery
from flinz.core.deliver.raster import ClearWish, PictureWish, picture
from flinz.core.deliver.reshaped import reshaped
from flinz.core.deliver.shaping import artwork_of, traced_sheet
from flinz.core.deliver.within import with_shapes_within
from flinz.core.document import builtin
from flinz.core.document.picture import Picture, Position
from flinz.core.document.plate import Plate
from flinz.core.document.recipe import recipe_of
from flinz.core.document.sheet import Sheet
from flinz.core.document.source import Beneath, FromSheet
from flinz.core.judge.bad_day import BadDay, printed_badly
from flinz.core.looks.threshold import Threshold
from flinz.core.looks.undrawn import Undrawn
from flinz.core.planes.textures import Surface
from flinz.core.press import fitting
from flinz.core.press.framing import whole
from flinz.core.press.press import Press
from flinz.core.press.results import Stock
from flinz.core.press.stopping import never
from flinz.core.stages.clean import Clean
from flinz.core.stages.ink import Ink
from flinz.core.stages.paper import AsPicture
from flinz.core.trace.acting import Act, acted
from flinz.errors import Stopped
from tests.charts import delivered, grey_photo, read_back, sheet_of


def red_square_sheet(press, **paper):
    """A dark square and a dark disc on light, the square red and moved to the right."""
    values = np.full((240, 320), 230, np.uint8)
    values[60:120, 40:100] = 20
    cv2.circle(values, (230, 170), 30, 20, -1)
    photo = grey_photo(values, "square-and-disc")
    sheet = sheet_of("threshold", level=0.5)
    sheet = sheet.model_copy(update={"paper": AsPicture(long_edge=80.0, **paper)})
    traced = traced_sheet(Delivery(press, photo, sheet), VectorWish())
    ink = next(k for k, each in enumerate(traced.lots) if not each.is_white)
    before = sum(len(each.tracing) for each in traced.lots[:ink])
    polygons = traced.lots[ink].polygons
    square = before + min(range(len(polygons)), key=lambda k: polygons[k].centroid.x)
    changes = []
    for act in (
        Act(verb="colour", shapes=[square], colour="#ff0000"),
        Act(verb="lay", shapes=[square], way=[1, 0, 30, 0, 1, 0]),
    ):
        found = traced.edited(changes, VectorWish())
        changes = acted(traced.lots, traced.ways, changes, found, act, 0.02)
    return photo, sheet.model_copy(update={"shapes": changes})


def test_a_changed_shape_leaves_as_it_was_changed_and_the_under_layer_with_it(tmp_path):
    press = Press()
    photo, sheet = red_square_sheet(press)

    file = delivered(tmp_path, press, photo, sheet, "svg", under_layer=0.5, under_colour="#ffff00")
    pixels = np.asarray(read_back(file, 640).convert("RGB"), int)

    # 8 px a mm; the square went from 10..25 mm to 40..55 mm.
    assert pixels[180, 380].tolist() == [255, 0, 0]
    assert pixels[180, 140].tolist() == [255, 255, 255]
    assert pixels[340, 460].tolist() == [0, 0, 0]
    assert pixels[118, 380].tolist() == [255, 255, 0]


def test_a_change_that_finds_no_shape_is_said(tmp_path):
    press = Press()
    photo, sheet = red_square_sheet(press)
    plate = sheet.plates[0].model_copy(update={"draw": Threshold(level=0.02)})

    artwork = artwork_of(Delivery(press, photo, sheet.with_plate(plate)), VectorWish())

    assert any("not found in the drawing any more" in note for note in artwork.notes)


def test_changes_of_a_plate_that_is_hidden_wait_for_it():
    press = Press()
    photo, sheet = red_square_sheet(press)
    plate = sheet.plates[0].model_copy(update={"shown": False})

    artwork = artwork_of(Delivery(press, photo, sheet.with_plate(plate)), VectorWish())

    assert artwork.notes == []


def test_a_recipe_keeps_no_changed_shapes_and_leaves_those_of_its_sheet():
    _, sheet = red_square_sheet(Press())

    recipe = recipe_of(sheet, "Own")
    again = recipe.over(sheet)

    assert "shapes" not in recipe.model_dump_json()
    assert again.shapes == sheet.shapes and len(sheet.shapes) == 1
    assert Sheet.model_validate_json(sheet.model_dump_json()) == sheet


def test_a_bad_day_is_of_the_shapes_as_they_were_changed():
    press = Press()
    photo, sheet = red_square_sheet(press)
    frame = whole(sheet, photo, 320)
    then = reshaped(Delivery(press, photo, sheet))

    bad = printed_badly(then.press, photo, sheet, frame, BadDay(gain=0.3, slip=0.4, uneven=0.0))

    # 4 px a mm: red where the square went, and at its spread edge, but not where it was.
    assert bad[90, 190] == pytest.approx([1, 0, 0], abs=0.02)
    reds = (bad[..., 0] > 0.6) & (bad[..., 1] < 0.4)
    columns = np.flatnonzero(reds.any(0))
    assert columns.min() > 150 and columns.max() < 230 and np.ptp(columns) >= 61
    assert bad[90, 70] == pytest.approx([1, 1, 1], abs=0.02)


def test_ink_of_changed_shapes_runs_on_paper_no_further_than_it_was_traced(tmp_path):
    press = Press()
    photo, sheet = red_square_sheet(press, texture=Surface.KRAFT, soak=0.8, depth=0.0)

    png = delivered(tmp_path, press, photo, sheet, "png", long_edge_px=960)
    svg = delivered(tmp_path, press, photo, sheet, "svg")

    pixels, shown = (
        np.asarray(each.convert("RGB"), float) for each in (Image.open(png), read_back(svg, 960))
    )
    assert np.abs(pixels - shown).mean() < 0.3


def test_a_shape_in_another_colour_has_a_pen_of_its_own(tmp_path):
    press = Press()
    photo, sheet = red_square_sheet(press)

    text = delivered(tmp_path, press, photo, sheet, "plotter", nib=0.5).read_text()

    strokes = re.findall(r'<g id="([^"]+)" fill="none" stroke="([^"]+)"', text)
    assert [stroke for _, stroke in strokes] == ["#000000", "#ff0000"]
    assert strokes[1][0].endswith("-ff0000")


def test_the_outline_round_a_moved_shape_is_a_cut_line(tmp_path):
    press = Press()
    photo, sheet = red_square_sheet(press)

    file = delivered(tmp_path, press, photo, sheet, "dxf", outline=1.0, drop_paper=True)

    lines = [each for each in readfile(file).modelspace() if each.dxf.layer == "OUTLINE"]
    lefts = sorted(min(x for x, *_ in each.get_points()) for each in lines)
    assert lefts == [pytest.approx(39, abs=0.1), pytest.approx(49, abs=0.2)]


def test_a_shape_in_another_colour_is_a_separation_of_its_own(tmp_path):
    press = Press()
    photo, sheet = red_square_sheet(press)

    file = delivered(tmp_path, press, photo, sheet, "separations-pdf")

    pages = pypdfium2.PdfDocument(file)
    # A margin of 12 mm lies round the sheet of 80 by 60.
    places = [(12 + 57.5, 12 + 42.5), (12 + 47, 12 + 22)]
    found = []
    for page in pages:
        picture = page.render(scale=2).to_pil().convert("L")
        at = [(round(x * picture.width / 104), round(y * picture.height / 84)) for x, y in places]
        found.append([picture.getpixel(each) for each in at])
    assert found == [[0, 255], [255, 0]]
    assert "#ff0000" in pages[1].get_textpage().get_text_range()


@pytest.mark.parametrize("kind", ["svg", "pdf", "eps"])
def test_no_hairline_of_paper_shows_round_coloured_paper(kind, tmp_path):
    press = Press()
    values = np.full((240, 320), 230, np.uint8)
    cv2.circle(values, (160, 120), 80, 20, -1)
    cv2.circle(values, (160, 120), 40, 230, -1)
    photo = grey_photo(values, "ring")
    sheet = sheet_of("threshold", level=0.5)
    sheet = sheet.model_copy(update={"paper": AsPicture(long_edge=80.0)})
    traced = traced_sheet(Delivery(press, photo, sheet), VectorWish())
    hole = min(range(len(traced.lots[0].tracing)), key=lambda k: traced.lots[0].polygons[k].area)
    act = Act(verb="colour", shapes=[hole], colour="#d00000")
    changes = acted(traced.lots, traced.ways, [], traced.edited([], VectorWish()), act, 0.02)

    file = delivered(tmp_path, press, photo, sheet.model_copy(update={"shapes": changes}), kind)
    pixels = np.asarray(read_back(file, 640).convert("RGB"), int)

    inner = pixels[140:340, 220:420]
    assert (inner[..., 0] > 150).any() and inner[..., 1].max() < 30


def test_the_paper_of_a_drawing_is_shapes_that_fill_what_its_ink_leaves(face):
    press = Press()
    sheet = fitting.on_photo(press, face, builtin.named("ink-line"), "")
    sheet = sheet.model_copy(update={"paper": AsPicture(long_edge=120.0)})

    white, ink = traced_sheet(Delivery(press, face, sheet), VectorWish(closeness=0.04)).lots

    whole = sum(each.area for lot in (white, ink) for each in lot.tracing.polygons(12))
    assert whole == pytest.approx(120 * 90, rel=5e-4)
    assert len(white.tracing) > 100


@pytest.mark.parametrize("kind", ["png", "jpg", "tiff", "webp", "ora"])
def test_files_of_pixels_show_changed_shapes_as_files_of_shapes_do(kind, tmp_path):
    press = Press()
    photo, sheet = red_square_sheet(press)
    shapes = np.asarray(
        read_back(delivered(tmp_path, press, photo, sheet, "svg"), 640).convert("RGB"), int
    )

    file = delivered(tmp_path, press, photo, sheet, kind, long_edge_px=640)

    pixels = np.asarray(opened(file).convert("RGB"), int)
    assert pixels[180, 380].tolist() == pytest.approx([255, 0, 0], abs=4)
    assert np.abs(pixels - shapes).mean() < 0.4


def with_ring(sheet):
    """A sheet with a plate over it, drawn from the print beneath: its darks, thicker and blue."""
    over = sheet.plates[0].model_copy(
        update={
            "id": "over",
            "source": Beneath(),
            "clean": Clean(thicken=1.0),
            "ink": Ink(colour="#0000ff"),
        }
    )
    return sheet.model_copy(update={"plates": [*sheet.plates, over]})


@pytest.mark.parametrize("kind", ["svg", "pdf"])
def test_what_is_drawn_from_the_print_beneath_is_drawn_from_its_changed_shapes(kind, tmp_path):
    press = Press()
    photo, plain = red_square_sheet(press)
    sheet = with_ring(plain)

    png = Image.open(delivered(tmp_path, press, photo, sheet, "png", long_edge_px=640))
    shapes = read_back(delivered(tmp_path, press, photo, sheet, kind), 640)

    pixels, shown = (np.asarray(each.convert("RGB"), int) for each in (png, shapes))
    # 8 px a mm: beside where the square went there is blue, beside where it was there is none.
    assert pixels[180, 316].tolist() == shown[180, 316].tolist() == [0, 0, 255]
    assert np.abs(pixels - shown).mean() < 1


def test_changed_shapes_of_what_is_drawn_from_the_print_beneath_are_found_in_pixels(tmp_path):
    press = Press()
    photo, plain = red_square_sheet(press)
    sheet = with_ring(plain).model_copy(update={"shapes": []})
    traced = traced_sheet(Delivery(press, photo, sheet), VectorWish(), set())
    (disc,) = (
        number
        for number, polygon in enumerate(each for lot in traced.lots for each in lot.polygons)
        if polygon.centroid.x > 40 and number >= len(traced.lots[0].tracing)
    )
    act = Act(verb="colour", shapes=[disc], colour="#00ff00")
    plain_shapes = traced.edited([], VectorWish())
    changes = acted(traced.lots, traced.ways, [], plain_shapes, act, 0.02)
    sheet = sheet.model_copy(update={"shapes": changes})

    png = Image.open(delivered(tmp_path, press, photo, sheet, "png", long_edge_px=640))
    svg = read_back(delivered(tmp_path, press, photo, sheet, "svg"), 640)

    pixels, shown = (np.asarray(each.convert("RGB"), int) for each in (png, svg))
    # At the disc's rim, thickened and green.
    assert pixels[340, 395].tolist() == [0, 255, 0]
    assert np.abs(pixels - shown).mean() < 1


def test_shapes_that_were_changed_are_not_those_of_a_sheet_that_lies_on_this_one():
    press = Press()
    photo, outer = red_square_sheet(press)
    inner = sheet_of("threshold", level=0.5, photo=photo.key)
    document = inner.model_dump(mode="json")
    laid = FromSheet(document=document, position=Position(x=40, y=30, width=40))
    plate = outer.plates[0].model_copy(update={"id": "laid", "source": laid})
    sheet = outer.model_copy(update={"plates": [*outer.plates, plate]})
    stock = Stock(photo_of=lambda _: photo)
    frame = whole(sheet, photo, 320)

    def drawn(of):
        delivery = reshaped(Delivery(Press(stock=stock), photo, of))
        return delivery.press.impression(photo, delivery.sheet, plate, frame).share

    assert np.array_equal(drawn(sheet), drawn(sheet.model_copy(update={"shapes": []})))


def laid_on_another(inner):
    """A sheet on which another lies in its own colours, as large as that."""
    plate = Plate(
        id="laid",
        source=FromSheet(document=inner.model_dump(mode="json")),
        draw=Undrawn(ink="full"),
        ink=Ink(colouring="photo", blend="normal"),
    )
    return Sheet(paper=inner.paper, picture=inner.picture, plates=[plate])


def changed_within():
    """A sheet as red_square_sheet, on another; and the stock that both are drawn from."""
    photo, inner = red_square_sheet(Press())
    inner = inner.model_copy(update={"picture": Picture(photo=photo.key)})
    return photo, inner, with_shapes_within(Stock(photo_of=lambda _: photo))


@pytest.mark.parametrize("kind", ["png", "svg", "eps"])
def test_a_sheet_that_lies_on_another_has_its_changed_shapes(kind, tmp_path):
    photo, inner, stock = changed_within()
    outer, press = laid_on_another(inner), Press(stock=stock)

    alone = opened(delivered(tmp_path, press, photo, inner, "png", long_edge_px=320))
    wanted = {"long_edge_px": 320} if kind == "png" else {}
    file = delivered(tmp_path, press, photo, outer, kind, **wanted)
    laid = opened(file) if kind == "png" else read_back(file, 320)

    one, other = (np.asarray(each.convert("RGB"), float) for each in (alone, laid))
    assert np.abs(one - other).mean() < 1
    assert other[90, 190].tolist() == [255, 0, 0] and other[90, 70].min() > 250


def test_a_draft_does_not_wait_for_shapes_within_and_what_settles_has_them():
    photo, inner, stock = changed_within()
    outer, press = laid_on_another(inner), Press(stock=stock)
    frame = whole(outer, photo, 320)

    def square(draft):
        drawn = press.proof(photo, outer, frame, draft=draft)
        colours = drawn if drawn.ndim == 3 else np.repeat(drawn[..., None], 3, 2)
        return colours[90, 70].tolist(), colours[90, 190].tolist()

    black, red, white = ([0.0, 0.0, 0.0], [1.0, 0.0, 0.0], [1.0, 1.0, 1.0])
    assert square(draft=True) == (black, white)
    assert square(draft=False) == (white, red)
    assert square(draft=True) == (white, red)


def test_work_that_is_stopped_traces_no_sheet_within():
    photo, inner, stock = changed_within()
    outer = laid_on_another(inner)

    with pytest.raises(Stopped):
        Press(stock=stock).proof(photo, outer, whole(outer, photo, 320), stop=lambda: True)

    assert stock.shapes_of(photo, inner, never, is_draft=True) is None


def opened(file):
    """A file of pixels, or the picture of all layers in an OpenRaster file."""
    if file.suffix != ".ora":
        return Image.open(file)
    with zipfile.ZipFile(file) as archive:
        return Image.open(io.BytesIO(archive.read("mergedimage.png")))


def test_layers_hold_changed_shapes_and_print_together_as_their_picture_does(tmp_path):
    press = Press()
    photo, sheet = red_square_sheet(press)
    weaker = sheet.plates[0].model_copy(update={"ink": Ink(opacity=0.6)})

    file = delivered(tmp_path, press, photo, sheet.with_plate(weaker), "ora", long_edge_px=320)

    with zipfile.ZipFile(file) as archive:
        layer = np.asarray(Image.open(io.BytesIO(archive.read("data/plate-1.png"))), float) / 255
        stack = archive.read("stack.xml").decode()
    share = float(re.findall(r'opacity="([0-9.]+)"', stack)[0])
    alpha = layer[..., 3:] * share
    printed = 1 - alpha + alpha * layer[..., :3]
    together = np.asarray(opened(file).convert("RGB"), float) / 255
    assert np.abs(printed - together).max() < 0.02 and together.min() < 0.5


def test_a_picture_with_changed_shapes_is_the_same_in_bands_and_clear_where_no_ink_is():
    press = Press()
    photo, sheet = red_square_sheet(press)
    delivery, wish = Delivery(press, photo, sheet), ClearWish(long_edge_px=320)

    whole, _ = picture(delivery, wish)
    bands, _ = picture(delivery, wish, band_px=9000)
    clear, _ = picture(delivery, wish.model_copy(update={"transparent": True}))

    assert np.array_equal(np.asarray(whole), np.asarray(bands))
    assert clear.getpixel((190, 90)) == (255, 0, 0, 255) and clear.getpixel((70, 90))[3] == 0


def test_what_is_beside_changed_shapes_stays_to_the_last_bit():
    press = Press()
    photo, changed = red_square_sheet(press)
    shades = sheet_of("pencil").plates[0].model_copy(update={"id": "shades"})
    sheet = changed.model_copy(update={"plates": [shades, *changed.plates]})

    def drawn(of):
        found, _ = picture(Delivery(press, photo, of), PictureWish(long_edge_px=320))
        return np.asarray(found.convert("RGB"), int)

    after, before = drawn(sheet), drawn(sheet.model_copy(update={"shapes": []}))
    # Where the square was and is, and at the edge of the disc.
    elsewhere = np.ones(after.shape[:2], bool)
    elsewhere[56:124, 36:224] = False
    cv2.circle(otherwise := elsewhere.astype(np.uint8), (230, 170), 30, 0, 5)
    assert np.array_equal(after[otherwise > 0], before[otherwise > 0])
    assert (after[90, 190] < [30, 5, 5]).tolist() == [False, True, True]


def test_pictures_of_separations_have_a_shape_in_another_colour_by_itself(tmp_path):
    press = Press()
    photo, sheet = red_square_sheet(press)

    file = delivered(tmp_path, press, photo, sheet, "separations-zip", dpi=100)

    with zipfile.ZipFile(file) as archive:
        plates = [Image.open(io.BytesIO(archive.read(name))) for name in archive.namelist()]
        names = archive.namelist()
    at = [round((12 + mm) * 100 / 25.4) for mm in (57.5, 42.5, 47, 22)]
    found = [[plate.convert("L").getpixel(xy) for xy in (at[:2], at[2:])] for plate in plates]
    assert found == [[0, 255], [255, 0]] and names[1] == "2-shapes.tiff"
