"""Files for the press and the wall: ink alone, layers, separations, pages to glue."""

import io
import zipfile
from xml.etree import ElementTree

import numpy as np
import pypdfium2
import pytest
from PIL import Image

from flinz.core.deliver.registry import format_of_file, media_type_of
from flinz.core.deliver.separating import separations_of
from flinz.core.deliver.tiles import MARGIN_MM, Page, tiling
from flinz.core.document.picture import Picture, Position
from flinz.core.document.setting import with_value
from flinz.core.document.source import FromBlock
from flinz.core.ground.block import Block
from flinz.core.press.impressions import Impression, on_nothing
from flinz.core.press.press import Press
from flinz.core.stages.blend import Blend
from flinz.core.stages.ink import Ink, rgb_of
from flinz.core.stages.paper import AsPicture
from flinz.core.stages.part import Part
from flinz.errors import DocumentError
from tests.charts import blobs, delivered, grey_photo, sheet_of


@pytest.fixture(scope="module")
def photo():
    return grey_photo(blobs(90, 120, seed=8) * 255)


def two_inks(**paper):
    sheet = sheet_of("cut-paper").model_copy(update={"paper": AsPicture(long_edge=60, **paper)})
    first = sheet.plates[0].model_copy(update={"id": "one", "name": "Ochre"})
    second = sheet_of("threshold").plates[0].model_copy(update={"id": "two", "name": "Soot"})
    sheet = sheet.model_copy(update={"plates": [first, second]})
    return with_value(sheet, "ink.colour", "#d08a20", 0)


def written(path, photo, sheet, kind, **wanted):
    return delivered(path, Press(), photo, sheet, kind, **wanted)


@pytest.mark.parametrize("kind", ["png", "tiff", "webp"])
def test_ink_alone_over_white_paper_is_the_sheet(kind, photo, tmp_path):
    sheet = with_value(two_inks(), "ink.blend", "normal", 1)
    clear = Image.open(written(tmp_path, photo, sheet, kind, transparent=True))
    assert clear.mode == "RGBA"
    size = clear.size
    over = Image.alpha_composite(Image.new("RGBA", size, "white"), clear).convert("RGB")

    whole = Image.open(written(tmp_path, photo, sheet, "png", depth="colour"))

    assert np.abs(np.asarray(over, float) - np.asarray(whole, float)).max() <= 2


def test_ink_that_hides_leaves_nothing_beneath():
    full, half = np.ones((2, 2), np.float32), np.full((2, 2), 0.5, np.float32)
    red, blue = Ink(colour="#ff0000"), Ink(colour="#0000ff", blend=Blend.NORMAL)

    laid = on_nothing([Impression(full, red), Impression(half, blue, hides=full)], 2, 2)

    assert laid[0, 0] == pytest.approx([0, 0, 1, 0.5])


def test_two_inks_on_nothing_meet_as_on_paper():
    full = np.ones((1, 1), np.float32)
    inks = [Ink(colour="#80c0ff"), Ink(colour="#ffc080")]

    laid = on_nothing([Impression(full, each) for each in inks], 1, 1)

    assert laid[0, 0] == pytest.approx([0.502, 0.567, 0.502, 1], abs=0.01)


@pytest.mark.parametrize("second", ["threshold", "pencil"])
@pytest.mark.parametrize("ink", [{}, {"times": 3, "opacity": 0.4}])
def test_layers_laid_by_their_modes_are_the_merged_picture(second, ink, photo, tmp_path):
    sheet = two_inks(colour="#f0e8d8")
    plate = sheet.plates[1]
    changed = {"draw": sheet_of(second).plates[0].draw, "ink": plate.ink.model_copy(update=ink)}
    sheet = sheet.with_plate(plate.model_copy(update=changed))
    file = written(tmp_path, photo, sheet, "ora")

    with zipfile.ZipFile(file) as archive:
        assert archive.infolist()[0].filename == "mimetype"
        assert archive.infolist()[0].compress_type == zipfile.ZIP_STORED
        assert archive.read("mimetype") == b"image/openraster"
        stack = ElementTree.fromstring(archive.read("stack.xml"))
        layers = list(stack.iter("layer"))
        opened = [Image.open(io.BytesIO(archive.read(each.get("src")))) for each in layers]
        merged = Image.open(io.BytesIO(archive.read("mergedimage.png")))
        small = Image.open(io.BytesIO(archive.read("Thumbnails/thumbnail.png")))
    assert [each.get("name") for each in layers] == ["Soot", "Ochre", "Paper"]
    assert max(small.size) <= 256
    sheet = np.asarray(opened.pop().convert("RGB"), float) / 255
    for said, layer in reversed(list(zip(layers, opened, strict=False))):
        rgba = np.asarray(layer, float) / 255
        alpha = rgba[..., 3:] * float(said.get("opacity"))
        sheet = sheet * (1 - alpha) + alpha * sheet * rgba[..., :3]
    assert np.abs(sheet * 255 - np.asarray(merged, float)).mean() < 1


