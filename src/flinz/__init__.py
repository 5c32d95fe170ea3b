"""Flinz turns photographs into black-and-white artwork that prints.

What stands in __all__ is what other programs may use; docs/python.md shows it.
"""

from typing import TYPE_CHECKING, Any

from flinz.version import VERSION

if TYPE_CHECKING:
    from flinz.api import (
        Drawing,
        FlinzError,
        MadePhoto,
        Tracing,
        draw,
        edition,
        open_sheet,
        recipes,
    )

__version__ = VERSION
__all__ = [
    "Drawing",
    "FlinzError",
    "MadePhoto",
    "Tracing",
    "draw",
    "edition",
    "open_sheet",
    "recipes",
]


def __getattr__(name: str) -> Any:
    # Loaded when it is asked for: the command line begins without it.
    if name not in __all__:
        raise AttributeError(f"module 'flinz' has no attribute {name!r}")
    from flinz import api

    return getattr(api, name)
