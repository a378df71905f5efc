"""Tables for a spreadsheet.

GET  /api/tables/{name}.csv             a list of the shop: jobs, machines, shelf, log, wear
GET  /api/jobs/{id}/tables/{name}.csv   of a job: ledger, findings, order
"""

from typing import Annotated

from fastapi import APIRouter, Query
from fastapi.responses import Response

from jentrik.core.errors import StoreError
from jentrik.exchange.csv_table import CsvTable, Decimals, as_csv
from jentrik.web.pages.tables.lists import LISTS, OF_JOB
from jentrik.web.shop import AShop

router = APIRouter(prefix="/api", tags=["tables"])
Sign = Annotated[Decimals, Query(description="The decimal sign; with a comma ; parts the columns")]

Mark = Annotated[bool, Query(description="Whether a byte-order mark begins the file")]


@router.get("/tables/{name}.csv", name="list_table")
def list_table(name: str, shop: AShop, decimals: Sign = "point", bom: Mark = False) -> Response:
    """Return a list of the shop as CSV, units in the headings."""
    if name not in LISTS:
        raise StoreError(f"There is no table “{name[:40]}”.", expected=", ".join(LISTS))
    return _file(LISTS[name](shop), decimals, marked=bom)


@router.get("/jobs/{job_id}/tables/{name}.csv", name="job_table")
def job_table(
    job_id: int, name: str, shop: AShop, decimals: Sign = "point", bom: Mark = False
) -> Response:
    """Return what a job comes to as CSV: ledger, findings or order list."""
    if name not in OF_JOB:
        raise StoreError(f"There is no table “{name[:40]}”.", expected=", ".join(OF_JOB))
    return _file(OF_JOB[name](shop, job_id), decimals, marked=bom)


def _file(table: CsvTable, decimals: Decimals, *, marked: bool) -> Response:
    return Response(
        as_csv(table, decimals, marked=marked),
        media_type="text/csv; charset=utf-8",
        headers={"Content-Disposition": f'attachment; filename="{table.name}.csv"'},
    )
