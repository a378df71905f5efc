"""A job's tag opens on a phone where the shop serves its network, and only there."""

from pathlib import Path

import pytest
from fastapi.testclient import TestClient

from jentrik.web.app import create_app
from jentrik.web.drawing.qr import qr_code
from jentrik.web.security import network
from tests.conftest import A_MONDAY

WORDS = "low tide at noon"


def test_on_this_machine_alone_the_code_holds_the_tag(client: TestClient) -> None:
    assert str(qr_code("tag 21", "Opens tag 21 on a phone")) in client.get("/jobs/5/card").text


@pytest.mark.parametrize(
    ("asked", "written"),
    [
        ("http://192.168.7.4:8765", "http://192.168.7.4:8765/jobs/5"),
        ("http://127.0.0.1:8765", "http://192.168.7.9:8765/jobs/5"),  # its own address there
    ],
)
def test_behind_a_passphrase_the_tag_carries_the_jobs_address(
    demo: Path, monkeypatch: pytest.MonkeyPatch, asked: str, written: str
) -> None:
    monkeypatch.setattr(network, "_own_address", lambda: "192.168.7.9")
    app = create_app(demo, demo=True, now=lambda: A_MONDAY, passphrase=WORDS)
    with TestClient(app, base_url=asked) as client:
        page = client.get("/jobs/5/card", auth=("shop", WORDS)).text
    assert qr_code(written, "Opens tag 21 on a phone") in page
