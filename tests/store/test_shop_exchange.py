"""A shop as a document: taken away whole, brought in whole or not at all."""

import copy
import io
import json
from collections.abc import Callable, Iterator
from datetime import datetime
from pathlib import Path
from typing import Any

import jsonschema
import peewee
import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from jentrik.core.errors import DocumentError
from jentrik.exchange.job_document import shown_document
from jentrik.exchange.shop_format import LISTS
from jentrik.exchange.shop_schema import json_schema
from jentrik.store import documents, machines
from jentrik.store.database import FILE_NAME, close_database, open_database
from jentrik.store.models import TABLES
from jentrik.store.shop_export import Wanted, export
from jentrik.store.shop_import import Report, import_shop
from tests.conftest import A_MONDAY

WHOLE = Wanted()
LATER = datetime(2026, 12, 1, 9, 0)


@pytest.fixture(name="whole")
def _whole(demo: Path) -> Any:
    """Return the demo shop as a document."""
    database = open_database(demo)
    document = exported(demo)
    close_database(database)
    return document


@pytest.fixture(name="empty")
def _empty(tmp_path: Path) -> Iterator[tuple[peewee.SqliteDatabase, Path]]:
    folder = tmp_path / "other"
    database = open_database(folder)
    yield database, folder
    close_database(database)


def exported(folder: Path, wanted: Wanted = WHOLE) -> Any:
    return json.loads("".join(export(folder, wanted, now=A_MONDAY)))


def bring(there: tuple[peewee.SqliteDatabase, Path], document: Any, **how: Any) -> Report:
    raw = document if isinstance(document, bytes) else json.dumps(document).encode()
    return import_shop(there[0], there[1], io.BytesIO(raw), now=LATER, **how)


def test_every_table_of_the_shop_is_in_the_document_or_left_out_with_a_reason() -> None:
    listed = {one.table for one in LISTS}
    assert {model._meta.table_name for model in TABLES} - listed == {"change"}  # undo's journal
    for one in LISTS:
        model = next(model for model in TABLES if model._meta.table_name == one.table)
        columns = {field.column_name for field in model._meta.sorted_fields} - {"id", "name_key"}
        columns -= {"secret"}  # of a passphrase, which does not leave the shop
        assert {column.kept for column in one.columns} == columns, one.name


def test_a_document_holds_to_its_schema(whole: dict[str, Any]) -> None:
    schema = json_schema()
    jsonschema.Draft202012Validator.check_schema(schema)
    jsonschema.validate(whole, schema)
    assert len(whole["machines"]) == 11
    whole["machines"][0]["kind"] = "boat"
    with pytest.raises(jsonschema.ValidationError):
        jsonschema.validate(whole, schema)


def test_a_shop_moves_into_an_empty_one_and_is_equal(
    whole: dict[str, Any], empty: tuple[peewee.SqliteDatabase, Path]
) -> None:
    report = bring(empty, whole)
    assert report.added["machines"] == 11
    assert (report.changed.total(), report.left.total()) == (0, 0)
    assert exported(empty[1]) == whole
    again = bring(empty, whole)
    assert (again.added.total(), again.changed.total()) == (0, 0)
    assert again.left.total() == report.added.total()
    sealed = {line["job"]: line for line in whole["job_documents"]}  # the newest of each
    assert len(sealed) > 5
    for job, line in sealed.items():  # a done job came over as it was, word for word
        number = int(job.partition("-")[2])
        there = shown_document(documents.document(number).values, "done")
        assert there == shown_document(line["document"], "done")


def test_two_shops_become_one_and_each_line_keeps_its_name(
    whole: dict[str, Any], empty: tuple[peewee.SqliteDatabase, Path]
) -> None:
    bring(empty, whole)
    other = renamed(whole, "0badcafe")
    report = bring(empty, other)
    assert report.added.total() == sum(len(other[one.name]) for one in LISTS if one.name in other)
    assert bring(empty, other).added.total() == 0
    both = exported(empty[1])
    assert len(both["machines"]) == 22
    assert [line for line in both["machines"] if line["id"].startswith("0badcafe")] == (
        other["machines"]
    )
    for name in ("measurements", "wheels", "inspections"):  # with the numbers of their tires
        own = [line for line in both[name] if line["id"].startswith(whole["shop"])]
        assert own == whole[name]
    tags = [line["tag"] for line in both["jobs"]]
    assert len(set(tags)) == len(tags)
    assert machines.sheet(12).name.endswith("of the other shop")
    third = open_database(empty[1] / "third")  # both move on together, tires numbered apart
    bring((third, empty[1] / "third"), both)
    assert exported(empty[1] / "third") == both
    close_database(third)


def renamed(whole: dict[str, Any], mark: str) -> Any:
    """Return the document as another shop of the same machines would write it."""
    other = json.loads(json.dumps(whole).replace(whole["shop"], mark))
    for line in other["machines"]:
        line["name"] += " of the other shop"
    other["policies"], other["templates"] = [], []
    return other


