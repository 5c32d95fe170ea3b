"""Lists of strokes in pieces: what goes in comes out, and versions share what they can."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from flinz.core.hand import pieces, strokes
from flinz.core.hand.strokes import Brush, Stroke
from flinz.errors import DocumentError, NotFoundError


class Shelf(dict):
    """Pieces by id, as a store has them."""

    def get_piece(self, piece_id):
        if piece_id not in self:
            raise NotFoundError("There is no such piece.")
        return self[piece_id]

    def added(self, list_id, more):
        return self._kept(pieces.appended(list_id, more, self.get_piece))

    def changed(self, list_id, others):
        return self._kept(pieces.replaced(list_id, others, self.get_piece))

    def strokes(self, list_id):
        return pieces.read(list_id, self.get_piece)

    def _kept(self, edited):
        self.update(edited.new)
        return edited


def stroke(seed, points=40, **brush):
    """A made stroke that wanders as a hand does."""
    rng = np.random.default_rng(seed)
    way = np.cumsum(rng.normal(0, 0.002, (points, 2)), axis=0) + rng.random(2)
    pressure = np.clip(0.5 + np.cumsum(rng.normal(0, 0.03, points)), 0, 1)
    made = {"verb": "darken", "size": 0.01 + 0.01 * rng.random(), **brush}
    return Stroke(Brush(**made), np.column_stack([way, pressure]))


def same(one, other):
    return one.brush == other.brush and np.allclose(
        one.points, other.points, atol=[1 / strokes.STEPS, 1 / strokes.STEPS, 1 / strokes.PRESSURES]
    )


PLACES = st.floats(-strokes.FAR, strokes.FAR)
POINTS = st.lists(st.tuples(PLACES, PLACES, st.floats(0, 1)), min_size=1, max_size=50)


@given(POINTS, st.sampled_from(["lighten", "spatter", "hair"]), st.floats(0.001, 10))
def test_a_stroke_comes_back_as_near_as_it_was_kept(points, verb, size):
    made = Stroke(Brush(verb=verb, size=size), np.array(points, np.float64))

    again = strokes.unpacked(strokes.packed(made))

    assert same(made, again)
    # Packed once more it is the same to the last bit, so that equal strokes have equal names.
    assert strokes.packed(again) == strokes.packed(made)


@settings(max_examples=30)
@given(st.data())
def test_a_list_is_what_a_plain_list_would_be(data):
    shelf, plain, list_id = Shelf(), [], None
    for step in range(data.draw(st.integers(1, 12))):
        if plain and data.draw(st.booleans()):
            numbers = data.draw(st.sets(st.integers(0, len(plain) - 1), max_size=4))
            others = {
                number: [stroke(1000 * step + k) for k in range(data.draw(st.integers(0, 3)))]
                for number in numbers
            }
            list_id = shelf.changed(list_id, others).id
            plain = [new for at, old in enumerate(plain) for new in others.get(at, [old])]
        else:
            more = [stroke(100 * step + k) for k in range(data.draw(st.integers(0, 40)))]
            list_id = shelf.added(list_id, more).id
            plain = [*plain, *more]

    found = shelf.strokes(list_id)

    assert len(found) == len(plain)
    assert all(same(one, other) for one, other in zip(found, plain, strict=True))


def test_an_edit_leaves_the_list_it_was_made_from_and_shares_nearly_all_of_it():
    shelf = Shelf()
    before = shelf.added(None, [stroke(seed) for seed in range(1000)])
    held = sum(map(len, shelf.values()))

    after = shelf.changed(before.id, {500: []})

    assert (before.count, after.count) == (1000, 999)
    assert len(shelf.strokes(before.id)) == 1000
    assert same(shelf.strokes(after.id)[500], stroke(501))
    assert sum(map(len, after.new.values())) < held / 20


def test_equal_lists_have_equal_names():
    made = [stroke(seed) for seed in range(20)]

    assert Shelf().added(None, made).id == Shelf().added(None, made).id
    assert Shelf().added(None, made).id != Shelf().added(None, made[::-1]).id


def test_every_piece_is_named_by_its_holder():
    shelf = Shelf()
    edited = shelf.added(None, [stroke(seed) for seed in range(40)])
    (page,) = pieces.named_by(shelf[edited.id])
    chunks = pieces.named_by(shelf[page])

    assert {edited.id, page, *chunks} == set(edited.new)
    assert [pieces.named_by(shelf[chunk]) for chunk in chunks] == [[]] * len(chunks)
    for data in edited.new.values():
        pieces.check(data)


@pytest.mark.parametrize(
    ("points", "said"),
    [
        (np.zeros((0, 3)), "needs points"),
        (np.zeros((3, 2)), "needs points"),
        (np.full((2, 3), np.nan), "not finite"),
        (np.array([[0, np.inf, 0.5]]), "not finite"),
        (np.array([[1e9, 0, 0.5]]), "far beside"),
        (np.array([[0, 0, 1.5]]), "pressure"),
        (np.array([[0, 0, -0.5]]), "pressure"),
        (np.zeros((4001, 3)), "up to 4,000"),
    ],
)
def test_impossible_strokes_are_refused_by_name(points, said):
    with pytest.raises(DocumentError, match=said):
        strokes.packed(Stroke(Brush(verb="keep"), points))


def test_there_is_a_limit_with_a_sentence():
    shelf = Shelf()
    full = shelf.added(None, [stroke(seed, 2) for seed in range(pieces.MAX_STROKES)])

    with pytest.raises(DocumentError, match="2,001 strokes"):
        shelf.added(full.id, [stroke(0)])
    with pytest.raises(DocumentError, match="not there"):
        shelf.changed(full.id, {pieces.MAX_STROKES: []})
    with pytest.raises(DocumentError, match="2,001 strokes"):
        shelf.changed(full.id, {0: [stroke(1), stroke(2)]})


CHUNK = next(iter(pieces.appended(None, [stroke(1), stroke(2)], Shelf().get_piece).new.values()))


@given(st.integers(0, len(CHUNK) - 1), st.integers(1, 255))
def test_altered_bytes_are_refused_or_are_other_strokes(place, change):
    altered = bytearray(CHUNK)
    altered[place] ^= change

    try:
        pieces.check(bytes(altered))
    except DocumentError as problem:
        assert str(problem).endswith(".")


FIRST_SIZE = pieces.SIZE.unpack_from(CHUNK, pieces.MARK_BYTES)[0]
# Cut off between strokes it is a chunk of fewer: that it is not the one named, its hash says.
WHOLE = {pieces.MARK_BYTES, pieces.MARK_BYTES + pieces.SIZE.size + FIRST_SIZE}


@given(st.integers(0, len(CHUNK) - 1).filter(lambda length: length not in WHOLE))
def test_truncated_bytes_are_refused(length):
    cut = CHUNK[:length]
    with pytest.raises(DocumentError):
        pieces.check(cut)
