"""Machines: the list, and one machine's sheet."""

from collections.abc import Mapping
from dataclasses import dataclass, field

from markupsafe import Markup

from jentrik.core.errors import Refusal
from jentrik.core.machine.consistency import contradiction_in_words, contradictions
from jentrik.core.machine.declared import About
from jentrik.core.machine.fields import missing_of
from jentrik.core.machine.machine_of import machine_of
from jentrik.core.machine.measuring import wanted as wanted_figures
from jentrik.core.machine.sheet import BUILDS, DrawnAs, Sheet
from jentrik.core.plan.plan import as_measured
from jentrik.core.work.job import Job
from jentrik.store.listing import MachineLine, Page, Wanted
from jentrik.store.machine_data import MachineData
from jentrik.web.live.undoing import NOTHING_TO_UNDO, UndoView
from jentrik.web.pages.jobs.bench import assumed_labels
from jentrik.web.pages.jobs.measuring import MeasureView, ToTake, marks_of, measure_view
from jentrik.web.pages.jobs.scene import scene_drawing
from jentrik.web.pages.machines.sheet_lists import LinesView, lines_view
from jentrik.web.pages.setups.view import SetupsView, setups_view
from jentrik.web.parts.address import Address
from jentrik.web.parts.fields import NOTHING_TYPED, Complaint, Typed
from jentrik.web.parts.paging import Paging

OWN_FORMS = ("set", "named-set", "machine-photo")  # they show their own refusals


@dataclass(frozen=True, slots=True)
class MachinesView:
    """The list, and the fields of a new machine."""

    rows: list[MachineLine]
    paging: Paging
    names: list[str]
    typed: Mapping[str, str] = field(default_factory=dict)
    complaints: Mapping[str, Complaint] = field(default_factory=dict)
    builds: tuple[str, ...] = tuple(build.value for build in DrawnAs)


def machines_view(
    listed: Page[MachineLine], wanted: Wanted, path: str, *, typed: Typed = NOTHING_TYPED
) -> MachinesView:
    """Return a page of machines as it is shown."""
    return MachinesView(
        rows=listed.rows,
        paging=Paging(path, wanted, more=listed.more, usual="name"),
        names=[],
        typed=typed.values,
        complaints=typed.complaints(),
    )


@dataclass(frozen=True, slots=True)
class MachineView:
    """One machine's sheet: drawing, figures with where they came from, gaps and points."""

    sheet: Sheet
    builds: tuple[str, ...]
    drawing: Markup | None
    impossible: str
    missing: tuple[About, ...]
    assumed: list[str]
    measure: MeasureView
    lines: LinesView
    name: str
    quarrels: list[str]
    strays: list[Complaint]
    jobs: list[Job]
    undo: UndoView
    setups: SetupsView
    complaints: Mapping[str, Complaint] = field(default_factory=dict)
    typed: Mapping[str, str] = field(default_factory=dict)


def machine_view(
    data: MachineData, address: Address, *, typed: Typed, undo: UndoView = NOTHING_TO_UNDO
) -> MachineView:
    """Return a machine's sheet as a page shows it, with the figure that is open."""
    sheet, keys = data.sheet, wanted_figures(data.sheet, ())
    drawing, impossible = None, ""
    missing = missing_of(sheet)
    if not missing:
        try:
            found = as_measured(machine_of(sheet))
            marks = marks_of(sheet, found, keys, address.field, address)
            drawing = scene_drawing(sheet, found, None, Address(address.path), marks)
        except Refusal as refusal:
            impossible = refusal.message
    measure = measure_view(sheet, ToTake(keys), address.field, address, typed)
    lines = lines_view(sheet, typed)
    fields = [f for group in measure.groups for f in group.fields]
    fields += [*lines.fields, *([measure.field.field] if measure.field else [])]
    return MachineView(
        sheet=sheet,
        builds=tuple(build.value for build in BUILDS[sheet.kind]),
        drawing=drawing,
        impossible=impossible,
        missing=missing,
        assumed=assumed_labels(sheet),
        measure=measure,
        lines=lines,
        name=typed.shown("machine:name", sheet.name)[0],
        quarrels=[
            *(contradiction_in_words(contradiction) for contradiction in contradictions(sheet)),
            *sheet.disagreements,
        ],
        strays=typed.strays([*(field.name for field in fields), *OWN_FORMS]),
        jobs=list(data.jobs),
        undo=undo,
        setups=setups_view(data),
        complaints=typed.complaints(),
        typed=typed.values,
    )
