import numpy as np
import pytest
from PIL import Image

from flinz.core.deliver.format import Delivery
from flinz.core.deliver.png import PngWish
from flinz.core.deliver.raster import (
    Greys,
    PictureWish,
    natural_depth,
    picture,
    picture_frame,
    shown,
)
from flinz.core.deliver.registry import FORMATS, format_of_file
from flinz.core.document.plate import Plate
from flinz.core.document.setting import with_value
from flinz.core.document.sheet import Sheet
from flinz.core.press.framing import whole
from flinz.core.press.press import Press
from flinz.core.scale import region_frame
from flinz.core.stages.paper import AsPicture
from flinz.errors import DocumentError, Stopped
from tests.charts import blobs, grey_photo, opened, ramp, sheet_of

PIXELS = ["png", "tiff", "jpg"]


def written(path, photo, sheet, kind="png", **wanted) -> Image.Image:
    """The file of a sheet, opened again."""
    each = FORMATS[kind]
    each.write(path, Delivery(Press(), photo, sheet), each.wish(**wanted))
    return opened(path.read_bytes())


def made(photo, sheet, **wanted) -> Image.Image:
    return picture(Delivery(Press(), photo, sheet), PngWish(**wanted))[0]


def test_an_export_has_the_photos_own_pixels_unless_asked_otherwise():
    photo = grey_photo(ramp())

    assert made(photo, sheet_of("threshold")).size == (256, 32)
    assert made(photo, sheet_of("threshold"), long_edge_px=100).size == (100, 12)


@pytest.mark.parametrize("kind", PIXELS)
def test_the_resolution_is_written_in(kind, tmp_path):
    sheet = sheet_of("threshold").model_copy(update={"paper": AsPicture(long_edge=254)})

    file = written(tmp_path / "file", grey_photo(ramp()), sheet, kind, dpi=30)

    assert file.size[0] == 300
    assert file.info["dpi"][0] == pytest.approx(30, abs=0.6)


@pytest.mark.parametrize("kind", ["png", "tiff"])
def test_a_file_without_loss_holds_the_picture(kind, tmp_path):
    photo, sheet = grey_photo(blobs() * 255), sheet_of("pencil")

    file = written(tmp_path / "file", photo, sheet, kind)

    assert np.array_equal(np.asarray(file), np.asarray(made(photo, sheet)))


def test_every_end_of_a_name_belongs_to_one_format_of_a_way():
    suffixes = [(each.way, suffix) for each in FORMATS.values() for suffix in each.suffixes]

    assert len(suffixes) == len(set(suffixes))
    for each in FORMATS.values():
        for suffix in each.suffixes:
            assert format_of_file(f"a.drawing.{suffix.upper()}", each.way) is each
    for name in ("drawing", "drawing.xcf", ".", ""):
        with pytest.raises(DocumentError, match=r"\.png"):
            format_of_file(name)


def test_one_bit_is_one_bit():
    cut = made(grey_photo(ramp()), sheet_of("threshold"), depth="1-bit")

    assert cut.mode == "1"
    assert np.asarray(cut).mean() == pytest.approx(0.5, abs=0.01)


def test_grain_keeps_the_tone_that_a_cut_loses():
    photo = grey_photo(np.full((200, 200), 255))
    sheet = Sheet(paper=AsPicture(colour="#c0c0c0"))

    grain = np.asarray(made(photo, sheet, depth="1-bit", greys=Greys.GRAIN)).mean()
    cut = np.asarray(made(photo, sheet, depth="1-bit")).mean()

    assert grain == pytest.approx(0xC0 / 255, abs=0.01)
    assert cut == 1


def test_a_drawing_in_bands_is_the_drawing_in_one(face):
    sheet, wish = sheet_of("pencil"), PictureWish(long_edge_px=900)
    whole = np.asarray(picture(Delivery(Press(), face, sheet), wish)[0]).astype(int)

    shares: list[float] = []
    delivery = Delivery(Press(), face, sheet, shares.append)
    banded, _ = picture(delivery, wish, band_px=150_000)

    assert np.mean(np.abs(np.asarray(banded).astype(int) - whole) > 4) < 0.005
    assert len(shares) == 5 and shares == sorted(shares) and shares[-1] <= 1


def test_a_picture_can_be_stopped_between_bands():
    photo = grey_photo(blobs() * 255)
    done: list[float] = []

    def enough() -> bool:
        return len(done) >= 2

    with pytest.raises(Stopped):
        delivery = Delivery(Press(), photo, Sheet(), done.append, enough)
        picture(delivery, PictureWish(), band_px=1000)
    assert len(done) == 2


def test_a_picture_beyond_the_limit_is_refused_before_it_is_drawn():
    with pytest.raises(DocumentError, match="million"):
        made(grey_photo(blobs() * 255), Sheet(), long_edge_px=60_000)


@pytest.mark.parametrize("kind", PIXELS)
def test_the_same_sheet_gives_the_same_bytes(kind, tmp_path):
    photo = grey_photo(blobs() * 255)
    files = [tmp_path / "one", tmp_path / "other"]

    for path in files:
        written(path, photo, Sheet(), kind, long_edge_px=300)

    assert files[0].read_bytes() == files[1].read_bytes()


@pytest.mark.parametrize("depth", ["1-bit", "grey", "colour"])
@pytest.mark.parametrize("look", ["pencil", "threshold", "stipple"])
def test_what_will_leave_is_shown_pixel_by_pixel(depth, look):
    photo, sheet = grey_photo(blobs(150, 200) * 255), sheet_of(look)
    wish = PngWish(depth=depth, long_edge_px=400)
    delivery = Delivery(Press(), photo, sheet)
    frame = picture_frame(photo, sheet, wish)
    part = region_frame(frame, (0.25, 0.3, 0.6, 0.8))

    file = np.asarray(picture(delivery, wish)[0].convert("RGB"))[part.slices_in(frame)]
    seen = shown(delivery, part, wish)

    same = (file[..., 0] if seen.ndim == 2 else file) == seen
    assert same.mean() > 0.999


def test_a_small_view_of_one_bit_is_the_file_averaged():
    photo, sheet = grey_photo(blobs(300, 400) * 255), sheet_of("threshold")
    wish = PngWish(depth="1-bit", long_edge_px=600)
    delivery = Delivery(Press(), photo, sheet)

    file = np.asarray(picture(delivery, wish)[0].convert("L")).astype(float)
    seen = shown(delivery, whole(sheet, photo, 300), wish).astype(float)

    averaged = file.reshape(225, 2, 300, 2).mean((1, 3))
    assert np.abs(averaged - seen).mean() < 3


def test_a_sheet_leaves_in_colour_if_it_has_any():
    grey = sheet_of("pencil")
    inked, papered = (with_value(grey, path, "#aa2200") for path in ("ink.colour", "paper.colour"))
    hidden = with_value(Sheet(plates=[Plate(shown=False), Plate(id="b")]), "ink.colour", "#aa2200")

    assert [natural_depth(sheet) for sheet in (grey, inked, papered, hidden)] == [
        "grey",
        "colour",
        "colour",
        "grey",
    ]
