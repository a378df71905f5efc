"""Changes of fields as a program sends them: read by the same answers as a page's fields."""

from collections.abc import Callable, Iterator, Mapping
from typing import Any, Literal

from pydantic import Field

from jentrik.core.errors import DocumentError, Refusal
from jentrik.web.api.program import as_text
from jentrik.web.live.command import Body, Day, ExternalId, Name, Note, Words
from jentrik.web.live.fields import AReader, Sent, take_fields
from jentrik.web.live.sheet_rows import LINES
from jentrik.web.shop import Shop

Plain = float | str | None
Nested = Plain | dict[str, Plain | dict[str, Plain]]  # as deep as a plan goes


class FigureChange(Body):
    """A figure of a sheet: its value in the unit it is kept in, its ±, and where it came from."""

    value: float | str = Field(examples=[1050.0])
    plus_minus: float | None = Field(default=None, ge=0, examples=[2.0])
    provenance: Literal["measured", "maker's sheet", "assumed"] | None = None
    how: Literal["corrected", "changed"] = Field(
        default="changed",
        description="Whether a part of a sealed set-up was wrong, or the machine was changed",
    )


class MachineChange(Body):
    """What changes on a machine; what is absent stays, null clears a figure."""

    name: Name | None = Field(default=None, examples=["Harbour tourer"])
    owner: Words | None = None
    phone: Words | None = None
    note: Note | None = None
    external_id: ExternalId | None = Field(default=None, description="Another program's own key")
    drawn_as: Words | None = None
    figures: dict[str, FigureChange | float | str | None] = Field(
        default_factory=dict,
        examples=[{"wheelbase_mm": {"value": 1052, "plus_minus": 2}, "front.tire": "42-622"}],
    )
    assume: list[str] = Field(default_factory=list, description="Figures to assume until measured")
    lines: dict[str, Plain] = Field(
        default_factory=dict,
        description="Columns of lines there are: place:7:gap_mm, point:3:x_mm, position:2:y_mm",
        examples=[{"place:7:gap_mm": 14.5}],
    )


class JobChange(Body):
    """What changes on a job; an empty text clears it."""

    wanted: Words | None = Field(default=None, examples=["Wider tires for gravel"])
    due_on: Day | Literal[""] | None = Field(default=None, examples=["2026-12-01"])
    promised_time: str | None = Field(default=None, examples=["16:00"], description="Of that day")
    whose: Words | None = Field(default=None, description="Who of the shop's people does it")
    external_id: ExternalId | None = Field(default=None, description="Another program's own key")


def of_machine(change: MachineChange) -> list[Sent]:
    """Return the fields of a machine a program changes."""
    words = change.model_dump(include={"name", "owner", "phone", "note", "drawn_as", "external_id"})
    sent = [Sent(f"machine:{key}", text) for key, text in words.items() if text is not None]
    for key, given in change.figures.items():
        if not isinstance(given, FigureChange):
            sent.append(Sent(f"sheet:{key}", as_text(given)))
            continue
        within = "" if given.plus_minus is None else f" ± {as_text(given.plus_minus)}"
        how = " corrected" if given.how == "corrected" else ""
        sent.append(Sent(f"sheet:{key}", f"{as_text(given.value)}{within}{how}"))
        if given.provenance is not None:
            sent.append(Sent(f"from:{key}", given.provenance))
    sent += [Sent(f"assume:{key}", "yes") for key in change.assume]
    return sent + [Sent(_line_name(name), as_text(value)) for name, value in change.lines.items()]


def _line_name(name: str) -> str:
    if name.partition(":")[0] not in LINES:
        raise DocumentError(
            f"“{name[:40]}” is no column of a line.",
            field="lines",
            expected=f"{', '.join(LINES)}, its id and a column, like place:7:gap_mm",
        )
    return name


def of_job(change: JobChange) -> list[Sent]:
    """Return the fields of a job a program changes."""
    given = change.model_dump(exclude_none=True)
    return [Sent(f"job:{key}", as_text(value)) for key, value in given.items()]


def of_proposal(changes: Mapping[str, Nested]) -> list[Sent]:
    """Return the fields of a proposal a program changes, nested as in a plan or not."""
    return [Sent(f"proposal:{key}", as_text(value)) for key, value in _flat(changes, "")]


def _flat(changes: Mapping[str, Any], path: str) -> Iterator[tuple[str, Plain]]:
    for key, value in changes.items():
        if isinstance(value, Mapping):
            yield from _flat(value, f"{path}{key}.")
        else:
            yield f"{path}{key}", value


_OWN = ("machine", "job")
_PATHS = {
    "sheet": "figures",
    "from": "figures",
    "assume": "assume",
    "proposal": "changes",
    "policy": "limits",
    "photo": "fields",
    "thing": "fields",
    "fact": "fields",
}


def change_fields(shop: Shop, fields: list[Sent], load: Callable[[], AReader]) -> None:
    """Change fields, all of them or none; refuses the first that cannot stand, by its path."""
    _, taken = take_fields(shop, fields, load, live=False)
    for name, refusal in taken.typed.refusals.items():
        kind, _, key = name.partition(":")
        path = f"{_PATHS[kind]}.{key}" if kind in _PATHS else name if kind not in _OWN else key
        refused = Refusal(
            refusal.message,
            field=path,
            position=refusal.position,
            expected=refusal.expected,
            suggestions=refusal.suggestions,
        )
        raise refused from None
