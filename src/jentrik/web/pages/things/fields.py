"""The fields of a thing of the shelf, a tire or a wheel: what each holds, and how it is written."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from typing import Any

from jentrik.core.errors import OutOfRange
from jentrik.core.machine.declared import check_attribute
from jentrik.core.machine.kept_wheel import KeptWheel
from jentrik.core.machine.wheel import Fitted
from jentrik.core.text import counted, external_key
from jentrik.core.tire.dates import date_of
from jentrik.core.units import read_figure
from jentrik.core.work.cost import money
from jentrik.core.work.shelf import MOST_PIECES, ShelfTire
from jentrik.core.work.tire_facts import CHOICES, facts_of
from jentrik.store import shelf, wheels
from jentrik.store.journal import Step
from jentrik.web.figures import plain
from jentrik.web.live.fields import Write
from jentrik.web.live.typed_values import words

Columns = dict[str, Any]


def _piece_count(text: str) -> Columns:
    number = counted(text, most=MOST_PIECES)
    if number is None:
        raise OutOfRange(
            f"“{text[:20]}” is no whole number from 0 to {MOST_PIECES}.", expected="a whole number"
        )
    return {"pieces": number}


def _price(text: str) -> Columns:
    return {"price": f"{money(text):f}" if text else ""}


def _made(text: str) -> Columns:
    if not text:
        return {"week": None, "year": None}
    made = date_of(text)
    if made is None or made.year is None:
        raise OutOfRange(f"“{text[:20]}” is no week and year.", expected="week and year like 1523")
    return {"week": made.week, "year": made.year}


def _tread(text: str) -> Columns:
    value = _number(text, "mm")
    check_attribute(Fitted, "tread_mm", value)
    return {"tread_mm": value}


def _words(name: str) -> Callable[[str], Columns]:
    return lambda text: {name: words(" ".join(text.split()))}


def _number(text: str, unit: str) -> float | None:
    return read_figure(text, unit=unit) if text else None


@dataclass(frozen=True, slots=True)
class ThingField:
    """One field: its name, label, unit, words to choose from, why it is asked, how it is read.

    `read` returns columns of the thing's row; a fact of a tire has none.
    """

    name: str
    label: str
    why: str
    read: Callable[[str], Columns] | None = None
    unit: str = ""
    choices: tuple[str, ...] = ()
    number: bool = False  # a plain number, of no unit
    asked: bool = True  # at a screen; else by programs alone


_PLACE = ThingField("place", "Hangs at", "On its label, and where it is chosen.", _words("place"))
_PRICE = ThingField("price", "Price", "Goes onto the order list.", _price)
WHEEL_FIELDS = (_PLACE, _PRICE)
TIRE_FIELDS = (
    _PLACE,
    ThingField(
        "pieces", "Pieces", "One goes with each job that fits it; 0: to order.", _piece_count
    ),
    ThingField(
        "price", "Price of one", "Goes onto the order list and gives the cost a year.", _price
    ),
    ThingField("whose", "Owner", "Empty: the shop's own.", _words("whose")),
    ThingField(
        "external_id",
        "Key in another program",
        "",
        lambda text: {"external_id": external_key(text)},
        asked=False,
    ),
    ThingField("make", "Make and model", "Two makes on one machine are cautioned.", _words("make")),
    ThingField("made", "Made, week and year", "Its age is judged wherever it may go.", _made),
    ThingField(
        "tread_mm", "Tread, least", "Judged on a motorcycle by the shop's limit.", _tread, "mm"
    ),
)
FACT_FIELDS = (
    ThingField("compound", "Compound", "Grip, cold and life.", choices=CHOICES["compound"]),
    ThingField("tread", "Tread", "Which ground it is for.", choices=CHOICES["tread"]),
    ThingField("sidewall", "Sidewall", "Load and stones, or grip.", choices=CHOICES["sidewall"]),
    ThingField("void_percent", "Groove share of the tread", "Wet, mud and noise.", unit="%"),
    ThingField("plies", "Plies", "Load and cuts.", number=True),
    ThingField("weight_g", "Weight", "Mass and inertia of the wheel.", unit="g"),
    ThingField("life_km", "Lasts about", "The cost a year; worn out or too old first.", unit="km"),
)


def tire_texts(tire: ShelfTire) -> dict[str, str]:
    """Return what each field of a tire shows, in kept units."""
    facts = {name: plain(value) for name, value in tire.facts.values().items()}
    return {
        "place": tire.place,
        "pieces": str(tire.pieces),
        "price": "" if tire.price is None else f"{tire.price:f}",
        "whose": tire.whose,
        "external_id": tire.external_id,
        "make": tire.make,
        "made": tire.made or "",
        "tread_mm": "" if tire.tread_mm is None else plain(tire.tread_mm),
        **{one.name: facts.get(one.name, "") for one in FACT_FIELDS},
    }


def wheel_texts(wheel: KeptWheel) -> dict[str, str]:
    """Return what each field of a wheel shows."""
    price = "" if wheel.price is None else f"{wheel.price:f}"
    return {"place": wheel.place, "price": price}


@dataclass(slots=True)
class ThingAnswers:
    """Reads what is typed of one thing: a field's text into the write it asks for."""

    subject: str
    name: str  # of the thing, in the words of a change
    fields: Mapping[str, ThingField]
    texts: Mapping[str, str]
    write: Callable[[Step, Columns], None]
    write_fact: Callable[[Step, str, float | str | None], None] | None = None
    scope: Mapping[str, int] = field(default_factory=dict)

    def stored(self, name: str) -> str | None:
        """Return the text a field shows now, in the unit seen; None where it is no field."""
        key = name.partition(":")[2]
        return self.texts.get(key)

    def unit(self, name: str) -> str:
        """Return the unit a field's figure is kept in; "" where it has none."""
        known = self.fields.get(name.partition(":")[2])
        return known.unit if known else ""

    def read(self, name: str, text: str) -> list[Write]:
        """Return the write of one field; refuses what it cannot hold."""
        known = self.fields.get(name.partition(":")[2])
        if known is None:
            raise OutOfRange("There is no such field here.", expected=", ".join(self.fields))
        text = text.strip()
        if text == self.texts[known.name]:
            return []
        label = f"{self.name}: {known.label.lower()} {text}".strip()
        if known.read is not None:
            columns = known.read(text)
            return [Write(label, lambda step: self.write(step, columns), self.scope)]
        assert self.write_fact is not None
        write_fact, value = self.write_fact, _fact(known, text)
        facts_of({known.name: value} if value not in ("", None) else {})  # refuses it here
        return [Write(label, lambda step: write_fact(step, known.name, value), self.scope)]


def _fact(known: ThingField, text: str) -> float | str | None:
    return text if known.choices else _number(text, known.unit)


def tire_answers(tire_id: int) -> ThingAnswers:
    """Return what reads the fields of a tire of the shelf; refuses one that is gone."""
    tire = shelf.known_tire(tire_id)
    return ThingAnswers(
        f"{shelf.SUBJECT} tire {tire_id}",
        tire.code,
        {one.name: one for one in (*TIRE_FIELDS, *FACT_FIELDS)},
        tire_texts(tire),
        lambda step, columns: shelf.set_tire(step, tire_id, **columns),
        lambda step, name, value: shelf.set_fact(step, tire_id, name, value),
    )


def wheel_answers(wheel_id: int) -> ThingAnswers:
    """Return what reads the fields of a wheel; refuses one that is gone."""
    wheel = wheels.wheel(wheel_id)
    return ThingAnswers(
        f"{shelf.SUBJECT} wheel {wheel_id}",
        wheel.name,
        {one.name: one for one in WHEEL_FIELDS},
        wheel_texts(wheel),
        lambda step, columns: wheels.set_wheel(step, wheel_id, **columns),
    )
