"""Runs the application until it is told to stop."""

import contextlib
import sys
from types import FrameType

import uvicorn
from fastapi import FastAPI

from flinz.server.studio import Studio

# What has not ended by then is cut off.
MOST_SECONDS_TO_END = 3
# As uvicorn itself exits.
COULD_NOT_BEGIN = 3


class _Server(uvicorn.Server):
    """A server whose studio hears at once that it is being stopped.

    The application itself hears of it only when nobody asks for anything any more.
    """

    def __init__(self, config: uvicorn.Config, studio: Studio) -> None:
        super().__init__(config)
        self._studio = studio

    def handle_exit(self, sig: int, frame: FrameType | None) -> None:
        self._studio.leave()
        super().handle_exit(sig, frame)


def serve_until_told(application: FastAPI, host: str, port: int) -> None:
    """Serve an application of make_app until a signal ends it; exits where it cannot begin."""
    config = uvicorn.Config(
        application,
        host=host,
        port=port,
        log_level="warning",
        # Proofs come as raw rows from the same machine: squeezing them only costs time.
        ws_per_message_deflate=False,
        ws_max_size=4_000_000,
        timeout_graceful_shutdown=MOST_SECONDS_TO_END,
    )
    server = _Server(config, application.state.studio)
    with contextlib.suppress(KeyboardInterrupt):
        server.run()
    if not server.started:
        sys.exit(COULD_NOT_BEGIN)
