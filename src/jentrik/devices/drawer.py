"""The tools of a shop: real ones as `gauges.json` in its folder says, stand-ins for the rest.

    {"tools": [{"driver": "serial text", "name": "Bench calipers", "quantity": "short length",
                "device": "/dev/ttyUSB0", "plus_minus": 0.03}]}

A driver of another maker is a package with an entry point in the group `jentrik.gauges`: its name
is what stands under "driver", and it is called with the rest of the entry.
"""

import json
from collections.abc import Callable, Mapping
from importlib.metadata import entry_points
from pathlib import Path
from typing import Any

from jentrik.core.errors import DocumentError
from jentrik.devices import serial_text
from jentrik.devices.port import Gauge, GaugeQuantity

FILE_NAME, GROUP, LARGEST_BYTES = "gauges.json", "jentrik.gauges", 100_000
Maker = Callable[[Mapping[str, Any]], Gauge]
_OURS: dict[str, Maker] = {"serial text": serial_text.from_settings}


def real_tools(folder: Path) -> dict[GaugeQuantity, Gauge]:
    """Return the real tools of a shop by what they measure; refuses a file that cannot be read."""
    file = folder / FILE_NAME
    if not file.is_file():
        return {}
    try:
        with file.open(encoding="utf-8") as text:
            entries = json.loads(text.read(LARGEST_BYTES))["tools"]
        given = [dict(entry) for entry in entries]
    except (ValueError, KeyError, TypeError, OSError) as error:
        raise DocumentError(
            f"{FILE_NAME} cannot be read: {error}.",
            field=FILE_NAME,
            expected='{"tools": [{"driver": "serial text", …}]}',
        ) from None
    tools = [_made(str(one.pop("driver", "")), one) for one in given]
    return {tool.quantity: tool for tool in tools}


def _made(driver: str, settings: Mapping[str, Any]) -> Gauge:
    maker = _OURS.get(driver)
    if maker is None:
        found = next(iter(entry_points(group=GROUP, name=driver)), None)
        if found is None:
            raise DocumentError(
                f"There is no driver “{driver[:40]}”: install its package.",
                field=FILE_NAME,
                expected=", ".join(_OURS),
            )
        maker = found.load()
    return maker(settings)
