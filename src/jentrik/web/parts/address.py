"""Where on a job's bench someone stands: the part of the address after the question mark."""

from collections.abc import Mapping
from dataclasses import dataclass
from functools import lru_cache
from typing import Any
from urllib.parse import quote_plus

from jentrik.core.machine.fields import FIELD_BY_KEY
from jentrik.core.machine.suspension import State
from jentrik.core.plan.proposal_fields import GROUPS

LONGEST_NAME = 40  # of a proposal
STATIONS = ("read", "measure", "propose", "check", "fit", "ride")
MAGNIFICATIONS = (1, 3, 6)
STATES = tuple(state.value for state in State)


@dataclass(frozen=True, slots=True)
class Address:
    """Station, proposal, view, magnification, state, open group of further changes, setups to
    compare.

    Anything else in an address is not ours.  Without a state, the one the sheet was measured in.
    """

    path: str
    station: str = "propose"
    proposal: str = ""
    view: str = "stand"
    magnify: int = 1
    state: str = ""
    more: str = ""
    field: str = ""  # the figure of the sheet that is open to be measured
    made_of: str = ""  # "yes" where what a proposal can be made of is open
    before: str = ""  # setups to compare, by id
    after: str = ""

    @classmethod
    def of(cls, path: str, query: Mapping[str, str]) -> "Address":
        """Return the address of a request; what it does not name, or names wrongly, is usual."""
        station, magnify = query.get("station", ""), query.get("magnify", "")
        return cls(
            path=path,
            station=station if station in STATIONS else "propose",
            proposal=query.get("proposal", "")[:LONGEST_NAME],
            view="road" if query.get("view") == "road" else "stand",
            magnify=int(magnify) if magnify in ("3", "6") else 1,
            state=query.get("state", "") if query.get("state") in STATES else "",
            more=query.get("more", "") if query.get("more") in GROUPS else "",
            field=query.get("field", "") if query.get("field") in FIELD_BY_KEY else "",
            made_of="yes" if query.get("made_of") == "yes" else "",
            before=query.get("before", "")[:8],
            after=query.get("after", "")[:8],
        )

    def at(self, path: str | None = None, **changes: Any) -> str:
        """Return this address with some of it changed, usual parts left out."""
        return _made(self, path or self.path, *changes.items())


@lru_cache(maxsize=4096)  # a redraw asks for the same two dozen again
def _made(there: Address, path: str, *changes: tuple[str, Any]) -> str:
    changed, parts = dict(changes), []
    for name, usual in _USUAL.items():
        value = changed.get(name, getattr(there, name))
        if value != usual:
            parts.append(f"{name}={quote_plus(str(value))}")
    return f"{path}?{'&'.join(parts)}" if parts else path


_USUAL = {
    "station": "propose",
    "proposal": "",
    "view": "stand",
    "magnify": 1,
    "state": "",
    "more": "",
    "field": "",
    "made_of": "",
    "before": "",
    "after": "",
}


@dataclass(frozen=True, slots=True)
class Link:
    """Somewhere to go from here."""

    label: str
    href: str
    current: bool = False
    hint: str = ""
    short: str = ""  # the hint where there is no room for it
