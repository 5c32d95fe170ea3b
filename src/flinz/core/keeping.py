"""How a step lets what it made be remembered."""

from collections.abc import Callable, Hashable
from typing import Any, Protocol


class Keep(Protocol):
    """keep(name, parameters, make) returns make(), remembered as long as what the step works on
    and these parameters stay the same: turning one dial then redoes only what that dial changes.

    What a draft made does not serve the settled drawing, unless it is alike: the same in both.
    """

    def __call__(
        self, name: str, parameters: Hashable, make: Callable[[], Any], *, alike: bool = False
    ) -> Any:
        """The part of a name, made or remembered."""
        ...


class Holds(Protocol):
    """holds(name, parameters) tells whether keep would return without making."""

    def __call__(self, name: str, parameters: Hashable, *, alike: bool = False) -> bool:
        """Whether the part of a name is remembered."""
        ...


def keep_nothing(
    name: str, parameters: Hashable, make: Callable[[], Any], *, alike: bool = False
) -> Any:
    """A Keep that remembers nothing."""
    return make()


def hold_nothing(name: str, parameters: Hashable, *, alike: bool = False) -> bool:
    """The Holds of keep_nothing."""
    return False
