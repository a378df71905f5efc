"""Answers typed on a page: each field read and judged against the whole machine.

A field's name says what it answers: ``sheet:wheelbase_mm`` a figure of the machine,
``from:wheelbase_mm`` where it came from, ``assume:seat_angle_deg`` the usual one until then,
``proposal:front.tire`` a proposal's change, ``place:7:gap_mm`` a measured gap, ``point:3:x_mm`` a
named point, ``position:2:y_mm`` a rear position, ``pair:1:front_tire`` a pair of tires on the
maker's sheet, ``machine:name`` and ``job:wanted`` words.
The writes come back, each of the one figure that was answered; what is refused asks for none.
"""

from collections.abc import Callable, Mapping
from copy import deepcopy
from dataclasses import dataclass, field, replace
from datetime import date
from functools import partial
from typing import Any

from jentrik.core.amounts import bare, in_words, kept_unit
from jentrik.core.days import read_day, read_time
from jentrik.core.errors import OutOfRange, StoreError
from jentrik.core.machine.assumed import assumption
from jentrik.core.machine.catalogue import check_key
from jentrik.core.machine.consistency import completed
from jentrik.core.machine.declared import About, Part
from jentrik.core.machine.fields import FIELD_BY_KEY, STRAIGHT_FORK, missing_of
from jentrik.core.machine.figure import Figure, Provenance
from jentrik.core.machine.machine import length_along_axis
from jentrik.core.machine.machine_of import machine_of
from jentrik.core.machine.setup import part_of
from jentrik.core.machine.sheet import BUILDS, DrawnAs, Sheet, range_of
from jentrik.core.plan.plan import as_measured, outcome_of
from jentrik.core.plan.proposal_fields import (
    PROPOSAL_FIELD,
    change_name,
    proposed_offset,
    proposed_value,
)
from jentrik.core.text import external_key
from jentrik.core.tire.sidewall import known_code
from jentrik.core.work.job import Job, KeptProposal
from jentrik.core.work.policy import DEFAULT_POLICY, Policy
from jentrik.exchange.plan_document import read_kept
from jentrik.store import jobs, machines
from jentrik.store.journal import Step
from jentrik.store.people import listed_name
from jentrik.web.figures import as_typed, plain
from jentrik.web.live.fields import Write, how_said
from jentrik.web.live.sheet_rows import LINES, column_value, with_id
from jentrik.web.live.typed_values import LONGEST_NAME, checked_name, figure_value, held, words
from jentrik.web.parts.verdict import Known

LONGEST_NOTE = 400
KEPT_PROVENANCES = tuple(p.value for p in Provenance if p is not Provenance.COMPUTED)


KINDS = ("sheet", "from", "assume", "proposal", *LINES, "machine", "job")


