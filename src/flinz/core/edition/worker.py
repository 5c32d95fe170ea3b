"""A process that draws tasks from its standard input, one after another, each into a file.

In come pickles of (task, path), out go pickles of what became of it: ("running", share), and at
its end ("done", "") or ("failed", sentence); for None in place of a task ("ready", ""). It ends
when nothing more can come.
"""

import os
import pickle
import sys
import traceback
from pathlib import Path
from typing import Any, BinaryIO

import cv2
import numba

from flinz.core.edition.task import Task, write
from flinz.core.press.thrift import be_thrifty, hand_back
from flinz.errors import FlinzError, explained

# Gives way to all that a hand waits for.
NICE = 19
SHARE_STEP = 0.02


def fault_of(error: BaseException) -> str:
    """What went wrong with one photo, in a sentence."""
    if isinstance(error, FlinzError | OSError | MemoryError):
        return explained(error)
    traceback.print_exception(error, file=sys.stderr)
    return "Flinz made a mistake here. The log says more."


def keep_to_one_core() -> None:
    """Have this process draw on one core: others have theirs."""
    cv2.setNumThreads(1)
    numba.set_num_threads(1)
    be_thrifty()


def _serve(tasks: BinaryIO, answers: BinaryIO) -> None:
    def tell(*said: Any) -> None:
        pickle.dump(said, answers)
        answers.flush()

    while True:
        try:
            task, path = pickle.load(tasks)
        except EOFError:
            return
        if task is None:
            tell("ready", "")
            continue
        tell(*_became(task, path, tell))
        hand_back()


def _became(task: Task, path: Path, tell: Any) -> tuple[str, str]:
    told = 0.0

    def progress(share: float) -> None:
        nonlocal told
        if share - told >= SHARE_STEP:
            told = share
            tell("running", share)

    try:
        write(path, task, progress)
    except Exception as error:
        return "failed", fault_of(error)
    return "done", ""


def main() -> None:
    """Draw until the input ends."""
    # What a library prints must not come among the answers.
    answers = os.fdopen(os.dup(1), "wb")
    os.dup2(2, 1)
    if hasattr(os, "nice"):
        os.nice(NICE)
    keep_to_one_core()
    _serve(sys.stdin.buffer, answers)


if __name__ == "__main__":
    main()
