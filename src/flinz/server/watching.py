"""Server-sent events: how far something is, told whenever that changes."""

import asyncio
from collections.abc import AsyncIterator, Awaitable, Callable
from typing import TypeVar

from pydantic import BaseModel

from flinz.core.press.stopping import Stop

T = TypeVar("T", bound=BaseModel)


async def watched(
    look: Callable[[], Awaitable[T]], has_ended: Callable[[T], bool], leaving: Stop, seconds: float
) -> AsyncIterator[str]:
    """What a look shows, every so many seconds, as events until it has ended.

    leaving: whether Flinz is being stopped, where whoever watches is let go.
    """
    last: T | None = None
    while not leaving() and (last is None or not has_ended(last)):
        present = await look()
        if present != last:
            yield f"data: {present.model_dump_json()}\n\n"
            last = present
        await asyncio.sleep(seconds)
