"""Every error as problem details (RFC 9457)."""

import sqlite3
from http import HTTPStatus

from fastapi import FastAPI, Request
from fastapi.exceptions import RequestValidationError
from fastapi.responses import JSONResponse
from pydantic import BaseModel, ValidationError
from starlette.exceptions import HTTPException

from flinz.core.document.reading import sentence_of
from flinz.errors import (
    DocumentError,
    FlinzError,
    NotFoundError,
    NotReadyError,
    PhotoError,
    StaleError,
    Stopped,
    StoreError,
)
from flinz.store.database import MISTAKES, said

RETRY_SECONDS = 2
MAX_DETAIL, MAX_SHOWN = 1000, 200
STATUS: dict[type[FlinzError], int] = {
    PhotoError: 422,
    DocumentError: 422,
    NotFoundError: 404,
    StaleError: 409,
    StoreError: 503,
    NotReadyError: 503,
    Stopped: 503,
}


class Problem(BaseModel):
    """Problem details. detail is a sentence for the person at the screen."""

    type: str = "about:blank"
    title: str
    status: int
    detail: str


def problem(status: int, detail: str) -> JSONResponse:
    """A problem details answer. What it quotes may be of any length and any letters."""
    if len(detail) > MAX_DETAIL:
        detail = f"{detail[:MAX_DETAIL]}…"
    detail = detail.encode("utf-8", "backslashreplace").decode()
    body = Problem(title=HTTPStatus(status).phrase, status=status, detail=detail)
    return JSONResponse(
        body.model_dump(), status_code=status, media_type="application/problem+json"
    )


def install(app: FastAPI) -> None:
    """Answer every error of an application with problem details."""

    @app.exception_handler(FlinzError)
    def flinz_error(request: Request, error: FlinzError) -> JSONResponse:
        answer = problem(STATUS.get(type(error), 500), str(error))
        if isinstance(error, NotReadyError):
            # It is worth asking again, which no other refusal is.
            answer.headers["Retry-After"] = str(RETRY_SECONDS)
        return answer

    @app.exception_handler(RequestValidationError)
    def invalid_request(request: Request, error: RequestValidationError) -> JSONResponse:
        # Places are told without the part of the request that they stand in: body, query, path.
        found = [each | {"loc": each["loc"][1:] or each["loc"]} for each in error.errors()]
        return problem(422, sentence_of(ValidationError.from_exception_data("request", found)))

    @app.exception_handler(HTTPException)
    def http_error(request: Request, error: HTTPException) -> JSONResponse:
        detail = error.detail
        if error.status_code == HTTPStatus.NOT_FOUND:
            detail = f"There is nothing at {request.url.path[:MAX_SHOWN]}."
        return problem(error.status_code, detail)

    @app.exception_handler(sqlite3.DatabaseError)
    def damaged(request: Request, error: sqlite3.DatabaseError) -> JSONResponse:
        if isinstance(error, MISTAKES):
            raise error
        return problem(503, str(said(error, "The store")))

    @app.exception_handler(Exception)
    def mistake(request: Request, error: Exception) -> JSONResponse:
        return problem(500, "Flinz made a mistake here. The log says more.")
