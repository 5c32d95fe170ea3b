"""Proofs over a WebSocket while dials move: carries out what the schedule decides."""

import asyncio
import contextlib
import json
import logging
from collections.abc import Callable
from typing import TypeVar

from anyio import CapacityLimiter, to_thread
from starlette.concurrency import run_in_threadpool
from starlette.websockets import WebSocket, WebSocketDisconnect

from flinz.core.document.again import Again
from flinz.core.press.stopping import Stop
from flinz.core.press.thrift import EVERY_SECONDS, SELDOM_SECONDS, hand_back
from flinz.errors import FlinzError, NotReadyError, Stopped
from flinz.server.schedule import Draw, HandBack, Schedule, Steps, Told, Wait
from flinz.server.standing import Standing
from flinz.server.studio import Studio
from flinz.server.views import Drawing, View, parsed_ask

# Pictures that are drawn side by side: much of a small one runs on one core.
AT_ONCE = 2
# How often it is looked whether a picture can be drawn by now.
READY_SECONDS = 0.5

# What a page says in place of an ask when it wants no more of the one being drawn.
STOP = "stop"

T = TypeVar("T")

log = logging.getLogger(__name__)


async def serve(socket: WebSocket, studio: Studio) -> None:
    """Answer a page's asks until it leaves. Never more than one ask is drawn at a time."""
    await socket.accept()
    inbox = _Inbox()
    drawing = asyncio.create_task(_draw_newest(socket, studio, inbox))
    try:
        while True:
            message = await socket.receive()
            if message["type"] == "websocket.disconnect":
                break
            # What is no text is no ask, which parsing says.
            inbox.put(message.get("text") or "")
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
        self._is_stopped = False
        self.left = False

    def put(self, text: str) -> None:
        if text == STOP:
            self._is_stopped = True
            return
        self._newest = text
        self._arrived.set()

    def has_newer_ask(self) -> bool:
        return self._newest is not None or self.has_left()

    def has_left(self) -> bool:
        """Whether the page has left, or wants no more of this ask."""
        return self.left or self._is_stopped

    async def newer_within(self, seconds: float) -> bool:
        """Whether a newer ask arrives within so many seconds; returns as soon as it does."""
        with contextlib.suppress(TimeoutError):
            await asyncio.wait_for(self._arrived.wait(), seconds)
        return self._arrived.is_set()

    async def take(self) -> str:
        await self._arrived.wait()
        self._arrived.clear()
        self._is_stopped = False
        text, self._newest = self._newest, None
        return text or ""


async def _draw_newest(socket: WebSocket, studio: Studio, inbox: _Inbox) -> None:
    schedule, standing, sheets = Schedule(), Standing(), Again()
    while True:
        text = await inbox.take()
        number = None
        try:
            ask = parsed_ask(text)
            number = ask.ask
            job = Drawing(studio, sheets.read(ask.sheet), ask.ask, ask.unfinished, standing)
            artist = _Artist(socket, job, inbox, studio.drawn_at_once)
            if ask.unfinished is None:
                painted = job.painted(ask.views)
            else:
                # A photo may have to be read for a stroke.
                painted = await run_in_threadpool(job.painted, ask.views)
            await artist.carry_out(schedule.steps(ask.views, painted))
            # What could not be drawn yet follows as soon as it can.
            while artist.late and not await inbox.newer_within(READY_SECONDS):
                await artist.try_again()
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


class _Artist:
    """Carries out the steps of one ask."""

    def __init__(
        self, socket: WebSocket, job: Drawing, inbox: _Inbox, limit: CapacityLimiter
    ) -> None:
        self._socket = socket
        self._job = job
        self._inbox = inbox
        self._limit = limit
        # Steps whose pictures are not ready to be drawn yet.
        self.late: list[Draw] = []

    async def carry_out(self, steps: Steps) -> None:
        """Take steps to their end, and tell the schedule what came of each."""
        told: Told | None = None
        with contextlib.suppress(StopIteration):
            while True:
                step = next(steps) if told is None else steps.send(told)
                told = await self._told(step)

    async def try_again(self) -> None:
        """Draw what was late."""
        late, self.late = self.late, []
        for step in late:
            await self._draw(step)

    async def _told(self, step: Draw | Wait | HandBack) -> Told:
        match step:
            case Wait(seconds=seconds):
                return Told(newer=await self._inbox.newer_within(seconds))
            case HandBack(seldom=seldom):
                await run_in_threadpool(hand_back, SELDOM_SECONDS if seldom else EVERY_SECONDS)
                return Told(newer=self._inbox.has_newer_ask())
            case Draw():
                ms = await self._draw(step)
                return Told(ms, self._inbox.has_newer_ask())

    async def _draw(self, step: Draw) -> float:
        """Draw the views of a step and send each as it is done; the milliseconds of one."""
        stop = self._inbox.has_newer_ask if step.gives_way else self._inbox.has_left
        if step.is_main:
            return await self._draw_main(step, stop)
        waiting, longest = iter(step.views), 0.0

        async def draw() -> None:
            nonlocal longest
            for view in waiting:
                longest = max(longest, await self._draw_other(view, step, stop))

        drawing = [asyncio.create_task(draw()) for _ in range(min(AT_ONCE, len(step.views)))]
        try:
            await asyncio.gather(*drawing)
        finally:
            # One that failed or was stopped ends the others; what is in a thread is waited for.
            for task in drawing:
                task.cancel()
            await asyncio.gather(*drawing, return_exceptions=True)
        return longest

    async def _draw_main(self, step: Draw, stop: Stop) -> float:
        (view,) = step.views
        try:
            if step.scale is not None:
                message, ms = await self._in_thread(self._job.draft, view, step.scale)
            else:
                placing = await to_thread.run_sync(
                    self._job.placing, view, stop, limiter=self._limit
                )
                if placing is not None:
                    await self._socket.send_text(json.dumps({"placing": placing.model_dump()}))
                message, ms = await self._in_thread(self._job.draw_main, view, stop)
                if placing is not None:
                    self._job.placed(placing, ms)
        except NotReadyError as error:
            # A draft that is late would come after the settled picture.
            if step.scale is None:
                self.late.append(step)
            await self._say(error)
            return 0.0
        await self._socket.send_bytes(message)
        return ms

    async def _draw_other(self, view: View, step: Draw, stop: Stop) -> float:
        try:
            message, ms = await self._in_thread(self._job.draw, view, stop)
        except Stopped:
            raise
        except FlinzError as error:
            # One that cannot be drawn (too many marks at this value) leaves the others be.
            if isinstance(error, NotReadyError):
                self.late.append(Draw((view,), step.gives_way))
            await self._say(error, view)
            return 0.0
        await self._socket.send_bytes(message)
        return ms

    async def _in_thread(
        self, draw: Callable[[View, T], tuple[bytes, float]], view: View, how: T
    ) -> tuple[bytes, float]:
        return await to_thread.run_sync(draw, view, how, limiter=self._limit)

    async def _say(self, error: FlinzError, view: View | None = None) -> None:
        said: dict[str, object] = {"ask": self._job.number, "problem": str(error)}
        if view is not None:
            said["view"] = view.id
        if isinstance(error, NotReadyError):
            # It comes by itself as soon as it can be drawn.
            said["later"] = True
        await self._socket.send_text(json.dumps(said))
