import struct
import zlib
from pathlib import Path

import cv2
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from PIL import Image, ImageCms, ImageOps

from flinz.core.planes import decoding
from flinz.core.planes.cropping import Cropping
from flinz.core.planes.decoding import decode
from flinz.core.planes.photo import AT_ONCE_VALUES, Photo, enlarged, shrunk
from flinz.core.scale import whole_frame
from flinz.errors import PhotoError
from tests.charts import encoded, grey_photo, png, ramp

HEIC = Path(__file__).parents[1] / "heic"
CORNERS = np.zeros((4, 6, 3), np.uint8)
CORNERS[0, 0], CORNERS[0, -1], CORNERS[-1, 0] = (255, 0, 0), (0, 255, 0), (0, 0, 255)


def refused(data: bytes) -> str:
    with pytest.raises(PhotoError) as found:
        decode(data, "x")
    return str(found.value)


@given(st.integers(1, 8), st.integers(300, 700), st.integers(200, 500), st.integers(20, 900))
@settings(max_examples=20)
def test_a_photo_read_smaller_is_the_photo_shrunk(turn, width, height, least):
    hills = cv2.GaussianBlur(np.random.default_rng(3).random((height, width, 3)), (0, 0), 40)
    stored = Image.fromarray(np.rint(255 * (hills - hills.min()) / np.ptp(hills)).astype(np.uint8))
    tags = Image.Exif()
    tags[0x0112] = turn
    data = encoded(stored, "JPEG", exif=tags, quality=95, subsampling=0)

    large, small = decode(data, "x"), decode(data, "x", least)

    assert max(small.width, small.height) >= min(least, max(width, height))
    assert round(large.width / small.width) in (1, 2, 4, 8)
    wanted = shrunk(large.pixels, small.width, small.height).astype(float) / 257
    # What is no whole block of pixels at the edge is averaged with what is not there.
    assert np.abs(wanted - small.pixels)[2:-2, 2:-2].mean() < 3


def as_stored(upright, turn):
    """How a picture lies in a file that says this orientation."""
    undo = {1: None, 2: 0, 3: 3, 4: 1, 5: 5, 6: 2, 7: 6, 8: 4}[turn]
    return upright if undo is None else upright.transpose(Image.Transpose(undo))


@pytest.mark.parametrize("turn", range(1, 9))
def test_a_picture_comes_out_upright_for_every_orientation(turn):
    stored = as_stored(Image.fromarray(CORNERS), turn)
    tags = Image.Exif()
    tags[0x0112] = turn

    upright = decode(encoded(stored, "PNG", exif=tags), "x")

    assert np.array_equal(upright.pixels, CORNERS)


def test_an_srgb_profile_changes_nothing():
    plain = Image.new("RGB", (8, 8), (200, 60, 40))
    profile = ImageCms.ImageCmsProfile(ImageCms.createProfile("sRGB"))

    same = decode(encoded(plain, "PNG", icc_profile=profile.tobytes()), "x")

    assert np.array_equal(same.pixels[0, 0], (200, 60, 40))


def test_a_profile_of_swapped_primaries_swaps_the_colours_back():
    """A made-up profile in which red and blue have changed places."""
    profile = bytearray(ImageCms.ImageCmsProfile(ImageCms.createProfile("sRGB")).tobytes())
    profile = (
        bytes(profile)
        .replace(b"sRGB", b"odd!")
        .replace("sRGB".encode("utf-16-be"), "odd!".encode("utf-16-be"))
    )
    profile = profile.replace(b"rXYZ", b"????").replace(b"bXYZ", b"rXYZ").replace(b"????", b"bXYZ")
    stored = Image.new("RGB", (8, 8), (200, 60, 40))

    found = decode(encoded(stored, "PNG", icc_profile=profile), "x")

    assert np.abs(found.pixels[0, 0].astype(int) - (40, 60, 200)).max() <= 2


