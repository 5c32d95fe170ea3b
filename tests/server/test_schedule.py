"""What is drawn next, how large, and what it gives way to: with made-up costs, nothing drawn."""

from hypothesis import given
from hypothesis import strategies as st

from flinz.server.schedule import (
    DRAFT_ABOVE_MS,
    LARGE_PX,
    LEAST_OF_PART,
    MOST_PAYING,
    Draw,
    HandBack,
    Schedule,
    Told,
    Wait,
)
from flinz.server.standing import Painted
from flinz.server.views import View

MAIN = View(id="main", long_edge_px=900)
SMALL = View(id="main", long_edge_px=LARGE_PX - 1)
SPOTS = [View(id=f"spot-{k}", long_edge_px=800, follows=True) for k in range(4)]
OTHERS = [View(id=f"run-{k}", long_edge_px=156) for k in range(7)]


def cost_of(step, main_ms, draft_ms, spot_ms):
    if step.scale is not None:
        return draft_ms
    if step.is_main:
        return main_ms
    return spot_ms


def taken(
    schedule,
    views,
    main_ms=10.0,
    draft_ms=5.0,
    spot_ms=5.0,
    newer_after=None,
    painted=Painted.NOTHING,
):
    """The steps of an ask, drawn at these costs; a newer one comes after so many steps."""
    steps, told, found = schedule.steps(views, painted), None, []
    while True:
        try:
            step = next(steps) if told is None else steps.send(told)
        except StopIteration:
            return found
        found.append(step)
        newer = newer_after is not None and len(found) > newer_after
        ms = cost_of(step, main_ms, draft_ms, spot_ms) if isinstance(step, Draw) else 0.0
        told = Told(ms, newer)


def drawn(steps):
    """Ids of what is drawn, in turn, drafts marked."""
    return [
        view.id + ("~" if step.scale is not None or view.draft else "")
        for step in steps
        if isinstance(step, Draw)
        for view in step.views
    ]


def slow():
    """A schedule that knows the look to be slow."""
    schedule = Schedule()
    taken(schedule, [MAIN], main_ms=10 * DRAFT_ABOVE_MS)
    return schedule


costs = st.floats(0, 3000)
asks = st.tuples(costs, costs, costs, st.none() | st.integers(0, 12))


@given(st.lists(asks, max_size=12), st.integers(0, 4), st.integers(0, 7))
def test_every_picture_settles_once_the_hand_rests(before, spots, others):
    schedule = Schedule()
    views = [MAIN, *SPOTS[:spots], *OTHERS[:others]]
    for main_ms, draft_ms, spot_ms, newer_after in before:
        taken(schedule, views, main_ms, draft_ms, spot_ms, newer_after)

    steps = taken(schedule, views)

    settled = [each for each in drawn(steps) if not each.endswith("~")]
    assert sorted(settled) == sorted(view.id for view in views)
    assert settled[0] == "main"


@given(st.lists(asks, max_size=12), costs, costs, costs)
def test_a_main_picture_always_shows_however_fast_asks_come(before, main_ms, draft_ms, spot_ms):
    schedule = Schedule()
    for each in before:
        taken(schedule, [MAIN, *SPOTS], *each)

    steps = taken(schedule, [MAIN, *SPOTS], main_ms, draft_ms, spot_ms, newer_after=0)

    first = steps[0]
    assert isinstance(first, Draw) and first.is_main and first.views == (MAIN,)
    assert not first.gives_way


@given(costs, costs)
def test_what_a_draft_went_before_gives_way_and_what_comes_alone_does_not(main_ms, draft_ms):
    schedule = slow()

    steps = taken(schedule, [MAIN], main_ms, draft_ms)

    (draft, settled) = [step for step in steps if isinstance(step, Draw)]
    assert draft.scale is not None and not draft.gives_way
    assert settled.scale is None and settled.gives_way


def test_a_quick_look_is_never_drafted():
    schedule = Schedule()
    for _ in range(5):
        assert drawn(taken(schedule, [SMALL], main_ms=DRAFT_ABOVE_MS)) == ["main"]


def test_a_large_first_picture_begins_with_a_draft_and_settles_at_once():
    steps = taken(Schedule(), [MAIN])

    assert drawn(steps) == ["main~", "main"]
    # Nobody turns a dial while a sheet opens.
    assert not [step for step in steps if isinstance(step, Wait)]


def test_a_photo_is_never_drafted():
    photo = MAIN.model_copy(update={"what": "photo"})

    assert drawn(taken(slow(), [photo])) == ["main"]


