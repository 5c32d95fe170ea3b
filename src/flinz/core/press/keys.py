"""Keys of what is remembered: made here alone, from all that a result depends on."""

import dataclasses
import hashlib
from enum import Enum
from functools import cache
from typing import Any

import numpy as np

from flinz.core.dial import Settings
from flinz.core.scale import Frame


def step_key(
    kind: str,
    *,
    before: str,
    settings: Any,
    where: Frame | tuple[int, ...] | float,
    draft: bool,
) -> str:
    """The key of one step's result. Nothing has a default: what matters cannot be left out.

    before: key of what the step works on. settings: the step's own. where: the frame that is
    drawn, its pixels alone for what knows no lengths, or the sheet's long edge in mm for what
    serves every frame of it. draft: whether a draft comes to another result than the settled
    drawing, and this is one.
    Raises TypeError for settings of a type that cannot tell two values apart.
    """
    return content_key(kind, before, settings, where, draft)


def content_key(*parts: Any) -> str:
    """A key that tells parts apart by their types and by what they say.

    Raises TypeError for types that do not say all they hold: arrays, functions, open files.
    """
    text = "|".join([_words(part) for part in parts])
    return hashlib.blake2b(text.encode(), digest_size=16).hexdigest()


@cache
def _fields(kind: type) -> tuple[str, ...]:
    return tuple(field.name for field in dataclasses.fields(kind))


def _words(part: Any) -> str:
    kind = type(part)
    if part is None or kind in (bool, int, float, str, bytes):
        # A text is written with quotation marks, so that none can pass for two parts.
        return f"{kind.__name__}{part!r}"
    if kind in (tuple, list):
        return f"{kind.__name__}({','.join([_words(each) for each in part])})"
    if isinstance(part, Settings):
        return f"{kind.__name__}{part.said}"
    if isinstance(part, Enum):
        return f"{kind.__name__}.{part.name}"
    if isinstance(part, np.generic):
        return f"{kind.__name__}{part.item()!r}"
    if dataclasses.is_dataclass(kind):
        said = ",".join([_words(getattr(part, name)) for name in _fields(kind)])
        return f"{kind.__name__}({said})"
    raise TypeError(f"No key can be made of a {kind.__name__}: it does not say all it holds.")
