"""Few pixels are drawn on one thread, and what was set before comes back."""

import threading

import numba
import numpy as np
import pytest

from flinz.core.document import builtin
from flinz.core.planes.threads import WORTH_SHARING_PX, threads_for
from flinz.core.press.framing import whole
from flinz.core.press.press import Press

ALL = numba.config.NUMBA_NUM_THREADS


def test_a_small_picture_is_drawn_on_one_thread_and_a_large_one_on_all():
    assert numba.get_num_threads() == ALL
    with threads_for(WORTH_SHARING_PX - 1):
        assert numba.get_num_threads() == 1
    with threads_for(WORTH_SHARING_PX):
        assert numba.get_num_threads() == ALL
    assert numba.get_num_threads() == ALL


def test_threads_come_back_after_a_failure():
    with pytest.raises(ValueError), threads_for(1):
        raise ValueError
    assert numba.get_num_threads() == ALL


def test_another_drawing_beside_it_keeps_its_own():
    seen = []
    with threads_for(1):
        beside = threading.Thread(target=lambda: seen.append(numba.get_num_threads()))
        beside.start()
        beside.join()
    assert seen == [ALL]


@pytest.mark.parametrize("name", ["pencil", "ink-line", "contour-hatch", "outline", "photocopy"])
def test_a_picture_is_the_same_on_one_thread_as_on_all(name, face):
    sheet = builtin.named(name).on(face.key, "")
    frame = whole(sheet, face, 700)

    on_all = Press().proof(face, sheet, frame, exact=True)
    numba.set_num_threads(1)
    try:
        on_one = Press().proof(face, sheet, frame, exact=True)
    finally:
        numba.set_num_threads(ALL)

    assert np.array_equal(on_all, on_one)
