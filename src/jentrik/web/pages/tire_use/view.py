"""Tires of one size for a machine's use, as columns: what each says, gives and gives away."""

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from datetime import date
from decimal import Decimal

from jentrik.core.amounts import bare
from jentrik.core.errors import Refusal
from jentrik.core.machine.declared import ENDS, About, End
from jentrik.core.machine.fields import FIELD_BY_KEY, missing_of
from jentrik.core.machine.machine_of import machine_of
from jentrik.core.machine.sheet import Sheet
from jentrik.core.plan.plan import as_measured, outcome_of
from jentrik.core.rules.joined import headlines
from jentrik.core.tire.sidewall import known_code
from jentrik.core.work.cost import HOURS_A_WHEEL
from jentrik.core.work.policy import Policy
from jentrik.core.work.shelf import ShelfTire
from jentrik.core.work.tire_use import AspectRow, Conditions, TireForUse, TireUse, tires_for
from jentrik.exchange.plan_document import read_proposal
from jentrik.web.figures import plain
from jentrik.web.live.undoing import UndoView
from jentrik.web.parts.fields import NOTHING_TYPED, Complaint, Typed

MOST_TIRES = 6
_SHARES = tuple(key for key in FIELD_BY_KEY if re.fullmatch(r"riding\.\w+_percent", key))
_BOTH = (*_SHARES, "riding.km_a_year", "riding.style")
USE_KEYS = {"bicycle": (*_BOTH, "riding.speed_kmh"), "motorcycle": (*_BOTH, "top_speed_kmh")}


@dataclass(frozen=True, slots=True)
class UseRow:
    """A field of the use: what it shows, what is stored, what was refused."""

    field: About
    name: str
    value: str
    stored: str
    complaint: Complaint | None


@dataclass(frozen=True, slots=True)
class TireColumn:
    """One tire: its name, what it gives and gives away, and what the rules say of it here."""

    tire: ShelfTire
    name: str
    gives: str
    gives_away: str
    findings: list[tuple[str, str]]
    refusal: str = ""


@dataclass(frozen=True, slots=True)
class TireUseView:
    """Tires of one size beside each other for one end of a machine."""

    sheet: Sheet
    end: End
    code: str
    codes: list[tuple[str, str]]
    use: list[UseRow]
    columns: list[TireColumn]
    rows: list[AspectRow]
    left_out: int
    jobs: list[tuple[int, int]]
    undo: UndoView | None = None
    complaint: str = ""
    ends: Sequence[End] = field(default=ENDS)


def use_of(sheet: Sheet) -> TireUse:
    """Return how a machine is ridden, as its sheet says; refuses shares of more than the whole."""

    def figure(key: str) -> float | None:
        known = sheet.figures.get(key)
        return None if known is None else float(known.value)

    speed = figure("top_speed_kmh" if sheet.kind == "motorcycle" else "riding.speed_kmh")
    shares = {key.removeprefix("riding."): figure(key) or 0.0 for key in _SHARES}
    return TireUse(
        **shares,
        km_a_year=figure("riding.km_a_year"),
        speed_kmh=speed,
        style=sheet.text("riding.style") or "",
    )


def conditions_of(sheet: Sheet, end: End, policy: Policy) -> Conditions:
    """Return what a tire is judged under at one end of a machine."""
    weighed = sheet.figures.get(f"{end}.axle_load_kg")
    rate = Decimal(str(policy.money.labour_an_hour))
    return Conditions(
        None if weighed is None else float(weighed.value),
        policy.rubber.replace_at_years,
        HOURS_A_WHEEL[sheet.kind] * rate,
        policy.rubber.own_tread_mm if sheet.kind == "motorcycle" else 0.0,
    )


def sizes_to_compare(sheet: Sheet, end: End, shelf: Sequence[ShelfTire]) -> dict[str, int]:
    """Return the codes on the shelf for the rim of one end, each with how many tires it has."""
    on = sheet.text(f"{end}.tire")
    try:
        rim = known_code(on).bead_seat_diameter_mm if on else None
    except Refusal:
        rim = None
    codes: dict[str, int] = {}
    for tire in shelf:
        reading = tire.reading
        if reading.vehicle == sheet.kind and rim in (None, reading.bead_seat_diameter_mm):
            codes[tire.code] = codes.get(tire.code, 0) + 1
    return dict(sorted(codes.items(), key=lambda one: (-one[1], one[0] != on, one[0])))


