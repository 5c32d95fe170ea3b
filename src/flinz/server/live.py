"""Proofs over a WebSocket while dials move: the newest position wins."""

import asyncio
import contextlib
import json
import logging
import math
import struct
import time
from typing import Annotated, Any, Literal

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel, Field, ValidationError
from starlette.concurrency import run_in_threadpool
from starlette.websockets import WebSocket, WebSocketDisconnect

from flinz.core import recipes
from flinz.core.document import Sheet, StageName, parsed, sentence_of
from flinz.core.figures import Figures
from flinz.core.looks import look_of
from flinz.core.photo import Photo
from flinz.core.press import Stop, Subject, never, proof_factor, whole
from flinz.core.scale import region_frame
from flinz.errors import DocumentError, FlinzError, Stopped
from flinz.server.studio import Studio
from flinz.store.database import connect

MAX_VIEWS = 24
GRACE_SECONDS = 0.06
DRAFT_ABOVE_MS = 40.0
DRAFT_AT_MOST_MS = 55.0
SMALLEST_DRAFT = 0.4
MAX_VIEW_PIXELS = 16_000_000

log = logging.getLogger(__name__)

Share = Annotated[float, Field(ge=0, le=1, allow_inf_nan=False)]


class View(BaseModel):
    """One picture the page wants: what, how large the whole sheet would be, and which part.

    look: draw the plate with this look at its starting values instead of its own.
    """

    id: str = Field(max_length=40)
    what: Literal["photo", "sheet", "stage"] = "sheet"
    plate: str = ""
    stage: StageName = "ink"
    long_edge_px: int = Field(ge=1, le=60_000)
    region: tuple[Share, Share, Share, Share] = (0.0, 0.0, 1.0, 1.0)
    exact: bool = False
    look: str | None = None


class Ask(BaseModel):
    """A sheet and the pictures wanted of it; the first is the one being looked at."""

    ask: int
    sheet: dict[str, Any]
    views: list[View] = Field(max_length=MAX_VIEWS)


class Answer(BaseModel):
    """Head of one picture. left..height are pixels of the whole sheet at this scale."""

    ask: int
    view: str
    left: int
    top: int
    width: int
    height: int
    full_width: int
    full_height: int
    channels: int
    ms: float
    # A draft shows the right thing a little rougher; the settled picture follows.
    draft: bool = False
    figures: Figures | None = None
    suggestions: dict[str, float] | None = None
    # Of a view with a look: the settings it was drawn with, and which of them fit the photo.
    drawn_with: dict[str, Any] | None = None
    fitted: list[str] = []


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
    main_ms, scale = 0.0, 1.0
    while True:
        text = await inbox.take()
        number = None
        try:
            ask = _parsed_ask(text)
            number = ask.ask
            job = _Drawing(studio, parsed(Sheet, ask.sheet), ask.ask)
            for position, view in enumerate(ask.views):
                if position > 0:
                    stop = inbox.has_newer_ask
                    await socket.send_bytes((await run_in_threadpool(job.draw, view, stop))[0])
                    continue
                # The picture being looked at is always finished, or a steady drag would never
                # show anything; the smaller ones give way to a newer position.
                if main_ms > DRAFT_ABOVE_MS and job.has_draft(view):
                    message, draft_ms = await run_in_threadpool(job.draft, view, scale)
                    await socket.send_bytes(message)
                    scale = _next_scale(scale, draft_ms)
                    if await inbox.newer_within(GRACE_SECONDS):
                        break
                message, main_ms = await run_in_threadpool(job.draw_main, view, inbox.has_left)
                await socket.send_bytes(message)
                # A hand that is still turning asks again at once: nothing else comes first.
                await inbox.newer_within(GRACE_SECONDS)
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


def _next_scale(scale: float, draft_ms: float) -> float:
    """How large the next draft may be for the hand that turns not to wait for it."""
    if draft_ms > DRAFT_AT_MOST_MS:
        # The time goes with the pixels, and these with the square of the scale.
        return max(SMALLEST_DRAFT, scale * math.sqrt(DRAFT_AT_MOST_MS / draft_ms))
    return min(1.0, scale * 1.25) if draft_ms < DRAFT_AT_MOST_MS / 2 else scale


