"""Words that stay text in files: shown as their outlines are, found as words, where they can be."""

import io
import re
import subprocess
from xml.etree import ElementTree

import numpy as np
import pypdfium2
import pytest
import resvg_py
from fontTools.ttLib import TTFont
from PIL import Image

from flinz.core.deliver.artwork import Text, leaves_as
from flinz.core.deliver.format import Delivery
from flinz.core.deliver.pdf import PdfWish
from flinz.core.deliver.shaping import artwork_of
from flinz.core.deliver.svg import SvgWish
from flinz.core.document.picture import Position
from flinz.core.document.plate import Plate
from flinz.core.document.sheet import Sheet
from flinz.core.document.source import FromLettering
from flinz.core.ground.faces import FOLDER, LOOKED_AT, PICTURES, WHOLE, brought
from flinz.core.ground.lettering import Lettering
from flinz.core.looks.registry import LOOKS
from flinz.core.press.press import Press
from flinz.core.press.results import Stock
from flinz.core.stages.clean import Clean
from flinz.core.stages.ink import Ink
from flinz.core.stages.paper import OwnSize
from flinz.core.trace.changes import Footprint, ShapeChange
from tests.charts import delivered, grey_photo, read_back

PHOTO = grey_photo(np.full((150, 200), 255, np.uint8), "bare")
WORDS = {
    "joined letters": {"words": "office fjord\nAVATAR", "face": "old-style", "size": 4.5},
    "an arc": {"words": "ROUND ffi HILL", "face": "old-style", "size": 3.5, "arc": 120},
    "an arc downwards": {"words": "& so on", "face": "slab", "size": 4.5, "arc": -90},
    "apart": {"words": "Set  apart", "face": "mono", "size": 4, "tracking": 0.2, "word_space": 2},
    "two ways": {"words": "אבג 12 שלום, abc", "face": "rounded", "size": 3.5},
    "to the left": {"words": "<שלום> a", "face": "rounded", "size": 3.5, "align": "right"},
    "marks": {"words": "e\u0301te\u0301 a\u0308", "face": "old-style", "size": 4.5},
}
LAID = {
    "upright": {},
    "turned": {"turn": 25.0},
    "mirrored, larger": {"mirrored": True, "turn": -12.0, "as_drawn": 1.3},
}

# Each words laid in one way, and some in all.
LAID_ALL = ("joined letters", "an arc", "to the left")
CASES = [
    (words, laid)
    for number, words in enumerate(WORDS)
    for k, laid in enumerate(LAID)
    if words in LAID_ALL or k == number % len(LAID)
]


def plate_of(laid=None, look="threshold", ink=None, clean=None, **said):
    source = FromLettering(
        lettering=Lettering(**said), position=Position(x=30.0, y=22.0, **(laid or {}))
    )
    drawn = LOOKS[look].settings()
    return Plate(source=source, draw=drawn, ink=ink or Ink(), clean=clean or Clean())


def sheet_of(*plates):
    return Sheet(paper=OwnSize(width=60, height=45), plates=list(plates))


def shown(file):
    """What an independent reader shows of an SVG or PDF, ink 0..1, 16 px a mm."""
    if file.suffix != ".svg":
        return 1 - np.asarray(read_back(file, 960).convert("L"), float) / 255
    text = re.sub(r'width="[0-9.]+mm" height="[0-9.]+mm"', 'width="960"', file.read_text(), count=1)
    fonts = [str(each) for each in FOLDER.glob("*.ttf")]
    drawn = resvg_py.svg_to_bytes(
        svg_string=text, background="#ffffff", skip_system_fonts=True, font_files=fonts
    )
    return 1 - np.asarray(Image.open(io.BytesIO(bytes(drawn))).convert("L"), float) / 255


@pytest.mark.parametrize("kind", ["svg", "pdf"])
@pytest.mark.parametrize(("words", "laid"), CASES)
def test_text_is_shown_as_its_outlines_are(tmp_path, kind, words, laid):
    sheet = sheet_of(plate_of(LAID[laid], **WORDS[words]))
    outlines = shown(delivered(tmp_path, Press(), PHOTO, sheet, kind))

    file = delivered(tmp_path, Press(), PHOTO, sheet, kind, text=True)

    assert b"<text" in file.read_bytes() or kind == "pdf"
    assert outlines.sum() > 1000
    # Edges are drawn otherwise by a few hundredths; a letter that is missing is far more.
    assert np.abs(shown(file) - outlines).sum() < 0.03 * outlines.sum()


def test_the_words_of_an_svg_are_read_as_they_were_typed(tmp_path):
    sheet = sheet_of(plate_of(words="Beans & <peas>\nof \u0007May", face="slab"))

    file = delivered(tmp_path, Press(), PHOTO, sheet, "svg", text=True)

    found = ElementTree.parse(file).getroot().iter("{http://www.w3.org/2000/svg}text")
    assert ["".join(each.itertext()) for each in found] == ["Beans & <peas>", "of May"]


def test_the_words_of_a_pdf_are_found_where_letters_are_joined_or_bent(tmp_path):
    arc = {"arc": 60.0, "words": "fine office"}
    sheet = sheet_of(plate_of(face="old-style", **arc))

    file = delivered(tmp_path, Press(), PHOTO, sheet, "pdf", text=True)

    page = pypdfium2.PdfDocument(file)[0].get_textpage()
    assert page.get_text_range().strip() == "fine office"