@dataclass(slots=True)
class Answers:
    """Reads the answers about a machine, and from a bench about its job and one proposal.

    The sheet, the proposal and the job are as the answers taken so far leave them; `known` is what
    the proposal came to when it was checked, so that the page need not work it out again.
    """

    sheet: Sheet
    today: date
    proposal: KeptProposal | None = None
    job: Job | None = None
    policy: Policy = DEFAULT_POLICY
    known: Known | None = None
    follows: bool = False  # whether an answer lets another set-up follow the sealed one
    asks: bool = False  # whether another figure of a sealed part must say why it is another
    writes: list[Write] = field(default_factory=list)

    @property
    def subject(self) -> str:
        """What a change made here is of."""
        return f"machine {self.sheet.id}" if self.job is None else f"job {self.job.id}"

    def read(self, name: str, text: str) -> list[Write]:
        """Return the writes one answer asks for; none where nothing changes."""
        kind, _, rest = name.partition(":")
        readers: dict[str, Callable[[str, str, date], None]] = {
            "sheet": self._sheet_figure,
            "from": self._provenance,
            "assume": self._assume,
            "proposal": self._proposal_change,
            **{name: partial(self._line, name) for name in LINES},
            "machine": self._machine,
            "job": self._job,
        }
        if self.job is not None and self.job.sealed and kind != "job":
            raise StoreError(
                "This job was fitted: what was found and proposed stays as it was. Measure on "
                "the machine's own sheet.",
                expected="the machine's sheet, or a correction",
            )
        if kind in readers:
            readers[kind](rest, " ".join(text.split()), self.today)
        writes, self.writes = self.writes, []
        return writes

    def stored(self, name: str) -> str | None:
        """Return the text a page shows in a field now; None where there is no such field."""
        kind, _, rest = name.partition(":")
        if kind in LINES:
            row, _, column = rest.partition(":")
            lines = getattr(self.sheet, LINES[kind].attribute)
            line = next((one for one in lines if str(one.id) == row), None)
            return _shown(getattr(line, column, None)) if line else None
        figure = self.sheet.figures.get(rest)
        if kind == "sheet":
            return "" if figure is None else as_typed(figure)
        if kind == "from":
            return None if figure is None else figure.provenance.value
        if kind == "proposal" and self.proposal is not None:
            value = proposed_value(self.sheet, self.proposal.changes, rest)
            return None if isinstance(value, dict) else _shown(value)
        if kind == "machine":
            return {
                "name": self.sheet.name,
                "owner": self.sheet.owner,
                "phone": self.sheet.phone,
                "note": self.sheet.note,
                "external_id": self.sheet.external_id,
                "drawn_as": self.sheet.drawn_as.value,
            }.get(rest)
        if kind == "job" and self.job is not None:
            return {
                "wanted": self.job.wanted,
                "due_on": _shown(self.job.due_on),
                "promised_time": self.job.promised_time,
                "whose": self.job.whose,
                "external_id": self.job.external_id,
            }.get(rest)
        return None

    def confirm(self, name: str) -> list[Write]:
        """Return the write that makes an assumed figure, typed as it stands, a measured one."""
        kind, _, key = name.partition(":")
        old = self.sheet.figures.get(key) if kind == "sheet" else None
        assumed = old is not None and old.provenance is Provenance.ASSUMED
        if not assumed or (self.job and self.job.sealed):
            return []
        return self.read(f"from:{key}", _typed_source(key).value)

    def unit(self, name: str) -> str:
        """Return the unit a field's figure is kept in; "" where it has none, or is a name."""
        kind, _, rest = name.partition(":")
        holds: object = ""
        if kind in LINES:
            holds = LINES[kind].columns.get(rest.partition(":")[2], "")
        elif kind == "sheet" and rest in FIELD_BY_KEY:
            holds = FIELD_BY_KEY[rest].unit
        elif kind == "proposal" and rest in PROPOSAL_FIELD:
            holds = PROPOSAL_FIELD[rest].unit
        return kept_unit(rest, holds) if isinstance(holds, str) else ""

    def _write(self, label: str, act: Callable[[Step], object], *, of_job: bool = False) -> None:
        scope = {"machine_id": self.sheet.id}
        if of_job and self.job is not None:
            scope = {"job_id": self.job.id}
        self.writes.append(Write(label, act, scope))

    def _use(self, sheet: Sheet) -> None:
        """Go on with a changed sheet, if such a machine can stand."""
        sheet = completed(sheet)
        if not missing_of(sheet):
            as_measured(machine_of(sheet))
        self.sheet = sheet

    def _sheet_figure(self, key: str, typed: str, today: date) -> None:
        known = FIELD_BY_KEY.get(key)
        if known is None or self.sheet.kind not in known.kinds:
            raise StoreError(f"“{key[:40]}” is not a figure of this sheet.")
        old = self.sheet.figures.get(key)
        typed, how = how_said(typed)
        if typed == ("" if old is None else as_typed(old)):
            return
        if not typed:
            self._clear(known)
            return
        value, plus_minus, readings = figure_value(known, typed)
        if isinstance(value, float):
            check_key(key, value)
        provenance = _typed_source(key)
        if old is not None and old.provenance is Provenance.MAKER:
            provenance = Provenance.MAKER
        figure = Figure(value, provenance, today, plus_minus, readings)
        figures: dict[str, Figure | None] = {key: figure, **_fork_beside(self.sheet, key, figure)}
        corrected = how == "corrected"
        if not corrected:
            self._note_following(key, old, figure)
        there = {**self.sheet.figures, **figures}
        stand = {name: one for name, one in there.items() if one is not None}
        self._use(replace(self.sheet, figures=stand))
        self._ask_how(known, old, figure, typed, how)
        before = f"{bare(plain(old.value), known.unit)} → " if old else ""
        now = bare(typed, known.unit) if typed[-1:].isdigit() else typed
        self._write(
            f"{known.label.lower()} {before}{now}{' corrected' if corrected else ''}",
            lambda step: _set_all(step, self.sheet.id, figures, corrected=corrected),
        )

    def _ask_how(self, known: About, old: Figure | None, new: Figure, typed: str, how: str) -> None:
        """Ask why a part of a sealed set-up has another figure, where nothing says so yet."""
        setup, part = self.sheet.setup, part_of(known.key)
        if not self.asks or how or old is None or part is None:
            return
        settled = setup is None or not setup.sealed or part[0] in _SETTINGS
        if settled or old.provenance is Provenance.COMPUTED or old.value == new.value:
            return
        assert setup is not None
        raise OutOfRange(
            f"{known.label} stands as {in_words(known.key, plain(old.value), known.unit)} in "
            f"“{setup.name}”. Was that wrong, or was the machine changed?",
            expected="“corrected” or “changed” behind the figure",
            suggestions=(f"{typed} corrected", f"{typed} changed"),
        )

    def _clear(self, known: About) -> None:
        old = self.sheet.figures.get(known.key)
        if old is not None and old.provenance is Provenance.COMPUTED:
            return
        left = {key: value for key, value in self.sheet.figures.items() if key != known.key}
        if known.needed and known.key not in completed(replace(self.sheet, figures=left)).figures:
            raise OutOfRange(
                f"{known.label} is needed; the last figure stands.",
                expected="a tire code"
                if known.key.endswith("tire")
                else f"a figure in {known.unit}",
            )
        if old is None:
            return
        self._note_following(known.key, old, None)
        self._use(replace(self.sheet, figures=left))
        self._write(
            f"{known.label.lower()} cleared",
            lambda step: machines.clear_figure(step, self.sheet.id, known.key, on=self.today),
        )

    def _note_following(self, key: str, old: Figure | None, new: Figure | None) -> None:
        """Note where a part is set otherwise than in a sealed set-up: another follows it."""
        setup = self.sheet.setup
        if setup is None or not setup.sealed or old is None or part_of(key) is None:
            return
        self.follows = self.follows or new is None or new.value != old.value

    def _provenance(self, key: str, typed: str, today: date) -> None:
        old = self.sheet.figures.get(key)
        if old is None or typed == old.provenance.value:
            return
        if typed not in KEPT_PROVENANCES:
            raise StoreError("A figure is measured, from the maker's sheet, or assumed.")
        if old.provenance is Provenance.SIMULATED:
            raise StoreError(
                "A stand-in read this figure: type what was measured.",
                field=f"from:{key}",
                expected="the figure as measured",
            )
        provenance = Provenance(typed)
        figure = replace(old, provenance=provenance, taken_on=today)
        self._use(replace(self.sheet, figures={**self.sheet.figures, key: figure}))
        self._write(
            f"{FIELD_BY_KEY[key].label.lower()}: {typed}",
            lambda step: machines.set_figure(step, self.sheet.id, key, figure),
        )

    def _assume(self, key: str, typed: str, today: date) -> None:
        """Take the figure a rule gives until someone measures it; one that stands stays."""
        known, assumed = FIELD_BY_KEY.get(key), assumption(self.sheet, key)
        if known is None or assumed is None:
            raise StoreError("There is no rule to assume this figure by.", expected="a measurement")
        if key in self.sheet.figures:
            return
        figure = Figure(assumed.value, Provenance.ASSUMED, today)
        self._use(replace(self.sheet, figures={**self.sheet.figures, key: figure}))
        self._write(
            f"{known.label.lower()} assumed: {plain(assumed.value)}",
            lambda step: machines.set_figure(step, self.sheet.id, key, figure),
        )

    def _proposal_change(self, key: str, typed: str, today: date) -> None:
        if self.proposal is None:
            raise StoreError("There is no such proposal any more.", expected="a proposal")
        if not self.proposal.readable:
            raise StoreError("What this proposal changes cannot be read.", expected="another one")
        value, name = _change_value(key, typed), change_name(key, self.sheet.kind)
        if key == STRAIGHT_FORK:
            if value is None:
                return  # it is kept along the axis, and cleared there
            offset = proposed_offset(self.sheet, self.proposal.changes)
            key, value = "fork.length_mm", along_axis(float(str(value)), offset)
        changes = changed(self.proposal.changes, key, value)
        if changes == self.proposal.changes:
            return
        kept = replace(self.proposal, changes=changes)
        proposal = read_kept(kept)
        if not missing_of(self.sheet):
            found = as_measured(machine_of(self.sheet), policy=self.policy, on=self.today)
            self.known = Known(self.sheet, found, kept, outcome_of(found, proposal))
        self.proposal = kept
        if self.job is not None:
            proposals = tuple(kept if one.id == kept.id else one for one in self.job.proposals)
            self.job = replace(self.job, proposals=proposals)
        self._write(
            f"proposal {kept.name}: {name} {typed or 'as found'}",
            lambda step: jobs.set_changes(step, kept.id, changes),
            of_job=True,
        )

    def _line(self, kind: str, rest: str, typed: str, today: date) -> None:
        row, _, column = rest.partition(":")
        lines = LINES[kind]
        old = with_id(getattr(self.sheet, lines.attribute), row)
        value = column_value(lines, column, typed)
        if getattr(old, column) == value:
            return
        new = replace(old, **{column: value})
        others = tuple(
            new if one.id == old.id else one for one in getattr(self.sheet, lines.attribute)
        )
        changed_list: dict[str, Any] = {lines.attribute: others}
        self._use(replace(self.sheet, **changed_list))
        self._write(
            f"{lines.called}{old.name}: {typed or 'cleared'}",
            lambda step: lines.write(step, self.sheet.id, old.id, {column: value}, on=today),
        )

    def _machine(self, column: str, typed: str, today: date) -> None:
        if column == "name":
            name = checked_name(typed)
            if name == self.sheet.name:
                return
            self.sheet = replace(self.sheet, name=name)
            self._write(f"machine: {name}", lambda step: machines.rename(step, self.sheet.id, name))
        elif column == "owner":
            owner = words(typed, most=LONGEST_NAME)
            if owner == self.sheet.owner:
                return
            self.sheet = replace(self.sheet, owner=owner)
            self._write(
                f"owner: {owner or 'cleared'}",
                lambda step: machines.set_owner(step, self.sheet.id, owner),
            )
        elif column in ("phone", "note", "external_id"):
            if column == "external_id":
                text = external_key(typed)
            else:
                text = words(typed, most=LONGEST_NOTE if column == "note" else LONGEST_NAME)
            if text == getattr(self.sheet, column):
                return
            self.sheet = replace(self.sheet, **{column: text})  # type: ignore[arg-type]  # texts
            self._write(
                f"{column}: {text or 'cleared'}",
                lambda step: machines.set_word(step, self.sheet.id, column, text),
            )
        elif column == "drawn_as" and typed in [build.value for build in BUILDS[self.sheet.kind]]:
            if typed == self.sheet.drawn_as.value:
                return
            self.sheet = replace(self.sheet, drawn_as=DrawnAs(typed))
            self._write(
                f"machine: {typed}", lambda step: machines.draw_as(step, self.sheet.id, typed)
            )
        else:
            raise StoreError("Choose one of the builds in the list.", expected="a build")

    def _job(self, column: str, typed: str, today: date) -> None:
        if self.job is None:
            raise StoreError("There is no such job any more.", expected="a job")
        job = self.job
        if column in _WORDS_OF_A_JOB:
            label, read, write = _WORDS_OF_A_JOB[column]
            text = read(typed)
            if text == getattr(job, column):
                return
            self.job = replace(job, **{column: text})  # type: ignore[arg-type]  # texts
            self._write(
                f"{label}: {text or 'cleared'}", lambda step: write(step, job.id, text), of_job=True
            )
        elif column in ("due_on", "promised_time"):
            due_on, at = job.due_on, job.promised_time
            if column == "due_on":
                due_on = read_day(typed) if typed else None
            else:
                at = read_time(typed)
            if (due_on, at) == (job.due_on, job.promised_time):
                return
            self.job = replace(job, due_on=due_on, promised_time=at)
            self._write(
                f"promised: {typed or 'cleared'}",
                lambda step: jobs.set_due(step, job.id, due_on, at),
                of_job=True,
            )
        else:
            raise StoreError(f"“{column[:40]}” is not a figure of a job.")


