"""The fields of station Propose: the tire codes, and the folds with everything else."""

from collections.abc import Mapping
from dataclasses import replace

from jentrik.core.machine.declared import ENDS
from jentrik.core.machine.sheet import Sheet
from jentrik.core.plan.proposal_fields import (
    GROUPS,
    PROPOSAL_FIELD,
    PROPOSAL_FIELDS,
    Group,
    proposal_fields,
    proposed_value,
    value_at,
)
from jentrik.core.work.job import KeptProposal
from jentrik.web.parts.address import Address, Link
from jentrik.web.parts.fields import (
    CodeField,
    FigureField,
    Typed,
    choice_field,
    code_field,
    same_mark,
    small_field,
)


def codes_of(
    sheet: Sheet, chosen: KeptProposal | None, station: str, typed: Typed
) -> list[CodeField]:
    """Return the tire codes a station asks for: those as found, or the proposal's."""
    if station == "read":
        front, rear = (
            code_field(
                f"sheet:{end}.tire",
                f"{end.capitalize()}, as found",
                sheet.text(f"{end}.tire"),
                section=True,
                typed=typed,
            )
            for end in ENDS
        )
        if rear.strip and front.strip and rear.strip.pieces == front.strip.pieces:
            rear = replace(rear, strip=same_mark(rear.strip))
        return [front, rear]
    if station == "propose" and chosen is not None:
        return [
            code_field(
                f"proposal:{end}.tire",
                end.capitalize(),
                chosen.changes.get(end, {}).get("tire"),
                was=sheet.text(f"{end}.tire"),
                typed=typed,
            )
            for end in ENDS
        ]
    return []


def more_groups(chosen: KeptProposal, address: Address) -> list[Link]:
    """Return the groups of further changes, each with how many are made; a click closes one."""
    made = {
        "more": sum(_leaves(value) for name, value in chosen.changes.items() if name not in ENDS)
    }
    for end in ENDS:
        wheel = chosen.changes.get(end, {})
        made[end] = _leaves(wheel) - ("tire" in wheel)
    return [
        Link(
            label,
            address.at(more="" if address.more == group else group),
            address.more == group,
            f"{made[group]}" if made[group] else "",
        )
        for group, label in GROUPS.items()
    ]


def _leaves(value: object) -> int:
    """Return how many single changes a branch of a proposal holds."""
    if isinstance(value, Mapping):
        return sum(_leaves(part) for part in value.values())
    return 1


def refused_group(typed: Typed) -> str:
    """Return the group of a refused change, so that it stands open; nothing without one."""
    for name in typed.refusals:
        known = PROPOSAL_FIELD.get(name.removeprefix("proposal:"))
        if known is not None:
            return known.group
    return ""


def more_fields(
    sheet: Sheet, chosen: KeptProposal, group: Group, typed: Typed
) -> list[FigureField]:
    """Return what else a proposal can change on this machine, of one group."""
    fields = []
    if sheet.positions and group == "more":
        stored = str(value_at(chosen.changes, "position") or "")
        names = tuple(position.name for position in sheet.positions)
        fields.append(choice_field("proposal:position", "Rear position", stored, names, typed))
    offered = proposal_fields(sheet, group)
    for known in PROPOSAL_FIELDS:
        value = proposed_value(sheet, chosen.changes, known.key)
        if known.group != group or (value is None and known not in offered):
            continue
        name, label = f"proposal:{known.key}", known.label_on(sheet.kind)
        if known.choices:
            fields.append(choice_field(name, label, str(value or ""), known.choices, typed))
        else:
            fields.append(small_field(name, label, value, unit=known.unit, typed=typed))
    return fields
