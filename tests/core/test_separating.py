"""Separations: what each ink of a sheet prints, black."""

import io
import zipfile

import numpy as np
import pypdfium2
import pytest
from PIL import Image

from flinz.core.deliver.artwork import VectorWish
from flinz.core.deliver.format import Delivery
from flinz.core.deliver.separating import MARGIN_MM, said_of_inks, separations_of
from flinz.core.deliver.separations_pdf import SeparationsPdfWish
from flinz.core.deliver.shaping import traced_sheet
from flinz.core.document.picture import Picture, Position
from flinz.core.document.setting import with_value
from flinz.core.document.source import FromBlock
from flinz.core.ground.block import Block
from flinz.core.press.press import Press
from flinz.core.stages.ink import Ink, rgb_of
from flinz.core.stages.paper import AsPicture
from flinz.core.stages.part import Part
from flinz.core.trace.acting import Act, acted
from tests.charts import blobs, grey_photo, sheet_of
from tests.core.test_press_files import two_inks, written

KINDS = ["separations-zip", "separations-pdf"]
DPI = 200


@pytest.fixture(scope="module")
def photo():
    return grey_photo(blobs(90, 120, seed=8) * 255)


def separated(path, photo, sheet, kind):
    """The sheet's separations without their margins, (H, W) each, paper 1; and the names of files
    or words on pages.
    """
    file = written(path, photo, sheet, kind, **({"dpi": DPI} if "zip" in kind else {}))
    if kind == "separations-zip":
        with zipfile.ZipFile(file) as archive:
            names = archive.namelist()
            plates = [Image.open(io.BytesIO(archive.read(name))).convert("L") for name in names]
    else:
        # Drawn finer, so that thin edges do not hang on how a reader rounds.
        pages = pypdfium2.PdfDocument(file)
        plates = [page.render(scale=4 * DPI / 72).to_pil().convert("L").reduce(4) for page in pages]
        names = [page.get_textpage().get_text_bounded() for page in pages]
    margin = round(MARGIN_MM / 25.4 * DPI)
    edges = (margin, margin, plates[0].width - margin, plates[0].height - margin)
    return [np.asarray(plate.crop(edges), float) / 255 for plate in plates], names


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
@pytest.mark.parametrize("kind", KINDS)
def test_separations_printed_over_each_other_are_the_sheet(kind, is_covered, photo, tmp_path):
    ochre, soot = two_inks().plates
    # From inked to bare, so that what lies beneath would show.
    faded = Block(width=40, height=30, tone=0.1, fade="straight", tone_to=0.9)
    block = FromBlock(block=faded, position=Position(x=30, y=22))
    soot = soot.model_copy(update={"source": block, "photo": Part(covers=is_covered)})
    sheet = two_inks().model_copy(update={"plates": [ochre, soot]})
    whole = colours_of(written(tmp_path, photo, sheet, "png", dpi=200, depth="colour"))

    inks, _ = separated(tmp_path, photo, sheet, kind)

    high, wide = whole.shape[:2]
    inks = [ink[:high, :wide] for ink in inks]
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


def ink_alone(photo, look, **ink):
    sheet = sheet_of(look).model_copy(update={"paper": AsPicture(long_edge=60)})
    plate = sheet.plates[0].model_copy(update={"ink": Ink(**ink)})
    return sheet.model_copy(update={"plates": [plate]})


@pytest.mark.parametrize("kind", KINDS)
@pytest.mark.parametrize("look", ["threshold", "pencil", "flat-tones"])
def test_the_lights_of_two_colours_are_an_ink_that_lies_where_the_other_does_not(
    kind, look, photo, tmp_path
):
    colours = {"colour": "#203060", "lights": "#e0c060", "colouring": "two-colour"}

    (lights, darks), names = separated(tmp_path, photo, ink_alone(photo, look, **colours), kind)
    (alone,), _ = separated(tmp_path, photo, ink_alone(photo, look), kind)

    assert "lights" in names[0] and "lights" not in names[1]
    assert np.abs(darks - alone).mean() < 0.01
    assert np.abs(lights + darks - 1).mean() < 0.01 and 0.1 < darks.mean() < 0.95


def test_lights_in_the_colour_of_the_paper_are_no_ink(photo):
    sheet = ink_alone(photo, "threshold", colouring="two-colour", lights="#FFFFFF")

    assert [each.colour for each in separations_of(sheet)] == ["#000000"]


@pytest.mark.parametrize("ink", [{"colouring": "photo"}, {"colouring": "two-colour", "between": 2}])
def test_colours_that_no_ink_holds_are_said(photo, ink):
    wish = SeparationsPdfWish()
    single, mixed = (said_of_inks(ink_alone(photo, "pencil", **each), wish) for each in ({}, ink))

    assert single == ["Pencil, #000000"]
    assert mixed[:-1] == single and "no one ink holds" in mixed[-1]


@pytest.mark.parametrize("kind", KINDS)
@pytest.mark.parametrize("blend", ["multiply", "normal", "screen"])
@pytest.mark.parametrize("look", ["threshold", "pencil"])
def test_an_ink_is_as_black_as_it_is_strong_whatever_its_colour(kind, blend, look, photo, tmp_path):
    weak = ink_alone(photo, look, colour="#90c0f0", opacity=0.5, blend=blend)

    (found,), _ = separated(tmp_path, photo, weak, kind)
    (full,), _ = separated(tmp_path, photo, ink_alone(photo, look), kind)

    assert np.abs((1 - found) - (1 - full) / 2).mean() < 0.01


def test_an_under_layer_is_a_separation_that_is_printed_first(photo, tmp_path):
    sheet, wish = ink_alone(photo, "threshold"), SeparationsPdfWish(under_layer=0.4, outline=0.5)

    file = written(tmp_path, photo, sheet, "separations-pdf", **wish.model_dump(exclude={"format"}))

    pages = pypdfium2.PdfDocument(file)
    said = [page.get_textpage().get_text_bounded().strip() for page in pages]
    assert said == said_of_inks(sheet, wish) == ["Under-layer, #ffffff", "Threshold, #000000"]
    margin = round(3 * MARGIN_MM / 25.4 * 72)
    drawn = (np.asarray(page.render(scale=3).to_pil().convert("L")) < 128 for page in pages)
    under, ink = (page[margin:-margin, margin:-margin] for page in drawn)
    # It reaches beyond all ink.
    assert under[ink].mean() > 0.99 and under.sum() > 1.05 * ink.sum()


def test_a_grey_that_was_moved_stays_as_grey(photo, tmp_path):
    sheet = ink_alone(photo, "flat-tones")
    press = Press()
    traced = traced_sheet(Delivery(press, photo, sheet), VectorWish())
    lot = next(k for k, each in enumerate(traced.lots) if not each.is_white)
    areas = [each.area for each in traced.lots[lot].polygons]
    largest = sum(len(each.tracing) for each in traced.lots[:lot]) + int(np.argmax(areas))
    act = Act(verb="lay", shapes=[largest], way=[1, 0, 1, 0, 1, 0])
    plain = traced.edited([], VectorWish())
    changes = acted(traced.lots, traced.ways, [], plain, act, 0.02)
    moved = sheet.model_copy(update={"shapes": changes})

    before, after = (separated(tmp_path, photo, each, KINDS[1])[0][0] for each in (sheet, moved))

    # By a millimetre, and as light as it was.
    assert np.abs(after - before).mean() < 0.1 and abs(after.mean() - before.mean()) < 0.02
