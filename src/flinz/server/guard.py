"""Lets in only the page Flinz itself serves: Host, Origin, access key, content-security policy."""

import asyncio
import hmac
import re
from hashlib import sha256

from starlette.datastructures import Headers, MutableHeaders
from starlette.requests import HTTPConnection
from starlette.responses import Response
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from flinz.server.problems import problem

LOOPBACK = {"localhost", "127.0.0.1", "::1"}
KEY_COOKIE = "flinz_key"
POLICY = (
    "default-src 'none'; script-src 'self'; style-src 'self'; font-src 'self'; "
    "img-src 'self' blob: data:; connect-src 'self'; base-uri 'none'; form-action 'self'; "
    "frame-ancestors 'none'"
)
# A name or an address, and a port; nothing that would be read otherwise elsewhere.
HOST = re.compile(r"(\[[0-9A-Fa-f:.]+\]|[A-Za-z0-9._-]+)(:[0-9]{1,5})?")
ORIGIN = re.compile(r"https?://(.+)")
# Pages that a browser may fetch from here: this one, and what somebody typed or kept.
OWN_SITES = {"same-origin", "none"}
# Wrong keys wait for one another, each so long; of more than so many the rest is refused at once.
WRONG_KEY_SECONDS, MAX_WRONG_KEYS = 0.5, 40


class Guard:
    """ASGI middleware. key: needed from anyone when set; hosts: allowed besides loopback."""

    def __init__(self, app: ASGIApp, key: str | None = None, hosts: frozenset[str] = frozenset()):
        self.app = app
        self.key = key
        self.hosts = LOOPBACK | hosts
        self._wrong_keys = 0
        self._slow = asyncio.Lock()

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Pass a connection on, or refuse it."""
        if scope["type"] not in ("http", "websocket"):
            await self.app(scope, receive, send)
            return
        refusal = self._refusal(scope)
        if refusal is None and self.key is not None:
            refusal = await self._refusal_of_key(HTTPConnection(scope), self.key)
        if refusal and scope["type"] == "websocket":
            await send({"type": "websocket.close", "code": 1008, "reason": refusal})
        elif refusal:
            await problem(403, refusal)(scope, receive, self._with_headers(scope, send, False))
        else:
            await self.app(scope, receive, self._with_headers(scope, send, True))

    def _refusal(self, scope: Scope) -> str | None:
        headers = Headers(scope=scope)
        host = headers.get("host", "")
        found = HOST.fullmatch(host)
        # With a key the address is the owner's choice; without one only loopback names may call.
        if found is None or (self.key is None and found[1].strip("[]") not in self.hosts):
            return f"Flinz does not answer to the name {host[:100]!r}. Open it as http://localhost."
        origin = headers.get("origin")
        if origin is not None and not _is_own(origin, host):
            return "Another web page tried to use Flinz; that is not allowed."
        if headers.get("sec-fetch-site", "none") not in OWN_SITES and not _is_visit(scope, headers):
            return "Another web page tried to use Flinz; that is not allowed."
        return None

    async def _refusal_of_key(self, connection: HTTPConnection, key: str) -> str | None:
        asked = connection.query_params.getlist("key")
        kept = connection.cookies.get(KEY_COOKIE)
        given = [*([] if kept is None else [kept]), *(_mark(each) for each in asked)]
        known = _mark(key)
        if any(
            hmac.compare_digest(mark.encode("utf-8", "replace"), known.encode()) for mark in given
        ):
            return None
        if not given:
            return "This Flinz needs its access key: add ?key=… to the address once."
        if self._wrong_keys >= MAX_WRONG_KEYS:
            return "Too many wrong access keys were tried just now. Try again later."
        self._wrong_keys += 1
        try:
            async with self._slow:
                await asyncio.sleep(WRONG_KEY_SECONDS)
        finally:
            self._wrong_keys -= 1
        return "This is not the access key of this Flinz. Add the right ?key=… to the address once."

    def _with_headers(self, scope: Scope, send: Send, is_in: bool) -> Send:
        async def sending(message: Message) -> None:
            if message["type"] == "http.response.start":
                headers = MutableHeaders(scope=message)
                headers["Content-Security-Policy"] = POLICY
                headers["X-Content-Type-Options"] = "nosniff"
                headers["Referrer-Policy"] = "no-referrer"
                headers["Cross-Origin-Resource-Policy"] = "same-origin"
                if is_in and self.key is not None and "key" in HTTPConnection(scope).query_params:
                    kept = Response()
                    kept.set_cookie(KEY_COOKIE, _mark(self.key), httponly=True, samesite="strict")
                    headers.append("Set-Cookie", kept.headers["Set-Cookie"])
            await send(message)

        return sending


def _is_own(origin: str, host: str) -> bool:
    found = ORIGIN.fullmatch(origin)
    return found is not None and found[1] == host


def _is_visit(scope: Scope, headers: Headers) -> bool:
    """Whether somebody follows a link to a page of ours, as from a letter."""
    is_page = scope["type"] == "http" and not scope["path"].startswith("/api/")
    return is_page and scope["method"] == "GET" and headers.get("sec-fetch-mode") == "navigate"


def _mark(key: str) -> str:
    # What a browser keeps in place of the key, whatever letters that is made of.
    return sha256(key.encode("utf-8", "replace")).hexdigest()