def _parsed_ask(text: str) -> Ask:
    try:
        return Ask.model_validate_json(text)
    except ValidationError as error:
        raise DocumentError(sentence_of(error)) from error


class _Drawing:
    """The pictures of one ask."""

    def __init__(self, studio: Studio, sheet: Sheet, number: int) -> None:
        self._studio = studio
        self._sheet = sheet
        self._number = number

    def has_draft(self, view: View) -> bool:
        """Whether the main picture can be drawn more quickly at first."""
        plates = [plate for plate in self._sheet.plates if plate.shown]
        finer = not view.exact and any(proof_factor(plate) > 1 for plate in plates)
        return finer or any(look_of(plate.draw).has_draft for plate in plates)

    def draft(self, view: View, scale: float) -> tuple[bytes, float]:
        """The main picture at a share of its size, without the finer drawing that is shrunk."""
        edge = max(1, round(view.long_edge_px * scale))
        coarse = view.model_copy(update={"exact": True, "long_edge_px": edge})
        return self._drawn(coarse, is_main=True, draft=True)

    def draw_main(self, view: View, stop: Stop) -> tuple[bytes, float]:
        """The picture being looked at, with figures and suggestions."""
        return self._drawn(view, is_main=True, stop=stop)

    def draw(self, view: View, stop: Stop) -> tuple[bytes, float]:
        """Another picture; gives way when stop() turns true."""
        return self._drawn(view, stop=stop)

    def _drawn(
        self, view: View, *, is_main: bool = False, draft: bool = False, stop: Stop = never
    ) -> tuple[bytes, float]:
        began = time.perf_counter()
        studio, sheet = self._studio, self._sheet
        db = connect(studio.path)
        try:
            photo = studio.photo(db, sheet.photo)
        finally:
            db.close()
        if view.look is not None:
            sheet = _with_look(studio, photo, sheet, view)
        frame = region_frame(whole(sheet, photo, view.long_edge_px), view.region)
        if frame.width * frame.height > MAX_VIEW_PIXELS:
            raise DocumentError("This view is too large to show. Make the window smaller.")
        subject = Subject(view.what, view.plate, view.stage)
        picture = studio.press.proof(
            photo, sheet, frame, subject, exact=view.exact, draft=draft, stop=stop
        )
        pixels = np.ascontiguousarray(np.rint(picture * 255), np.uint8)
        answer = Answer(
            ask=self._number,
            view=view.id,
            left=frame.left,
            top=frame.top,
            width=frame.width,
            height=frame.height,
            full_width=frame.full_width,
            full_height=frame.full_height,
            channels=1 if pixels.ndim == 2 else 3,
            ms=0.0,
            draft=draft,
        )
        if view.look is not None:
            plate = sheet.plate(view.plate)
            answer.drawn_with = plate.draw.model_dump(mode="json")
            answer.fitted = plate.fitted
        if is_main:
            plate = sheet.plate(view.plate) if view.plate else sheet.plates[0]
            answer.suggestions = studio.press.suggestions(photo, sheet, plate)
            if view.what == "sheet":
                answer.figures = studio.press.figures(
                    photo, sheet, frame, exact=view.exact, draft=draft
                )
        taken = (time.perf_counter() - began) * 1000
        answer.ms = round(taken, 1)
        return packed(answer, pixels), taken


def _with_look(studio: Studio, photo: Photo, sheet: Sheet, view: View) -> Sheet:
    recipe = recipes.named(view.look or "").plates[0]
    changed = [
        plate.model_copy(update={"draw": recipe.draw, "fitted": recipe.fitted})
        if plate.id == view.plate
        else plate
        for plate in sheet.plates
    ]
    changed_sheet = sheet.model_copy(update={"plates": changed})
    return recipes.fitted(studio.press, photo, changed_sheet)


def packed(answer: Answer, pixels: NDArray[np.uint8]) -> bytes:
    """Length of the head (4 bytes, big-endian), the head as JSON, rows of grey or RGB bytes."""
    head = answer.model_dump_json().encode()
    return struct.pack(">I", len(head)) + head + pixels.tobytes()