def test_a_damaged_profile_is_said_and_the_picture_comes_in():
    found = decode(encoded(Image.fromarray(CORNERS), "PNG", icc_profile=b"nonsense" * 20), "x")

    assert np.array_equal(found.pixels, CORNERS)
    assert "profile" in found.notes[0]


def test_sixteen_bits_a_channel_are_kept():
    values = np.arange(24, dtype=np.uint16).reshape(4, 6) * 2500
    rgb = np.stack([values, values[::-1], values[:, ::-1]], -1)
    data = cv2.imencode(".png", np.ascontiguousarray(rgb[..., ::-1]))[1].tobytes()

    assert np.array_equal(decode(data, "x").pixels, rgb)


def test_sixteen_bit_grey_is_kept():
    values = (np.arange(24, dtype=np.uint16) * 2500).reshape(4, 6)

    assert np.array_equal(
        decode(encoded(Image.fromarray(values), "PNG"), "x").pixels[..., 1], values
    )


def test_transparency_lies_over_white():
    half = Image.new("RGBA", (4, 4), (0, 0, 0, 0))

    assert decode(encoded(half, "PNG"), "x").pixels.min() == 255


def test_a_palette_picture_keeps_its_colours():
    picture = Image.fromarray(CORNERS).convert("P", palette=Image.Palette.ADAPTIVE)

    assert np.array_equal(decode(encoded(picture, "PNG"), "x").pixels, picture.convert("RGB"))


def test_cmyk_becomes_rgb():
    picture = Image.new("CMYK", (4, 4), (0, 255, 255, 0))

    red, green, blue = decode(encoded(picture, "TIFF"), "x").pixels[0, 0]
    assert red > 200 and green < 80 and blue < 80


@pytest.mark.parametrize("file_format", ["JPEG", "PNG", "TIFF", "WEBP", "AVIF"])
def test_every_usual_format_comes_in(file_format):
    found = decode(encoded(Image.fromarray(ramp()), file_format, quality=95), "x").pixels

    assert np.abs(found.astype(int) - ramp()[..., None]).max() <= 4


# Made by an encoder that Flinz does not carry: four colours, one in each quarter. The second
# picture lies on its side, with a profile in which red and blue have changed places; the third
# file holds a black picture before its main one.
@pytest.mark.parametrize("name", ["quarters", "turned", "several"])
def test_what_telephones_keep_photos_as_comes_in(name):
    found = decode((HEIC / f"{name}.heic").read_bytes(), "x")

    wanted = [[(200, 40, 30), (30, 160, 60)], [(40, 60, 190), (240, 240, 235)]]
    seen = found.pixels[8::16, 12::24].astype(int)
    assert found.pixels.shape == (32, 48, 3)
    assert np.abs(seen - wanted).max() <= 3
    assert ["main one" in note for note in found.notes] == [True] * (name == "several")


@pytest.mark.parametrize("turn", range(1, 9))
def test_an_avif_comes_out_upright_for_every_orientation(turn):
    large = np.kron(CORNERS, np.ones((16, 16, 1), np.uint8))
    exif = Image.Exif()
    exif[0x0112] = turn
    stored = as_stored(Image.fromarray(large), turn)

    found = decode(encoded(stored, "AVIF", exif=exif, quality=100, subsampling="4:4:4"), "x")

    assert np.abs(found.pixels.astype(int) - large).mean() < 2


@pytest.mark.parametrize("share", [0.6, 0.8, 0.95])
def test_a_truncated_photo_of_a_telephone_is_called_damaged(share):
    data = (HEIC / "quarters.heic").read_bytes()

    assert "damaged" in refused(data[: int(len(data) * share)])


def test_the_first_frame_of_an_animation_is_taken_and_said():
    frames = [Image.new("L", (9, 7), tone) for tone in (0, 255)]
    data = encoded(frames[0], "GIF", save_all=True, append_images=frames[1:])

    found = decode(data, "x")

    assert found.pixels.max() == 0
    assert "first" in found.notes[0]


def test_a_damaged_photo_of_a_telephone_ends_no_more_than_its_reader():
    """This byte tells how much is kept of what is told of the picture; the library dies of it."""
    data = bytearray((HEIC / "turned.heic").read_bytes())
    data[176] = 164

    assert "damaged" in refused(bytes(data))


