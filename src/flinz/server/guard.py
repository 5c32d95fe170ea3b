"""Lets in only the page Flinz itself serves: Host, Origin, access key, content-security policy."""

import hmac
from hashlib import sha256
from urllib.parse import urlsplit

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


class Guard:
    """ASGI middleware. key: needed from anyone when set; hosts: allowed besides loopback."""

    def __init__(self, app: ASGIApp, key: str | None = None, hosts: frozenset[str] = frozenset()):
        self.app = app
        self.key = key
        self.hosts = LOOPBACK | hosts

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Pass a connection on, or refuse it."""
        if scope["type"] not in ("http", "websocket"):
            await self.app(scope, receive, send)
            return
        refusal = self._refusal(scope)
        if refusal and scope["type"] == "websocket":
            await send({"type": "websocket.close", "code": 1008, "reason": refusal})
        elif refusal:
            await problem(403, refusal)(scope, receive, send)
        else:
            await self.app(scope, receive, self._with_headers(scope, send))

    def _refusal(self, scope: Scope) -> str | None:
        headers = Headers(scope=scope)
        host = headers.get("host", "")
        # With a key the address is the owner's choice; without one only loopback names may call.
        if self.key is None and _name(host) not in self.hosts:
            return f"Flinz does not answer to the name {host!r}. Open it as http://localhost."
        origin = headers.get("origin")
        if origin is not None and urlsplit(origin).netloc != host:
            return "Another web page tried to use Flinz; that is not allowed."
        if self.key is not None and not self._has_key(HTTPConnection(scope)):
            return "This Flinz needs its access key: add ?key=… to the address once."
        return None

    def _has_key(self, connection: HTTPConnection) -> bool:
        asked = connection.query_params.getlist("key")
        given = [connection.cookies.get(KEY_COOKIE, ""), *(_mark(key) for key in asked)]
        known = _mark(self.key or "")
        return any(hmac.compare_digest(mark.encode(), known.encode()) for mark in given)

    def _with_headers(self, scope: Scope, send: Send) -> Send:
        async def sending(message: Message) -> None:
            if message["type"] == "http.response.start":
                headers = MutableHeaders(scope=message)
                headers["Content-Security-Policy"] = POLICY
                headers["X-Content-Type-Options"] = "nosniff"
                headers["Referrer-Policy"] = "no-referrer"
                headers["Cross-Origin-Resource-Policy"] = "same-origin"
                if self.key is not None and "key" in HTTPConnection(scope).query_params:
                    kept = Response()
                    kept.set_cookie(KEY_COOKIE, _mark(self.key), httponly=True, samesite="strict")
                    headers.append("Set-Cookie", kept.headers["Set-Cookie"])
            await send(message)

        return sending


def _mark(key: str) -> str:
    # What a browser keeps in place of the key, whatever letters that is made of.
    return sha256(key.encode()).hexdigest()


def _name(host: str) -> str:
    return urlsplit(f"//{host}").hostname or ""