def test_what_differs_is_changed_and_what_is_sealed_here_stays(
    whole: dict[str, Any], empty: tuple[peewee.SqliteDatabase, Path]
) -> None:
    bring(empty, whole)
    other = copy.deepcopy(whole)
    other["machines"][2]["owner"] = "A neighbour"
    other["job_documents"][0]["document"]["wanted"] = "otherwise"
    sealed = {line["job"] for line in other["job_documents"]}
    step = next(line for line in other["proposals"] if line["job"] in sealed)
    step["changes"] = {"lower_cup_mm": 99.0}
    report = bring(empty, other)
    assert report.changed == {"machines": 1}
    assert report.sealed == {"job_documents": 1, "proposals": 1}
    now = exported(empty[1])
    assert now["machines"][2]["owner"] == "A neighbour"
    assert now["job_documents"] == whole["job_documents"]
    assert now["proposals"] == whole["proposals"]


def test_a_dry_run_says_what_would_change_and_changes_nothing(
    whole: dict[str, Any], empty: tuple[peewee.SqliteDatabase, Path]
) -> None:
    before = everything(empty)
    report = bring(empty, whole, dry_run=True)
    assert report.added["machines"] == 11
    assert everything(empty) == before


def everything(there: tuple[peewee.SqliteDatabase, Path]) -> list[Any]:
    names = [
        row[0]
        for row in there[0].execute_sql(
            "SELECT name FROM sqlite_master WHERE type = 'table' AND name NOT LIKE '%_words%'"
        )
    ]
    return [(name, there[0].execute_sql(f"SELECT * FROM {name}").fetchall()) for name in names]


def test_chosen_machines_come_with_what_is_of_them_and_nothing_else(
    demo: Path, whole: dict[str, Any], empty: tuple[peewee.SqliteDatabase, Path]
) -> None:
    database = open_database(demo)
    part = exported(demo, Wanted(machines=(10,)))
    close_database(database)
    assert [line["name"] for line in part["machines"]] == [machines_named(whole, 10)]
    assert "shelf_tires" not in part
    assert len(part["wheels"]) >= 4
    machine = part["machines"][0]["id"]
    assert {line["machine"] for line in part["measurements"]} == {machine}
    open_again = open_database(empty[1])
    report = bring((open_again, empty[1]), part)
    assert report.added["machines"] == 1
    close_database(open_again)


def machines_named(whole: dict[str, Any], number: int) -> Any:
    return next(one["name"] for one in whole["machines"] if one["id"].endswith(f"-{number}"))


Spoil = Callable[[dict[str, Any]], Any]


def put(path: str, value: Any) -> Spoil:
    def spoil(document: dict[str, Any]) -> Any:
        *parents, leaf = [int(one) if one.isdigit() else one for one in path.split(".")]
        branch: Any = document
        for parent in parents:
            branch = branch[parent]
        branch[leaf] = value
        return document

    return spoil


def without(path: str) -> Spoil:
    def spoil(document: dict[str, Any]) -> Any:
        *parents, leaf = [int(one) if one.isdigit() else one for one in path.split(".")]
        branch: Any = document
        for parent in parents:
            branch = branch[parent]
        del branch[leaf]
        return document

    return spoil


def raw_of(change: Callable[[bytes], bytes]) -> Spoil:
    return lambda document: change(json.dumps(document).encode())