# What is said of a job in words: its name in the journal, how it is read, how it is written.
_WORDS_OF_A_JOB: dict[str, tuple[str, Callable[[str], str], Callable[[Step, int, str], object]]] = {
    "wanted": ("wanted", lambda typed: words(typed, most=LONGEST_NAME), jobs.want),
    "whose": ("done by", listed_name, jobs.give_to),
    "external_id": ("key in another program", external_key, jobs.set_external_id),
}


def along_axis(straight_mm: float, offset_mm: float | None) -> float:
    """Return a fork's length along the axis from its straight one; it takes the offset."""
    if offset_mm is None:
        raise OutOfRange(
            "The straight length needs the fork's offset first.", expected="the fork offset in mm"
        )
    return length_along_axis(axle_to_crown_mm=straight_mm, offset_mm=offset_mm)


def _shown(value: object) -> str:
    """Return a kept value as a field shows it."""
    return "" if value is None else str(value) if isinstance(value, date) else plain(value)


def changed(
    changes: dict[str, Any], key: str, value: float | str | list[float] | None
) -> dict[str, Any]:
    """Return a proposal's changes with one of them set, or taken out where it is None."""
    *parents, leaf = key.split(".")
    copy = deepcopy(changes)
    branch = copy
    for parent in parents:
        branch = branch.setdefault(parent, {})
    if value is None:
        branch.pop(leaf, None)
    else:
        branch[leaf] = value
        if leaf == "tire":  # another tire is another diameter and another make, until given
            branch.pop("overall_diameter_mm", None)
            branch.pop("fitted", None)
    return _without_empty(copy)


