"""What tests share: a clock that stands still, and a demo shop of their own."""

import os
import shutil
from collections.abc import Iterator
from datetime import datetime
from pathlib import Path

import pytest
from hypothesis import HealthCheck, settings

from jentrik.demo.harbour import fill
from jentrik.store.database import FILE_NAME, close_database, open_database
from jentrik.web.app import create_app
from jentrik.web.shop import Shop

A_MONDAY = datetime(2026, 11, 23, 9, 0)

settings.register_profile(  # a busy machine is slow, not wrong
    "usual",
    max_examples=int(os.environ.get("JENTRIK_EXAMPLES", "200")),
    deadline=None,
    suppress_health_check=[HealthCheck.too_slow],
)
settings.load_profile("usual")


@pytest.fixture(name="filled", scope="session")
def _filled(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """Return the file of a demo shop, filled once: every test works on its own copy."""
    folder = tmp_path_factory.mktemp("demo")
    database = open_database(folder)
    fill(database, folder, now=A_MONDAY)
    close_database(database)
    return folder / FILE_NAME


@pytest.fixture(name="demo")
def _demo(filled: Path, tmp_path: Path) -> Path:
    """Return the folder of a demo shop of the test's own."""
    shutil.copyfile(filled, tmp_path / FILE_NAME)
    shutil.copytree(filled.parent / "photos", tmp_path / "photos")
    return tmp_path


@pytest.fixture(name="shop")
def _shop(demo: Path) -> Iterator[Shop]:
    """Return a demo shop on a database of its own, on a Monday."""
    app = create_app(demo, demo=True, now=lambda: A_MONDAY)
    yield app.state.shop
    app.state.shop.database.close()
