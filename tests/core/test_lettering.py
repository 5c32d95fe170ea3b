"""Lettering: sizes and places that are known, scripts, weights, and fonts that cannot be used."""

import io
import sys
import threading
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

import numpy as np
import pytest
from bidi import get_display
from fontTools.ttLib import TTFont
from hypothesis import given, settings
from hypothesis import strategies as st

from flinz.core.ground.faces import FOLDER, MAX_FONT_BYTES, Face, brought, shipped
from flinz.core.ground.lettering import MAX_WORDS, Lettering
from flinz.core.ground.typesetting import lines_of, missing, runs_of
from flinz.core.ground.words import course_on, figure_of, words_of, words_on
from flinz.core.scale import whole_frame
from flinz.errors import DocumentError
from flinz.quality.sourced import set_as_elsewhere

FONT = (FOLDER / "slab.ttf").read_bytes()


def made(words, **dials):
    said = Lettering(words=words, **dials)
    return figure_on(said, shipped(said.face))


def figure_on(said, face, course=None, paper=(200.0, 150.0)):
    return figure_of(words_on(said, face, course, paper), said, face)


def corners(figure):
    return np.concatenate([ring for piece in figure.pieces for ring in piece.rings])


def area(figure, px_per_mm=10):
    frame = whole_frame(figure.width, round(figure.width * px_per_mm), round(figure.height * 10))
    return figure.share(frame).sum() / frame.px_per_mm**2


@pytest.mark.parametrize("face", list(Face))
def test_each_face_is_set_as_an_independent_renderer_sets_it(face):
    assert set_as_elsewhere(face) >= 0.99


@given(st.floats(2, 60), st.sampled_from(["grotesque", "slab", "old-style", "stencil"]))
@settings(max_examples=20, deadline=None)
def test_capitals_are_as_high_as_asked_and_stand_on_their_line(size, face):
    figure = made("HHH", face=face, size=size)

    high = corners(figure)[:, 1]
    assert high.min() == pytest.approx(0, abs=0.05)
    # Feet may go a little below the line by design.
    assert size - 0.05 <= high.max() <= 1.01 * size + 0.05


def test_points_are_of_the_body():
    em = 72 * 25.4 / 72
    kind = shipped(Face.SLAB)

    high = corners(made("H", face="slab", measure="points", points=72))[:, 1]

    assert np.ptp(high) == pytest.approx(em * kind.capital, abs=0.05)


def test_what_is_set_on_an_arc_stands_on_its_circle():
    dots = ". . . . . . ."
    straight = made(dots, face="grotesque-bold", size=10)
    bent = made(dots, face="grotesque-bold", size=10, arc=90)
    # The longest line covers the arc; a point's middle lies a little above the line.
    (above,) = {round(10 - ring[:, 1].mean(), 3) for ring in straight.pieces[0].rings}
    radius = straight.width / np.radians(90) + above

    x, y = np.array([(ring.min(0) + ring.max(0)) / 2 for ring in bent.pieces[0].rings]).T

    # The circle through them, by least squares.
    known = np.column_stack([2 * x, 2 * y, np.ones(len(x))])
    left, down, rest = np.linalg.lstsq(known, x**2 + y**2, rcond=None)[0]
    assert np.sqrt(rest + left**2 + down**2) == pytest.approx(radius, abs=0.05)
    assert np.ptp(np.hypot(x - left, y - down)) < 0.05


def test_tracking_adds_between_letters_alone():
    one, two = made("HIH"), made("HIH", tracking=0.5)
    em = 12 / shipped(Face.GROTESQUE_BOLD).capital

    assert two.width - one.width == pytest.approx(2 * 0.5 * em, abs=1e-6)


def test_kerning_brings_a_pair_together():
    kind = shipped(Face.OLD_STYLE)

    (pair,) = lines_of("AV", kind, 0, 1, None)

    alone = sum(lines_of(each, kind, 0, 1, None)[0].length for each in "AV")
    assert pair.length < alone - 0.02


