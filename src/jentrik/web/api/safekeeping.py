"""Backups and tables for programs: what pages do with files.

GET  /api/backups/{name}            the file       POST …/verify   every file in it compared
POST /api/backups/{name}/restore    the shop becomes what it holds; not for a key
POST /api/tables                    lines of a spreadsheet, all of them or none
POST /api/shelf/lines, POST /api/log    many tires, many entries of the log, all or none
"""

from typing import TYPE_CHECKING, Annotated, Any, Literal

from fastapi import APIRouter, Query
from fastapi.responses import FileResponse
from pydantic import Field, create_model, model_validator
from starlette.responses import Response

from jentrik.core.errors import DocumentError, OutOfRange, blamed_on
from jentrik.exchange.csv_reading import matched, read_spreadsheet
from jentrik.store import backups
from jentrik.web.api import documents as documented
from jentrik.web.api.access import RunsTheShop
from jentrik.web.api.listed import KNOWN_ONLY
from jentrik.web.api.program import AProgram, fields_named, marked
from jentrik.web.api.shelf import NewTire
from jentrik.web.live.command import Body
from jentrik.web.pages.backups.route import kept_backup
from jentrik.web.pages.exchange.spreadsheet import KINDS, LinesRefusedError, bring_in
from jentrik.web.pages.logbook.commands import ENTRIES, Entry
from jentrik.web.pages.shelf.shelving import put_on_shelf
from jentrik.web.shop import Shop

router = APIRouter(prefix="/api", dependencies=[KNOWN_ONLY])
MOST_LINES, MOST_SAID = 500, 5
TableKind = Literal["machines", "tires", "pairs", "odometer"]


@router.get("/backups/{name}", tags=["shop"])
def backup_file(program: RunsTheShop, name: str) -> FileResponse:
    """Return a backup to keep elsewhere."""
    there = kept_backup(program.shop, name)
    return FileResponse(there, media_type="application/zip", filename=name)


@router.post("/backups/{name}/verify", tags=["shop"])
def verify_backup(program: AProgram, name: str) -> Response:
    """Unpack a backup aside, compare every file in it, and return what it holds."""
    shop = program.shop
    return marked(_holds(backups.verified(kept_backup(shop, name), shop.folder)))


def _holds(holds: backups.Holds) -> dict[str, Any]:
    return documented.plain_fields(holds, "schema")


@router.post("/backups/{name}/restore", tags=["shop"])
def restore_backup(
    program: RunsTheShop,
    name: str,
    dry_run: Annotated[bool, Query(description="Only say what it would bring and take")] = False,
) -> Response:
    """Make the shop what a backup holds; what it holds now is backed up first."""
    shop, there = program.shop, kept_backup(program.shop, name)
    differs = documented.plain_fields(backups.differences(there, shop.folder))
    holds = backups.verified(there, shop.folder)
    if not dry_run:
        backups.restore_serving(there, shop.folder, shop.database, now=shop.now())
    said = {"holds": _holds(holds), "differs": differs}
    return marked({"dry_run": dry_run, **said})


class Table(Body):
    """A spreadsheet as text; which column is what follows from its heads, or is said."""

    kind: TableKind = Field(examples=["tires"])
    csv: str = Field(examples=["tire,pieces,place\n37-622,4,hook 7\n"])
    columns: dict[str, Annotated[int, Field(ge=0)]] = Field(
        default_factory=dict, description="Field to column, from 0, where a head does not say it"
    )

    def carry_out(self, shop: Shop) -> int:
        """Write every line within one step and return how many; refuses them all where one is."""
        of = KINDS[self.kind]
        with fields_named({"": "csv"}):
            sheet = read_spreadsheet(self.csv.encode())
        said = set(self.columns.values())
        by_head = matched(sheet.heads, of.names())
        columns = {field: at for field, at in by_head.items() if at not in said} | self.columns
        for field, column in columns.items():
            if field not in of.names() or column >= len(sheet.heads):
                raise OutOfRange(
                    f"“{field[:30]}” is no field of such a table, or has no column.",
                    field=f"columns.{field[:30]}",
                    expected=", ".join(of.names()),
                )
        try:
            with fields_named({"": "csv"}):
                return bring_in(shop, of, sheet, columns)
        except LinesRefusedError as refused:
            lines = "; ".join(f"line {line}: {why}" for line, why in refused.refused[:MOST_SAID])
            raise DocumentError(f"{refused.message} {lines}", field="csv") from None


@router.post("/tables", tags=["tables"], status_code=201)
def bring_table(program: AProgram, body: Table) -> Response:
    """Bring the lines of a spreadsheet in; a line with an id or a key changes what it names."""
    return program.write(
        lambda: body.carry_out(program.shop),
        lambda lines: {"lines": lines},
        sent=body,
        status=201,
        now=None,
    )


class NewTires(Body):
    """Several lines for the shelf."""

    tires: list[NewTire] = Field(min_length=1, max_length=MOST_LINES)

    def carry_out(self, shop: Shop) -> list[int]:
        """Put each on the shelf and return their ids; a refusal names the one it is of."""
        ids = []
        for place, tire in enumerate(self.tires):
            with blamed_on(f"tires[{place}]"):
                ids.append(put_on_shelf(shop, tire.code, tire.received()))
        return ids


@router.post("/shelf/lines", tags=["shelf"], status_code=201)
def add_tires(program: AProgram, body: NewTires) -> Response:
    """Put several tires on the shelf, all of them or none."""
    return program.write(
        lambda: body.carry_out(program.shop),
        lambda ids: {"tires": [documented.tire_document(one) for one in ids]},
        sent=body,
        status=201,
        now=None,
    )


class OneMachine(Body):
    """The machine that an entry of the log is of."""

    machine_id: int

    @model_validator(mode="after")
    def _one_kind(self) -> "OneMachine":
        if len(self.entries()) != 1:
            raise DocumentError(
                "A line of the log holds one entry of one kind.",
                expected=f"one of {', '.join(ENTRIES)}",
            )
        return self

    def entries(self) -> list[Entry]:
        """Return what it holds."""
        kinds = (getattr(self, name) for name in ENTRIES)
        return [entry for entry in kinds if entry is not None]


if TYPE_CHECKING:
    LogLine = OneMachine
else:
    LogLine = create_model(
        "LogLine",
        __base__=OneMachine,
        __doc__="One entry of the log of one machine: exactly one of the kinds.",
        **{name: (kind | None, None) for name, kind in ENTRIES.items()},
    )


class LogLines(Body):
    """Several entries of the log, of any machines."""

    entries: list[LogLine] = Field(
        min_length=1,
        max_length=MOST_LINES,
        examples=[[{"machine_id": 1, "odometer": {"km": 12400}}]],
    )

    def carry_out(self, shop: Shop) -> None:
        """Write each entry; a refusal names the one it is of."""
        for place, line in enumerate(self.entries):
            with blamed_on(f"entries[{place}]"):
                line.entries()[0].carry_out(shop, line.machine_id)


@router.post("/log", tags=["machines"], status_code=201)
def write_log(program: AProgram, body: LogLines) -> Response:
    """Write several entries of the log, all of them or none; returns the logs they went into."""

    def answer(_: object) -> Any:
        of = dict.fromkeys(line.machine_id for line in body.entries)
        return {"logs": [{"machine_id": one, **documented.log_document(one)} for one in of]}

    return program.write(
        lambda: body.carry_out(program.shop), answer, sent=body, status=201, now=None
    )
