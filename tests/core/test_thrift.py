"""What is free again goes back to the system."""

import os
import subprocess
import sys
from pathlib import Path

import pytest

# In a process of its own: the settings hold for all of it.
HELD_AFTER = """
import numpy as np
from flinz.core.press import thrift

def resident():
    pages = int(open("/proc/self/statm").read().split()[1])
    return pages * {page}

thrift.be_thrifty()
before = resident()
last = []

def print_left_over(**how):
    held = [np.ones(100_000) for _ in range(400)]
    # The highest stays, or the library gives back by itself what is free above all else.
    last.append(max(held, key=lambda block: block.ctypes.data))
    del held
    thrift.hand_back(**how)
    print(resident() - before)

print_left_over()
print_left_over(every_seconds=1000)
"""


@pytest.mark.skipif(not Path("/proc/self/statm").exists(), reason="needs Linux's figures")
def test_memory_that_is_free_is_handed_back():
    script = HELD_AFTER.format(page=os.sysconf("SC_PAGE_SIZE"))
    done = subprocess.run(
        [sys.executable, "-c", script], capture_output=True, text=True, timeout=60
    )

    assert done.returncode == 0, done.stderr
    handed_back, kept_a_while = map(int, done.stdout.split())
    # 320 MB were held each time.
    assert handed_back < 40_000_000 and kept_a_while > 200_000_000
