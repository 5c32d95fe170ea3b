"""Text set in lines: shaped by the rules of its font and script, wrapped, spaced and aligned."""

import unicodedata
from dataclasses import dataclass

import uharfbuzz

from flinz.core.ground.faces import Type

# Classes of characters that have a way of their own: to the right, to the left, as numbers.
KINDS = {"L": "L", "R": "R", "AL": "R", "EN": "number", "AN": "number"}
# What has no glyph and needs none.
UNSEEN = ("Cc", "Cf", "Zs", "Zl", "Zp", "Mn")


@dataclass(frozen=True)
class Glyph:
    """A glyph on its line: where it begins along it, how far it moves on, ems; shifted by."""

    number: int
    at: float
    advance: float
    shift: tuple[float, float]


@dataclass(frozen=True)
class Line:
    """Glyphs from left to right, and how long they are together, ems."""

    glyphs: tuple[Glyph, ...]
    length: float


def missing(words: str, face: Type) -> list[str]:
    """Characters without a glyph, each once, in their order."""
    seen = dict.fromkeys(
        each for each in words if unicodedata.category(each) not in UNSEEN and each != "\n"
    )
    return [each for each in seen if not face.has(each)]


def lines_of(
    words: str, face: Type, tracking: float, word_space: float, wrap: float | None
) -> list[Line]:
    """Text in lines, broken at its own line ends and, with wrap, so that none is longer.

    tracking: added after each letter, ems. word_space: times the font's own. wrap: ems; a word
    that is longer stands alone. Nothing is hyphenated.
    """
    lines = []
    for paragraph in words.split("\n"):
        pieces = (
            [paragraph] if wrap is None else _wrapped(paragraph, face, tracking, word_space, wrap)
        )
        lines += [_line(piece, face, tracking, word_space) for piece in pieces]
    return lines


def _wrapped(
    paragraph: str, face: Type, tracking: float, word_space: float, wrap: float
) -> list[str]:
    pieces: list[str] = []
    for word in paragraph.split(" "):
        longer = f"{pieces[-1]} {word}" if pieces else word
        if not pieces or _line(longer, face, tracking, word_space).length > wrap:
            pieces.append(word)
        else:
            pieces[-1] = longer
    return pieces


def _line(text: str, face: Type, tracking: float, word_space: float) -> Line:
    glyphs: list[Glyph] = []
    at = 0.0
    for run, is_right in _runs(text):
        for number, advance, shift, is_space in _shaped(run, face, is_right):
            wide = advance * word_space if is_space else advance
            if number:
                glyphs.append(Glyph(number, at, wide, shift))
            at += wide + tracking
    # What is added after the last letter is no part of the line.
    return Line(tuple(glyphs), max(0.0, at - tracking) if at else 0.0)


def _runs(text: str) -> list[tuple[str, bool]]:
    """Parts of a text that are written one way, as they stand from left to right.

    What has no way of its own goes with what is round it (Unicode Annex 9, without embeddings).
    """
    kinds = [KINDS.get(unicodedata.bidirectional(each), "") for each in text]
    base = next((kind for kind in kinds if kind in "LR" and kind), "L")
    # Numbers run from left to right, and stand in a text as its own letters do.
    strong = [base if kind == "number" else kind for kind in kinds]
    runs: list[tuple[str, str]] = []
    for k, character in enumerate(text):
        before = next((each for each in reversed(strong[:k]) if each), base)
        after = next((each for each in strong[k:] if each), base)
        # Between two ways it goes with the text's own.
        kind = kinds[k] or (before if before == after else base)
        if runs and runs[-1][1] == kind:
            runs[-1] = (runs[-1][0] + character, kind)
        else:
            runs.append((character, kind))
    in_order = runs[::-1] if base == "R" else runs
    return [(run, kind == "R") for run, kind in in_order]


def _shaped(
    run: str, face: Type, is_right: bool
) -> list[tuple[int, float, tuple[float, float], bool]]:
    """Glyph number, advance, shift in ems, and whether it is a space, from left to right."""
    buffer = uharfbuzz.Buffer()
    buffer.add_str(run)
    buffer.guess_segment_properties()
    buffer.direction = "rtl" if is_right else "ltr"
    uharfbuzz.shape(face.shaper, buffer, {"kern": True, "liga": True})
    return [
        (
            info.codepoint,
            place.x_advance / face.em,
            (place.x_offset / face.em, place.y_offset / face.em),
            run[info.cluster].isspace(),
        )
        for info, place in zip(buffer.glyph_infos, buffer.glyph_positions, strict=True)
    ]
