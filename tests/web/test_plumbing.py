"""What programs ask of a server: tags that hold, figures, a log, its settings."""

import json
import logging
import re
import subprocess
import sys
from pathlib import Path

import pytest
from fastapi.testclient import TestClient

from jentrik.cli import parser
from jentrik.cli.settings import DATA, SERVED, SERVING
from jentrik.web.app import create_app
from jentrik.web.server.noted import AsJson

INSTALL = Path(__file__).parents[2] / "docs" / "install.md"


def test_what_is_read_already_is_not_sent_again(client: TestClient) -> None:
    plain = {"Accept-Encoding": "identity"}
    tag = client.get("/api/jobs/1", headers=plain).headers["etag"]
    packed = client.get("/api/jobs/1", headers={"Accept-Encoding": "gzip"})
    assert packed.headers["etag"] == f"W/{tag}"  # other bytes
    for named in (tag, f"W/{tag}", f'"other", {tag}', "*"):
        again = client.get("/api/jobs/1", headers={"If-None-Match": named})
        assert (again.status_code, again.content) == (304, b""), named
    assert client.head("/api/jobs/1", headers={"If-None-Match": tag}).status_code == 304
    assert client.get("/api/jobs/1", headers={"If-None-Match": '"other"'}).status_code == 200
    changed = client.patch("/api/jobs/1", json={"wanted": "x"}, headers={"If-Match": f"W/{tag}"})
    assert changed.status_code == 200
    assert client.get("/api/jobs/1", headers={"If-None-Match": tag}).status_code == 200


def test_icon_and_robots_are_there_without_a_passphrase(tmp_path: Path) -> None:
    app = create_app(tmp_path, passphrase="low tide at noon")
    with TestClient(app, base_url="http://127.0.0.1") as shop:
        assert shop.get("/favicon.ico").content.startswith(b"\x89PNG")
        assert "Disallow: /" in shop.get("/robots.txt").text
        assert shop.get("/metrics").status_code == 401


def test_figures_of_the_server_are_opted_for(tmp_path: Path, client: TestClient) -> None:
    assert client.get("/metrics").status_code == 404
    app = create_app(tmp_path, demo=True, metrics=True)
    with TestClient(app, base_url="http://127.0.0.1") as shop:
        shop.get("/jobs")
        text = shop.get("/metrics").text
    figures = dict(re.findall(r"^(jentrik_[^ ]+) ([\d.]+)$", text, re.M))
    assert len(figures) == len([one for one in text.splitlines() if not one.startswith("#")])
    assert float(figures["jentrik_machines"]) == 11
    assert figures['jentrik_requests_total{method="GET",status="200"}'] == "1"


def test_a_request_is_one_line_and_never_its_query(
    client: TestClient, caplog: pytest.LogCaptureFixture
) -> None:
    caplog.set_level(logging.INFO, "jentrik.access")
    client.get("/logbook/due.ics?key=secret")
    (record,) = [one for one in caplog.records if one.name == "jentrik.access"]
    said = json.loads(AsJson().format(record))
    assert (said["method"], said["path"], said["status"]) == ("GET", "/logbook/due.ics", 401)
    assert "secret" not in AsJson().format(record)


def test_every_setting_is_said_by_the_environment_and_in_the_table(
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    rows = re.findall(
        r"^\| `?(--[a-z-]+)?`? *\| `?(JENTRIK_\w+)?`? *\| `?(.*?)`? *\|",
        INSTALL.read_text("utf-8"),
        re.M,
    )
    known = {(one.option, one.variable, one.usual) for one in (DATA, *SERVING, *SERVED)}
    assert {tuple(row) for row in rows if any(row)} >= known
    for name, value in {"PORT": "9001", "LOG": "json", "METRICS": "yes", "DATA": "quay"}.items():
        monkeypatch.setenv(f"JENTRIK_{name}", value)
    said = parser().parse_args(["serve", "--log", "lines"])
    assert (said.port, said.log, said.metrics, said.data) == (9001, "lines", True, Path("quay"))


def test_output_that_is_full_or_closed_ends_in_a_sentence(demo: Path, tmp_path: Path) -> None:
    jentrik = f"{sys.executable} -m jentrik"
    for command, said in (
        (f"{jentrik} read 37-622 --json > /dev/full", "The output has no room left.\n"),
        (f"{jentrik} export - --data {demo} | true; exit ${{PIPESTATUS[0]}}", "was closed before"),
        (f"{jentrik} export /dev/full --data {demo}", "the disk is full"),
    ):
        done = subprocess.run(
            ["/bin/bash", "-c", command], capture_output=True, text=True, check=False
        )
        assert done.returncode == 2, (command, done)
        assert said in done.stderr
        assert "Traceback" not in done.stderr
    there = tmp_path / "there"
    piped = f"{jentrik} export - --data {demo} | {jentrik} import - --data {there}"
    for how, made in ((" --dry-run", False), ("", True)):
        done = subprocess.run(
            ["/bin/bash", "-c", piped + how], capture_output=True, text=True, check=False
        )
        assert "added" in done.stdout, done
        assert there.exists() is made
