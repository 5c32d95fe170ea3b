"""Every operation keeps to the schema that is served, whatever is asked of it."""

import json
from pathlib import Path

import pytest
import schemathesis
from hypothesis import HealthCheck, Phase, given, settings
from hypothesis import strategies as st
from schemathesis import checks as kept

from tests.charts import png, ramp
from tests.server.apps import ready_app

DOCUMENT = Path(__file__).parents[2] / "docs" / "openapi.json"
HEADERS = {"host": "localhost"}
# Each with so many requests, the same in every run.
ASKED = settings(
    max_examples=10,
    derandomize=True,
    deadline=None,
    phases=[Phase.explicit, Phase.generate],
    suppress_health_check=list(HealthCheck),
    database=None,
)


@pytest.fixture(scope="module")
def app(tmp_path_factory):
    """The application with a photo and a sheet, so that not all there is to find is nothing."""
    from fastapi.testclient import TestClient

    app = ready_app(tmp_path_factory.mktemp("data"))
    with TestClient(app, base_url="http://localhost") as client:
        photo = client.post("/api/photos", files={"file": ("r.png", png(ramp()))}).json()["id"]
        client.post("/api/sheets", json={"photo": photo, "recipe": "threshold"})
        client.post("/api/sheets/1/pulls", json={"name": "First"})
        app.state.photo = photo
        yield app


def already_begun(app):
    """The same application for one more who would begin and end it."""

    async def called(scope, receive, send):
        if scope["type"] != "lifespan":
            await app(scope, receive, send)
            return
        for moment in ("startup", "shutdown"):
            await receive()
            await send({"type": f"lifespan.{moment}.complete"})

    return called


def operations():
    """Names of all operations, from the document that is kept, checked to be as it is served."""
    paths = json.loads(DOCUMENT.read_text())["paths"]
    return [(method.upper(), path) for path, methods in paths.items() for method in methods]


@pytest.fixture(scope="module")
def schema(app):
    return schemathesis.openapi.from_asgi("/api/openapi.json", already_begun(app), headers=HEADERS)


@pytest.mark.parametrize("method, path", operations())
def test_an_operation_keeps_to_the_schema(app, schema, method, path):
    operation = schema[path][method]

    there = {"sheet_id": 1, "pull_id": 1, "job_id": 1, "photo_id": app.state.photo, "ref": "pencil"}

    @ASKED
    @given(case=operation.as_strategy(), is_there=st.booleans())
    def asked(case, is_there):
        if is_there:
            # Of what is there, so that not only its absence is answered.
            known = {name: there[name] for name in case.path_parameters or {} if name in there}
            case.path_parameters = {**(case.path_parameters or {}), **known}
            if isinstance(case.body, dict):
                own = {"photo": app.state.photo, "recipe": "threshold", "sheet_id": 1}
                case.body = {name: own.get(name, value) for name, value in case.body.items()}
        answer = case.call(headers=HEADERS, timeout=150)
        case.validate_response(
            answer,
            checks=[
                kept.not_a_server_error,
                kept.status_code_conformance,
                kept.content_type_conformance,
                kept.response_schema_conformance,
            ],
        )

    asked()