def test_every_ink_is_a_separation_and_one_ink_is_one():
    sheet = two_inks()
    same = with_value(sheet, "ink.colour", "#D08A20", 1)

    assert [each.name for each in separations_of(sheet)] == ["Ochre", "Soot"]
    assert [len(each.plates) for each in separations_of(same)] == [2]


def test_a_screen_is_called_by_its_ruling():
    (found,) = separations_of(sheet_of("dot-screen", ruling=14.0, angle=30.0))

    assert found.words.endswith("14 to the cm at 30°")


@pytest.mark.parametrize(("look", "mode"), [("pencil", "L"), ("threshold", "1")])
@pytest.mark.parametrize("dpi", [150, 300])
def test_greys_of_a_small_drawing_are_not_cut_to_black(look, mode, dpi, photo, tmp_path):
    sheet = sheet_of(look).model_copy(update={"paper": AsPicture(long_edge=100)})
    position = Position(x=30.0, y=25.0, width=20.0)
    sheet = sheet.model_copy(update={"picture": Picture(position=position)})

    file = written(tmp_path, photo, sheet, "separations-zip", dpi=dpi)

    with zipfile.ZipFile(file) as archive:
        (plate,) = (Image.open(io.BytesIO(archive.read(name))) for name in archive.namelist())
    assert plate.mode == mode


