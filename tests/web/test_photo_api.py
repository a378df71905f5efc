"""Marks on a photograph as a command and over HTTP: one answer, one refusal."""

import json
from pathlib import Path

import pytest
from fastapi.testclient import TestClient

from jentrik.cli import main
from tests.core.photo.pictures import document
from tests.core.photo.test_photo import TOURER


def test_the_command_and_the_api_say_the_same(
    tmp_path: Path, capsys: pytest.CaptureFixture[str], client: TestClient
) -> None:
    file = tmp_path / "marks.json"
    file.write_text(json.dumps(document(TOURER)))
    assert main(["photo", str(file), "--json"]) == 0
    said = json.loads(capsys.readouterr().out)
    assert client.post("/api/photo", content=file.read_bytes()).json() == said
    assert main(["photo", str(file)]) == 0
    assert "wheelbase_mm 104" in capsys.readouterr().out


def test_a_refusal_names_its_path_in_both(
    tmp_path: Path, capsys: pytest.CaptureFixture[str], client: TestClient
) -> None:
    values = document(TOURER)
    values["wheels"]["front"]["edge_px"] = values["wheels"]["front"]["edge_px"][:4]
    file = tmp_path / "marks.json"
    file.write_text(json.dumps(values))
    assert main(["photo", str(file), "--json"]) == 2
    error = json.loads(capsys.readouterr().out)
    answer = client.post("/api/photo", content=file.read_bytes())
    assert (answer.status_code, answer.json()) == (422, error)
    assert error["error"]["field"] == "wheels.front.edge_px"
    for wrong in (b"{", b'{"format": "other"}', b"[]"):
        assert client.post("/api/photo", content=wrong).status_code == 422
    values["wheels"]["front"]["edges"] = []
    unknown = client.post("/api/photo", content=json.dumps(values).encode())
    assert unknown.json()["error"]["field"] == "wheels.front.edges"
