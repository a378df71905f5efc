"""When a skill is practised again: the published FSRS scheduler, a card a skill and person.

A wrong answer is the library's Again, a near one Hard, a right one Good; no one is hurried, so
speed moves nothing.  Source: `fsrs`, the free spaced repetition scheduler by its own authors.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import UTC, datetime

from fsrs import Card, Rating, Scheduler

from jentrik.core.practice.item import Verdict
from jentrik.core.practice.skills import SKILL, SKILLS

_SCHEDULER = Scheduler(enable_fuzzing=False)
_RATING = {Verdict.WRONG: Rating.Again, Verdict.NEAR: Rating.Hard, Verdict.RIGHT: Rating.Good}
SITS = 3  # right answers in a row after which what stands on a skill may begin (common practice)


@dataclass(frozen=True, slots=True)
class Practised:
    """How one skill stands with one person: its card, and its last answers, the newest last."""

    kind: str
    card: str  # the scheduler's own JSON
    verdicts: tuple[str, ...] = ()

    @property
    def due(self) -> datetime:
        """When it is due."""
        return Card.from_json(self.card).due

    def recall(self, at: datetime) -> float:
        """Return how likely it is known on a day, by the scheduler."""
        return float(
            _SCHEDULER.get_card_retrievability(Card.from_json(self.card), at.astimezone(UTC))
        )

    @property
    def sits(self) -> bool:
        """Whether what stands on it may begin."""
        return len(self.verdicts) >= SITS and set(self.verdicts[-SITS:]) <= {Verdict.RIGHT}

    @property
    def right_share(self) -> float:
        """The share of right answers among those kept."""
        return self.verdicts.count(Verdict.RIGHT) / len(self.verdicts) if self.verdicts else 0.0


def reviewed(card: str | None, verdict: Verdict, at: datetime) -> str:
    """Return a card after an answer; None begins one."""
    known = Card.from_json(card) if card else Card(card_id=0)
    after, _ = _SCHEDULER.review_card(known, _RATING[verdict], at.astimezone(UTC))
    return str(after.to_json())


def next_kind(known: Mapping[str, Practised], at: datetime, lately: Sequence[str] = ()) -> str:
    """Return the skill to practise now: the due one least likely known, else a new one.

    A new skill comes once those it stands on sit; without either the one due first.  One that was
    just asked waits for the next turn where there is another.
    """
    now = at.astimezone(UTC)
    due = [one for one in known.values() if one.due <= now and one.kind in SKILL]
    fresh = [
        skill.kind
        for skill in SKILLS
        if skill.kind not in known
        and all(need in known and known[need].sits for need in skill.needs)
    ]
    ordered = [one.kind for one in sorted(due, key=lambda one: one.recall(at))]
    later = sorted((one for one in known.values() if one.kind in SKILL), key=lambda one: one.due)
    ordered += [*fresh, *(one.kind for one in later if one.kind not in ordered)]
    waiting = [kind for kind in ordered if kind not in lately[-2:]]
    return (waiting or ordered)[0]
