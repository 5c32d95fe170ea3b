"""Every look there is. Each module of this room that has a LOOK adds one."""

import importlib
import pkgutil
from functools import reduce
from operator import or_
from typing import TYPE_CHECKING, Annotated, Any

from pydantic import Field

import flinz.core.looks as room
from flinz.core.looks.look import Look, LookSettings


def _found() -> dict[str, Look]:
    names = sorted(module.name for module in pkgutil.iter_modules(room.__path__))
    others = (name for name in names if name != "registry")
    modules = [importlib.import_module(f"{room.__name__}.{name}") for name in others]
    looks = [module.LOOK for module in modules if hasattr(module, "LOOK")]
    return {look.name: look for look in looks}


LOOKS: dict[str, Look] = _found()

if TYPE_CHECKING:
    Draw = LookSettings
else:
    _union: Any = reduce(or_, (look.settings for look in LOOKS.values()))
    Draw = Annotated[_union, Field(discriminator="look")]


def look_of(settings: LookSettings) -> Look:
    """The look that a Draw stage's settings belong to."""
    return LOOKS[settings.look]  # type: ignore[attr-defined]
