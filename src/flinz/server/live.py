"""Proofs over a WebSocket while dials move: the newest position wins."""

import asyncio
import contextlib
import json
import logging
import time

from starlette.concurrency import run_in_threadpool
from starlette.websockets import WebSocket, WebSocketDisconnect

from flinz.core.document import Sheet, parsed
from flinz.core.run import Stop
from flinz.errors import FlinzError, Stopped
from flinz.server.pace import Pace
from flinz.server.studio import Studio
from flinz.server.thrift import hand_back
from flinz.server.views import Drawing, View, parsed_ask

GRACE_SECONDS = 0.06
DRAFT_GRACE_SECONDS = 0.15
# Pictures that are drawn side by side: much of a small one runs on one core.
AT_ONCE = 2
# How much of each ask may go to the views that follow every move.
KEPT_MS = 20.0
KEPT_SCALE = 0.5
MOST_PAYING = 4
DRAFT_ABOVE_MS = 40.0
FORGETS = 0.8
# A first picture this large begins with a draft: a sheet that is opened shows at once.
LARGE_PX = 480

log = logging.getLogger(__name__)


async def serve(socket: WebSocket, studio: Studio) -> None:
    """Answer a page's asks until it leaves. Never more than one ask is drawn at a time."""
    await socket.accept()
    inbox = _Inbox()
    drawing = asyncio.create_task(_draw_newest(socket, studio, inbox))
    try:
        while True:
            inbox.put(await socket.receive_text())
    except WebSocketDisconnect:
        pass
    finally:
        inbox.left = True
        drawing.cancel()
        with contextlib.suppress(asyncio.CancelledError, WebSocketDisconnect, RuntimeError):
            await drawing


class _Inbox:
    """Holds the newest ask only, however many arrive."""

    def __init__(self) -> None:
        self._newest: str | None = None
        self._arrived = asyncio.Event()
        self.left = False
        # Of the views that follow every move: whose turn it is, and what the last one took.
        self.turn = 0
        self.owed_ms = 0.0

    def put(self, text: str) -> None:
        self._newest = text
        self._arrived.set()

    def has_newer_ask(self) -> bool:
        return self._newest is not None or self.left

    def has_left(self) -> bool:
        return self.left

    async def newer_within(self, seconds: float) -> bool:
        """Whether a newer ask arrives within so many seconds; returns as soon as it does."""
        with contextlib.suppress(TimeoutError):
            await asyncio.wait_for(self._arrived.wait(), seconds)
        return self._arrived.is_set()

    async def take(self) -> str:
        await self._arrived.wait()
        self._arrived.clear()
        text, self._newest = self._newest, None
        return text or "{}"


async def _draw_newest(socket: WebSocket, studio: Studio, inbox: _Inbox) -> None:
    # How long a settled main picture takes; not known before the first. One that was remembered
    # takes no time and tells little, so that what is known fades slowly.
    main_ms: float | None = None
    pace = Pace()
    while True:
        text = await inbox.take()
        number = None
        try:
            ask = parsed_ask(text)
            number = ask.ask
            job = Drawing(studio, parsed(Sheet, ask.sheet), ask.ask)
            if not ask.views:
                continue
            main, kept = ask.views[0], [view for view in ask.views[1:] if view.kept]
            # The picture being looked at is always finished, or a steady drag would never
            # show anything; one that a draft went before gives way to a newer position, as the
            # smaller ones do.
            is_first, stop = main_ms is None, inbox.has_left
            slow = main.long_edge_px >= LARGE_PX if main_ms is None else main_ms > DRAFT_ABOVE_MS
            if slow and main.what != "photo":
                message, draft_ms = await run_in_threadpool(job.draft, main, pace.scale)
                await socket.send_bytes(message)
                pace.drafted(draft_ms)
                rough = [_quick(view, pace.scale) for view in kept]
                await _draw_kept(socket, job, rough, inbox, inbox.has_left)
                await run_in_threadpool(hand_back)
                # To settle takes long: a page that is slow to ask again is waited for.
                if not is_first:
                    if await inbox.newer_within(DRAFT_GRACE_SECONDS):
                        continue
                    stop = inbox.has_newer_ask
            message, settled_ms = await run_in_threadpool(job.draw_main, main, stop)
            main_ms = max(settled_ms, (main_ms or 0.0) * FORGETS)
            pace.rest()
            await socket.send_bytes(message)
            # Settled details of a slow look wait for the hand to rest; it has their drafts.
            is_slow = main_ms > DRAFT_ABOVE_MS
            stop = inbox.has_newer_ask if is_slow else inbox.has_left
            await _draw_kept(socket, job, kept, inbox, stop)
            await run_in_threadpool(hand_back)
            # A hand that is still turning asks again at once: nothing else comes first.
            await inbox.newer_within(GRACE_SECONDS)
            others = [view for view in ask.views[1:] if not view.kept]
            await _draw_others(socket, job, others, inbox.has_newer_ask)
        except Stopped:
            continue
        except FlinzError as error:
            await socket.send_text(json.dumps({"ask": number, "problem": str(error)}))
        except WebSocketDisconnect:
            return
        except Exception:
            log.exception("A live proof failed")
            sentence = "Flinz made a mistake drawing this. The last picture is kept."
            await socket.send_text(json.dumps({"ask": number, "problem": sentence}))


def _quick(view: View, scale: float) -> View:
    """A smaller draft of a view that follows a hand that turns."""
    edge = max(1, round(view.long_edge_px * min(scale, KEPT_SCALE)))
    return view.model_copy(update={"draft": True, "long_edge_px": edge})


async def _draw_kept(
    socket: WebSocket, job: Drawing, views: list[View], inbox: _Inbox, stop: Stop
) -> None:
    """Draw the views that follow every move, in turn, as far as the hand leaves time for them.

    While newer asks come they may take so much of each: what one of them took beyond that the
    next asks pay for, so that the main picture is never kept waiting long. What has settled is
    not paid for, and nothing for longer than MOST_PAYING asks: spots follow the slowest look, too.
    """
    inbox.owed_ms = max(0.0, inbox.owed_ms - KEPT_MS)
    began = time.perf_counter()
    for _ in views:
        if inbox.owed_ms > 0 and await inbox.newer_within(GRACE_SECONDS):
            return
        before = time.perf_counter()
        if (before - began) * 1000 > KEPT_MS and inbox.has_newer_ask():
            return
        view = views[inbox.turn % len(views)]
        inbox.turn += 1
        await _draw_others(socket, job, [view], stop)
        if view.draft:
            taken = (time.perf_counter() - before) * 1000
            inbox.owed_ms = min(inbox.owed_ms + taken, MOST_PAYING * KEPT_MS)


async def _draw_others(socket: WebSocket, job: Drawing, views: list[View], stop: Stop) -> None:
    """Draw views in their order, a few at a time, and send each as it is done."""
    waiting = iter(views)

    async def draw() -> None:
        for view in waiting:
            try:
                message, _ = await run_in_threadpool(job.draw, view, stop)
            except Stopped:
                raise
            except FlinzError as error:
                # One that cannot be drawn (too many marks at this value) leaves the others be.
                refusal = {"ask": job.number, "view": view.id, "problem": str(error)}
                await socket.send_text(json.dumps(refusal))
            else:
                await socket.send_bytes(message)

    drawing = [asyncio.create_task(draw()) for _ in range(min(AT_ONCE, len(views)))]
    try:
        await asyncio.gather(*drawing)
    finally:
        # One that failed or was stopped ends the others; what is in a thread is waited for.
        for task in drawing:
            task.cancel()
        await asyncio.gather(*drawing, return_exceptions=True)
