"""What is remembered, what is let go, and that threads agree."""

import threading

import numpy as np
from hypothesis import settings
from hypothesis import strategies as st
from hypothesis.stateful import RuleBasedStateMachine, invariant, rule

from flinz.core.press.memory import Memory

LIMIT = 1000


class Remembering(RuleBasedStateMachine):
    """Against a plain list of keys, the most recently used last."""

    def __init__(self):
        super().__init__()
        self.memory = Memory(LIMIT)
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


def test_results_of_several_parts_count_with_all_of_them():
    memory = Memory(100)

    memory.get("parts", lambda: (np.zeros(40, np.uint8), (np.zeros(30, np.uint8), 7)))
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


def test_what_is_held_can_be_asked_without_making_it():
    memory = Memory(LIMIT)
    assert not memory.holds("a")

    memory.get("a", lambda: np.zeros(600, np.uint8))
    assert memory.holds("a")
    memory.get("b", lambda: np.zeros(600, np.uint8))
    # There is room for one of them.
    assert memory.holds("b") and not memory.holds("a")