def _without_empty(changes: dict[str, Any]) -> dict[str, Any]:
    """Return changes without the branches that say nothing any more."""
    kept = {
        name: _without_empty(part) if isinstance(part, dict) else part
        for name, part in changes.items()
    }
    return {name: part for name, part in kept.items() if part != {}}


def _change_value(key: str, typed: str) -> float | str | list[float] | None:
    if key in ("front.tire", "rear.tire"):
        if typed:
            known_code(typed)
        return typed or None
    if key == "position":
        return typed or None
    known = PROPOSAL_FIELD.get(key)
    if known is None:
        raise StoreError(f"“{key[:40]}” is not something a proposal changes.")
    if known.range and typed:
        return list(range_of(typed))
    holds = known.choices or (words if known.words else known.unit)
    return held(holds, typed, key=key) if typed else None


_SETTINGS = (Part.PRESSURE, Part.SAG, Part.INSTRUMENT, Part.SEAT, Part.BAR)  # set anew each time


def _typed_source(key: str) -> Provenance:
    """Return where a typed figure comes from: the maker in the maker's group, else a tape."""
    of_maker = FIELD_BY_KEY[key].group == "Maker's sheet"
    return Provenance.MAKER if of_maker else Provenance.MEASURED


def _fork_beside(sheet: Sheet, key: str, typed: Figure) -> dict[str, Figure | None]:
    """Return the other figures of a bicycle's fork that follow from one: a straight length stays.

    The length along the axis follows a straight length and the offset; typed itself, it takes the
    straight one's place.
    """
    straight, offset = sheet.figures.get(STRAIGHT_FORK), sheet.figures.get("fork.offset_mm")
    kept = straight is not None and straight.provenance is not Provenance.COMPUTED
    if key == "fork.length_mm":
        return {STRAIGHT_FORK: None} if kept else {}
    if key == STRAIGHT_FORK:
        straight, kept = typed, True
    elif key == "fork.offset_mm":
        offset = typed
    if not kept or straight is None or key not in (STRAIGHT_FORK, "fork.offset_mm"):
        return {}
    along = along_axis(float(straight.value), None if offset is None else float(offset.value))
    return {"fork.length_mm": replace(straight, value=along, readings=())}


def _set_all(
    step: Step, machine_id: int, figures: Mapping[str, Figure | None], *, corrected: bool
) -> None:
    how = machines.How.CORRECTED if corrected else machines.How.CHANGED
    for key, figure in figures.items():
        if figure is None:
            machines.clear_figure(step, machine_id, key)
        else:
            machines.set_figure(step, machine_id, key, figure, how=how)
