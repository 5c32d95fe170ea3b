"""The application as tests serve it."""

from pathlib import Path
from typing import Any

from fastapi import FastAPI

from flinz.server.app import make_app
from flinz.server.readiness import Readiness


def ready_app(folder: Path, **options: Any) -> FastAPI:
    """The application over a data folder, which draws everything, compiling it if it must."""
    return make_app(folder, readiness=Readiness(set()), **options)
