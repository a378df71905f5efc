"""Where on a job's bench somebody stands: the part of the address after the question mark."""

from collections.abc import Mapping
from dataclasses import dataclass, replace
from typing import Any
from urllib.parse import quote_plus

from jentrik.core.suspension import State

STATIONS = ("read", "measure", "propose", "check", "fit", "ride")
MAGNIFICATIONS = (1, 3, 6)
STATES = tuple(state.value for state in State)


@dataclass(frozen=True, slots=True)
class Address:
    """Station, proposal, view, magnification, state; anything else in an address is not ours.

    Without a state, the one the sheet was measured in.
    """

    path: str
    station: str = "propose"
    proposal: str = ""
    view: str = "stand"
    magnify: int = 1
    state: str = ""

    @classmethod
    def of(cls, path: str, query: Mapping[str, str]) -> "Address":
        """Return the address of a request; what it does not name, or names wrongly, is usual."""
        station, magnify = query.get("station", ""), query.get("magnify", "")
        return cls(
            path=path,
            station=station if station in STATIONS else "propose",
            proposal=query.get("proposal", "")[:8],
            view="road" if query.get("view") == "road" else "stand",
            magnify=int(magnify) if magnify in ("3", "6") else 1,
            state=query.get("state", "") if query.get("state") in STATES else "",
        )

    def at(self, path: str | None = None, **changes: Any) -> str:
        """Return this address with some of it changed, usual parts left out."""
        there = replace(self, path=path or self.path, **changes)
        parts = {
            "station": there.station if there.station != "propose" else "",
            "proposal": there.proposal,
            "view": there.view if there.view != "stand" else "",
            "magnify": str(there.magnify) if there.magnify != 1 else "",
            "state": there.state,
        }
        query = "&".join(f"{name}={quote_plus(value)}" for name, value in parts.items() if value)
        return f"{there.path}?{query}" if query else there.path
