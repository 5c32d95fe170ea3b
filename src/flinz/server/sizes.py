"""Refuses request bodies that are larger than what is asked for, before they are read."""

from starlette.datastructures import Headers
from starlette.responses import Response
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from flinz.core.document import sheet_file
from flinz.core.edition import fields
from flinz.core.ground import faces
from flinz.core.hand import pieces
from flinz.core.planes import decoding
from flinz.server.problems import problem

MAX_BODY = 2_000_000
# Files come in forms, a little larger than they are.
FORM = 1_000_000
MAX_OF_PATHS = {
    "/api/photos": decoding.MAX_BYTES + FORM,
    "/api/sheets/open": sheet_file.MAX_BYTES + FORM,
    "/api/editions/table": fields.MAX_BYTES + FORM,
    "/api/fonts": faces.MAX_FONT_BYTES + FORM,
    # Whole lists of strokes, in words.
    "/api/hand/strokes": 60_000_000,
}
PIECES = "/api/hand/pieces/"
# A sheet with as many changed shapes as it may hold.
SHEETS, MAX_SHEET = "/api/sheets/", 8_000_000


class Sizes:
    """ASGI middleware."""

    def __init__(self, app: ASGIApp) -> None:
        self.app = app

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Pass a request on, or refuse it for its size."""
        if scope["type"] != "http":
            await self.app(scope, receive, send)
            return
        most = most_of(scope["path"])
        said = Headers(scope=scope).get("content-length", "0")
        if not said.isdigit() or int(said) > most:
            await _too_large(most)(scope, receive, send)
            return
        held = 0
        is_over = is_answered = False

        async def counted() -> Message:
            nonlocal held, is_over
            message = await receive()
            held += len(message.get("body", b""))
            if held > most:
                # As if the one who sends it had hung up: nothing more of it is read.
                is_over = True
                return {"type": "http.disconnect"}
            return message

        async def sending(message: Message) -> None:
            nonlocal is_answered
            if is_over and not is_answered:
                return
            is_answered = True
            await send(message)

        try:
            await self.app(scope, counted, sending)
        except Exception:
            if not is_over:
                raise
        if is_over and not is_answered:
            await _too_large(most)(scope, receive, send)


def _too_large(most: int) -> Response:
    return problem(413, f"This request is larger than the {most / 1e6:,.0f} MB that it may have.")


def most_of(path: str) -> int:
    """How many bytes a request to a path may have."""
    if path.startswith(PIECES):
        # The route says itself, and better, which pieces are too large.
        return 2 * pieces.MAX_PIECE_BYTES
    return MAX_OF_PATHS.get(path, MAX_SHEET if path.startswith(SHEETS) else MAX_BODY)
