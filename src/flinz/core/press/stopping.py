"""How drawing is stopped: who no longer wants a result says so, and it ends between two steps."""

from collections.abc import Callable

from flinz.errors import Stopped

Stop = Callable[[], bool]


def never() -> bool:
    """A Stop that never stops."""
    return False


def check(stop: Stop) -> None:
    """Raise Stopped if stop() is true."""
    if stop():
        raise Stopped("The drawing was stopped.")
