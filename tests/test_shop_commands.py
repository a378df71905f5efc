"""The commands over the API, against a shop that is served on a socket."""

import json
from collections.abc import Iterator
from pathlib import Path

import pytest

from jentrik.cli import main
from jentrik.store.access_keys import Purpose, make_key
from jentrik.web.app import create_app
from jentrik.web.server.served import served
from tests.conftest import A_MONDAY


@pytest.fixture(name="address", scope="module")
def _address(tmp_path_factory: pytest.TempPathFactory) -> Iterator[str]:
    app = create_app(tmp_path_factory.mktemp("shop"), now=lambda: A_MONDAY)
    key = make_key(app.state.shop.database, "Shell", Purpose.PROGRAM, at=A_MONDAY, by="")
    with served(app) as address, pytest.MonkeyPatch.context() as patch:
        patch.setenv("JENTRIK_URL", address)
        patch.setenv("JENTRIK_KEY", key)
        yield address


def said(capsys: pytest.CaptureFixture[str], *words: str) -> str:
    assert main(words) == 0
    return capsys.readouterr().out


def test_a_job_is_started_listed_and_shown(
    address: str, capsys: pytest.CaptureFixture[str]
) -> None:
    assert said(capsys, "jobs") == "No job.\n"
    made = json.loads(said(capsys, "job", "new", "Quay hopper", "--tire", "37-622", "--json"))
    assert said(capsys, "job", "show", str(made["id"])).startswith("Tag 1, Quay hopper")
    assert "tag 1    Quay hopper" in said(capsys, "jobs", "--find", "quay")
    assert "Quay hopper: 37-622 / 37-622" in said(capsys, "machines")


def test_a_tire_is_put_on_the_shelf(address: str, capsys: pytest.CaptureFixture[str]) -> None:
    assert "42-622, made 08/2024" in said(capsys, "shelf", "add", "42-622 DOT 0824")
    assert "42-622, made 08/2024" in said(capsys, "shelf")


def test_a_refusal_of_the_shop_is_one_sentence_and_2(
    address: str, capsys: pytest.CaptureFixture[str]
) -> None:
    assert main(["job", "new", "New", "--tire", "rubbish"]) == 2
    out, err = capsys.readouterr()
    assert (out, err.count("\n")) == ("", 1)
    assert err.startswith("front_tire: A size starts with a tire code")
    assert main(["shelf", "add", "rubbish", "--json"]) == 2
    assert json.loads(capsys.readouterr().out)["error"]["position"] == 0
    assert main(["jobs", "--key", "none of ours"]) == 2
    assert "not one of this shop's" in capsys.readouterr().err


@pytest.mark.parametrize("url", ["http://127.0.0.1:1", "file:///etc/passwd", "shop"])
def test_where_no_shop_answers_the_command_says_so(
    url: str, capsys: pytest.CaptureFixture[str]
) -> None:
    assert main(["jobs", "--url", url]) == 2
    assert "No shop answers" in (said := capsys.readouterr().err) or "no address" in said


def test_a_shell_completes_the_commands(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    script = said(capsys, "completion", "bash")
    assert all(word in script for word in ("jobs", "shelf", "export", "--dry-run"))
