"""The shop's gauges: how each lies in its drawer, and what a reading does to it."""

from jentrik.devices.simulated import TOOL, TOOLS, Simulated
from jentrik.store import journal, models
from jentrik.store.rows import first_row, rows


def gauges() -> list[Simulated]:
    """Return every gauge as it lies in its drawer."""
    kept = {row["tool"]: row for row in rows("SELECT * FROM gauge")}
    drawer = []
    for tool in TOOLS:
        row = kept.get(tool.id)
        if row is None:
            drawer.append(Simulated(tool, zero_error=tool.usual_zero_error))
        else:
            drawer.append(
                Simulated(tool, bool(row["switched_on"]), row["zero_error"], row["battery_percent"])
            )
    return drawer


def gauge(tool_id: str) -> Simulated:
    """Return one gauge."""
    return next(one for one in gauges() if one.tool is TOOL[tool_id])


def put_back(taken: journal.Step, used: Simulated) -> None:
    """Keep within a step how a gauge is left."""
    known = first_row("SELECT id FROM gauge WHERE tool = ?", used.tool.id)
    fields = {
        "switched_on": used.on,
        "zero_error": used.zero_error,
        "battery_percent": used.battery_percent,
    }
    if known is None:
        taken.insert(models.GaugeTable, tool=used.tool.id, **fields)
    else:
        taken.update(models.GaugeTable, known["id"], **fields)
