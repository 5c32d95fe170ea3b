"""Faces of type: those that ship, and fonts that somebody brings; their glyphs as rings."""

import io
import threading
from dataclasses import dataclass, field
from enum import StrEnum
from functools import cached_property, lru_cache
from pathlib import Path
from typing import Any

import pathops
import uharfbuzz
from fontTools.ttLib import TTFont, TTLibError

from flinz.core.ground.outlines import Flat
from flinz.core.shapes.filled import Ring
from flinz.errors import DocumentError

FOLDER = Path(__file__).parent / "faces"
MAX_FONT_BYTES = 12_000_000
MAX_GLYPHS = 70_000
# A chord lies no farther off its curve, in ems.
FLAT_EM = 1 / 6000
# Bits of a font that say: not to be put into other files, only to be looked at and printed there,
# only whole, only as pictures.
RESTRICTED, LOOKED_AT, WHOLE, PICTURES = 0x0002, 0x0004, 0x0100, 0x0200

# Tables that are asked for as words are set.
READ = ("head", "maxp", "cmap", "hmtx", "name", "OS/2", "glyf", "CFF ", "CFF2", "fvar")


class Face(StrEnum):
    """The faces that ship, each in one weight."""

    GROTESQUE = "grotesque"
    GROTESQUE_BOLD = "grotesque-bold"
    CONDENSED = "condensed"
    ROUNDED = "rounded"
    OLD_STYLE = "old-style"
    SLAB = "slab"
    WOOD_TYPE = "wood-type"
    BLACKLETTER = "blackletter"
    TYPEWRITER = "typewriter"
    STENCIL = "stencil"
    BRUSH = "brush"
    CHALK = "chalk"
    COMIC = "comic"
    SCRIPT = "script"
    MONO = "mono"


WORDS: dict[Any, tuple[str, str]] = {
    Face.GROTESQUE: ("Grotesque", "Plain and even, for small print"),
    Face.GROTESQUE_BOLD: ("Grotesque, bold", "Plain and loud"),
    Face.CONDENSED: ("Condensed", "Tall and tight, for bills"),
    Face.ROUNDED: ("Rounded", "Soft and heavy; Hebrew and Arabic, too"),
    Face.OLD_STYLE: ("Old style", "Book type with Greek and Cyrillic"),
    Face.SLAB: ("Slab", "Square feet, bold"),
    Face.WOOD_TYPE: ("Wood type", "Spurred letters of a show bill"),
    Face.BLACKLETTER: ("Blackletter", "Broken, as from a broad nib"),
    Face.TYPEWRITER: ("Typewriter", "Struck through a worn ribbon"),
    Face.STENCIL: ("Stencil", "With bridges, to be cut out"),
    Face.BRUSH: ("Brush", "Written with a loaded brush"),
    Face.CHALK: ("Chalk", "Hatched by hand"),
    Face.COMIC: ("Comic", "Shouted in capitals"),
    Face.SCRIPT: ("Script", "Joined, round and heavy"),
    Face.MONO: ("Mono", "All letters as wide"),
}


