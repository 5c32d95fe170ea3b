import numpy as np
import pytest
from PIL import Image

from flinz.core.deliver import raster
from flinz.core.deliver.raster import Greys, RasterExport, export
from flinz.core.document import Sheet
from flinz.core.press import Press
from flinz.core.stages.paper import Paper
from flinz.errors import DocumentError, Stopped
from tests.charts import blobs, grey_photo, opened, ramp, sheet_of


def made(photo, sheet, **wanted) -> Image.Image:
    return opened(export(Press(), photo, sheet, RasterExport(**wanted)))


def test_an_export_has_the_photos_own_pixels_unless_asked_otherwise():
    photo = grey_photo(ramp())

    assert made(photo, sheet_of("threshold")).size == (256, 32)
    assert made(photo, sheet_of("threshold"), long_edge_px=100).size == (100, 12)


@pytest.mark.parametrize("file_format", ["png", "tiff", "jpg"])
def test_the_resolution_is_written_in(file_format):
    sheet = sheet_of("threshold").model_copy(update={"paper": Paper(long_edge=254)})

    picture = made(grey_photo(ramp()), sheet, format=file_format, dpi=30)

    assert picture.size[0] == 300
    assert picture.info["dpi"][0] == pytest.approx(30, abs=0.6)


def test_one_bit_is_one_bit():
    picture = made(grey_photo(ramp()), sheet_of("threshold"), depth="1-bit")

    assert picture.mode == "1"
    assert np.asarray(picture).mean() == pytest.approx(0.5, abs=0.01)


def test_grain_keeps_the_tone_that_a_cut_loses():
    photo = grey_photo(np.full((200, 200), 255))
    sheet = Sheet(paper=Paper(colour="#c0c0c0"))

    grain = np.asarray(made(photo, sheet, depth="1-bit", greys=Greys.GRAIN)).mean()
    cut = np.asarray(made(photo, sheet, depth="1-bit")).mean()

    assert grain == pytest.approx(0xC0 / 255, abs=0.01)
    assert cut == 1


def test_a_drawing_in_bands_is_the_drawing_in_one(monkeypatch, face):
    sheet = sheet_of("pencil")
    whole = np.asarray(made(face, sheet, long_edge_px=900)).astype(int)
    monkeypatch.setattr(raster, "BAND_PIXELS", 150_000)

    shares: list[float] = []
    data = export(Press(), face, sheet, RasterExport(long_edge_px=900), shares.append)

    assert np.mean(np.abs(np.asarray(opened(data)).astype(int) - whole) > 4) < 0.005
    assert len(shares) == 5 and shares == sorted(shares) and shares[-1] <= 1


def test_an_export_can_be_stopped_between_bands(monkeypatch):
    monkeypatch.setattr(raster, "BAND_PIXELS", 1000)
    photo = grey_photo(blobs() * 255)
    done: list[float] = []

    with pytest.raises(Stopped):
        export(Press(), photo, Sheet(), RasterExport(), done.append, lambda: len(done) >= 2)
    assert len(done) == 2


def test_a_picture_beyond_the_limit_is_refused_before_it_is_drawn():
    with pytest.raises(DocumentError, match="million"):
        made(grey_photo(blobs() * 255), Sheet(), long_edge_px=60_000)


def test_the_same_sheet_gives_the_same_bytes():
    photo = grey_photo(blobs() * 255)

    first, second = (export(Press(), photo, Sheet(), RasterExport(long_edge_px=300)) for _ in "ab")

    assert first == second
