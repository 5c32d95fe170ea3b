"""Files for the press and the wall: ink alone, layers, separations, pages to glue."""

import io
import zipfile
from xml.etree import ElementTree

import numpy as np
import pypdfium2
import pytest
from PIL import Image

from flinz.core.deliver.registry import format_of_file, media_type_of
from flinz.core.deliver.tiles import MARGIN_MM, Page, tiling
from flinz.core.document.setting import with_value
from flinz.core.looks.threshold import Threshold
from flinz.core.press.impressions import Impression, on_nothing
from flinz.core.press.press import Press
from flinz.core.stages.blend import Blend
from flinz.core.stages.ink import Ink
from flinz.core.stages.paper import AsPicture
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


def test_pages_glued_together_are_the_sheet(photo, tmp_path):
    # Two let what lies beneath through, in both ways that an ink can.
    wide = 384
    sheet = with_value(with_value(two_inks(), "ink.colour", "#3060c0", 1), "ink.opacity", "0.7", 1)
    third = sheet.plates[1].model_copy(update={"id": "three", "draw": Threshold(level=0.7)})
    sheet = sheet.model_copy(
        update={"paper": AsPicture(long_edge=wide), "plates": [*sheet.plates, third]}
    )
    sheet = with_value(with_value(sheet, "ink.blend", "normal", 1), "ink.blend", "multiply", 2)
    file = written(tmp_path, photo, sheet, "tiles", overlap=10, mirrored=True)
    whole = Image.open(written(tmp_path, photo, sheet, "png", long_edge_px=wide, depth="colour"))

    high = wide * 3 // 4
    tiles = tiling(wide, high, Page.A4, 10)
    glued = Image.new("RGB", (wide, high), "white")
    pages = pypdfium2.PdfDocument(file)
    assert len(pages) == 1 + tiles.across * tiles.down == 1 + 4
    for number in range(1, len(pages)):
        row, column = divmod(number - 1, tiles.across)
        shown = pages[number].render(scale=25.4 / 72).to_pil()
        inner = [
            round(side) for side in (MARGIN_MM, MARGIN_MM, *(MARGIN_MM + r for r in tiles.room))
        ]
        left, top = tiles.begin(column, row)
        glued.paste(shown.crop(inner), (round(left), round(top)))

    wanted = np.asarray(whole.convert("RGB"), float)
    assert np.abs(np.asarray(glued, float) - wanted[:, ::-1]).mean() < 6
    assert f"{tiles.across} × {tiles.down} pages" in pages[0].get_textpage().get_text_bounded()


def test_a_file_is_known_by_its_end_and_by_its_way():
    assert format_of_file("a.PDF").name == "pdf"
    assert format_of_file("a.pdf", "tiles").name == "tiles"
    assert format_of_file("a.zip", "separations").name == "separations-zip"
    with pytest.raises(DocumentError, match=r"\.pdf, \.zip"):
        format_of_file("a.png", "separations")
    assert media_type_of("a.zip") == "application/zip"