@pytest.mark.parametrize(
    ("spoil", "said"),
    [
        (put("format", "another"), "no jentrik-shop document"),
        (put("version", 2), "version 2"),
        (put("version", True), "version True"),
        (put("shop", "SHOP"), "which shop"),
        (put("boats", []), "no list"),
        (put("machines", {}), "is no list"),
        (put("machines.3", []), "machines[3] is no object"),
        (put("machines.0.kind", "boat"), "machines[0].kind is not one of"),
        (put("machines.0.colour", "red"), "“colour”"),
        (without("machines.0.owner"), "machines[0] has no “owner”"),
        (put("machines.1.id", "7"), "machines[1] has no id"),
        (put("jobs.0.due_on", "tomorrow"), "jobs[0].due_on is not a day"),
        (put("jobs.0.machine", "0badcafe-1"), "0badcafe-1"),
        (put("jobs.0.tag", 1.5), "jobs[0].tag is not a whole number"),
        (put("measurements.0.readings", ["x"]), "measurements[0].readings"),
        (put("measurements.0.value", 1e300), "measurements[0].value"),
        (put("clearances.0.gap_mm", None), "clearances[0].gap_mm"),
        (put("rides.0.scores", []), "rides[0].scores"),
        (put("card_steps.0.plan", "Do it | sing: loud"), "card_steps[0].plan: Line 1 has"),
        (put("order_entries.0.value", "x"), "order_entries[0].value:"),
        (put("wheels.0.price", "abc"), "wheels[0].price:"),
        (put("shelf_tires.0.pieces", -1), "shelf_tires[0].pieces:"),
        (put("odometers.0.km", -1), "odometers[0].km:"),
        (put("shelf_tires.0.code", "zzz"), "shelf_tires[0].code:"),
        (put("job_documents.0.document", {}), "job_documents[0].document:"),
        (put("machines.0.note", "half \ud83d"), "half of a character"),
        (put("machines.0.name", "a\0b"), "machines[0].name"),
        (put("machines.0.name", "x" * 100_000), "machines[0].name has 100000 characters"),
        (put("machines.0.name", "Sly\u202etourer"), "U+202E"),
        (put("odometers.0.swapped", 1), "odometers[0].swapped"),
        (put("odometers.0.km", True), "odometers[0].km"),
        (put("inspections.0.signs", ["zzz"]), "inspections[0].signs"),
        (put("card_steps.0.torque_nm", 1e9), "card_steps[0].torque_nm"),
        (raw_of(lambda raw: raw.replace(b'"tag": ', b'"tag": ' + b"1" * 4301, 1)), "digits"),
        (raw_of(lambda raw: raw.replace(b'"km": ', b'"km": ' + b"9" * 100_000, 1)), "digits"),
        (put("photo_files", {"../../etc/passwd": "AAAA"}), "no photo"),
        (put("photo_files", {f"{'a' * 32}.jpg": "AAAA"}), "its mark does not hold"),
        (put("photo_files", {f"{'a' * 32}.jpg": "*"}), "cannot be read"),
        (raw_of(lambda raw: raw[: len(raw) // 2]), "cut off"),
        (raw_of(lambda raw: raw + b"{}"), "cannot be read|follows"),
        (raw_of(lambda raw: b"\xff\xfe" + raw), "cannot be read"),
        (raw_of(lambda raw: raw.decode().encode("utf-16")), "cannot be read"),
        (raw_of(lambda raw: b'{"a":' * 1_000_000), "nested deeper|cut off"),
        (raw_of(lambda raw: b"[" * 1_000_000), "nested deeper"),
        (raw_of(lambda raw: raw.replace(b'"jobs"', b'"machines"', 1)), "stands twice"),
        (raw_of(lambda raw: b""), "cut off"),
        (raw_of(lambda raw: b"[]"), "no object"),
    ],
)  # fmt: skip
def test_a_document_that_is_none_is_refused_with_the_place_and_changes_nothing(
    whole: dict[str, Any], empty: tuple[peewee.SqliteDatabase, Path], spoil: Spoil, said: str
) -> None:
    before = everything(empty)
    with pytest.raises(DocumentError) as refused:
        bring(empty, spoil(copy.deepcopy(whole)))
    assert any(one in refused.value.message for one in said.split("|")), refused.value.message
    assert everything(empty) == before


def test_a_line_twice_and_a_taken_name_are_refused(
    whole: dict[str, Any], empty: tuple[peewee.SqliteDatabase, Path]
) -> None:
    twice = copy.deepcopy(whole)
    twice["machines"].append(twice["machines"][0])
    with pytest.raises(DocumentError, match="id of a line before"):
        bring(empty, twice)
    bring(empty, whole)
    other = renamed(whole, "0badcafe")
    other["machines"][0]["name"] = whole["machines"][1]["name"].upper()
    with pytest.raises(DocumentError, match="another machine here has that name"):
        bring(empty, other)
    assert exported(empty[1]) == whole


def test_lists_in_another_order_are_read_too(
    whole: dict[str, Any], empty: tuple[peewee.SqliteDatabase, Path]
) -> None:
    turned = {key: whole[key] for key in sorted(whole, reverse=True)}
    bring(empty, turned)
    assert exported(empty[1]) == whole


@settings(max_examples=6, deadline=None, suppress_health_check=list(HealthCheck))
@given(choice=st.randoms(use_true_random=False))
def test_whatever_the_shop_becomes_it_moves_whole(
    whole: dict[str, Any], tmp_path_factory: pytest.TempPathFactory, choice: Any
) -> None:
    """Lines are changed and taken out at random; what then is a shop moves and is equal."""
    other = copy.deepcopy(whole)
    for _ in range(choice.randint(1, 6)):
        listing = other[choice.choice(("machines", "shelf_tires", "odometers", "points"))]
        line = choice.choice(listing)
        for key in ("name", "owner", "note"):
            if key in line and choice.random() < 0.5:
                line[key] = f"Näve „{choice.random()}” \u2009mm <&>"
    folder = tmp_path_factory.mktemp("moved")
    database = open_database(folder)
    try:
        bring((database, folder), other)
        assert exported(folder) == other
    finally:
        close_database(database)
    assert (folder / FILE_NAME).is_file()
