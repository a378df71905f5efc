"""Practice of people: queries that return core values, and answers that are kept."""

from dataclasses import dataclass
from datetime import date, datetime, timedelta

from jentrik.core.practice.item import Verdict
from jentrik.core.practice.schedule import Practised, reviewed
from jentrik.store import journal, models
from jentrik.store.rows import first_row, rows

SUBJECT = "practice"
LATELY, WEEKS, MOST_READ = 12, 8, 2000


@dataclass(frozen=True, slots=True)
class Week:
    """What one week of practice came to: its Monday, answers, right ones, median seconds."""

    monday: date
    answers: int
    right: int
    seconds: float


@dataclass(frozen=True, slots=True)
class TurnedOut:
    """A figure expected of a job and measured after it; `tag` is the job's."""

    tag: int
    machine: str
    wanted: str
    label: str
    unit: str
    predicted: float
    plus_minus: float
    measured: float


def turned_out() -> list[TurnedOut]:
    """Return every figure expected of a job and measured after it, the last first."""
    return [
        TurnedOut(**row)
        for row in rows(
            "SELECT job.tag, machine.name AS machine, job.wanted, confronted.label, "
            "confronted.unit, predicted, plus_minus, measured FROM confronted "
            "JOIN job ON job.id = confronted.job_id JOIN machine ON machine.id = job.machine_id "
            "WHERE job.binned_at IS NULL ORDER BY confronted.id DESC LIMIT ?",
            MOST_READ,
        )
    ]


def practised(person: str) -> dict[str, Practised]:
    """Return how every skill stands with a person, with its last answers."""
    lately: dict[str, list[str]] = {}
    for row in rows(
        "SELECT kind, verdict FROM practice_answer WHERE person = ? ORDER BY id DESC LIMIT ?",
        person,
        MOST_READ,
    ):
        those = lately.setdefault(row["kind"], [])
        if len(those) < LATELY:
            those.append(row["verdict"])
    return {
        row["kind"]: Practised(
            row["kind"], row["card"], tuple(reversed(lately.get(row["kind"], [])))
        )
        for row in rows("SELECT * FROM practice_card WHERE person = ? ORDER BY id", person)
    }


def lately_asked(person: str, most: int = 3) -> list[str]:
    """Return the skills a person was asked last, the newest last."""
    found = rows(
        "SELECT kind FROM practice_answer WHERE person = ? ORDER BY id DESC LIMIT ?", person, most
    )
    return [row["kind"] for row in reversed(found)]


def seeds_asked(person: str, kind: str, most: int) -> list[int]:
    """Return the seeds of the items of a kind a person answered last."""
    found = rows(
        "SELECT seed FROM practice_answer WHERE person = ? AND kind = ? ORDER BY id DESC LIMIT ?",
        person,
        kind,
        most,
    )
    return [row["seed"] for row in found]


def weeks(person: str, today: date) -> list[Week]:
    """Return the weeks a person practised in, the oldest first; no streak, what was known."""
    since = today - timedelta(days=today.weekday(), weeks=WEEKS - 1)
    by: dict[date, list[tuple[str, float]]] = {}
    for row in rows(
        "SELECT at, verdict, seconds FROM practice_answer WHERE person = ? AND at >= ?",
        person,
        since.isoformat(),
    ):
        day = datetime.fromisoformat(row["at"]).date()
        by.setdefault(day - timedelta(days=day.weekday()), []).append(
            (row["verdict"], row["seconds"])
        )
    return [
        Week(
            monday,
            len(those),
            sum(verdict == Verdict.RIGHT for verdict, _ in those),
            sorted(seconds for _, seconds in those)[len(those) // 2],
        )
        for monday, those in sorted(by.items())
    ]


def keep_answer(
    taken: journal.Step,
    person: str,
    kind: str,
    seed: int,
    verdict: Verdict,
    *,
    said: str,
    seconds: float,
    at: datetime,
) -> None:
    """Keep an answer within a step, and when its skill is due again."""
    taken.insert(
        models.PracticeAnswerTable,
        person=person,
        kind=kind,
        seed=seed,
        at=at.isoformat(),
        verdict=verdict.value,
        seconds=seconds,
        said=said,
    )
    known = first_row(
        "SELECT id, card FROM practice_card WHERE person = ? AND kind = ?", person, kind
    )
    if known is None:
        card = reviewed(None, verdict, at)
        taken.insert(models.PracticeCardTable, person=person, kind=kind, card=card)
    else:
        card = reviewed(known["card"], verdict, at)
        taken.update(models.PracticeCardTable, known["id"], card=card)