@dataclass(frozen=True, eq=False)
class Type:
    """A font that can be set. Lengths in ems, y upwards."""

    font: TTFont
    data: bytes
    _glyphs: dict[int, tuple[Ring, ...]] = field(default_factory=dict)
    _drawing: threading.Lock = field(default_factory=threading.Lock)

    def __post_init__(self) -> None:
        # A table is read when it is first asked for, which two threads must not do at once.
        for tag in READ:
            _ = self.font.get(tag)
        self.font.getBestCmap()
        self.font.getReverseGlyphMap()

    @property
    def nbytes(self) -> int:
        """Memory held, about: a font unpacked is some times larger than its file."""
        return 5 * len(self.data)

    @property
    def name(self) -> str:
        """What the font calls itself; "" where it does not."""
        return str(self.font["name"].getDebugName(4) or "") if "name" in self.font else ""

    @property
    def family(self) -> str:
        """The name of its family; "" where it does not say."""
        names = self.font.get("name")
        found = names and (names.getDebugName(16) or names.getDebugName(1))
        return str(found or "")

    @property
    def weight(self) -> int:
        """How heavy it says that it is, 1 to 1000; 400 is usual."""
        found = self.font["OS/2"].usWeightClass if "OS/2" in self.font else 400
        return int(min(1000, max(1, found)))

    @property
    def may_be(self) -> int:
        """What a font says of being put into files: the bits of its OS/2 table; 0 allows all."""
        return int(self.font["OS/2"].fsType) if "OS/2" in self.font else 0

    @cached_property
    def shaper(self) -> Any:
        """The font as HarfBuzz has it."""
        return uharfbuzz.Font(uharfbuzz.Face(self.data))

    @cached_property
    def outlines(self) -> Any:
        """Every glyph by its name, to be drawn with a pen."""
        return self.font.getGlyphSet()

    @cached_property
    def em(self) -> float:
        """Units of the font to an em."""
        return float(self.font["head"].unitsPerEm)

    @cached_property
    def capital(self) -> float:
        """Height of a capital H, measured; of what is like one where there is none."""
        for letter in "HEIXאا":
            glyph = self.font.getBestCmap().get(ord(letter))
            if glyph is not None:
                rings = self.glyph(self.font.getGlyphID(glyph))
                if rings:
                    return float(max(ring[:, 1].max() for ring in rings))
        return 0.7

    @cached_property
    def below(self) -> float:
        """How far letters go below the line, measured; a fifth of an em where none does."""
        known = self.font.getBestCmap()
        found = [
            -float(ring[:, 1].min())
            for letter in "gpqyQ"
            if ord(letter) in known
            for ring in self.glyph(self.font.getGlyphID(known[ord(letter)]))
        ]
        return max(0.0, max(found, default=0.2))

    def advance(self, character: str) -> float:
        """How far a character moves on, ems; 0 where there is no glyph for it."""
        glyph = self.font.getBestCmap().get(ord(character))
        return 0.0 if glyph is None else float(self.font["hmtx"][glyph][0]) / self.em

    def has(self, character: str) -> bool:
        """Whether there is a glyph for a character."""
        return ord(character) in self.font.getBestCmap()

    def glyph(self, number: int) -> tuple[Ring, ...]:
        """The outlines of a glyph, laid over each other where they overlap."""
        # A glyph is unpacked as it is first drawn, and so is what it is made of.
        with self._drawing:
            if number not in self._glyphs:
                self._glyphs[number] = self._drawn(number)
            return self._glyphs[number]

    def _drawn(self, number: int) -> tuple[Ring, ...]:
        glyphs, path = self.outlines, pathops.Path()
        glyphs[self.font.getGlyphName(number)].draw(path.getPen(glyphSet=glyphs))
        path.simplify(fix_winding=True)
        flat = Flat(self.em * FLAT_EM)
        path.draw(flat)
        return tuple(ring / self.em for ring in flat.rings_of_three)


@lru_cache(maxsize=32)
def shipped(face: Face) -> Type:
    """A face that ships."""
    data = (FOLDER / f"{face.value}.ttf").read_bytes()
    return Type(TTFont(io.BytesIO(data)), data)


def brought(data: bytes) -> Type:
    """A font from the bytes of a TTF, OTF or WOFF2 file.

    Raises DocumentError with a sentence for what is none, is damaged, is too large, or says that
    it must not be embedded.
    """
    if len(data) > MAX_FONT_BYTES:
        raise DocumentError(
            f"This font has {len(data) / 1e6:.0f} MB; up to {MAX_FONT_BYTES / 1e6:.0f} MB can be "
            "used."
        )
    try:
        font = TTFont(io.BytesIO(data), fontNumber=0, lazy=False)
        font.flavor = None
        plain = io.BytesIO()
        font.save(plain)
        if len(plain.getvalue()) > 4 * MAX_FONT_BYTES or len(font.getGlyphOrder()) > MAX_GLYPHS:
            raise DocumentError("This font is too large once it is unpacked.")
        if not font.getBestCmap():
            raise DocumentError("This font has no letters.")
        made = Type(font, plain.getvalue())
        _ = made.capital, made.below, made.shaper
    except DocumentError:
        raise
    # A damaged font may raise whatever its tables lead to.
    except (TTLibError, Exception) as error:
        raise DocumentError("This is no font that can be read: TTF, OTF and WOFF2 are.") from error
    if made.may_be & RESTRICTED:
        raise DocumentError(
            "This font says that it must not be put into other files, which a sheet is. Ask its "
            "maker, or choose another."
        )
    return made
