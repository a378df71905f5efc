"""Job cards, their templates and photos: queries that return core values, and changes."""

import json
from collections.abc import Mapping
from contextlib import suppress
from dataclasses import dataclass, replace
from datetime import date, datetime
from types import MappingProxyType
from typing import Any

from jentrik.core.errors import ChangedMeanwhile, OutOfRange, StoreError
from jentrik.core.machine.fields import FIELD_BY_KEY
from jentrik.core.units import read_figure
from jentrik.core.work.card import SETTLED, Card, CardStep
from jentrik.core.work.template import StepPlan, built_in, kept_step, steps_of, text_of
from jentrik.store import journal, models
from jentrik.store.rows import first_row, rows

MOST_PHOTOS = 60


def card_of(job_id: int) -> Card | None:
    """Return a job's card; None where there is none."""
    row = first_row("SELECT * FROM card WHERE job_id = ?", job_id)
    if row is None:
        return None
    steps = rows("SELECT * FROM card_step WHERE card_id = ? ORDER BY place, id", row["id"])
    return Card(
        row["id"],
        row["job_id"],
        row["proposal"],
        row["template"],
        datetime.fromisoformat(row["made_at"]),
        tuple(_step(step) for step in steps),
    )


def progress(job_id: int | None = None) -> dict[int, tuple[int, int, int]]:
    """Return of a job, or of every open job with a card, how many steps are done, how many there
    are, and how many that hold the job are open; one query.
    """
    of = "job.closed_at IS NULL AND job.binned_at IS NULL" if job_id is None else "job.id = ?"
    counted = rows(
        "SELECT card.job_id, COUNT(*) AS steps,"  # noqa: S608  # our own words only
        " SUM(done_at IS NOT NULL OR waived IS NOT NULL) AS done,"
        " SUM(done_at IS NULL AND waived IS NULL AND plan LIKE '!%') AS holding"
        " FROM job JOIN card ON card.job_id = job.id JOIN card_step ON card_step.card_id = card.id"
        f" WHERE {of} GROUP BY card.job_id",
        *(() if job_id is None else (job_id,)),
    )
    return {row["job_id"]: (row["done"], row["steps"], row["holding"]) for row in counted}


def _step(row: dict[str, Any]) -> CardStep:
    return CardStep(
        id=row["id"],
        place=row["place"],
        plan=kept_step(row["plan"]),
        torque_nm=row["torque_nm"],
        torque_source=row["torque_source"],
        reading=row["reading"],
        done_by=row["done_by"],
        done_at=datetime.fromisoformat(row["done_at"]) if row["done_at"] else None,
        waived=row["waived"],
        version=row["version"],
        reason=row["reason"],
        simulated=bool(row["simulated"]),
        plus_minus=row["plus_minus"],
    )


@dataclass(frozen=True, slots=True)
class CardReading:
    """A figure read on a card: its value, whether a stand-in gave it, and its ±."""

    value: float | str
    simulated: bool
    plus_minus: float | None


def readings(job_id: int) -> dict[str, CardReading]:
    """Return the figures read on a job's card by what they measure.

    Of two readings of one figure the later step's counts; words count where a figure is chosen
    from words, such as a brake.
    """
    card = card_of(job_id)
    found: dict[str, CardReading] = {}
    for step in card.steps if card else ():
        if step.plan.measures and step.reading and step.waived is None:
            with suppress(OutOfRange):
                value = _value(step.plan, step.reading)
                found[step.plan.measures] = CardReading(value, step.simulated, step.plus_minus)
    return found


def _value(plan: StepPlan, reading: str) -> float | str:
    known = FIELD_BY_KEY.get(plan.measures)
    said = reading.strip().casefold()
    if plan.unit == "words" and known is not None and said in known.choices:
        return said
    return read_figure(reading, unit=plan.unit)


Torque = tuple[float, str]  # N·m, and whether the maker's manual or the part says so
NO_TORQUES: Mapping[str, Torque] = MappingProxyType({})


def torques_of(machine_id: int) -> dict[str, Torque]:
    """Return the torques written on a machine's cards by fastener, the last one of each."""
    written = rows(
        "SELECT plan, torque_nm, torque_source FROM card_step"
        " JOIN card ON card.id = card_id JOIN job ON job.id = card.job_id"
        " WHERE machine_id = ? AND torque_nm IS NOT NULL AND torque_source IS NOT NULL"
        " AND done_at IS NOT NULL ORDER BY done_at",
        machine_id,
    )
    return {
        kept_step(row["plan"]).fastener: (row["torque_nm"], row["torque_source"]) for row in written
    }


def settled_of(machine_id: int, takes: Mapping[str, int]) -> dict[str, str]:
    """Return how the stops of wheels that were on before were settled, by their headlines.

    The last word of each counts, with who said it and when.
    """
    found: dict[str, str] = {}
    for row in rows(
        "SELECT card_step.*, proposal.takes FROM card_step JOIN card ON card.id = card_id"
        " JOIN job ON job.id = card.job_id JOIN fitting ON fitting.job_id = job.id"
        " JOIN proposal ON proposal.job_id = job.id AND proposal.name = card.proposal"
        " WHERE job.machine_id = ? AND done_at IS NOT NULL AND reading IS NOT NULL"
        " ORDER BY done_at",
        machine_id,
    ):
        then, text = json.loads(row["takes"] or "{}"), kept_step(row["plan"]).text
        if text.startswith(SETTLED) and all(then.get(end) == takes[end] for end in takes):
            who = f"{row['done_by']}, {datetime.fromisoformat(row['done_at']):%d %b %Y}"
            found[text.removeprefix(SETTLED)] = f"{row['reading']} ({who})"
    return found