def test_a_large_photo_of_a_telephone_is_refused_before_it_is_decoded(monkeypatch):
    monkeypatch.setattr(decoding, "MAX_PIXELS", 1_000)

    assert "48 × 32" in refused((HEIC / "quarters.heic").read_bytes())


def test_an_empty_file_is_named_as_such():
    assert "empty" in refused(b"")


def test_a_text_is_not_a_picture():
    assert "not a picture" in refused(b"Dear allotment holders," * 9)


def test_a_truncated_jpeg_is_called_damaged():
    data = encoded(
        Image.fromarray(np.random.default_rng(1).integers(0, 255, (99, 99, 3), "u1")), "JPEG"
    )

    assert "damaged" in refused(data[: len(data) // 2])


def test_one_pixel_is_too_little():
    assert "1 × 1" in refused(png(np.zeros((1, 1))))


def empty_png(width, height, bits=8, colour=2):
    """A PNG that says its size and has no pixels."""

    def chunk(kind, body):
        check = struct.pack(">I", zlib.crc32(kind + body))
        return struct.pack(">I", len(body)) + kind + body + check

    head = struct.pack(">IIBBBBB", width, height, bits, colour, 0, 0, 0)
    parts = chunk(b"IHDR", head), chunk(b"IDAT", zlib.compress(b"")), chunk(b"IEND", b"")
    return b"\x89PNG\r\n\x1a\n" + b"".join(parts)


def test_a_huge_picture_is_refused_before_it_is_decoded():
    assert "60,000 × 60,000" in refused(empty_png(60_000, 60_000))


def test_what_a_picture_takes_once_it_is_opened_is_counted_in_bytes():
    # As many pixels pass at 8 bits without transparency.
    assert "ends too early" in refused(empty_png(12_240, 12_240))
    assert "2,397 MB" in refused(empty_png(12_240, 12_240, bits=16, colour=6))


@pytest.mark.parametrize("size", [(2, 20_000), (40_000, 2), (75_000_000, 2), (1, 1), (3, 200)])
def test_a_picture_too_thin_to_be_drawn_is_refused(size):
    assert f"{size[0]:,} × {size[1]:,}" in refused(empty_png(*size))


@pytest.mark.parametrize("turn", range(1, 9))
def test_a_deep_picture_of_many_strips_comes_out_upright(turn, monkeypatch):
    monkeypatch.setattr(decoding, "STRIP_ROWS", 3)
    deep = np.random.default_rng(4).integers(0, 65536, (11, 7, 3)).astype(np.uint16)
    exif = Image.Exif()
    exif[0x0112] = turn
    body = exif.tobytes()[6:]
    plain = cv2.imencode(".png", deep[..., ::-1])[1].tobytes()
    chunk = b"eXIf" + body
    at = plain.index(b"IDAT") - 4
    held = struct.pack(">I", len(body)) + chunk + struct.pack(">I", zlib.crc32(chunk))

    found = decode(plain[:at] + held + plain[at:], "x").pixels

    grey = Image.fromarray(np.ascontiguousarray(deep[..., 0]).astype(np.int32), "I")
    grey.getexif()[0x0112] = turn
    upright = np.asarray(ImageOps.exif_transpose(grey))
    assert found.dtype == np.uint16
    assert np.array_equal(found[..., 0], upright)


@pytest.mark.parametrize("kind, options", [("GIF", {"duration": 80}), ("TIFF", {})])
def test_of_a_cut_animation_the_first_picture_comes_in_or_a_sentence_is_said(kind, options):
    rng = np.random.default_rng(1)
    frames = [Image.fromarray(rng.integers(0, 256, (24, 32, 3)).astype(np.uint8)) for _ in "abc"]
    data = encoded(frames[0], kind, save_all=True, append_images=frames[1:], **options)
    came_in = 0

    for end in range(1, len(data), 7):
        try:
            came_in += decode(data[:end], "x").pixels.shape == (24, 32, 3)
        except PhotoError as error:
            assert str(error).endswith(".")

    assert decode(data, "x").notes == ["The file holds 3 pictures; the first was taken."]
    assert came_in > 0


def test_a_file_over_the_limit_is_refused():
    assert "200 MB" in refused(bytes(decoding.MAX_BYTES + 1))


def test_a_crop_holds_the_pixels_between_its_bounds():
    photo = grey_photo(ramp())

    part = Cropping((0.25, 0, 0.5, 0.5)).taken(photo)

    assert np.array_equal(part, photo.pixels[:16, 64:128])
    assert Cropping((0.25, 0, 0.5, 0.5)).size(256, 32) == (64, 16)
    assert Cropping(quarter_turns=1).size(256, 32) == (32, 256)


def test_shrinking_keeps_the_mean():
    photo = grey_photo(ramp())

    small = shrunk(photo.pixels, 50, 7)
    assert abs(small.mean() / 65_535 - photo.pixels.mean() / 255) < 1e-3


@given(st.integers(1, 90), st.integers(1, 700), st.sampled_from([np.uint8, np.uint16]))
@settings(max_examples=25, deadline=None)
def test_shrinking_averages_areas_to_sixteen_bits(width, height, kind):
    rng = np.random.default_rng(width * height)
    pixels = rng.integers(0, np.iinfo(kind).max, (1300, 97, 3)).astype(kind)
    light = pixels / np.float32(np.iinfo(kind).max)

    expected = cv2.resize(light, (width, height), interpolation=cv2.INTER_AREA)
    assert np.abs(shrunk(pixels, width, height) / 65_535 - expected).max() < 3e-5


def test_a_large_photo_is_averaged_strip_by_strip_to_the_same():
    small = np.random.default_rng(2).integers(0, 256, (2400, 1300, 3)).astype(np.uint8)
    large = np.repeat(small, 3, axis=1)

    assert large.size > AT_ONCE_VALUES > small.size
    apart = shrunk(large, 300, 170).astype(int) - shrunk(small, 300, 170)
    assert np.abs(apart).max() <= 2


def test_an_enlarged_region_is_a_crop_of_the_enlarged_whole():
    from flinz.core.scale import region_frame

    pixels = np.random.default_rng(5).integers(0, 255, (40, 60, 3), "u1")
    whole = whole_frame(20, 180, 120)
    part = region_frame(whole, (0.3, 0.2, 0.7, 0.9))

    inside = enlarged(pixels, whole)[part.slices_in(whole)]

    assert np.abs(inside - enlarged(pixels, part)).max() < 0.01


@pytest.mark.parametrize("turns", [0, 1, 2, 3])
@pytest.mark.parametrize("straighten", [0.0, 4.0, -13.0])
@pytest.mark.parametrize("mirrored", [False, True])
def test_a_place_of_the_photo_is_found_again_in_what_is_taken_of_it(turns, straighten, mirrored):
    pixels = np.full((120, 200, 3), 20, np.uint8)
    pixels[60:64, 90:94] = 250
    photo = Photo(pixels, "spot")
    cropping = Cropping((0.1, 0.2, 0.9, 0.95), turns, straighten, mirrored)

    taken = cropping.taken(photo)

    assert taken.shape[1::-1] == cropping.size(200, 120)
    light = np.maximum(taken[..., 0].astype(float) - 25, 0)
    y, x = (np.average(each, weights=light) + 0.5 for each in np.indices(light.shape))
    found = cropping.from_photo(200, 120) @ (92, 62, 1)
    assert np.abs((x, y) - found).max() < 0.1
    # No corner is bare: all that is taken lies on the photo.
    corners = np.array([[0, 0], [taken.shape[1], 0], [0, taken.shape[0]], taken.shape[1::-1]])
    back = cv2.invertAffineTransform(cropping.from_photo(200, 120))
    places = corners @ back[:, :2].T + back[:, 2]
    assert (places > -0.51).all() and (places < (200.51, 120.51)).all()
