"""Slow work that several ask for: done once, and given up when nobody waits for it any more."""

import threading

import pytest

from flinz.errors import Stopped
from flinz.server.quiet import SharedWork


@pytest.fixture
def shared():
    made = SharedWork("trial")
    yield made
    made.close()


class Work:
    """Work that waits to be let go, and tells whether it was stopped."""

    def __init__(self):
        self.begun, self.let_go = threading.Event(), threading.Event()
        self.times, self.was_stopped = 0, False

    def __call__(self, stop):
        self.times += 1
        self.begun.set()
        while not self.let_go.wait(0.01):
            if stop():
                self.was_stopped = True
                raise Stopped("left")
        return "done"


def asking(shared, key, work, gone, found):
    def ask():
        try:
            found.append(shared.done(key, work, gone))
        except Stopped:
            found.append("gone")

    thread = threading.Thread(target=ask)
    thread.start()
    return thread


def waiting(shared, key, count):
    while (asked := shared._asked.get(key)) is None or asked.waiting < count:
        pass


def test_what_several_ask_for_at_once_is_done_once(shared):
    work, found = Work(), []
    threads = [asking(shared, "same", work, lambda: False, found) for _ in range(3)]
    waiting(shared, "same", 3)
    work.let_go.set()
    for thread in threads:
        thread.join(30)

    assert found == ["done"] * 3 and work.times == 1
    assert shared._asked == {}


def test_one_who_leaves_takes_the_work_from_nobody_else(shared):
    work, found, left = Work(), [], threading.Event()
    threads = [asking(shared, "same", work, gone, found) for gone in (left.is_set, lambda: False)]
    waiting(shared, "same", 2)
    left.set()
    threads[0].join(30)
    assert found == ["gone"] and not work.was_stopped
    work.let_go.set()
    threads[1].join(30)

    assert found == ["gone", "done"]


def test_work_that_all_have_left_is_stopped_and_what_waited_behind_it_never_begins(shared):
    first, second, found = Work(), Work(), []
    lefts = threading.Event(), threading.Event()
    threads = [asking(shared, "first", first, lefts[0].is_set, found)]
    assert first.begun.wait(30)
    threads.append(asking(shared, "second", second, lefts[1].is_set, found))
    waiting(shared, "second", 1)
    # Who waits behind leaves before his turn comes.
    for thread, left in reversed(list(zip(threads, lefts, strict=True))):
        left.set()
        thread.join(30)

    assert found == ["gone"] * 2
    # The next one has its turn.
    assert shared.done("third", lambda stop: "third", lambda: False) == "third"
    assert first.was_stopped and second.times == 0


def test_a_failure_reaches_all_who_asked_and_is_not_kept(shared):
    def fails(stop):
        raise ValueError("no")

    with pytest.raises(ValueError, match="no"):
        shared.done("key", fails, lambda: False)
    assert shared.done("key", lambda stop: 1, lambda: False) == 1
