"""What a value of a shop's document may be, beyond its shape: read as the pages read it.

Each check is given a value and refuses what no page would have kept.
"""

from collections.abc import Callable, Mapping
from typing import Any

from jentrik.core.days import read_time
from jentrik.core.errors import DocumentError, OutOfRange, Refusal
from jentrik.core.machine.declared import About, about, check, check_attribute
from jentrik.core.machine.fields import FIELD_BY_KEY
from jentrik.core.machine.machine import MEASURED_GAP
from jentrik.core.machine.wheel import Fitted
from jentrik.core.text import refuse_unseen
from jentrik.core.tire.dates import week_and_year
from jentrik.core.tire.sidewall import known_code
from jentrik.core.work.cost import money
from jentrik.core.work.day import OfferState
from jentrik.core.work.inspection import SIGN
from jentrik.core.work.order_entries import checked_entry
from jentrik.core.work.policy_fields import POLICY_FIELD, checked_policy
from jentrik.core.work.shelf import MOST_PIECES
from jentrik.core.work.template import kept_step, steps_of
from jentrik.exchange.shop_format import Column, Listing

LONGEST_NAME, LONGEST_WORDS, LONGEST_TEXT = 80, 200, 4000
LONGEST: Mapping[str, int] = {"gpx": 9_000_000, "text": 20_000, "plan": 2000, "key": 200}
_NAMES = ("name", "owner", "who", "by", "person", "whose", "make", "place", "template", "proposal")
MOST_KM = 10_000_000.0
Values = Mapping[str, Any]


def check_line(listing: Listing, values: Values, at: str) -> None:
    """Refuse a line whose values no page would have kept, by the path of the first."""
    for column in listing.columns:
        value = values[column.name]
        if value is None:
            continue
        path = f"{at}.{column.name}"
        refuse_unseen(value, path)
        _check_length(column, value, path)
        check = _CHECKS.get(f"{listing.name}.{column.name}") or _CHECKS.get(column.name)
        if check is None:
            continue
        try:
            check(value, values)
        except Refusal as refusal:
            raise DocumentError(
                f"{path}: {refusal.message}", field=path, expected=refusal.expected
            ) from None


def _check_length(column: Column, value: object, path: str) -> None:
    most = LONGEST.get(column.name, LONGEST_NAME if column.name in _NAMES else LONGEST_TEXT)
    if isinstance(value, str) and len(value) > most:
        raise DocumentError(
            f"{path} has {len(value)} characters; at most {most} stand there.",
            field=path,
            expected=f"at most {most} characters",
        )


def _tire(value: str, _: Values) -> None:
    if value:
        known_code(value)


def _price(value: str, _: Values) -> None:
    if value:
        money(value)


def _named(value: str, _: Values) -> None:
    if not value.strip():
        raise OutOfRange("It has no name.", expected="a name")


def _least(least: float, most: float) -> Callable[[Any, Values], None]:
    def check(value: float, _: Values) -> None:
        if not least <= value <= most:
            raise OutOfRange(
                f"{value:g} is outside {least:g} to {most:g}.",
                expected=f"a figure from {least:g} to {most:g}",
            )

    return check


def _limited(known: About) -> Callable[[Any, Values], None]:
    return lambda value, _: check(known, value)


def _entry(value: str, values: Values) -> None:
    if values["key"].partition(":")[0] == "line":
        if not value.isdecimal():
            raise OutOfRange("It names no line of the shelf.", expected="a whole number")
        return
    checked_entry(values["key"], value)


def _measured(value: float | str, values: Values) -> None:
    known = FIELD_BY_KEY.get(values["key"])
    if known is None:
        return
    if known.key.endswith(".tire"):
        _tire(str(value), values)
    elif known.choices and value not in known.choices:
        raise OutOfRange(f"“{value}” is no choice.", expected=", ".join(known.choices))


def _treads(values: list[float], _: Values) -> None:
    if len(values) != 3:
        raise OutOfRange("Tread is read at three places.", expected="three depths")
    for value in values:
        check_attribute(Fitted, "tread_mm", value)


def _signs(values: list[str], _: Values) -> None:
    unknown = next((name for name in values if name not in SIGN), None)
    if unknown is not None:
        raise OutOfRange(
            f"“{unknown[:40]}” is nothing an inspection finds.", expected="known signs"
        )


def _made(value: str, _: Values) -> None:
    if week_and_year(value) is None:
        raise OutOfRange(f"“{value[:20]}” is no week and year.", expected="week and year like 1523")


def _sealed(value: Mapping[str, Any], values: Values) -> None:
    of_offer = values.get("kind") == "offer"
    keys = ("state", "proposal", "offer") if of_offer else ("format", "found", "proposals")
    missing = [key for key in keys if key not in value]
    if of_offer and not missing and value["state"] not in list(OfferState):
        missing = ["state"]
    if missing:
        raise OutOfRange(f"It has no “{missing[0]}”.", expected="the document of a job")


def _time(value: str, _: Values) -> None:
    read_time(value)


def _policy(value: float | str, values: Values) -> None:
    if values["key"] in POLICY_FIELD:  # a newer program may know more
        checked_policy(values["key"], value)


def _reads(reader: Callable[[str], object]) -> Callable[[Any, Values], None]:
    def check(value: str, _: Values) -> None:
        reader(value)

    return check


_KM = _least(0, MOST_KM)
_CHECKS: dict[str, Callable[[Any, Values], None]] = {
    "machines.name": _named,
    "wheels.name": _named,
    "wheel_sets.name": _named,
    "setups.name": _named,
    "people.name": _named,
    "templates.name": _named,
    "templates.text": _reads(steps_of),
    "card_steps.plan": _reads(kept_step),
    "card_steps.torque_nm": _least(0.5, 400),
    "card_steps.version": _least(0, 1_000_000),
    "measurements.value": _measured,
    "order_entries.value": _entry,
    "job_documents.document": _sealed,
    "policies.value": _policy,
    "inspections.tread_mm": _treads,
    "inspections.pressure_kpa": _limited(about(Fitted, "pressure_kpa")),
    "inspections.made": _made,
    "shelf_tires.tread_mm": _limited(about(Fitted, "tread_mm")),
    "shelf_tires.pieces": _least(0, MOST_PIECES),
    "shelf_tires.week": _least(1, 53),
    "shelf_tires.year": _least(2000, 2099),
    "speed_pairs.true_kmh": _least(0, 500),
    "speed_pairs.shown_kmh": _least(0, 500),
    "jobs.tag": _least(1, 10_000_000),
    "jobs.promised_time": _time,
    "people.hours_a_day": _least(0.5, 24),
    "gap_mm": _limited(MEASURED_GAP),
    "code": _tire,
    "tire": _tire,
    "front_tire": _tire,
    "rear_tire": _tire,
    "price": _price,
    "signs": _signs,
    "km": _KM,
    "counted_km": _KM,
    "true_km": _KM,
}
