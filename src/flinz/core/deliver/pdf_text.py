"""Words as text of a PDF: each glyph where it stands, a line with its text beside it."""

import io
from collections.abc import Iterator
from dataclasses import dataclass, field
from typing import TYPE_CHECKING, Any

from fontTools.ttLib import TTFont
from fontTools.ttLib.tables._c_m_a_p import CmapSubtable

from flinz.core.deliver.artwork import Text
from flinz.core.ground.faces import PICTURES, WHOLE, Type
from flinz.core.ground.words import Letter, LineOfWords

if TYPE_CHECKING:
    from reportlab.pdfbase.ttfonts import TTFont as PdfFont

# Glyphs that no character leads to have one of private use, from here on.
PRIVATE = 0xF0000
# What sets text needs nothing of.
UNUSED = ("GSUB", "GPOS", "GDEF", "BASE", "JSTF", "DSIG", "kern", "morx", "mort", "feat", "STAT")


def refuses(text: Text) -> str:
    """Why words cannot be text of a PDF; "" where they can."""
    if "glyf" not in text.face.font:
        return "a PDF takes no letters of this kind of font"
    if text.face.may_be & (WHOLE | PICTURES):
        return "no part of their font may be put into a file"
    return ""


@dataclass
class Fonts:
    """The fonts of a canvas, by their faces."""

    canvas: Any
    _known: dict[int, tuple[Type, "PdfFont"]] = field(default_factory=dict)

    @property
    def are_used(self) -> bool:
        """Whether any text was set."""
        return bool(self._known)

    def words(self, text: Text) -> Iterator[str]:
        """What a page says to set a text, in the colour that is chosen."""
        if id(text.face) not in self._known:
            self._known[id(text.face)] = text.face, _font(text.face, f"words{len(self._known)}")
        _, font = self._known[id(text.face)]
        cmap = text.face.font.getBestCmap()
        for line in text.words.lines:
            if line.letters:
                yield from self._line(line, text.face, font, cmap)

    def _line(
        self, line: LineOfWords, face: Type, font: "PdfFont", cmap: dict[int, str]
    ) -> Iterator[str]:
        said = line.text.encode("utf-16-be", "replace").hex()
        yield f"/Span <</ActualText <feff{said}>>> BDC"
        yield "BT"
        for letter in line.letters:
            (code,) = font.splitString(_character(letter, face, cmap), self.canvas._doc)
            subset, bytes_ = code
            name = font.getSubsetInternalName(subset, self.canvas._doc)
            (a, c, e), (b, d, f) = letter.way.tolist()
            yield f"{name} 1 Tf {a:.5f} {b:.5f} {c:.5f} {d:.5f} {e:.4f} {f:.4f} Tm"
            yield f"<{bytes_.hex()}> Tj"
        yield "ET"
        yield "EMC"


def _character(letter: Letter, face: Type, cmap: dict[int, str]) -> str:
    """A character that leads to a glyph: its own, where it has one."""
    own = letter.text
    if len(own) == 1 and cmap.get(ord(own)) == face.font.getGlyphName(letter.glyph):
        return own
    return chr(PRIVATE + letter.glyph)


def _font(face: Type, name: str) -> "PdfFont":
    """A face as what writes the file takes it, every glyph with a character."""
    from reportlab.pdfbase.ttfonts import TTFont as PdfFont

    font = TTFont(io.BytesIO(face.data), recalcTimestamp=False)
    for table in UNUSED:
        if table in font:
            del font[table]
    every = CmapSubtable.newSubtable(12)
    every.platformID, every.platEncID, every.language = 3, 10, 0
    every.cmap = dict(font.getBestCmap())
    every.cmap |= {PRIVATE + k: glyph for k, glyph in enumerate(font.getGlyphOrder())}
    font["cmap"].tables = [every]
    whole = io.BytesIO()
    font.save(whole)
    whole.seek(0)
    return PdfFont(name, whole)