def test_separations_are_black_plates_with_marks_at_the_same_places(photo, tmp_path):
    file = written(tmp_path, photo, two_inks(), "separations-zip", dpi=200)

    with zipfile.ZipFile(file) as archive:
        names = archive.namelist()
        plates = [Image.open(io.BytesIO(archive.read(name))) for name in names]
    assert names == ["1-ochre.tiff", "2-soot.tiff"]
    assert {plate.mode for plate in plates} == {"1"}
    assert plates[0].info["dpi"][0] == pytest.approx(200, abs=0.5)
    one, other = (np.asarray(plate) for plate in plates)
    # All but the names at the foot is the same in the margin.
    margin = round(12 / 25.4 * 200)
    assert np.array_equal(one[: margin - 1], other[: margin - 1])
    assert not one[margin // 2].all()
    sheet = two_inks().model_copy(update={"plates": two_inks().plates[1:]})
    alone = written(tmp_path, photo, sheet, "png", dpi=200, depth="1-bit")
    height, width = (side - 2 * margin for side in other.shape)
    inner = other[margin : margin + height, margin : margin + width]
    assert np.mean(inner != np.asarray(Image.open(alone))) < 0.002


def printed_over_each_other(inks, sheet, size):
    """What separations (H, W) of a sheet's plates, black 0, come to in their colours on white."""
    laid = np.ones((*size, 3))
    for ink, plate in zip(inks, sheet.plates, strict=True):
        laid *= 1 - (1 - ink[..., None]) * (1 - np.asarray(rgb_of(plate.ink.colour)))
    return laid


@pytest.mark.parametrize("is_covered", [False, True])
@pytest.mark.parametrize("kind", ["separations-zip", "separations-pdf"])
def test_separations_printed_over_each_other_are_the_sheet(kind, is_covered, photo, tmp_path):
    ochre, soot = two_inks().plates
    # From inked to bare, so that what lies beneath would show.
    faded = Block(width=40, height=30, tone=0.1, fade="straight", tone_to=0.9)
    block = FromBlock(block=faded, position=Position(x=30, y=22))
    soot = soot.model_copy(update={"source": block, "photo": Part(covers=is_covered)})
    sheet = two_inks().model_copy(update={"plates": [ochre, soot]})
    whole = colours_of(written(tmp_path, photo, sheet, "png", dpi=200, depth="colour"))

    file = written(tmp_path, photo, sheet, kind, **({"dpi": 200} if "zip" in kind else {}))

    margin = round(12 / 25.4 * 200)
    if kind == "separations-zip":
        with zipfile.ZipFile(file) as archive:
            names = archive.namelist()
            plates = [Image.open(io.BytesIO(archive.read(name))).convert("L") for name in names]
    else:
        pages = pypdfium2.PdfDocument(file)
        plates = [page.render(scale=200 / 72).to_pil().convert("L") for page in pages]
    high, wide = whole.shape[:2]
    inner = (margin, margin, margin + wide, margin + high)
    inks = [np.asarray(plate.crop(inner), float) / 255 for plate in plates]
    laid = printed_over_each_other(inks, sheet, (high, wide))
    assert np.abs(laid - whole).mean() < 0.02


def colours_of(file):
    return np.asarray(Image.open(file).convert("RGB"), float) / 255


def test_separations_as_pages_hold_one_ink_each(photo, tmp_path):
    file = written(tmp_path, photo, two_inks(), "separations-pdf")

    pages = pypdfium2.PdfDocument(file)

    assert len(pages) == 2
    said = [page.get_textpage().get_text_bounded() for page in pages]
    assert "Ochre" in said[0] and "Soot" in said[1]
    for page in pages:
        grey = np.asarray(page.render(scale=1).to_pil().convert("RGB"), int)
        assert np.ptp(grey, axis=2).max() <= 1 and grey.min() < 40


@pytest.mark.parametrize("page", Page)
@pytest.mark.parametrize("size", [(100.0, 80.0), (594.0, 841.0), (1200.0, 300.0)])
@pytest.mark.parametrize("overlap", [0.0, 10.0])
def test_pages_cover_the_sheet_and_lie_over_each_other(page, size, overlap):
    tiles = tiling(*size, page, overlap)

    last = tiles.begin(tiles.across - 1, tiles.down - 1)
    assert all(
        begin + room >= side - 1e-6
        for begin, room, side in zip(last, tiles.room, size, strict=True)
    )
    one, other = tiles.begin(0, 0), tiles.begin(1, 1)
    assert one == (0, 0)
    for axis in range(2):
        assert tiles.room[axis] - other[axis] == pytest.approx(overlap)


def test_pages_without_room_and_too_many_pages_are_refused():
    with pytest.raises(DocumentError, match="overlap of 190 mm"):
        tiling(600, 600, Page.A4, 190)
    with pytest.raises(DocumentError, match="pages; the limit is 400"):
        tiling(20_000, 20_000, Page.A4, 10)


@pytest.mark.parametrize(("mirrored", "wide", "many"), [(False, 284, 2), (True, 384, 4)])
def test_pages_glued_together_are_the_sheet(mirrored, wide, many, photo, tmp_path):
    sheet = two_inks().model_copy(update={"paper": AsPicture(long_edge=wide)})
    file = written(tmp_path, photo, sheet, "tiles", overlap=10, mirrored=mirrored)
    whole = Image.open(written(tmp_path, photo, sheet, "png", long_edge_px=wide, depth="colour"))

    high = wide * 3 // 4
    tiles = tiling(wide, high, Page.A4, 10)
    glued = Image.new("RGB", (wide, high), "white")
    pages = pypdfium2.PdfDocument(file)
    assert len(pages) == 1 + tiles.across * tiles.down == 1 + many
    for number in range(1, len(pages)):
        row, column = divmod(number - 1, tiles.across)
        shown = pages[number].render(scale=25.4 / 72).to_pil()
        inner = [
            round(side) for side in (MARGIN_MM, MARGIN_MM, *(MARGIN_MM + r for r in tiles.room))
        ]
        left, top = tiles.begin(column, row)
        glued.paste(shown.crop(inner), (round(left), round(top)))

    wanted = np.asarray(whole.convert("L"), float)
    wanted = wanted[:, ::-1] if mirrored else wanted
    assert np.abs(np.asarray(glued.convert("L"), float) - wanted).mean() < 8
    assert f"{tiles.across} × {tiles.down} pages" in pages[0].get_textpage().get_text_bounded()


def test_a_file_is_known_by_its_end_and_by_its_way():
    assert format_of_file("a.PDF").name == "pdf"
    assert format_of_file("a.pdf", "tiles").name == "tiles"
    assert format_of_file("a.zip", "separations").name == "separations-zip"
    with pytest.raises(DocumentError, match=r"\.pdf, \.zip"):
        format_of_file("a.png", "separations")
    assert media_type_of("a.zip") == "application/zip"
