"""Text set in lines: shaped by the rules of its font and script, wrapped, spaced and aligned."""

import unicodedata
from dataclasses import dataclass

import uharfbuzz
from bidi import algorithm as bidi

from flinz.core.ground.brackets import resolve_brackets
from flinz.core.ground.faces import Type

# Classes of characters without which all runs to the right.
OTHER_WAYS = frozenset(("R", "AL", "AN", "RLE", "RLO", "RLI", "LRE", "LRO", "LRI", "FSI"))
# Isolates came to the algorithm later than what is used of it; embeddings do nearly the same.
WITHOUT_ISOLATES = str.maketrans("\u2066\u2067\u2068\u2069", "\u202a\u202b\u200b\u202c")
# What has no glyph and needs none.
UNSEEN = ("Cc", "Cf", "Zs", "Zl", "Zp", "Mn")


@dataclass(frozen=True)
class Glyph:
    """A glyph on its line: where it begins along it, how far it moves on, ems; shifted by. text:
    the characters that it stands for; "" for what goes with the one before it.
    """

    number: int
    at: float
    advance: float
    shift: tuple[float, float]
    text: str


@dataclass(frozen=True)
class Line:
    """Glyphs from left to right, how long they are together, ems, and the text that they are."""

    glyphs: tuple[Glyph, ...]
    length: float
    text: str


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
    for run, is_right in runs_of(text):
        shaped = _shaped(run, face, is_right)
        for k, (number, advance, shift, own) in enumerate(shaped):
            wide = advance * word_space if own.isspace() else advance
            if number:
                glyphs.append(Glyph(number, at, wide, shift, own))
            # Marks stay with their letter.
            goes_with = k + 1 < len(shaped) and not shaped[k + 1][3]
            at += wide if goes_with else wide + tracking
    # What is added after the last letter is no part of the line.
    return Line(tuple(glyphs), max(0.0, at - tracking) if at else 0.0, text)


def begins_right(text: str) -> bool:
    """Whether a text as a whole runs to the left."""
    return bool(bidi.get_base_level(text))


def runs_of(text: str) -> list[tuple[str, bool]]:
    """Parts of a text that are written one way, as they stand from left to right, and whether they
    run to the left (Unicode Standard Annex 9, the bidirectional algorithm).
    """
    if not text:
        return []
    # As most texts do; lines are tried word by word to be wrapped.
    if OTHER_WAYS.isdisjoint(map(unicodedata.bidirectional, text)):
        return [(text, False)]
    levels = _levels(text)
    runs: list[tuple[str, int]] = []
    for character, level in zip(text, levels, strict=True):
        if runs and runs[-1][1] == level:
            runs[-1] = runs[-1][0] + character, level
        else:
            runs.append((character, level))
    # From the deepest level on, what lies at least so deep is turned round (rule L2).
    for depth in range(max(levels), 0, -1):
        turned: list[tuple[str, int]] = []
        deep: list[tuple[str, int]] = []
        for run in [*runs, ("", -1)]:
            if run[1] >= depth:
                deep.append(run)
            else:
                turned += [*reversed(deep), run]
                deep = []
        runs = turned[:-1]
    return [(run, level % 2 == 1) for run, level in runs]


def _levels(text: str) -> list[int]:
    """How deep each character is embedded: odd where it runs to the left."""
    storage = bidi.get_empty_storage()
    base = bidi.get_base_level(text)
    storage["base_level"], storage["base_dir"] = base, "LR"[base]
    # What Unicode knows nothing of runs as a letter does.
    plain = text.translate(WITHOUT_ISOLATES)
    known_of = "".join(each if unicodedata.bidirectional(each) else "a" for each in plain)
    bidi.get_embedding_levels(known_of, storage)
    for at, character in enumerate(storage["chars"]):
        character["at"] = at
    bidi.explicit_embed_and_overrides(storage)
    bidi.resolve_weak_types(storage)
    for run in storage["runs"]:
        start = run["start"]
        resolve_brackets(storage["chars"][start : start + run["length"]], run["sor"])
    bidi.resolve_neutral_types(storage, False)
    bidi.resolve_implicit_levels(storage, False)
    # It ends in levels of spaces (rule L1); the order that it makes is of characters alone.
    bidi.reorder_resolved_levels(storage, False)
    known = {each["at"]: each["level"] for each in storage["chars"]}
    levels, last = [], base
    for at in range(len(text)):
        # What is never seen goes with what is before it.
        last = known.get(at, last)
        levels.append(last)
    return levels


def _shaped(
    run: str, face: Type, is_right: bool
) -> list[tuple[int, float, tuple[float, float], str]]:
    """Glyph number, advance, shift in ems, and the characters that it stands for, from left to
    right; "" for a glyph that goes with the one before it.
    """
    buffer = uharfbuzz.Buffer()
    buffer.add_str(run)
    buffer.guess_segment_properties()
    buffer.direction = "rtl" if is_right else "ltr"
    uharfbuzz.shape(face.shaper, buffer, {"kern": True, "liga": True})
    starts = sorted({info.cluster for info in buffer.glyph_infos})
    ends = dict(zip(starts, [*starts[1:], len(run)], strict=True))
    found, before = [], -1
    for info, place in zip(buffer.glyph_infos, buffer.glyph_positions, strict=True):
        own = "" if info.cluster == before else run[info.cluster : ends[info.cluster]]
        before = info.cluster
        shift = place.x_offset / face.em, place.y_offset / face.em
        found.append((info.codepoint, place.x_advance / face.em, shift, own))
    return found
