"""Draws tasks on the workers of a Dask cluster that is there already (package distributed)."""

import asyncio
import contextlib
import threading
import time
from collections.abc import Iterable, Iterator
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path
from tempfile import TemporaryDirectory
from typing import Any

from flinz.core.edition.crew import MOST_TRIES, Tell, Told, Work
from flinz.core.edition.task import Task, write
from flinz.core.edition.worker import fault_of, keep_to_one_core
from flinz.core.press.stopping import Stop
from flinz.errors import FlinzError, NotFoundError, StoreError, explained
from flinz.version import VERSION

# So many tasks lie at the cluster for each of its threads: one is drawn, one is on its way.
AHEAD = 2
REACH_SECONDS = 10
LOOK_SECONDS = 0.2


def draw(works: Iterable[Work], tell: Tell, stop: Stop, address: str) -> None:
    """Draw all works on the cluster at an address ("tcp://host:8786"); returns when all ended.

    Workers need Flinz of this version; which of them draws what is Dask's to decide. Raises
    NotFoundError where distributed is not installed, StoreError where the cluster cannot be
    reached, has no workers, or one of another version.
    """
    try:
        import distributed
    except ModuleNotFoundError as error:
        raise NotFoundError(
            "To draw on a cluster Flinz needs the package distributed: pip install "
            "'flinz[cluster]'."
        ) from error
    connect: Any = distributed.Client
    is_given_up = threading.Event()

    async def draw_all() -> None:
        client = connect(address, timeout=REACH_SECONDS, set_as_default=False, asynchronous=True)
        try:
            await _reached(client, address)
            with client.as_current():
                threads = await _checked(client, address)
                run = _Run(client, iter(works), tell, lambda: is_given_up.is_set() or stop())
                await run.all(AHEAD * threads)
        finally:
            await client.close()

    # In a loop of our own, since a client's own gives up without a word of why where a busy
    # machine does not start it in time; in a thread, since a notebook runs a loop in this one.
    with ThreadPoolExecutor(1) as alone:
        drawn = alone.submit(asyncio.run, draw_all())
        try:
            drawn.result()
        finally:
            is_given_up.set()


async def _reached(client: Any, address: str) -> None:
    try:
        await client
    except (OSError, ValueError, TimeoutError) as error:
        raise StoreError(f"No Dask cluster can be reached at {address}.") from error


async def _checked(client: Any, address: str) -> int:
    """How many threads the cluster has. Raises StoreError where it cannot draw as we do."""
    try:
        versions = await client.run(_version, on_error="return")
    except Exception as error:
        raise StoreError(f"The cluster at {address} does not answer: {error}") from error
    if not versions:
        raise StoreError(f"The cluster at {address} has no workers.")
    for worker, version in versions.items():
        if isinstance(version, BaseException):
            raise StoreError(f"Flinz is not installed on the worker {worker}.")
        if version != VERSION:
            raise StoreError(
                f"The worker {worker} has Flinz {version}; this is {VERSION}. Install the "
                "same version on all."
            )
    return sum((await client.nthreads()).values())


def _version() -> str:
    return VERSION


def file_of(task: Task) -> tuple[str, bytes]:
    """What a worker of a cluster sends back: ("done", the file) or ("failed", in UTF-8)."""
    keep_to_one_core()
    with TemporaryDirectory() as folder:
        path = Path(folder) / "file"
        try:
            write(path, task)
            return "done", path.read_bytes()
        except Exception as error:
            return "failed", fault_of(error).encode()


class _Run:
    """Works on their way through a cluster."""

    def __init__(self, client: Any, works: Iterator[Work], tell: Tell, stop: Stop) -> None:
        self._client, self._works, self._tell, self._stop = client, works, tell, stop
        self._asked: dict[Any, tuple[Work, float]] = {}

    async def all(self, most: int) -> None:
        """Send works, at most so many at once, and take what comes back, until none is left."""
        import distributed

        wait: Any = distributed.wait

        try:
            while self._send(most - len(self._asked)) or self._asked:
                with contextlib.suppress(TimeoutError):
                    await wait(
                        list(self._asked), timeout=LOOK_SECONDS, return_when="FIRST_COMPLETED"
                    )
                for future in [each for each in self._asked if each.done()]:
                    await self._take(future)
                if self._stop():
                    return
        finally:
            await self._client.cancel(list(self._asked), force=True)
            for work, began in self._asked.values():
                seconds = time.monotonic() - began
                self._tell(Told(work.number, "stopped", seconds=seconds, message="Stopped."))

    def _send(self, room: int) -> bool:
        """Send as many as there is room for; whether any was."""
        sent = False
        while room > 0 and not self._stop() and (work := next(self._works, None)) is not None:
            room, sent = room - 1, True
            self._tell(Told(work.number, "running"))
            try:
                task = work.load()
            except FlinzError as error:
                self._tell(Told(work.number, "failed", message=str(error)))
                continue
            future = self._client.submit(file_of, task, pure=False, retries=MOST_TRIES - 1)
            self._asked[future] = work, time.monotonic()
        return sent

    async def _take(self, future: Any) -> None:
        work, began = self._asked.pop(future)
        seconds = time.monotonic() - began
        try:
            state, data = await future
            if state == "failed":
                told = Told(work.number, "failed", 0.0, seconds, data.decode())
            else:
                _put(work, data)
                told = Told(work.number, "done", 1.0, seconds)
        except Exception as error:
            # Whatever the cluster says of it: a worker that died again and again, most often.
            message = f"The cluster could not draw this: {type(error).__name__}."
            if isinstance(error, FlinzError | OSError):
                message = explained(error)
            told = Told(work.number, "failed", 0.0, seconds, message)
        self._tell(told)


def _put(work: Work, data: bytes) -> None:
    try:
        work.part.write_bytes(data)
        work.part.replace(work.path)
    finally:
        work.part.unlink(missing_ok=True)