def test_another_reader_of_pdf_shows_the_same_with_bleed_in_a_spot_colour(tmp_path):
    sheet = sheet_of(plate_of(face="slab", words="Bold", size=15, ink=Ink(colour="#c03020")))
    file = delivered(tmp_path, Press(), PHOTO, sheet, "pdf", text=True, bleed=3.0)
    out = tmp_path / "gs.png"
    command = ["gs", "-q", "-dNOPAUSE", "-dBATCH", "-dSAFER", "-dTextAlphaBits=4", "-r100"]
    subprocess.run(
        [*command, "-sDEVICE=png16m", f"-sOutputFile={out}", str(file)], check=True, timeout=150
    )

    one = np.asarray(Image.open(out).convert("RGB"), float)
    other = np.asarray(read_back(file, one.shape[1]).convert("RGB"), float)

    assert (np.abs(one - (0xC0, 0x30, 0x20)).max(-1) < 4).mean() > 0.05
    assert np.abs(one - other[: one.shape[0]]).mean() < 3


def notes_of(sheet, wish=None, press=None):
    artwork = artwork_of(Delivery(press or Press(), PHOTO, sheet), wish or SvgWish(text=True))
    is_text = [isinstance(each.content, Text) for layer in artwork.layers for each in layer.items]
    assert len(set(is_text)) == 1
    return artwork.notes, is_text[0]


@pytest.mark.parametrize(
    "more",
    [
        {"tone": 0.4, "look": "undrawn"},
        {"outline": 0.5},
        {"heavier": 0.3},
        {"look": "ink-line"},
        {"ink": Ink(smear=3.0)},
        {"ink": Ink(fade="straight")},
        {"clean": Clean(thicken=0.3)},
    ],
    ids=str,
)
def test_words_of_which_more_was_made_leave_as_they_are_drawn(more):
    notes, is_text = notes_of(sheet_of(plate_of(words="Fair", size=10, **more)))

    assert not is_text
    assert any("leave as outlines, since they are not in plain ink" in note for note in notes)


@pytest.mark.parametrize("look", ["threshold", "undrawn"])
def test_a_plate_out_of_register_and_in_any_ink_stays_text(look):
    ink = Ink(colour="#0060a0", opacity=0.7, offset_x=2.0, turn=1.5, times=2)

    assert notes_of(sheet_of(plate_of(words="Fair", size=10, ink=ink, look=look))) == ([], True)


def test_register_moves_text_as_it_moves_outlines(tmp_path):
    sheet = sheet_of(plate_of(words="Slip", size=10, ink=Ink(offset_x=4.0, turn=5.0)))
    outlines = shown(delivered(tmp_path, Press(), PHOTO, sheet, "svg"))

    text = shown(delivered(tmp_path, Press(), PHOTO, sheet, "svg", text=True))

    assert np.abs(text - outlines).sum() < 0.02 * outlines.sum()


def test_changed_shapes_and_unknown_letters_are_said():
    sheet = sheet_of(plate_of(words="Fair", size=10))
    part = Footprint(plate="plate-1", lot=0, area=0.001, places=[1000, 1000])
    changed = sheet.model_copy(update={"shapes": [ShapeChange(of=[part], colour="#ff0000")]})

    assert "some were changed as shapes" in notes_of(changed)[0][0]
    assert "no 漢" in notes_of(sheet_of(plate_of(words="a漢", size=10)))[0][0]
    assert notes_of(sheet, SvgWish()) == ([], False)


@pytest.mark.parametrize(
    ("bits", "svg", "pdf"), [(0, 1, 1), (LOOKED_AT, 0, 1), (WHOLE, 1, 0), (PICTURES, 0, 0)]
)
def test_what_a_font_says_of_being_put_into_files_is_heeded(bits, svg, pdf):
    font, data = TTFont(FOLDER / "slab.ttf"), io.BytesIO()
    font["OS/2"].fsType = bits
    font.save(data)
    assert brought(data.getvalue()).may_be == bits
    press = Press(stock=Stock(font_of=lambda name: data.getvalue()))
    sheet = sheet_of(plate_of(words="Own", size=10, own="0" * 64))

    assert notes_of(sheet, SvgWish(text=True), press)[1] == bool(svg)
    assert notes_of(sheet, PdfWish(text=True), press)[1] == bool(pdf)


def test_it_is_told_before_what_words_leave_as():
    sheet = sheet_of(plate_of(words="Fair"))

    assert "as text where it is in plain ink" in leaves_as(sheet, SvgWish(text=True))[0]
    assert leaves_as(sheet)[0].endswith("as shapes")


def test_files_with_text_are_the_same_each_time(tmp_path):
    sheet = sheet_of(plate_of(**WORDS["joined letters"]))
    for kind in ("svg", "pdf"):
        one = delivered(tmp_path, Press(), PHOTO, sheet, kind, text=True).read_bytes()

        assert delivered(tmp_path, Press(), PHOTO, sheet, kind, text=True).read_bytes() == one
