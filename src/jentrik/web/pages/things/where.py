"""Where a wheel or a tire can go: over the machines of the shop, by the same rules as a plan."""

from collections import Counter
from collections.abc import Callable, Iterable
from dataclasses import dataclass
from datetime import date
from typing import Any

from jentrik.core.errors import Refusal
from jentrik.core.machine.declared import ENDS, End
from jentrik.core.machine.fields import missing_of
from jentrik.core.machine.kept_wheel import KeptWheel, with_wheel
from jentrik.core.machine.machine_of import machine_of
from jentrik.core.machine.sheet import Sheet
from jentrik.core.plan.cures import cures_of, together
from jentrik.core.plan.plan import Outcome, PlanResult, as_measured, outcome_of
from jentrik.core.plan.proposed_setup import changes_to
from jentrik.core.rules.case import Severity
from jentrik.core.rules.joined import NO_FINDING, of_severity
from jentrik.core.work.policy import Policy
from jentrik.core.work.shelf import ShelfTire
from jentrik.exchange.plan_document import read_proposal

Changes = Callable[[Sheet, End], dict[str, Any] | None]


@dataclass(frozen=True, slots=True)
class EndVerdict:
    """What is said of one end of a machine: its heaviest finding, and how many weigh as much.

    `cure` is what it takes where it does not go as the machine stands, but would.
    """

    end: End
    severity: str  # "stop", "caution", "note", "holds" or "" where nothing can be said
    says: str
    others: int = 0
    cure: str = ""

    @property
    def weight(self) -> int:
        """How far it is from going: as it is, with a cure, not known, not at all."""
        return 2 if self.cure else _WEIGHT[self.severity]


@dataclass(frozen=True, slots=True)
class WhereRow:
    """One machine with its ends."""

    machine_id: int
    machine: str
    kind: str
    owner: str
    ends: list[EndVerdict]

    @property
    def goes(self) -> bool:
        """Whether it goes at an end, as the machine stands or after a cure, or may."""
        return any(one.weight < _WEIGHT["stop"] for one in self.ends)


def of_tire(tire: ShelfTire) -> Changes:
    """Return what a tire changes at either end of any machine."""

    def changes(_: Sheet, end: End) -> dict[str, Any]:
        return {end: tire.change()}

    return changes


def of_wheel(wheel: KeptWheel) -> Changes:
    """Return what a wheel changes at the end it is made for; nothing where it is on already."""

    def changes(sheet: Sheet, end: End) -> dict[str, Any] | None:
        if end != wheel.end or sheet.setup is None:
            return None
        parts = sheet.setup.parts
        planned = with_wheel(parts, end, wheel, on=sheet.setup.since)
        return changes_to(parts, planned, turned_deg=sheet.turned_deg)

    return changes


def where_rows(
    sheets: Iterable[Sheet], changes: Changes, policy: Policy, today: date
) -> list[WhereRow]:
    """Return machines with what the rules say of each end, those it can go on first."""
    rows = [
        WhereRow(
            sheet.id,
            sheet.name,
            sheet.kind,
            sheet.owner,
            [
                one
                for end in ENDS
                if (one := _verdict(sheet, end, changes, policy, today)) is not None
            ],
        )
        for sheet in sheets
    ]
    return sorted(rows, key=lambda row: min((one.weight for one in row.ends), default=9))


def why_not(rows: Iterable[WhereRow]) -> list[tuple[str, int]]:
    """Return what keeps a thing off machines where it does not go, the commonest first."""
    return Counter(row.ends[0].says if row.ends else OTHER_MACHINE for row in rows).most_common()


OTHER_MACHINE = "made for another machine"
_WEIGHT = {"holds": 0, "note": 0, "caution": 1, "": 3, "stop": 4}


def _verdict(
    sheet: Sheet, end: End, changes: Changes, policy: Policy, today: date
) -> EndVerdict | None:
    if missing_of(sheet):
        return EndVerdict(end, "", "figures of the machine are missing")
    try:
        asked = changes(sheet, end)
        if asked is None:
            return None
        if not asked:
            return EndVerdict(end, "holds", "as it is now")
        found = as_measured(machine_of(sheet), policy=policy, on=today)
        outcome = outcome_of(found, read_proposal({"name": "x", **asked}))
    except Refusal as refusal:
        return EndVerdict(end, "", refusal.message)
    return _said(end, found, outcome)


def _said(end: End, found_so: PlanResult, outcome: Outcome) -> EndVerdict:
    """Return the heaviest finding, in page order, how many weigh as much, and what cures it."""
    for severity in Severity:
        found = of_severity(outcome.findings, severity)
        if found:
            cure = _cure(found_so, outcome) if severity is Severity.STOP else ""
            return EndVerdict(end, severity.value, found[0].headline, len(found) - 1, cure)
    return EndVerdict(end, "holds", NO_FINDING)


def _cure(found: PlanResult, outcome: Outcome) -> str:
    """Return what lets the same tire go: one cure of each stop, all of them together."""
    cured = together(found, outcome, cures_of(found, outcome, same_tires=True))
    return "" if cured is None else " and ".join(dict.fromkeys(one.says for one in cured[0]))
