"""The programs shown in the documentation work, against a shop that is served."""

import csv
import io
import json
import subprocess
import sys
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest
from fastapi import FastAPI
from fastapi.testclient import TestClient

from jentrik.web.server.served import served

PROGRAMS = Path(__file__).parents[2] / "docs" / "programs"


@pytest.fixture(name="address")
def _address(app: FastAPI) -> Iterator[str]:
    with served(app) as address:
        yield address


def run(name: str, address: str, folder: Path, *given: str) -> str:
    done = subprocess.run(
        [sys.executable, str(PROGRAMS / f"{name}.py"), *given],
        capture_output=True,
        text=True,
        check=False,
        cwd=folder,
        env={"JENTRIK_URL": address},
    )
    assert done.returncode == 0, done.stderr
    return done.stdout


def test_each_program_is_as_short_as_it_was_promised() -> None:
    for file in PROGRAMS.glob("*.py"):
        lines = file.read_text("utf-8").splitlines()
        code = [one for one in lines if one.strip() and not one.strip().startswith("#")]
        assert len(code) <= 60, (file.name, len(code))


def test_a_booking_opens_its_job_once(address: str, client: TestClient, tmp_path: Path) -> None:
    booking = {"id": 41, "customer": "Ada Fairlead", "phone": "555 0100", "machine": "Booked"}
    more = {"tire": "37-622", "wanted": "wider tires", "day": "2026-12-03"}
    (tmp_path / "b.json").write_text(json.dumps([booking | more]), "utf-8")
    for _ in range(2):
        said = run("booking", address, tmp_path, "b.json")
    (job,) = client.get("/api/jobs?external_id=booking 41").json()["jobs"]
    assert said == f"Ada Fairlead: tag {job['tag']}, promised for 2026-12-03\n"
    assert (job["wanted"], job["owner"]) == ("wider tires", "Ada Fairlead")


def test_stock_says_what_arrived_and_follows_on(
    address: str, client: TestClient, tmp_path: Path
) -> None:
    (tmp_path / "a.csv").write_text("part,place\nfront tire 47-584,hook 9\n", "utf-8")
    assert "front tire 47-584 lies at hook 9" in run("stock", address, tmp_path, "a.csv")
    entries = client.get("/api/jobs/1/order").json()["entries"]
    assert entries["place:front tire 47-584"] == "hook 9"
    (tmp_path / "a.csv").write_text("part,place\n", "utf-8")
    after = int((tmp_path / "stock.next").read_text())
    client.patch("/api/jobs/1", json={"wanted": "calmer"})
    while "wanted" not in (said := run("stock", address, tmp_path, "a.csv")):
        assert said, "what happened is not listed"
    assert int((tmp_path / "stock.next").read_text()) > after


def test_accounts_take_the_lines_of_what_was_agreed(
    address: str, client: TestClient, tmp_path: Path
) -> None:
    agreed: dict[str, Any] = {"proposal": "A", "by": "Ada Fairlead", "how": "here"}
    answers = {job: client.post(f"/api/jobs/{job}/agreed", json=agreed) for job in range(1, 12)}
    those = [job for job, answer in answers.items() if answer.status_code == 201]
    assert those, "no demo job can be agreed to"
    lines = list(csv.DictReader(io.StringIO(run("accounts", address, tmp_path, "2026-11-01"))))
    expected = [
        line
        for job in those
        for line in client.get(f"/api/jobs/{job}/offer?proposal=A").json()["lines"]
    ]
    assert sorted(one["key"] for one in lines) == sorted(one["key"] for one in expected)
    assert {one["currency"] for one in lines} == {"EUR"}
