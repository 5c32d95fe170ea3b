"""Every format there is. Each module of this room that has a FORMAT adds one."""

from functools import reduce
from operator import or_
from typing import TYPE_CHECKING, Annotated, Any

from pydantic import Discriminator, Tag, TypeAdapter

import flinz.core.deliver as room
from flinz.core.deliver.format import Format, Wish
from flinz.core.finding import found_in
from flinz.errors import DocumentError

# What a wish that names no format is for, and how fine it is then.
USUAL, USUAL_DPI = "png", 300


FORMATS: dict[str, Format] = {each.name: each for each in found_in(room, "FORMAT")}


def _name_of(wish: Any) -> Any:
    return wish.get("format", USUAL) if isinstance(wish, dict) else getattr(wish, "format", None)


if TYPE_CHECKING:
    AnyWish = Wish
else:
    _tagged = [Annotated[each.wish, Tag(each.name)] for each in FORMATS.values()]
    AnyWish = Annotated[reduce(or_, _tagged), Discriminator(_name_of)]


WISH: TypeAdapter[AnyWish] = TypeAdapter(AnyWish)


def format_of(wish: Wish) -> Format:
    """The format that a wish is for."""
    return FORMATS[wish.format]  # type: ignore[attr-defined]


def format_of_file(name: str, way: str = "") -> Format:
    """The format of a file by the end of its name, and by the way it is to leave where that is a
    way of its own ("separations"). Raises DocumentError with those there are.
    """
    suffix = name.rpartition(".")[2].lower() if "." in name else ""
    fitting = _by_suffix(way)
    if suffix not in fitting:
        known = ", ".join(f".{each}" for each in fitting)
        raise DocumentError(f"{name!r} does not end in a format Flinz writes: {known}.")
    return fitting[suffix]


def format_by_suffix(suffix: str) -> Format:
    """The format whose files end so, of those with no way of their own. Raises DocumentError with
    those there are.
    """
    fitting = _by_suffix("")
    plain = suffix.lstrip(".").lower()
    if plain not in fitting:
        raise DocumentError(f"There is no format {suffix!r} here; there are {', '.join(fitting)}.")
    return fitting[plain]


def _by_suffix(way: str) -> dict[str, Format]:
    """The formats that leave by a way, by each end that the names of their files may have."""
    fitting = (each for each in FORMATS.values() if each.way == way)
    return {suffix: each for each in fitting for suffix in each.suffixes}


def media_type_of(name: str) -> str:
    """The media type of a file by the end of its name, whatever the way it left."""
    suffix = name.rpartition(".")[2].lower()
    known = {each.media_type for each in FORMATS.values() if suffix in each.suffixes}
    return known.pop() if known else "application/octet-stream"
