"""Measuring: the machine's drawing with its figures, the one field that is open, and the list."""

from dataclasses import dataclass
from typing import Protocol

from jentrik.core.amounts import in_words
from jentrik.core.machine.declared import ENDS
from jentrik.core.machine.fields import FIELD_BY_KEY, fields_of
from jentrik.core.machine.measuring import TAKEN, to_take, wanted
from jentrik.core.machine.sheet import Sheet
from jentrik.core.plan.answer import deciding
from jentrik.core.plan.plan import Outcome, PlanResult
from jentrik.core.work.job import Job
from jentrik.web.drawing.marks import HowKnown, Mark, place_of
from jentrik.web.drawing.skeleton import skeleton_of
from jentrik.web.figures import plain
from jentrik.web.parts.fields import FieldGroup, GuidedField, Typed, figure_fields, guided_field


class Addressed(Protocol):
    """An address that can name the field that is open."""

    def at(self, path: str | None = None, **changes: str) -> str:
        """Return the address with some of it changed."""


@dataclass(frozen=True, slots=True)
class Asked:
    """One figure asked for: its place in the order, its name, what is known of it, its address."""

    order: int
    name: str
    value: str
    known: HowKnown
    href: str
    is_open: bool


@dataclass(frozen=True, slots=True)
class MeasureView:
    """The figures asked for, the field that is open, the next one to take, and all the others."""

    asked: list[Asked]
    taken: int
    field: GuidedField | None
    next_href: str  # "" where nothing is left to take
    groups: list[FieldGroup]
    clearance: str  # the clearance that decides; "" where a figure does or nothing


@dataclass(frozen=True, slots=True)
class ToTake:
    """What is measured: figures in their order, and the clearance that decides, in words."""

    keys: tuple[str, ...] = ()
    clearance: str = ""


def to_take_of(job: Job, sheet: Sheet, found: PlanResult | None, outcome: Outcome | None) -> ToTake:
    """Return what a job asks to be measured: what decides first, then what is usual."""
    decides = deciding(found, outcome) if found and outcome else ()
    usual = wanted(sheet, [kept.changes for kept in job.proposals])
    keys = dict.fromkeys((*(one.key for one in decides if one.key), *usual))
    first = decides[0] if decides else None
    return ToTake(tuple(keys), first.label if first and not first.key else "")


def measure_view(
    sheet: Sheet, taken: ToTake, open_key: str, address: Addressed, typed: Typed
) -> MeasureView:
    """Return how a machine is measured: the figures asked for, in their order."""
    keys = taken.keys
    to_come = [key for key in keys if to_take(sheet, key)]
    refused = next((key for key in keys if f"sheet:{key}" in typed.refusals), "")
    chosen = refused or open_field(sheet, keys, open_key)
    left = [key for key in (*_after(keys, chosen), *keys) if key in to_come and key != chosen]
    asked = [
        Asked(
            order,
            _name(key),
            _value(sheet, key),
            known_as(sheet, key),
            address.at(field=key),
            key == chosen,
        )
        for order, key in enumerate(keys, start=1)
    ]
    return MeasureView(
        asked,
        len(keys) - len(to_come),
        guided_field(sheet, chosen, typed),
        address.at(field=left[0]) if left else "",
        figure_fields(sheet, typed=typed, without=(chosen,)),
        taken.clearance,
    )


def open_field(sheet: Sheet, keys: tuple[str, ...], asked: str) -> str:
    """Return the figure that is open: the one asked for, else the first that is to be taken."""
    return asked or next((key for key in keys if to_take(sheet, key)), keys[0])


def marks_of(
    sheet: Sheet, found: PlanResult, keys: tuple[str, ...], open_key: str, address: Addressed
) -> tuple[Mark, ...]:
    """Return the marks of the figures asked for, and of those known, that the drawing can show."""
    bones, chosen = skeleton_of(found.bike), open_field(sheet, keys, open_key)
    known = [key for key in TAKEN if key in sheet.figures]
    offered = {field.key for field in fields_of(sheet.kind)}
    marks = []
    for key in dict.fromkeys((*keys, *known)):
        place = place_of(key, bones) if key in offered else None
        if place is not None:
            marks.append(
                Mark(
                    key,
                    _name(key),
                    _value(sheet, key),
                    known_as(sheet, key),
                    address.at(field=key),
                    place,
                    keys.index(key) + 1 if key in keys else None,
                    key == chosen,
                )
            )
    return tuple(marks)


def known_as(sheet: Sheet, key: str) -> HowKnown:
    """Return whether a figure was measured or read off a sheet, is assumed, or is missing."""
    figure = sheet.figures.get(key)
    if figure is None:
        return "missing"
    return "assumed" if figure.provenance.unproved else "measured"


def _after(keys: tuple[str, ...], key: str) -> tuple[str, ...]:
    return keys[keys.index(key) + 1 :] if key in keys else ()


def _name(key: str) -> str:
    label = FIELD_BY_KEY[key].label.replace(", front", "").replace(", rear", "")
    for end in ENDS:
        if key.startswith(f"{end}.") and end not in label.lower():
            return f"{end.capitalize()} {label[:1].lower()}{label[1:]}"
    return label


def _value(sheet: Sheet, key: str) -> str:
    figure = sheet.figures.get(key)
    if figure is None:
        return "missing"
    value = figure.value if isinstance(figure.value, str) else plain(round(figure.value, 1))
    return in_words(key, value, FIELD_BY_KEY[key].unit)
