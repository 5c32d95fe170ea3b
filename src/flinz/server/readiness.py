"""What can be drawn without compiling first: on a fresh machine that comes part by part."""

import logging
import threading
from collections.abc import Callable

from flinz.core.press import warm
from flinz.core.press.stopping import Stop
from flinz.errors import NotReadyError, Stopped

WAIT_SECONDS = 0.2

Compile = Callable[[Callable[[str], None], Stop], None]

log = logging.getLogger(__name__)


class Readiness:
    """Which parts of the press are ready. Safe to use from several threads.

    missing: parts that are not, by name; without it, what this machine's cache lacks.
    compile_all: makes those, as flinz.core.press.warm does.
    """

    def __init__(
        self, missing: set[str] | None = None, compile_all: Compile = warm.compile_all
    ) -> None:
        if missing is None:
            # Where all kernels lie in the cache they are loaded as they are used.
            missing = set() if warm.is_compiled() else set(warm.parts())
        self._missing = set(missing)
        self._compile_all = compile_all
        self._changed = threading.Condition()

    def check(self, wanted: set[str]) -> None:
        """Raise NotReadyError if one of the wanted parts is not ready."""
        with self._changed:
            missing = self._missing & wanted
        # Asked before every picture: nothing else is done where all is there.
        if missing:
            names = [name for name in warm.parts() if name in missing]
            raise NotReadyError(
                f"{_listed(names)} made ready for this machine: that takes a minute or two the "
                "first time. The drawing comes as soon as it can."
            )

    def wait(self, stop: Stop) -> None:
        """Return once everything is ready. Raises Stopped if stop() turns true before."""
        with self._changed:
            while self._missing:
                if stop():
                    raise Stopped("Stopped before it began.")
                self._changed.wait(WAIT_SECONDS)

    def make_ready(self, stop: Stop) -> None:
        """Compile what is missing in other processes, and load everything into this one."""
        try:
            if self._missing:
                self._compile_all(self._load, stop)
            else:
                for _ in warm.warm_up(stop):
                    pass
        except OSError:
            # Each kernel is compiled when it is first used, then.
            log.exception("The looks could not be made ready beforehand")
        with self._changed:
            self._missing.clear()
            self._changed.notify_all()

    def _load(self, name: str) -> None:
        warm.parts()[name]()
        with self._changed:
            self._missing.discard(name)
            self._changed.notify_all()


def _listed(names: list[str]) -> str:
    words = [names[0][0].upper() + names[0][1:], *names[1:]]
    if len(words) == 1:
        return f"{words[0]} is being"
    return f"{', '.join(words[:-1])} and {words[-1]} are being"