def test_a_hand_that_turns_on_is_drawn_for_before_the_slow_picture_settles():
    # A spot waits a moment for a newer ask where the one before it took its time.
    steps = taken(slow(), [MAIN, *SPOTS, *OTHERS], newer_after=8)

    assert drawn(steps) == ["main~", "spot-0~", "spot-1~", "spot-2~", "spot-3~"]
    # To hand memory back takes a moment, for which the next draft waits.
    assert [type(step) for step in steps[-2:]] == [Wait, HandBack]
    assert [step for step in steps if isinstance(step, HandBack)] == [HandBack(seldom=True)]


def test_the_rest_comes_after_a_moment_and_gives_way():
    steps = taken(Schedule(), [SMALL, *SPOTS[:1], *OTHERS])

    assert [type(step) for step in steps] == [Draw, Draw, HandBack, Wait, Draw]
    assert steps[-1].views == tuple(OTHERS) and steps[-1].gives_way


def test_settled_spots_of_a_slow_look_give_way_and_those_of_a_quick_one_do_not():
    for main_ms, gives_way in ((DRAFT_ABOVE_MS + 1, True), (DRAFT_ABOVE_MS, False)):
        steps = taken(Schedule(), [SMALL, *SPOTS], main_ms=main_ms)
        spots = [step for step in steps if isinstance(step, Draw) and not step.is_main]

        assert [step.gives_way for step in spots] == [gives_way] * 4


@given(st.floats(0, 5000))
def test_spots_follow_every_few_moves_whatever_they_cost(spot_ms):
    schedule = slow()
    waits = 0
    for _ in range(30):
        steps = taken(schedule, [MAIN, *SPOTS], 1000.0, 5.0, spot_ms, newer_after=0)
        waits = 0 if any(each.startswith("spot") for each in drawn(steps)) else waits + 1
        assert waits <= MOST_PAYING


@given(st.floats(1, 19))
def test_quick_spots_take_turns(spot_ms):
    schedule = slow()
    seen = []
    for _ in range(12):
        steps = taken(schedule, [MAIN, *SPOTS], 1000.0, 5.0, spot_ms, newer_after=0)
        seen += [each for each in drawn(steps) if each.startswith("spot")]

    # Each in its turn, none left out.
    assert seen == [f"spot-{k % 4}~" for k in range(len(seen))]
    assert len(set(seen)) == 4


def test_a_remembered_picture_does_not_make_a_slow_look_seem_quick():
    schedule = slow()
    taken(schedule, [MAIN], main_ms=0.5)

    assert drawn(taken(schedule, [MAIN]))[0] == "main~"


def test_a_stroke_that_is_made_settles_at_once_and_gives_way_to_the_next():
    steps = taken(slow(), [MAIN, *SPOTS], painted=Painted.WAITING)

    assert drawn(steps)[:2] == ["main~", "main"]
    assert not any(isinstance(step, Wait) for step in steps[:2])
    assert steps[1].gives_way


def test_no_draft_comes_over_a_picture_that_is_shown_settled():
    steps = taken(slow(), [MAIN, *SPOTS], painted=Painted.NO_MORE)

    assert drawn(steps)[-5] == "main" and "main~" not in drawn(steps)
    assert next(each for each in steps if isinstance(each, Draw) and each.is_main).gives_way


def test_beside_a_settled_picture_only_a_new_spot_has_a_draft():
    schedule = slow()
    taken(schedule, [MAIN, *SPOTS[:3]])

    beside = drawn(taken(schedule, [MAIN, *SPOTS], painted=Painted.NO_MORE))
    again = drawn(taken(schedule, [MAIN, *SPOTS], painted=Painted.NO_MORE))
    turned = drawn(taken(schedule, [MAIN, *SPOTS]))

    assert beside[:2] == ["spot-3~", "main"] and len(beside) == 6
    assert "~" not in "".join(again)
    assert len([each for each in turned if each.endswith("~")]) == 5


def test_drafts_of_what_lies_round_a_stroke_keep_their_own_pace():
    schedule = slow()
    for _ in range(10):
        small = taken(schedule, [MAIN], 1000.0, 400.0, newer_after=0)[0].scale
    part = taken(schedule, [MAIN], 1000.0, 5.0, newer_after=0, painted=Painted.IN_PLACE)[0].scale
    assert small < part == 1.0

    for _ in range(10):
        parts = taken(schedule, [MAIN], 1000.0, 900.0, newer_after=0, painted=Painted.IN_PLACE)
    assert parts[0].scale == LEAST_OF_PART


def test_an_ask_for_nothing_is_nothing():
    assert taken(Schedule(), []) == []
