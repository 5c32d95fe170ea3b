"""The size of drafts: as large as the hand can wait for, and steady."""

from itertools import pairwise

from hypothesis import given
from hypothesis import strategies as st

from flinz.server.pace import AT_MOST_MS, BEGIN, FIRST_AT_MOST_MS, SCALES, Pace


class Look:
    """A look that takes so long at full size: where all is new, and where only a dial turned."""

    def __init__(self, whole_ms, turn_ms):
        self.whole_ms, self.turn_ms = whole_ms, turn_ms
        self.drawn_at = None

    def draft(self, scale):
        of_all = self.turn_ms if scale == self.drawn_at else self.whole_ms
        self.drawn_at = scale
        return of_all * scale**2


def dragged(pace, look, steps=60):
    """Scale and milliseconds of each draft."""
    drafts = []
    for _ in range(steps):
        drafts.append((pace.scale, look.draft(pace.scale)))
        pace.drafted(drafts[-1][1])
    return drafts


@st.composite
def looks(draw):
    whole_ms = draw(st.floats(1, 3000))
    return Look(whole_ms, whole_ms * draw(st.floats(0.01, 1)))


@given(looks())
def test_a_drag_comes_to_one_size_and_stays_there(look):
    drafts = dragged(Pace(), look)

    assert {scale for scale, _ in drafts} <= set(SCALES)
    assert len({scale for scale, _ in drafts[20:]}) == 1
    assert drafts[-1][1] <= AT_MOST_MS or drafts[-1][0] == SCALES[-1]


@given(looks())
def test_no_larger_size_is_begun_that_would_keep_the_hand_waiting(look):
    drafts = dragged(Pace(), look)

    begun = [ms for (before, _), (scale, ms) in pairwise(drafts) if scale > before]
    assert all(ms <= FIRST_AT_MOST_MS * 1.001 for ms in begun)


@given(st.floats(1, 14))
def test_a_quick_look_is_drafted_at_its_full_size(turn_ms):
    assert dragged(Pace(), Look(80, turn_ms))[-1][0] == 1.0


@given(looks(), looks())
def test_after_a_rest_the_next_drag_begins_small(look, other):
    pace = Pace()
    dragged(pace, look)
    pace.rest()

    assert pace.scale <= BEGIN
    drafts = dragged(pace, other)
    assert drafts[-1][1] <= AT_MOST_MS or drafts[-1][0] == SCALES[-1]


def test_one_slow_first_draft_does_not_shrink_those_after_it():
    pace = Pace()
    dragged(pace, Look(100, 10))
    pace.rest()
    pace.drafted(FIRST_AT_MOST_MS)
    assert pace.scale == BEGIN
    pace.drafted(AT_MOST_MS * 1.3)
    assert pace.scale < BEGIN
