"""Threads for work that nobody's hand waits for: they give way to live pictures."""

import contextlib
import os
import threading
from concurrent.futures import ThreadPoolExecutor

# Nice values go from -20 to 19.
NICE = 15


def quiet_pool(name: str) -> ThreadPoolExecutor:
    """One thread of low priority, whose kernels' own threads inherit it.

    Only Linux gives threads a priority of their own; elsewhere it is a thread like any other.
    """
    return ThreadPoolExecutor(1, thread_name_prefix=name, initializer=give_way)


def give_way() -> None:
    """Lower the priority of the calling thread, where the system can."""
    if hasattr(os, "setpriority") and os.uname().sysname == "Linux":
        with contextlib.suppress(OSError):
            os.setpriority(os.PRIO_PROCESS, threading.get_native_id(), NICE)
