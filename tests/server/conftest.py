"""What tests of the server share."""

import pytest
from fastapi.testclient import TestClient

from tests.server.apps import ready_app


@pytest.fixture
def client(tmp_path):
    """The application over an empty data folder."""
    with TestClient(ready_app(tmp_path), base_url="http://localhost") as client:
        yield client
