"""Words as text of an SVG: a line is one text, which other programs can go on writing."""

import base64
import io
import re
from collections.abc import Iterable, Iterator
from xml.sax.saxutils import escape, quoteattr

import numpy as np
from fontTools.ttLib import TTFont

from flinz.core.deliver.artwork import Text
from flinz.core.ground.faces import LOOKED_AT, PICTURES, Type
from flinz.core.ground.typesetting import begins_right, runs_of
from flinz.core.ground.words import Letter, LineOfWords

# What XML may not hold, and what is never seen.
NOT_IN_XML = re.compile("[^\x20-\ud7ff\ue000-\ufffd\U00010000-\U0010ffff]")
# Between these a text runs to the left as a whole.
RIGHT = "\u202b", "\u202c"
# Letters in which nothing is mirrored.
MIRROR = np.array([[-1.0, 0.0], [0.0, 1.0]])


def refuses(text: Text) -> str:
    """Why words cannot be text of an SVG; "" where they can."""
    if text.face.may_be & (LOOKED_AT | PICTURES):
        return "their font may not be put into a file to be written with"
    lines, is_straight = text.words.lines, text.words.is_straight
    to_left = any(is_right for line in lines for _, is_right in runs_of(line.text))
    if to_left and not is_straight:
        return "programs do not agree about lines to the left on a curve"
    joined = any(len(each.text) > 1 for line in lines for each in line.letters)
    if joined and text.said.tracking and is_straight:
        return "programs do not join letters that are set apart"
    return ""


def styles(texts: Iterable[Text]) -> Iterator[str]:
    """The fonts of texts, each once, so that they are shown wherever the file is opened."""
    faces = {id(text.face): text.face for text in texts}
    if not faces:
        return
    yield "<defs><style>\n"
    for face in faces.values():
        address = base64.b64encode(_packed(face)).decode()
        yield (
            f"@font-face{{font-family:{_name(face)};font-weight:{face.weight};"
            f"src:url(data:font/woff;base64,{address})}}\n"
        )
    yield "</style></defs>\n"


def written(text: Text, colour: str, cut: str) -> Iterator[str]:
    """The lines of a text."""
    for line in text.words.lines:
        if line.letters:
            yield from _line(line, text, colour, cut)


def _line(line: LineOfWords, text: Text, colour: str, cut: str) -> Iterator[str]:
    is_mirrored = np.linalg.det(line.letters[0].way[:, :2]) > 0
    em, x, y, turn = _standing(line.letters[0], is_mirrored)
    said, face = text.said, text.face
    yield (
        f'<text xml:space="preserve" fill="{colour}"{cut} font-family={quoteattr(_name(face))} '
        f'font-weight="{face.weight}" font-size="{em:.5g}"'
    )
    mirror = "matrix(-1 0 0 1 0 0)" if is_mirrored else ""
    if text.words.is_straight:
        place = f"translate({x:.3f} {y:.3f})" + (f" rotate({turn:.4f})" if abs(turn) > 1e-4 else "")
        yield f' transform="{mirror}{" " if mirror else ""}{place}"'
        if said.tracking:
            yield f' letter-spacing="{said.tracking * em:.5g}"'
        space = (said.word_space - 1) * face.advance(" ")
        if abs(space) > 1e-4:
            yield f' word-spacing="{space * em:.5g}"'
        own = _plain(line.text)
        if begins_right(line.text):
            # Not all programs know of directions, but all of what characters say of them.
            own = own.join(RIGHT)
        yield f">{own}</text>\n"
        return
    yield (f' transform="{mirror}"' if mirror else "") + ">"
    for letter in line.letters:
        _, x, y, turn = _standing(letter, is_mirrored)
        own = _plain(letter.text)
        if own:
            yield f'<tspan x="{x:.3f}" y="{y:.3f}" rotate="{turn:.4f}">{own}</tspan>'
    yield "</text>\n"


def _standing(letter: Letter, is_mirrored: bool) -> tuple[float, float, float, float]:
    """How large an em of a letter is, mm, where it stands and how far it is turned, clockwise;
    where the sheet is mirrored before that.
    """
    # From ems with y upwards, as fonts have them, to ems with y downwards.
    way = letter.way[:, :2] * (1, -1)
    place = letter.way[:, 2]
    if is_mirrored:
        way, place = MIRROR @ way, MIRROR @ place
    em = float(np.hypot(*way[:, 0]))
    return em, float(place[0]), float(place[1]), float(np.degrees(np.arctan2(way[1, 0], way[0, 0])))


def _plain(text: str) -> str:
    return escape(NOT_IN_XML.sub("", text))


def _name(face: Type) -> str:
    return "'" + (re.sub(r"[^\w -]", "", face.family) or "Flinz words") + "'"


def _packed(face: Type) -> bytes:
    found = io.BytesIO()
    font = TTFont(io.BytesIO(face.data), recalcTimestamp=False)
    font.flavor = "woff"
    font.save(found, reorderTables=False)
    return found.getvalue()
