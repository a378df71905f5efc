"""After fitting: what to measure again, what the plan said, and where they disagree."""

from collections.abc import Mapping
from dataclasses import dataclass

from jentrik.core.amounts import Amount
from jentrik.core.machine.sheet import Sheet
from jentrik.core.plan.plan import Outcome, PlanResult
from jentrik.core.plan.uncertainty import tells
from jentrik.core.work.after_fitting import Expectation, expectations
from jentrik.store.after_fitting import Measured
from jentrik.web.figures import between, fixed, plain
from jentrik.web.parts.fields import NOTHING_TYPED, Complaint, Typed


@dataclass(frozen=True, slots=True)
class MeasuredRow:
    """One figure: predicted, measured, the difference, and whether they agree."""

    key: str
    label: str
    unit: str
    predicted: str
    plus_minus: str
    value: str
    difference: str
    agrees: bool | None
    complaint: Complaint | None

    @property
    def name(self) -> str:
        """The field's name."""
        return f"measured:{self.key}"


@dataclass(frozen=True, slots=True)
class AfterFittingView:
    """The fitted machine against the plan."""

    rows: list[MeasuredRow]
    disagree: list[str]
    taken: int


def after_fitting_view(
    sheet: Sheet,
    found: PlanResult,
    outcome: Outcome,
    kept: Mapping[str, Measured],
    typed: Typed = NOTHING_TYPED,
) -> AfterFittingView:
    """Return the figures to measure after a job's proposal was carried out."""
    rows, disagree = [], []
    asked = expectations(found, outcome, tells(sheet, found, outcome.proposal))
    known = {one.key for one in asked}
    asked += tuple(one.expected for key, one in kept.items() if key not in known)
    for one in asked:
        measured = kept.get(one.key)
        # What was measured stays beside what was expected then, whatever the sheet says now.
        row = _row(
            measured.expected if measured else one,
            None if measured is None else measured.measured,
            typed,
        )
        rows.append(row)
        if row.agrees is False:
            disagree.append(f"{row.label}: {Amount(row.difference, row.unit)}")
    return AfterFittingView(rows, disagree, len(kept))


def _row(one: Expectation, measured: float | None, typed: Typed) -> MeasuredRow:
    digits = 1 if one.unit in ("°", "mm") else 0
    stored = "" if measured is None else plain(measured)
    value, complaint = typed.shown(f"measured:{one.key}", stored)
    return MeasuredRow(
        key=one.key,
        label=one.label,
        unit=one.unit,
        predicted=fixed(one.predicted, digits),
        plus_minus=fixed(one.plus_minus, digits),
        value=value,
        difference="" if measured is None else between(one.predicted, measured, digits),
        agrees=None if measured is None else one.agrees(measured),
        complaint=complaint,
    )


def measured_rows(kept: Mapping[str, Measured]) -> list[MeasuredRow]:
    """Return what was measured after a job whose work stands on the sheet already."""
    return [_row(one.expected, one.measured, NOTHING_TYPED) for one in kept.values()]


def disagreements(kept: Mapping[str, Measured]) -> list[str]:
    """Return where a job's machine, measured after fitting, disagrees with its plan."""
    return [
        f"{row.label} {Amount(row.value, row.unit)}, planned {Amount(row.predicted, row.unit)}"
        for row in measured_rows(kept)
        if row.agrees is False
    ]
