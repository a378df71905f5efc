"""What page tests share: the demo shop as an application, and a client that holds its token."""

import re
import shutil
from collections.abc import Iterator
from pathlib import Path

import pytest
from fastapi.applications import FastAPI
from fastapi.testclient import TestClient

from jentrik.web.app import create_app
from jentrik.web.security.guard import TOKEN_HEADER
from tests.conftest import A_MONDAY
from tests.web.conforming import described, must_conform


@pytest.fixture(name="app")
def _app(demo: Path) -> FastAPI:
    described()
    return create_app(demo, demo=True, now=lambda: A_MONDAY)


@pytest.fixture(name="client")
def _client(app: FastAPI) -> Iterator[TestClient]:
    with TestClient(app, base_url="http://127.0.0.1:8765") as client:
        client.event_hooks["response"].append(must_conform)
        yield with_token(client)


@pytest.fixture(name="only_read", scope="module")
def _only_read(filled: Path, tmp_path_factory: pytest.TempPathFactory) -> Iterator[TestClient]:
    """Return a client on one demo shop for a whole module, for tests that write nothing."""
    folder = tmp_path_factory.mktemp("read") / "demo"
    shutil.copytree(filled.parent, folder)
    app = create_app(folder, demo=True, now=lambda: A_MONDAY)
    with TestClient(app, base_url="http://127.0.0.1:8765") as client:
        yield client


def with_token(client: TestClient) -> TestClient:
    """Return the client with the token of a page of ours."""
    page = client.get("/rules").text
    client.headers[TOKEN_HEADER] = re.search(f'{TOKEN_HEADER}": "([^"]+)"', page).group(1)
    return client