def test_joined_letters_come_as_one_where_the_face_has_them():
    kind = shipped(Face.OLD_STYLE)

    assert len(lines_of("ffi", kind, 0, 1, None)[0].glyphs) < 3


def test_hebrew_runs_from_right_to_left_and_numbers_in_it_do_not():
    kind = shipped(Face.ROUNDED)
    glyphs = lines_of("אב 12", kind, 0, 1, None)[0].glyphs
    by = {kind.font.getGlyphName(each.number): each.at for each in glyphs}
    name = {each: kind.font.getBestCmap()[ord(each)] for each in "אב12"}

    assert by[name["1"]] < by[name["2"]] < by[name["ב"]] < by[name["א"]]


def as_shown(text):
    """A text's characters from left to right."""
    return "".join(run[::-1] if is_right else run for run, is_right in runs_of(text))


@given(st.text(st.sampled_from(list("abאבגعر 123.,-+%€/:()[]\u200f")), max_size=16))
@settings(max_examples=300, deadline=None)
def test_texts_of_two_ways_stand_as_another_implementation_orders_them(text):
    assert as_shown(text) == get_display(text)


@pytest.mark.parametrize(
    ("text", "shown"),
    [
        ("abc אבג 123 def", "abc 123 גבא def"),
        ("אבג abc 123 דהו", "והד abc 123 גבא"),
        ("אבג 12-34, 5%", "5% ,12-34 גבא"),
        # A bracket that runs to the left is turned round when it is shaped.
        ("אב (cd ef).", ".)cd ef( בא"),
        ("a (אב)ג c", "a (בא)ג c"),
        ("אב c(ד)", ")ד(c בא"),
    ],
)
def test_words_and_numbers_of_another_way_keep_together(text, shown):
    assert as_shown(text) == shown


@given(st.text(max_size=20))
@settings(max_examples=200, deadline=None)
def test_no_text_loses_a_character_by_being_ordered(text):
    assert sorted("".join(run for run, _ in runs_of(text))) == sorted(text)


def test_a_mark_stays_with_its_letter_when_letters_are_set_apart():
    close, apart = (made("e\u0301n", face="old-style", tracking=each) for each in (0.0, 0.5))

    def over(figure):
        # The mark is the highest ring, its letter the leftmost.
        rings = figure.pieces[0].rings
        mark, letter = (
            min(rings, key=lambda r: r[:, 1].min()),
            min(rings, key=lambda r: r[:, 0].min()),
        )
        return mark[:, 0].mean() - letter[:, 0].mean()

    assert over(apart) == pytest.approx(over(close), abs=1e-6)


def test_a_mark_stands_over_its_letter():
    plain, marked = made("e", face="old-style"), made("e\u0301", face="old-style")

    assert marked.width == pytest.approx(plain.width, abs=0.01)
    assert corners(marked)[:, 1].min() < corners(plain)[:, 1].min() - 1


def test_what_has_no_glyph_is_named_once():
    assert missing("A漢B漢\n🍐", shipped(Face.SLAB)) == ["漢", "🍐"]
    assert missing("Plain words, é", shipped(Face.SLAB)) == []


@given(
    st.lists(st.sampled_from(["seed", "of", "beans", "a", "marrowfat"]), min_size=1),
    st.floats(2, 12),
)
@settings(max_examples=30, deadline=None)
def test_wrapped_lines_keep_all_words_and_their_length(words, wrap):
    kind = shipped(Face.MONO)

    lines = lines_of(" ".join(words), kind, 0, 1, wrap)

    longest = max(lines_of(word, kind, 0, 1, None)[0].length for word in words)
    assert all(line.length <= max(wrap, longest) + 1e-9 for line in lines)
    assert sum(len(line.glyphs) for line in lines) >= len("".join(words))


def test_an_outline_alone_leaves_the_letters_bare():
    whole, hollow = made("O", size=40), made("O", size=40, filled=False, outline=1)

    assert area(hollow) < 0.5 * area(whole)


def test_heavier_adds_ink_and_an_inline_takes_some():
    plain = area(made("H", size=40))

    assert area(made("H", size=40, heavier=0.5)) > plain * 1.1
    assert area(made("H", size=40, inline=1)) < plain * 0.95


