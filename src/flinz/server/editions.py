"""Editions under way: one after another, with progress; files stay until the edition goes."""

import contextlib
import logging
import shutil
import threading
from collections import deque
from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass, field
from pathlib import Path
from sqlite3 import Connection

from flinz.core.edition import crew
from flinz.core.edition.crew import Told, Work
from flinz.core.edition.workers import IDLE
from flinz.core.press.stopping import Stop, check
from flinz.errors import Stopped, StoreError
from flinz.server.quiet import quiet_pool
from flinz.store import editions
from flinz.store.editions import MadeFile

log = logging.getLogger(__name__)

# The last so many photos say how long one takes.
LATELY = 12


@dataclass(frozen=True)
class Wanted:
    """A photo's file that is wanted: its entry, its mark, and what draws it."""

    entry: int
    mark: str
    work: Work


@dataclass
class Run:
    """An edition being drawn. waiting: what has not begun; under_way: marks of what has, and
    shares: how far each is, by the entry; total: of all that was wanted.
    """

    waiting: deque[Wanted] = field(default_factory=deque)
    under_way: dict[int, str] = field(default_factory=dict)
    shares: dict[int, float] = field(default_factory=dict)
    total: int = 0
    ended: int = 0
    is_stopped: bool = False
    is_forgotten: bool = False
    has_begun: bool = False
    lately: list[float] = field(default_factory=list)

    def want(self, wanted: Iterable[Wanted]) -> None:
        """Have more drawn, but for what is on its way as it is wanted."""
        for each in wanted:
            if self.under_way.get(each.entry) == each.mark:
                continue
            kept = [other for other in self.waiting if other.entry != each.entry]
            self.total += 1 + len(kept) - len(self.waiting)
            self.waiting = deque([*kept, each])

    def next(self) -> Wanted | None:
        """What is begun now: no photo of which an older drawing is still under way."""
        for wanted in self.waiting:
            if wanted.entry not in self.under_way:
                self.waiting.remove(wanted)
                self.under_way[wanted.entry] = wanted.mark
                return wanted
        return None

    def seconds_left(self, hands: int) -> float | None:
        """As the last photos took; None before the first."""
        if not self.lately:
            return None
        a_photo = sum(self.lately) / len(self.lately)
        left = self.total - self.ended - sum(self.shares.values())
        # Fewer than hands are left in the end: each takes as long as one.
        return max(0.0, a_photo * max(left / hands, min(1.0, left)))


class Editions:
    """The runs of one studio; files lie in a folder that outlives it.

    ready: returns once there is all that a photo may need.
    """

    def __init__(
        self, connect: Callable[[], Connection], folder: Path, ready: Callable[[Stop], None]
    ) -> None:
        self._connect, self._folder, self._ready = connect, folder, ready
        self._pool = quiet_pool("edition")
        self._lock = threading.Lock()
        self._runs: dict[int, Run] = {}
        self._stopped = threading.Event()
        # How files ended that the store had no room to note.
        self._outcomes: dict[tuple[int, int], MadeFile] = {}
        self.hands = crew.hands_here()

    def path(self, edition_id: int, entry: int) -> Path:
        """Where a photo's file lies."""
        return self._folder / str(edition_id) / str(entry)

    def start(self, edition_id: int, wanted: Iterable[Wanted]) -> Run:
        """Draw what is wanted, after what was wanted before; an edition runs once at a time, and
        what is wanted of one that runs comes last.
        """
        with self._lock:
            run = self._runs.get(edition_id)
            if run is None or run.is_stopped:
                run = Run()
                self._runs[edition_id] = run
                self._pool.submit(self._all, edition_id, run)
            run.want(wanted)
        return run

    def make_ready(self, count: int) -> None:
        """Begin the processes that will draw so many photos, so that a run begins at once."""
        threading.Thread(
            target=IDLE.made_ready, args=[min(self.hands, count)], name="edition-ready"
        ).start()

    def run_of(self, edition_id: int) -> Run | None:
        """The run of an edition that is under way or waits."""
        return self._runs.get(edition_id)

    def stop(self, edition_id: int) -> None:
        """Stop an edition; what was drawn stays."""
        run = self._runs.get(edition_id)
        if run is not None:
            run.is_stopped = True

    def files(self, db: Connection, edition_id: int) -> dict[int, MadeFile]:
        """What became of the files of an edition, by the entry."""
        found = editions.files(db, edition_id)
        own = {key[1]: made for key, made in self._outcomes.items() if key[0] == edition_id}
        return found | own

    def forget(self, edition_id: int) -> None:
        """Stop an edition and take its files away."""
        run = self._runs.get(edition_id)
        if run is not None:
            run.is_forgotten = run.is_stopped = True
        self._take_away(edition_id)

    def close(self) -> None:
        """Stop everything and wait for it."""
        self._stopped.set()
        self._pool.shutdown(wait=True, cancel_futures=True)
        IDLE.end_all()

    def _take_away(self, edition_id: int) -> None:
        shutil.rmtree(self._folder / str(edition_id), ignore_errors=True)

    def _all(self, edition_id: int, run: Run) -> None:
        def stop() -> bool:
            return run.is_stopped or self._stopped.is_set()

        def tell(told: Told) -> None:
            self._told(edition_id, run, told)

        try:
            self._ready(stop)
            run.has_begun = True
            while not self._is_over(edition_id, run):
                # Where the disk refuses it, each photo says so.
                with contextlib.suppress(OSError):
                    (self._folder / str(edition_id)).mkdir(parents=True, exist_ok=True)
                crew.draw(self._works(run), tell, stop, self.hands)
                check(stop)
        except Stopped:
            pass
        except Exception:
            log.exception("An edition could not be drawn to its end.")
        finally:
            with self._lock:
                self._end(edition_id, run)
            if run.is_forgotten:
                # A file may have been on its way.
                self._take_away(edition_id)

    def _is_over(self, edition_id: int, run: Run) -> bool:
        """Whether nothing is wanted; nothing more can be of this run then."""
        with self._lock:
            if run.waiting:
                return False
            self._end(edition_id, run)
            return True

    def _end(self, edition_id: int, run: Run) -> None:
        if self._runs.get(edition_id) is run:
            del self._runs[edition_id]

    def _works(self, run: Run) -> Iterator[Work]:
        while True:
            with self._lock:
                wanted = run.next()
            if wanted is None:
                return
            yield wanted.work

    def _told(self, edition_id: int, run: Run, told: Told) -> None:
        if told.state == "running":
            run.shares[told.number] = told.share
            return
        run.shares.pop(told.number, None)
        with self._lock:
            mark = run.under_way.pop(told.number)
        if told.state == "stopped":
            return
        made = MadeFile(
            entry=told.number,
            mark=mark,
            state="done" if told.state == "done" else "failed",
            message=told.message,
            seconds=round(told.seconds, 3),
        )
        self._note(edition_id, made)
        run.ended += 1
        if told.state == "done":
            run.lately = [*run.lately[1 - LATELY :], told.seconds]

    def _note(self, edition_id: int, made: MadeFile) -> None:
        """In the store, or where that has no room here, so that each is seen to end."""
        try:
            with contextlib.closing(self._connect()) as db:
                editions.note_file(db, edition_id, made)
            self._outcomes.pop((edition_id, made.entry), None)
        except StoreError:
            self._outcomes[edition_id, made.entry] = made
