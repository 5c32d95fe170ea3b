"""Puts the application together: guard, routes, problems, the built page."""

import contextlib
import re
from collections.abc import AsyncIterator
from pathlib import Path
from typing import Any

from fastapi import FastAPI
from fastapi.responses import FileResponse, Response
from fastapi.staticfiles import StaticFiles
from starlette.concurrency import run_in_threadpool

from flinz.core.planes.threads import keep_opencv_to_one
from flinz.core.press.thrift import be_thrifty
from flinz.server import problems, views
from flinz.server.guard import Guard
from flinz.server.pictures import FOR_EVER
from flinz.server.problems import Problem
from flinz.server.readiness import Readiness
from flinz.server.routes import (
    catalogue,
    edition_files,
    editions,
    exports,
    fonts,
    hand,
    judging,
    photos,
    pots,
    pulls,
    recipes,
    shapes,
    sheets,
    store,
    unreadable,
)
from flinz.server.sizes import Sizes
from flinz.server.studio import Studio
from flinz.version import VERSION

PAGE = Path(__file__).parent / "page"
PROBLEMS = {
    "default": {
        "description": "What went wrong, in a sentence",
        "content": {
            "application/problem+json": {"schema": {"$ref": "#/components/schemas/Problem"}}
        },
    }
}
# What the framework says of requests that are not as they should be; they are problems here too.
NOT_OURS = ("HTTPValidationError", "ValidationError")
ASKED_AFTER = "no-cache"
# As the page is built: a name, then eight characters that stand for the content.
NAMED_BY_CONTENT = re.compile(r"/assets/[^/]+-[\w-]{8}\.\w+$")
NO_PAGE = "The page has not been built. Run `make setup`, then start Flinz again."


def make_app(
    folder: Path,
    *,
    key: str | None = None,
    hosts: frozenset[str] = frozenset(),
    readiness: Readiness | None = None,
    address: str = "",
) -> FastAPI:
    """The application over a data folder; address: where it will answer.

    Raises StoreError if the folder cannot be opened, or another server has it.
    """
    be_thrifty()
    keep_opencv_to_one()
    studio = Studio(folder, readiness, address)

    @contextlib.asynccontextmanager
    async def lifespan(app: FastAPI) -> AsyncIterator[None]:
        studio.open()
        yield
        await run_in_threadpool(studio.close)

    app = FastAPI(
        title="Flinz",
        version=VERSION,
        lifespan=lifespan,
        responses=PROBLEMS,  # type: ignore[arg-type]
        docs_url=None,
        redoc_url=None,
        openapi_url="/api/openapi.json",
        separate_input_output_schemas=False,
    )
    app.state.studio = studio
    app.add_middleware(Sizes)
    app.add_middleware(Guard, key=key, hosts=hosts)
    problems.install(app)
    for module in (
        photos,
        sheets,
        pulls,
        judging,
        exports,
        editions,
        edition_files,
        recipes,
        shapes,
        catalogue,
        hand,
        fonts,
        pots,
        store,
        unreadable,
    ):
        app.include_router(module.router)
    _serve_page(app)
    _describe_live(app)
    return app


def _describe_live(app: FastAPI) -> None:
    # OpenAPI has no word for a WebSocket; its messages are described so that types can be made.
    plain = app.openapi

    def described() -> dict[str, Any]:
        document = plain()
        for model in (Problem, views.Ask, views.View, views.Answer, views.Placing):
            schema = model.model_json_schema(ref_template="#/components/schemas/{model}")
            parts = {**schema.pop("$defs", {}), model.__name__: schema}
            for name, part in parts.items():
                document["components"]["schemas"].setdefault(name, part)
        for operations in document["paths"].values():
            for operation in operations.values():
                operation["responses"].pop("422", None)
        for name in NOT_OURS:
            document["components"]["schemas"].pop(name, None)
        return document

    app.openapi = described  # type: ignore[method-assign]


def _serve_page(app: FastAPI) -> None:
    if (PAGE / "assets").is_dir():
        app.mount("/assets", _Files(directory=PAGE / "assets"), name="assets")

    if (PAGE / "guide").is_dir():
        app.mount("/guide", _Files(directory=PAGE / "guide", html=True), name="guide")

    @app.get("/", include_in_schema=False)
    @app.get("/editions/{rest:path}", include_in_schema=False)
    @app.get("/recipes", include_in_schema=False)
    @app.get("/photos/{rest:path}", include_in_schema=False)
    @app.get("/sheets/{rest:path}", include_in_schema=False)
    def page(rest: str = "") -> FileResponse:
        if not (PAGE / "index.html").is_file():
            return problems.problem(503, NO_PAGE)  # type: ignore[return-value]
        return FileResponse(PAGE / "index.html", headers={"Cache-Control": ASKED_AFTER})


class _Files(StaticFiles):
    """Files of a folder: browsers keep those whose names change with what is in them, and ask
    whether the others are still the same, as they are not after an update.
    """

    def file_response(self, full_path: Any, *args: Any, **named: Any) -> Response:
        response = super().file_response(full_path, *args, **named)
        is_named_so = NAMED_BY_CONTENT.search(str(full_path))
        response.headers["Cache-Control"] = FOR_EVER if is_named_so else ASKED_AFTER
        return response
