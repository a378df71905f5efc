"""The command line by its contract: what it prints, and how it ends."""

import json
from pathlib import Path

import pytest

from jentrik.bench import BenchFigure
from jentrik.cli import main
from jentrik.store.files import held_alone
from tests.documents import plan, raw


def test_read_prints_the_reading(capsys: pytest.CaptureFixture[str]) -> None:
    assert main(["read", "130/80 ZR 18 M/C (66W) TL"]) == 0
    assert "bead seat 457 mm" in capsys.readouterr().out


def test_read_as_json_has_every_key_of_the_contract(capsys: pytest.CaptureFixture[str]) -> None:
    assert main(["read", "130/80 ZR 18 M/C (66W) TL", "--json"]) == 0
    reading = json.loads(capsys.readouterr().out)
    assert reading["circumference_mm"] == pytest.approx(2089.2, abs=0.1)
    assert reading["tokens"][0].items() >= {"start": 0, "end": 3, "text": "130"}.items()
    assert reading["alternatives"] == []
    assert set(reading) >= {
        "text",
        "family",
        "vehicle",
        "width_mm",
        "aspect_percent",
        "construction",
        "rim_code",
        "bead_seat_diameter_mm",
        "section_height_mm",
        "overall_diameter_mm",
        "load_index",
        "load_kg",
        "speed_symbol",
        "speed_kmh",
        "tube",
        "position",
        "markings",
        "notes",
    }


def test_a_refused_code_ends_with_2_and_one_sentence(capsys: pytest.CaptureFixture[str]) -> None:
    assert main(["read", "37-623"]) == 2
    out, err = capsys.readouterr()
    assert out == ""
    assert err.count("\n") == 1
    assert main(["read", "37-623", "--json"]) == 2
    error = json.loads(capsys.readouterr().out)["error"]
    assert (error["position"], error["suggestions"][0]) == (3, "37-622")


def test_vehicle_settles_a_doubt(capsys: pytest.CaptureFixture[str]) -> None:
    assert main(["read", "165/60R16", "--vehicle", "motorcycle", "--json"]) == 0
    assert json.loads(capsys.readouterr().out)["vehicle"] == "motorcycle"


def test_an_age_is_counted_only_to_a_stated_day(capsys: pytest.CaptureFixture[str]) -> None:
    assert main(["read", "DOT AB12 CDE 1523", "--json", "--on", "2026-04-10"]) == 0
    reading = json.loads(capsys.readouterr().out)
    assert (reading["family"], reading["week"], reading["year"]) == ("date", 15, 2023)
    assert reading["age_years"] == pytest.approx(1097 / 365.2425)  # from Sunday 9 April 2023
    assert main(["read", "5298", "--json"]) == 0
    future = json.loads(capsys.readouterr().out)
    assert "age_years" not in future
    assert "future" in future["notes"][0]


def test_a_lone_service_pair_and_a_whole_sidewall(capsys: pytest.CaptureFixture[str]) -> None:
    assert main(["read", "54H", "--json"]) == 0
    assert json.loads(capsys.readouterr().out)["family"] == "service"
    text = "37-622\nDOT AB 1523\n3.5-6 BAR\nharbourgrip"
    assert main(["read", text, "--json"]) == 0
    reading = json.loads(capsys.readouterr().out)
    assert reading["also"][0]["family"] == "date"
    assert reading["max_pressure_kpa"] == 600
    assert [word["text"] for word in reading["unread"]] == ["harbourgrip"]
    assert main(["read", text]) == 0
    assert "week 15 of 2023" in capsys.readouterr().out


def test_plan_computes_a_file(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    file = tmp_path / "plan.json"
    file.write_bytes(raw(plan({"rear": {"tire": "47-584"}})))
    assert main(["plan", str(file), "--json"]) == 0
    answer = json.loads(capsys.readouterr().out)
    assert [proposal["name"] for proposal in answer["proposals"]] == ["A"]
    assert main(["plan", str(file)]) == 0
    assert "head angle" in capsys.readouterr().out


@pytest.mark.parametrize("content", [None, b"{", raw(plan(wheelbase_mm=1))])
def test_a_refused_plan_ends_with_2_and_no_traceback(
    tmp_path: Path, capsys: pytest.CaptureFixture[str], content: bytes | None
) -> None:
    file = tmp_path / "plan.json"
    if content is not None:
        file.write_bytes(content)
    assert main(["plan", str(file)]) == 2
    err = capsys.readouterr().err
    assert err.count("\n") == 1
    assert "Traceback" not in err


def test_serving_others_demands_a_passphrase(
    tmp_path: Path, capsys: pytest.CaptureFixture[str], monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.delenv("JENTRIK_PASSPHRASE", raising=False)
    assert main(["serve", "--host", "0.0.0.0", "--data", str(tmp_path)]) == 2
    assert "JENTRIK_PASSPHRASE" in capsys.readouterr().err


def test_a_bench_figure_says_whether_it_holds() -> None:
    assert BenchFigure("x", 3.0, 4, "lower").as_document()["ok"] is True
    assert BenchFigure("x", 3.0, 4, "higher").line().endswith("short")


@pytest.mark.parametrize("command", ["read", "plan", "serve", "bench"])
def test_every_command_has_help(command: str, capsys: pytest.CaptureFixture[str]) -> None:
    with pytest.raises(SystemExit) as ended:
        main([command, "--help"])
    assert ended.value.code == 0
    assert command in capsys.readouterr().out


def test_backup_and_restore_of_a_folder(
    demo: Path, tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    file, new = tmp_path / "out" / "shop.zip", tmp_path / "new"
    assert main(["backup", str(file), "--data", str(demo)]) == 2
    assert "no folder" in capsys.readouterr().err
    file.parent.mkdir()
    assert main(["backup", str(file), "--data", str(demo)]) == 0
    assert "11 machines" in capsys.readouterr().out
    assert main(["restore", str(file), "--data", str(new)]) == 0
    assert main(["restore", str(file), "--data", str(new)]) == 2
    assert "--replace" in capsys.readouterr().err
    assert main(["restore", str(file), "--data", str(new), "--replace"]) == 0
    assert "lies in" in capsys.readouterr().out
    with held_alone(new):
        assert main(["backup", str(tmp_path / "b.zip"), "--data", str(new)]) == 0  # while served
        assert main(["restore", str(file), "--data", str(new), "--replace"]) == 2
    assert main(["backup", str(file), "--data", str(tmp_path / "none")]) == 2
    assert main(["restore", str(tmp_path / "none"), "--data", str(new)]) == 2
    assert "no file" in capsys.readouterr().err
