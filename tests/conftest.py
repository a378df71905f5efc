"""What tests share: a clock that stands still, and a demo shop of their own."""

import os
from datetime import datetime

import pytest
from hypothesis import settings

from jentrik.web.app import create_app

A_MONDAY = datetime(2026, 11, 23, 9, 0)

settings.register_profile("usual", max_examples=int(os.environ.get("JENTRIK_EXAMPLES", "200")))
settings.load_profile("usual")


@pytest.fixture(name="shop")
def _shop(tmp_path):
    """Return a demo shop on a fresh database, on a Monday."""
    app = create_app(tmp_path, demo=True, now=lambda: A_MONDAY)
    yield app.state.shop
    app.state.shop.database.close()
