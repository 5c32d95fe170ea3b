"""How well words are set, marks are strewn, and the composed sheets of the demo shrink."""

import io

import numpy as np
from PIL import Image, ImageDraw, ImageFont
from skimage.metrics import structural_similarity

from flinz.core.document.sheet import Sheet
from flinz.core.ground.faces import Face, Type, shipped
from flinz.core.ground.lettering import Lettering
from flinz.core.ground.strewing import course_of, stations
from flinz.core.ground.typesetting import lines_of
from flinz.core.ground.words import figure_of, words_of
from flinz.core.hand.pieces import read
from flinz.core.planes.decoding import decode
from flinz.core.planes.filters import Plane, averaged
from flinz.core.planes.photo import Photo
from flinz.core.press import fitting
from flinz.core.press.framing import whole
from flinz.core.press.press import Press
from flinz.core.press.results import Stock
from flinz.core.scale import Frame, whole_frame
from flinz.core.stages.grey import luminance_grey
from flinz.demo.handmade import Handmade
from flinz.demo.scenario import picture

PX_PER_MM, SIZE_MM, ROOM_MM = 300 / 25.4, 14.0, 6.0
# The independent renderer rounds to pixels and hints: its picture is made so much larger, shrunk.
FINER = 8
WORDS = "Quamere 24"
# Two faces have letters that change beside others.
JOINED = {Face.BRUSH: "A H 4", Face.SCRIPT: "A H 4"}
SHEET_PX, TIMES = 900, 3


def set_as_elsewhere(face: Face) -> float:
    """Likeness (SSIM) at 300 dpi of words set by us and letter by letter by FreeType (Pillow)."""
    words, kind = JOINED.get(face, WORDS), shipped(face)
    said = Lettering(words=words, face=face, size=SIZE_MM)
    figure = figure_of(words_of(said, kind), said, kind).moved(ROOM_MM)
    frame = whole_frame(
        figure.width, round(figure.width * PX_PER_MM), round(figure.height * PX_PER_MM)
    )
    theirs = _elsewhere(words, kind, frame)
    found = structural_similarity(figure.share(frame), theirs, data_range=1.0)  # type: ignore[no-untyped-call]
    return float(found)


def _elsewhere(words: str, kind: Type, frame: Frame) -> Plane:
    em, per_mm = SIZE_MM / kind.capital, frame.px_per_mm * FINER
    font = ImageFont.truetype(
        io.BytesIO(kind.data), em * per_mm, layout_engine=ImageFont.Layout.BASIC
    )
    large = Image.new("L", (frame.width * FINER, frame.height * FINER))
    draw = ImageDraw.Draw(large)
    (line,) = lines_of(words, kind, 0, 1, None)
    for glyph, letter in zip(line.glyphs, words, strict=True):
        at = (ROOM_MM + glyph.at * em) * per_mm, (ROOM_MM + SIZE_MM) * per_mm
        draw.text(at, letter, font=font, fill=255, anchor="ls")
    small = large.resize((frame.width, frame.height), Image.Resampling.BOX)
    return np.asarray(small, np.float32) / np.float32(255)


def spacing_error() -> float:
    """The largest share by which marks along open lines stand closer or wider than asked."""
    rng = np.random.default_rng(21)
    worst = 0.0
    for asked in (0.8, 2.0, 5.0, 12.0):
        x = np.sort(rng.uniform(0, 180, 60))
        points = np.column_stack([x, 40 + 25 * np.sin(x / 17), np.ones(60)])
        course = course_of(points, 1.0, False)
        if course is not None:
            at, _ = course.at(stations(course, asked, 10_000))
            # Between marks along the line: chords of so short steps are as long.
            fine, _ = course.at(np.linspace(0, course.length, 60_000))
            walked = np.concatenate([[0], np.cumsum(np.hypot(*np.diff(fine[:, :2], axis=0).T))])
            near = [int(np.hypot(*(fine[:, :2] - place).T).argmin()) for place in at[:, :2]]
            worst = max(worst, float(np.abs(np.diff(walked[near]) / asked - 1).max()))
    return worst


def composed_likeness(made: Handmade) -> float:
    """Likeness of a composed sheet's proof and an export three times as large, shrunk."""
    hand: dict[str, bytes] = {}
    photos: dict[str, Photo] = {}

    def photo(name: str) -> Photo:
        if name not in photos:
            photos[name] = decode(picture(name), name)
        return photos[name]

    press = Press(stock=Stock(lambda name: read(name, hand.__getitem__), photo))
    sheet, work = made.on(made.photo)
    hand.update(work)
    sheet = fitting.fitted(press, photo(made.photo), sheet)
    small, large = (_drawn(press, photo(made.photo), sheet, SHEET_PX * k) for k in (1, TIMES))
    shrunk = averaged(large, small.shape[1], small.shape[0])
    return float(structural_similarity(small, shrunk, data_range=1.0))  # type: ignore[no-untyped-call]


def _drawn(press: Press, photo: Photo, sheet: Sheet, long_edge_px: int) -> Plane:
    frame = whole(sheet, photo, long_edge_px)
    proof = press.proof(photo, sheet, frame, exact=long_edge_px > SHEET_PX)
    return proof if proof.ndim == 2 else luminance_grey(proof)
