"""Every look there is. Each module of this room that has a LOOK adds one."""

from functools import reduce
from operator import or_
from typing import TYPE_CHECKING, Annotated, Any

from pydantic import Field

import flinz.core.looks as room
from flinz.core.finding import found_in
from flinz.core.looks.look import Look, LookSettings

LOOKS: dict[str, Look] = {look.name: look for look in found_in(room, "LOOK")}

if TYPE_CHECKING:
    Draw = LookSettings
else:
    _union: Any = reduce(or_, (look.settings for look in LOOKS.values()))
    Draw = Annotated[_union, Field(discriminator="look")]


def look_of(settings: LookSettings) -> Look:
    """The look that a Draw stage's settings belong to."""
    return LOOKS[settings.look]  # type: ignore[attr-defined]
