"""Marks of one's own, from SVG files and from a pad."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from flinz.core.ground.own_marks import MAX_DEPTH, drawn, mark_of, rings_of_path
from flinz.core.shapes.filled import signed_area
from flinz.errors import DocumentError

SVG = b'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 10 10">%s</svg>'


def test_a_mark_can_be_brought_as_a_path():
    path = mark_of(SVG % b'<g transform="scale(2)"><path d="M0 0h4v8h-4z"/></g>')
    (ring,) = rings_of_path(path)

    assert np.ptp(ring, axis=0) == pytest.approx([0.5, 1.0], abs=0.01)
    assert ring.min(0) + ring.max(0) == pytest.approx([0, 0], abs=0.01)


@pytest.mark.parametrize(
    ("data", "said"),
    [
        (b"no svg", "no SVG"),
        (b"<html/>", "no SVG"),
        (SVG % b"<script>alert(1)</script>", "script"),
        (SVG % b'<a href="http://elsewhere"><path d="M0 0h4v8h-4z"/></a>', "links"),
        (SVG % b'<path onclick="x()" d="M0 0h4v8h-4z"/>', "scripts or links"),
        (SVG % (b"<g>" * MAX_DEPTH + b"</g>" * MAX_DEPTH), "nested too deep"),
        (SVG % (b"<g/>" * 5000), "too many parts"),
        (b'<!DOCTYPE svg [<!ENTITY a "b">]><svg/>', "definitions"),
        (SVG % b'<path d="M0 0 L nonsense"/>', "cannot be read"),
        (SVG % b'<path d="M0 0h4"/>', "no closed outline"),
        (SVG % (b'<path d="M0 0 ' + b"h1v1h-1z " * 40_000 + b'"/>'), "characters of path"),
        (b" " * 500_000, "kB"),
    ],
)
def test_what_is_no_mark_is_refused_with_a_sentence(data, said):
    with pytest.raises(DocumentError, match=said):
        mark_of(data)


def test_a_mark_drawn_on_a_pad_is_as_wide_as_its_nib_and_fitted():
    across = np.array([[10.0, 50.0], [90.0, 50.0]])

    (bar,) = rings_of_path(drawn([across], 8.0, filled=False))

    assert np.ptp(bar, axis=0) == pytest.approx([1.0, 8 / 88], abs=0.01)


def test_what_is_drawn_round_is_filled_on_request_and_open_else():
    t = np.linspace(0, 2 * np.pi, 60)
    ring = 50 + 40 * np.column_stack([np.cos(t), np.sin(t)])

    def area(filled):
        rings = rings_of_path(drawn([ring], 4.0, filled=filled))
        return abs(sum(signed_area(each) for each in rings))

    assert area(True) == pytest.approx(np.pi / 4, rel=0.02)
    assert area(False) == pytest.approx(np.pi * 80 * 4 / 84**2, rel=0.03)


@given(
    st.lists(
        st.lists(st.tuples(st.floats(0, 100), st.floats(0, 100)), min_size=1, max_size=30),
        min_size=1,
        max_size=5,
    ),
    st.floats(0.5, 50),
    st.booleans(),
)
@settings(max_examples=60)
def test_whatever_is_drawn_on_a_pad_is_a_mark(lines, nib, filled):
    rings = rings_of_path(drawn([np.array(line) for line in lines], nib, filled=filled))

    corners = np.concatenate(rings)
    assert np.ptp(corners, axis=0).max() == pytest.approx(1, abs=0.01)


def test_a_mark_of_very_many_turns_is_kept_a_little_plainer():
    # Five lines of thirty points are a mark, however they cross each other.
    lines = np.random.default_rng(4).random((5, 30, 2)) * 100

    rings = rings_of_path(drawn(list(lines), 0.5, filled=False))

    assert sum(len(ring) for ring in rings) > 500


def test_an_empty_pad_says_so_and_a_scribble_without_end_is_a_mark():
    with pytest.raises(DocumentError, match="Nothing is drawn"):
        drawn([], 4.0, filled=False)
    scribble = np.random.default_rng(1).random((4000, 2)) * 100

    assert len(rings_of_path(drawn([scribble], 0.5, filled=False))) > 50
