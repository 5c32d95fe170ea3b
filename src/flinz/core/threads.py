"""How many threads the kernels of a drawing may use."""

import contextlib
from collections.abc import Iterator

import numba

# A kernel over fewer pixels takes less time than to wake a second thread for it, and far less
# than to wait for that thread where another program keeps its core busy.
WORTH_SHARING_PX = 150_000


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
