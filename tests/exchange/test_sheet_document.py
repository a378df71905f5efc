"""A sheet kept in a job's document: it reads back as the sheet it was."""

import json

import pytest

from jentrik.core.machine.machine_of import machine_of
from jentrik.core.machine.point_role import PointRole
from jentrik.exchange.sheet_document import sheet_document, sheet_of
from jentrik.store import machines
from jentrik.web.shop import Shop


@pytest.mark.parametrize("machine_id", [1, 4, 6, 9, 10])
def test_a_sheet_reads_back_as_it_was(shop: Shop, machine_id: int) -> None:
    sheet = machines.sheet(machine_id)
    again = sheet_of(json.loads(json.dumps(sheet_document(sheet))))
    for name in ("figures", "clearances", "points", "positions", "pairs", "turned_deg", "drawn_as"):
        assert getattr(again, name) == getattr(sheet, name), name
    assert machine_of(again) == machine_of(sheet)
    assert all(isinstance(point.role, PointRole) for point in again.points)  # not its word alone
