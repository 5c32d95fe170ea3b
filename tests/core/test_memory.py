"""What is remembered, what is let go, and that threads agree."""

import threading
from dataclasses import dataclass

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st
from hypothesis.stateful import RuleBasedStateMachine, invariant, rule

from flinz.core.press.memory import Memory

LIMIT = 1000


class Remembering(RuleBasedStateMachine):
    """All as quickly made: against a plain list of keys, the most recently used last."""

    def __init__(self):
        super().__init__()
        self.memory = Memory(LIMIT, clock=lambda: 0.0)
        self.model: list[tuple[str, int]] = []

    @rule(key=st.sampled_from("abcdefgh"), size=st.integers(0, 1200))
    def ask(self, key, size):
        made = []
        known = dict(self.model)
        result = self.memory.get(
            key, lambda: made.append(1) or np.zeros(known.get(key, size), np.uint8)
        )

        assert bool(made) == (key not in known)
        self.model = [(name, held) for name, held in self.model if name != key]
        if result.nbytes <= LIMIT:
            self.model.append((key, result.nbytes))
        while sum(held for _, held in self.model) > LIMIT:
            self.model.pop(0)

    @invariant()
    def never_holds_more_than_it_may(self):
        assert self.memory.held_bytes == sum(held for _, held in self.model) <= LIMIT


TestRemembering = Remembering.TestCase
TestRemembering.settings = settings(max_examples=60, deadline=None)


def test_a_result_too_large_to_keep_is_still_given():
    memory = Memory(10)

    assert len(memory.get("large", lambda: np.zeros(100, np.uint8))) == 100
    assert memory.held_bytes == 0


@dataclass
class Named:
    """A result that does not say itself how much it holds."""

    data: bytes
    number: int = 7


def test_results_of_several_parts_count_with_all_of_them():
    memory = Memory(100)

    memory.get(
        "parts", lambda: (np.zeros(40, np.uint8), [np.zeros(20, np.uint8), Named(b"10 bytes: ")])
    )
    assert memory.held_bytes == 70


def test_a_failure_is_not_remembered():
    memory = Memory(10)

    def fails():
        raise ValueError("no")

    for _ in range(2):
        try:
            memory.get("key", fails)
        except ValueError:
            continue
        raise AssertionError("the failure was swallowed")
    assert memory.get("key", lambda: np.ones(1)) == 1


def test_threads_get_what_they_asked_for():
    memory = Memory(5000)
    wrong = []

    def ask(seed):
        rng = np.random.default_rng(seed)
        for _ in range(500):
            key = int(rng.integers(0, 30))
            if memory.get(str(key), lambda key=key: np.full(200, key, np.uint8))[0] != key:
                wrong.append(key)

    threads = [threading.Thread(target=ask, args=(seed,)) for seed in range(4)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()

    assert not wrong and memory.held_bytes <= 5000


@given(st.lists(st.sampled_from("abcdefgh"), max_size=60))
def test_what_was_slow_outlives_what_is_quickly_made_again(asked):
    now = [0.0]
    memory = Memory(LIMIT, clock=lambda: now[0])

    def make(seconds, size):
        now[0] += seconds
        return np.zeros(size, np.uint8)

    memory.get("slow", lambda: make(1000.0, 100))
    for key in asked:
        memory.get(key, lambda: make(0.1, 300))

    assert memory.holds("slow")


def test_what_was_slow_goes_at_last_where_it_is_not_used():
    now = [0.0]
    memory = Memory(LIMIT, clock=lambda: now[0])

    def make(seconds):
        now[0] += seconds
        return np.zeros(400, np.uint8)

    memory.get("slow", lambda: make(10.0))
    for number in range(100):
        memory.get(str(number), lambda: make(1.0))

    assert not memory.holds("slow") and memory.holds("99")


def test_what_each_move_needs_is_not_made_again_each_time_for_what_nobody_asks_for():
    now = [0.0]
    memory = Memory(LIMIT, clock=lambda: now[0])
    made = []

    def taking(seconds, size, key=""):
        def make():
            now[0] += seconds
            made.append(key)
            return np.zeros(size, np.uint8)

        return make

    for k in range(8):
        memory.get(f"slow {k}", taking(1.0, 120))

    # Every move needs the same quick step, and makes another of its own.
    for move in range(40):
        memory.get("quick", taking(0.02, 100, "quick"))
        memory.get(f"own {move}", taking(0.02, 100))

    assert 2 <= made.count("quick") <= 6


def test_what_is_small_is_let_go_in_time_however_quickly_it_was_made():
    memory = Memory(100_000)
    for number in range(6_000):
        memory.get(f"small {number}", lambda: {"value": 1.0})
        memory.get(f"plane {number}", lambda: np.zeros(30_000, np.uint8))

    held = sum(memory.holds(f"small {number}") for number in range(6_000))
    assert held < 4000


def test_what_is_held_can_be_asked_without_making_it():
    memory = Memory(LIMIT, clock=lambda: 0.0)
    assert not memory.holds("a")

    memory.get("a", lambda: np.zeros(600, np.uint8))
    assert memory.holds("a")
    memory.get("b", lambda: np.zeros(600, np.uint8))
    # There is room for one of them.
    assert memory.holds("b") and not memory.holds("a")