def compared(
    sheet: Sheet, end: End, tires: Sequence[ShelfTire], policy: Policy, today: date
) -> tuple[list[AspectRow], list[TireForUse]]:
    """Return tires aspect by aspect for the use of a machine at one end."""
    aged = [(tire, tire.age_years(today)) for tire in tires]
    return tires_for(aged, use_of(sheet), conditions_of(sheet, end, policy))


def tire_use_view(
    sheet: Sheet,
    asked: Mapping[str, str],
    shelf: Sequence[ShelfTire],
    jobs: list[tuple[int, int]],
    policy: Policy,
    today: date,
    *,
    undo: UndoView,
    typed: Typed = NOTHING_TYPED,
) -> TireUseView:
    """Return the tires of one size on the shelf beside each other, as an address asks for them."""
    end: End = "front" if asked.get("end") == "front" else "rear"
    codes = sizes_to_compare(sheet, end, shelf)
    code = asked.get("code", "") if asked.get("code") in codes else next(iter(codes), "")
    there = [one for one in shelf if one.code == code]
    rows: list[AspectRow] = []
    found: list[TireForUse] = []
    complaint = ""
    try:
        rows, found = compared(sheet, end, there[:MOST_TIRES], policy, today)
    except Refusal as refusal:
        complaint = refusal.message
    return TireUseView(
        sheet,
        end,
        code,
        [(one, f"{one}: {count} on the shelf") for one, count in codes.items()],
        _use_rows(sheet, end, typed),
        [_column(sheet, end, one, policy, today) for one in found],
        rows,
        max(len(there) - MOST_TIRES, 0),
        jobs,
        undo,
        complaint,
    )


@dataclass(frozen=True, slots=True)
class TireTable:
    """Tires of one size at one end, beside each other in a comparison of proposals."""

    end: End
    columns: list[TireColumn]
    rows: list[AspectRow]
    chooses: bool = False


def tire_tables(
    sheet: Sheet, lines: Mapping[str, Mapping[End, ShelfTire]], policy: Policy, today: date
) -> list[TireTable]:
    """Return a table for each end at which proposals have several tires of the shelf.

    `lines` are the tires each proposal was made of, by its name.
    """
    tables = []
    for end in ENDS:
        there = {name: tires[end] for name, tires in lines.items() if end in tires}
        if len({one.id for one in there.values()}) < 2:
            continue
        rows, found = compared(sheet, end, list(there.values()), policy, today)
        columns = [
            replace(_column(sheet, end, one, policy, today), name=f"{name}: {one.tire.make}")
            for name, one in zip(there, found, strict=True)
        ]
        tables.append(TireTable(end, columns, rows))
    return tables


def _use_rows(sheet: Sheet, end: End, typed: Typed) -> list[UseRow]:
    rows = []
    for key in (*USE_KEYS[sheet.kind], f"{end}.axle_load_kg"):
        known, name = FIELD_BY_KEY[key], f"sheet:{key}"
        figure = sheet.figures.get(key)
        stored = "" if figure is None else bare(plain(figure.value), known.unit)
        value, complaint = typed.shown(name, stored)
        rows.append(UseRow(known, name, value, stored, complaint))
    return rows


def _column(sheet: Sheet, end: End, one: TireForUse, policy: Policy, today: date) -> TireColumn:
    tire = one.tire
    name = tire.make or f"tire {tire.id}"
    findings, refusal = [], ""
    if missing_of(sheet):
        refusal = "Figures of the machine are missing: no rule was asked."
    else:
        try:
            found = as_measured(machine_of(sheet), policy=policy, on=today)
            outcome = outcome_of(found, read_proposal({"name": "x", end: tire.change()}))
            findings = headlines(outcome.findings)
        except Refusal as known:
            refusal = known.message
    return TireColumn(
        tire, name, ", ".join(one.gives), ", ".join(one.gives_away), findings, refusal
    )
