"""How many threads the kernels and filters of a drawing may use."""

import contextlib
import os
from collections.abc import Callable, Iterable, Iterator
from concurrent.futures import ThreadPoolExecutor
from typing import Any

import cv2
import numba

# A kernel over fewer pixels takes less time than to wake a second thread for it, and far less
# than to wait for that thread where another program keeps its core busy.
WORTH_SHARING_PX = 150_000
FEW_CORES = 2
_POOL = ThreadPoolExecutor(os.cpu_count() or 1)


def keep_opencv_to_one() -> None:
    """Have OpenCV use one thread on a machine of few cores, for the whole process.

    A second gains a picture 7 % at rest; while the page keeps the other core busy, every filter
    of a draft would wait for it.
    """
    if (os.cpu_count() or 1) <= FEW_CORES:
        cv2.setNumThreads(1)


@contextlib.contextmanager
def threads_for(pixels: int) -> Iterator[None]:
    """Have the kernels that are called within use one thread for a picture of few pixels."""
    if pixels >= WORTH_SHARING_PX:
        yield
        return
    before = numba.get_num_threads()
    numba.set_num_threads(1)
    try:
        yield
    finally:
        numba.set_num_threads(before)


def mapping(pixels: int = WORTH_SHARING_PX) -> Callable[..., Iterable[Any]]:
    """How to go through the parts of work on so many pixels: side by side, or one by one, as
    where kernels are kept to one thread.

    For what lets other threads run meanwhile: filters of OpenCV, and kernels that say nogil. A
    kernel of many others is compiled three times over for threads of its own.
    """
    return _POOL.map if pixels >= WORTH_SHARING_PX and numba.get_num_threads() > 1 else map
