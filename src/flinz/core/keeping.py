"""How a step lets the press remember its parts."""

from collections.abc import Callable, Hashable
from typing import Any

# keep(name, parameters, make) returns make(), remembered as long as what the step works on and
# these parameters stay the same: turning one dial then redoes only what that dial changes.
Keep = Callable[[str, Hashable, Callable[[], Any]], Any]


def keep_nothing(name: str, parameters: Hashable, make: Callable[[], Any]) -> Any:
    """A Keep that remembers nothing."""
    return make()


# holds(name, parameters) tells whether keep would return without making.
Holds = Callable[[str, Hashable], bool]


def hold_nothing(name: str, parameters: Hashable) -> bool:
    """The Holds of keep_nothing."""
    return False