def make_card(
    taken: journal.Step,
    job_id: int,
    *,
    proposal: str,
    template: str,
    steps: tuple[StepPlan, ...],
    at: datetime,
    torques: Mapping[str, Torque] = NO_TORQUES,
) -> int:
    """Make a job's card within a step and return its id, in place of one nothing stands on yet.

    A fastener of `torques` has its figure on the card: it was written on this machine before.
    Refuses where there is work on the card there is; the one it replaces stays in the journal.
    """
    known = card_of(job_id)
    if known is not None and known.done:
        raise StoreError(
            "There is work on this job's card already: go on with it, or start another job.",
            field="card",
            expected="a job whose card has no tick yet",
        )
    if known is not None:
        for written in known.steps:
            taken.delete(models.CardStepTable, written.id)
        taken.delete(models.CardTable, known.id)
    card_id = taken.insert(
        models.CardTable, job=job_id, proposal=proposal, template=template, made_at=at.isoformat()
    )
    for place, plan in enumerate(steps):
        newton, source = torques.get(plan.fastener, (None, None)) if plan.fastener else (None, None)
        taken.insert(
            models.CardStepTable,
            card=card_id,
            place=place,
            plan=text_of((plan,)),
            torque_nm=newton,
            torque_source=source,
        )
    return card_id


def add_step(taken: journal.Step, card: Card, plan: StepPlan, *, after: int | None = None) -> None:
    """Add a step within a step, after the one of that id or at the card's end."""
    ids = [step.id for step in card.steps]
    at = ids.index(after) + 1 if after in ids else len(ids)
    new = taken.insert(models.CardStepTable, card=card.id, place=at, plan=text_of((plan,)))
    _number(taken, card, [*ids[:at], new, *ids[at:]])


def move_step(taken: journal.Step, card: Card, step_id: int, by: int) -> None:
    """Move a step up or down its card within a step; at either end it stays."""
    ids = [step.id for step in card.steps]
    at = ids.index(step_id)
    to = min(max(at + by, 0), len(ids) - 1)
    ids.insert(to, ids.pop(at))
    _number(taken, card, ids)


def split_step(taken: journal.Step, card: Card, step: CardStep, first: str, second: str) -> None:
    """Make two steps of one that is open within a step: its readings stay with the first."""
    if not step.open:
        raise StoreError(
            "This step is done; open it again before it is split.",
            field=f"step:{step.id}",
            expected="an open step",
        )
    taken.update(
        models.CardStepTable,
        step.id,
        plan=text_of((replace(step.plan, text=first),)),
        version=step.version + 1,
    )
    add_step(taken, card, StepPlan(second, stop=step.plan.stop), after=step.id)


def _number(taken: journal.Step, card: Card, ids: list[int]) -> None:
    places = {step.id: step.place for step in card.steps}
    for place, step_id in enumerate(ids):
        if places.get(step_id) != place:
            taken.update(models.CardStepTable, step_id, place=place)


def write_step(taken: journal.Step, step: CardStep, *, seen_version: int, **values: Any) -> None:
    """Write down what was done in a step; refuses where someone else wrote since it was seen."""
    row = first_row("SELECT version FROM card_step WHERE id = ?", step.id)
    if row is None or row["version"] != seen_version:
        raise ChangedMeanwhile(
            "Another person wrote on this step since you opened the card. Both are shown: keep "
            "theirs, or write yours again.",
            field=f"step:{step.id}",
            expected="what stands there now, read again",
        )
    taken.update(models.CardStepTable, step.id, version=seen_version + 1, **values)


def templates() -> dict[str, str]:
    """Return every template by its name: the program's, with the shop's own over them."""
    own = {row["name"]: row["text"] for row in rows("SELECT name, text FROM template")}
    return {**built_in(), **own}


def set_template(taken: journal.Step, name: str, text: str, *, on: date) -> None:
    """Write a template within a step; no text takes the shop's own away."""
    known = first_row("SELECT id FROM template WHERE name = ?", name)
    if not text.strip():
        if known is not None:
            taken.delete(models.TemplateTable, known["id"])
        return
    steps_of(text)
    fields = {"text": text.strip(), "set_on": on.isoformat()}
    if known is None:
        taken.insert(models.TemplateTable, name=name, **fields)
    else:
        taken.update(models.TemplateTable, known["id"], **fields)


@dataclass(frozen=True, slots=True)
class KeptPhoto:
    """A photo of a job: its file in the data folder, what it shows, when and by whom."""

    id: int
    file: str
    caption: str
    taken_at: datetime
    by: str


def photos(job_id: int) -> list[KeptPhoto]:
    """Return the photos of a job, the first one first."""
    return [
        KeptPhoto(
            row["id"],
            row["file"],
            row["caption"],
            datetime.fromisoformat(row["taken_at"]),
            row["by"],
        )
        for row in rows("SELECT * FROM photo WHERE job_id = ? ORDER BY id", job_id)
    ]


def add_photo(
    taken: journal.Step, job_id: int, *, file: str, caption: str, at: datetime, by: str
) -> None:
    """Add a photo within a step; refuses more than a job needs."""
    if len(photos(job_id)) >= MOST_PHOTOS:
        raise StoreError(
            f"A job keeps at most {MOST_PHOTOS} photos.", field="photo", expected="fewer photos"
        )
    taken.insert(
        models.PhotoTable, job=job_id, file=file, caption=caption, taken_at=at.isoformat(), by=by
    )


def drop_photo(taken: journal.Step, photo_id: int) -> None:
    """Take a photo off within a step; its file stays, so that undo brings it back."""
    taken.delete(models.PhotoTable, photo_id)
