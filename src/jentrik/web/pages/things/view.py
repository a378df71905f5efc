"""One thing of the shelf on its own page: a tire, or a wheel that is off, and where it can go."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from datetime import date

from jentrik.core.amounts import bare, km, mm
from jentrik.core.machine.kept_wheel import KeptWheel, WheelSet
from jentrik.core.tire.dates import week_in_words
from jentrik.core.work.inspection import SIGNS, Look, Result
from jentrik.core.work.policy import Policy
from jentrik.core.work.shelf import ShelfTire
from jentrik.core.work.tire_age import too_old
from jentrik.web.figures import fixed
from jentrik.web.live.undoing import UndoView
from jentrik.web.pages.things.fields import (
    FACT_FIELDS,
    TIRE_FIELDS,
    WHEEL_FIELDS,
    ThingField,
    tire_texts,
    wheel_texts,
)
from jentrik.web.pages.things.where import WhereRow, why_not
from jentrik.web.parts.fields import NOTHING_TYPED, Complaint, Typed, sums_of
from jentrik.web.parts.paging import Paging

RESULT_WEIGHT = {
    Result.KEEP: "good",
    Result.WATCH: "note",
    Result.MEND: "caution",
    Result.REPLACE: "stop",
}


@dataclass(frozen=True, slots=True)
class FieldRow:
    """A field of a thing: its name in a form, what it shows, what is stored, what was refused."""

    field: ThingField
    name: str
    value: str
    stored: str
    complaint: Complaint | None


@dataclass(frozen=True, slots=True)
class Judged:
    """What speaks for or against a thing by itself, before any machine is asked."""

    weight: str
    says: str


@dataclass(frozen=True, slots=True)
class ThingView:
    """A thing of the shelf with its fields, what it is reserved for, and where it can go."""

    kind: str  # "tire" or "wheel"
    id: int
    name: str
    says: list[str]
    judged: list[Judged]
    rows: list[FieldRow]
    facts: list[FieldRow]
    signs: list[tuple[str, bool]]
    photo: str
    pieces: int
    job_id: int | None
    jobs: list[tuple[int, str]]
    where: list[WhereRow]
    paging: Paging
    undo: UndoView
    complaints: Mapping[str, Complaint] = field(default_factory=dict)
    machine_id: int | None = None
    sets: tuple[WheelSet, ...] = ()  # those it belongs to that are not on

    @property
    def where_not(self) -> list[tuple[str, int]]:
        """What keeps it off the machines it does not go on, and off how many."""
        return why_not(row for row in self.where if not row.goes)

    @property
    def reserved(self) -> str:
        """The job it is reserved for, in words; nothing where it is free."""
        return next((words for number, words in self.jobs if number == self.job_id), "")


def tire_view(
    tire: ShelfTire,
    where: list[WhereRow],
    paging: Paging,
    jobs: list[tuple[int, str]],
    policy: Policy,
    today: date,
    *,
    undo: UndoView,
    typed: Typed = NOTHING_TYPED,
) -> ThingView:
    """Return a tire's own page."""
    texts = tire_texts(tire)
    said = [sums_of(tire.reading), f"here since {tire.added_on:%d %b %Y}"]
    if tire.week is not None:
        said.append(f"made {week_in_words(tire.week, tire.year)}")
    if tire.km is not None:
        said.append(f"ran {km(fixed(tire.km, 0))}")
    return ThingView(
        kind="tire",
        id=tire.id,
        name=tire.code,
        says=said,
        judged=judged_tire(tire, policy, today),
        rows=_rows([one for one in TIRE_FIELDS if one.asked], texts, "thing", typed),
        facts=_rows(FACT_FIELDS, texts, "fact", typed),
        signs=[(one.name, one.name in tire.signs) for one in SIGNS if Look.RECEIVING in one.looks],
        photo=tire.photo,
        pieces=tire.pieces,
        job_id=tire.job_id,
        jobs=jobs,
        where=where,
        paging=paging,
        undo=undo,
        complaints=typed.complaints(),
    )


def wheel_view(
    wheel: KeptWheel,
    where: list[WhereRow],
    paging: Paging,
    jobs: list[tuple[int, str]],
    *,
    undo: UndoView,
    sets: tuple[WheelSet, ...] = (),
    typed: Typed = NOTHING_TYPED,
) -> ThingView:
    """Return a wheel's own page, `sets` are those that go on with it."""
    return ThingView(
        sets=sets,
        kind="wheel",
        id=wheel.id,
        name=wheel.name,
        says=[wheel.says, f"for the {wheel.end}"],
        judged=[],
        rows=_rows(WHEEL_FIELDS, wheel_texts(wheel), "thing", typed),
        facts=[],
        signs=[],
        photo=wheel.photo,
        pieces=1,
        job_id=wheel.job_id,
        jobs=jobs,
        where=where,
        paging=paging,
        undo=undo,
        complaints=typed.complaints(),
        machine_id=wheel.machine_id,
    )


def judged_tire(tire: ShelfTire, policy: Policy, today: date) -> list[Judged]:
    """Return what age, tread and the look over it say of a tire by itself, the worst first."""
    found = []
    if tire.week is not None and tire.year is None:
        found.append(Judged("stop", "Made before 2000."))
    old = too_old(tire.age_years(today), policy)
    if old is not None:
        found.append(Judged("stop" if old.stops else "caution", old.says))
    look = tire.looked_over(policy)
    if look is not None:
        reasons = [reason for reason in look.reasons if reason.result is look.result]
        found.append(Judged(RESULT_WEIGHT[look.result], reasons[0].says if reasons else "Sound."))
    tread, limit = tire.tread_mm, policy.rubber.own_tread_mm
    if tread is not None and tread <= limit and tire.reading.vehicle == "motorcycle":
        found.append(Judged("caution", f"Tread {mm(tread)}: the shop's limit is {mm(limit)}."))
    order = ("stop", "caution", "note", "good")
    return sorted(found, key=lambda one: order.index(one.weight))


def _rows(
    fields: Sequence[ThingField], texts: Mapping[str, str], kind: str, typed: Typed
) -> list[FieldRow]:
    rows = []
    for one in fields:
        name = f"{kind}:{one.name}"
        stored = bare(texts[one.name], one.unit)
        value, complaint = typed.shown(name, stored)
        rows.append(FieldRow(one, name, value, stored, complaint))
    return rows