def test_letters_can_fade_each_for_itself():
    said = Lettering(words="II", face="slab", fade="straight", over="letter", tone_to=0.9, size=20)
    figure = figure_on(said, shipped(said.face))
    frame = whole_frame(figure.width, 400, round(400 * figure.height / figure.width))

    tone = figure.toned(frame, said)

    left, right = tone[:, :200], tone[:, 200:]
    assert len(figure.pieces) == 2
    assert np.allclose(left.sum(), right.sum(), rtol=0.05)
    inked = np.where(figure.share(frame) > 0.99, tone, np.nan)
    found = inked[~np.isnan(inked).all(1)]
    assert np.nanmean(found[0]) > 0.8 and np.nanmean(found[-1]) < 0.1


@pytest.mark.parametrize("words", ["", "   ", "\n\n", "🍐", "x" * MAX_WORDS, "a\u202eb\x00c\td"])
def test_any_words_make_a_figure(words):
    figure = made(words)

    assert figure.width > 0 and figure.height > 0


def test_a_font_can_be_brought():
    for flavour in (None, "woff2"):
        font, out = TTFont(io.BytesIO(FONT)), io.BytesIO()
        font.flavor = flavour
        font.save(out)

        assert brought(out.getvalue()).capital == pytest.approx(shipped(Face.SLAB).capital)


def test_pictures_drawn_at_once_may_use_one_font_for_the_first_time():
    faces = [shipped.__wrapped__(Face.SLAB) for _ in range(5)]
    gate = threading.Barrier(4)

    def set_words(face):
        gate.wait()
        return [face.glyph(number)[0] for number in range(36, 60)]

    # Threads take turns as often as they can.
    before = sys.getswitchinterval()
    sys.setswitchinterval(1e-5)
    try:
        with ThreadPoolExecutor(4) as pool:
            drawn = [list(pool.map(set_words, [face] * 4)) for face in faces]
    finally:
        sys.setswitchinterval(before)

    for one in (each for of_a_face in drawn for each in of_a_face):
        for found, first in zip(one, drawn[0][0], strict=True):
            assert np.array_equal(found, first)


def test_a_font_that_must_not_be_embedded_is_refused():
    font, out = TTFont(io.BytesIO(FONT)), io.BytesIO()
    font["OS/2"].fsType = 2
    font.save(out)

    with pytest.raises(DocumentError, match="must not be put into other files"):
        brought(out.getvalue())


@pytest.mark.parametrize(
    "data", [b"", b"no font", FONT[:5000], b"\x00" * 2000, FONT[:400] + bytes(60_000)]
)
def test_what_is_no_font_is_refused_with_a_sentence(data):
    with pytest.raises(DocumentError, match="no font"):
        brought(data)


def test_a_huge_font_is_refused():
    with pytest.raises(DocumentError, match="MB"):
        brought(bytes(MAX_FONT_BYTES + 1))


def test_every_face_comes_with_its_licence():
    for face in Face:
        text = (FOLDER / f"{face.value}.licence.txt").read_text(encoding="utf-8")
        assert "License" in text, face
    assert len(list(Path(FOLDER).glob("*.ttf"))) == len(Face)


def test_words_stand_on_a_drawn_line():
    face = shipped(Face.GROTESQUE_BOLD)
    said = Lettering(words=". . . . . .", size=10, on_line=True)
    turn = np.linspace(np.pi, 0, 200)
    # Half a circle, from the left over its top.
    drawn = np.column_stack([100 + 60 * np.cos(turn), 100 - 60 * np.sin(turn), np.ones(200)])

    figure = figure_on(said, face, course_on(drawn))

    middles = np.array([(ring.min(0) + ring.max(0)) / 2 for ring in figure.pieces[0].rings])
    away = np.hypot(*(middles - (100, 100)).T)
    assert np.ptp(away) < 0.5 and away.mean() > 60.5
    # In the middle of the line, whose top it is.
    assert middles[:, 0].mean() == pytest.approx(100, abs=0.5)
    assert figure_on(said, face).width == words_of(said, face).width
