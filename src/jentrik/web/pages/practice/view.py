"""Practice as a page shows it: what is due, weak points by skill, weeks, an item and its answer."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import datetime, timedelta

from markupsafe import Markup

from jentrik.core.errors import Refusal
from jentrik.core.practice.item import Item, Verdict
from jentrik.core.practice.schedule import Practised
from jentrik.core.practice.skills import SKILL, SKILLS
from jentrik.store.practice import Week
from jentrik.web.drawing.practice_weeks import weeks_drawing
from jentrik.web.figures import fixed
from jentrik.web.live.undoing import UndoView
from jentrik.web.pages.practice.drawing import change_drawing

SESSIONS = (5, 10, 20)
WILD = 0.5  # a share of the answer: a figure further off is a guess, not a slip
WEAK, FEWEST = 0.75, 3  # a share of right answers below which a skill is weak, of so many at least


@dataclass(frozen=True, slots=True)
class SkillRow:
    """One skill: how it stands, when it is due, what it stands on."""

    kind: str
    title: str
    level: int
    state: str  # "due", "later", "new", "waits"
    says: str
    needs: str
    weak: bool


@dataclass(frozen=True, slots=True)
class PracticeView:
    """The page of practice."""

    who: str
    due: int
    weak: list[str]
    rows: list[SkillRow]
    chart: Markup | None
    sessions: Sequence[int]
    ended: bool
    said: str
    undo: UndoView


@dataclass(frozen=True, slots=True)
class ItemView:
    """One item as it is asked, or answered."""

    item: Item
    title: str
    seed: int
    until: str
    began: str
    left: str
    drawing: Markup
    typed: str = ""
    complaint: str = ""
    verdict: str = ""
    said: str = ""
    answer: str = ""
    off: str = ""
    changed: Markup | None = None  # the machine of the item, before and after


def practice_view(
    who: str,
    known: Mapping[str, Practised],
    weeks: Sequence[Week],
    now: datetime,
    *,
    ended: bool,
    undo: UndoView,
) -> PracticeView:
    """Return what is due and weak for a person, and the weeks."""
    at = now.astimezone()
    rows = [_row(kind.kind, known, at) for kind in SKILLS]
    weak = [row.title for row in rows if row.weak]
    last = weeks[-1] if weeks else None
    said = (
        f"This week {last.right} of {last.answers} right, {fixed(last.seconds)} s each."
        if last
        else ""
    )
    return PracticeView(
        who,
        sum(row.state == "due" for row in rows),
        weak,
        rows,
        weeks_drawing(weeks) if weeks else None,
        SESSIONS,
        ended,
        said,
        undo,
    )


def _row(kind: str, known: Mapping[str, Practised], at: datetime) -> SkillRow:
    skill, one = SKILL[kind], known.get(kind)
    open_needs = [
        SKILL[need].title for need in skill.needs if need not in known or not known[need].sits
    ]
    needs = f"{skill.reason}" if open_needs else ""
    if one is None:
        waits = bool(open_needs)
        says = f"after {', '.join(open_needs).lower()}" if waits else "not tried yet"
        return SkillRow(
            kind, skill.title, skill.level, "waits" if waits else "new", says, needs, weak=False
        )
    share, count = one.right_share, len(one.verdicts)
    state = "due" if one.due <= at else "later"
    when = "due" if state == "due" else _when(one.due.astimezone(at.tzinfo), at)
    says = f"{fixed(100 * share)} % of the last {count} right; {when}"
    return SkillRow(
        kind, skill.title, skill.level, state, says, "", count >= FEWEST and share < WEAK
    )


def _when(due: datetime, at: datetime) -> str:
    away = due - at
    if away < timedelta(hours=20):
        return "again today"
    return f"again on {due.day} {due:%b}"


def item_view(
    item: Item,
    seed: int,
    until: datetime,
    now: datetime,
    typed: str = "",
    refusal: Refusal | None = None,
) -> ItemView:
    """Return an item as it is asked."""
    return ItemView(
        item,
        _title(item.kind),
        seed,
        until.isoformat(timespec="seconds"),
        now.isoformat(timespec="seconds"),
        _left(until, now),
        Markup(item.drawing or ""),  # of our own making
        typed,
        refusal.message if refusal else "",
    )


def answered_view(
    item: Item, seed: int, until: datetime, now: datetime, verdict: Verdict, said: str
) -> ItemView:
    """Return an item with its answer: whether right, near or wrong, what is right, and why."""
    answer = item.answer if isinstance(item.answer, str) else f"{item.answer:g}"
    unit = "" if isinstance(item.answer, str) or not item.unit else f" {item.unit}"
    return replace(
        item_view(item, seed, until, now),
        verdict=verdict_words(item, verdict, said),
        said=said,
        answer=f"{answer}{unit}",
        off=how_far_off(item, verdict, said),
        changed=change_drawing(item),
    )


def verdict_words(item: Item, verdict: Verdict, said: str) -> str:
    """Return a verdict in words; a figure several times off, or of the wrong sign, is far off."""
    if verdict is not Verdict.WRONG:
        return {Verdict.RIGHT: "Right", Verdict.NEAR: "Near"}[verdict]
    if isinstance(item.answer, str):
        return "Not so"
    off = abs(float(said) - item.answer)
    wild = off > WILD * max(abs(item.answer), item.tolerance or 0.0)
    return "Far off" if wild or float(said) * item.answer < 0 else "Not so"


def how_far_off(item: Item, verdict: Verdict, said: str) -> str:
    """Return how far a figure is off, and which way; nothing where it is right, or a choice."""
    if verdict is Verdict.RIGHT or isinstance(item.answer, str):
        return ""
    if float(said) * item.answer < 0:
        return "The sign is the other one: first which way, then how far."
    off = float(said) - item.answer
    unit = f" {item.unit}" if item.unit else ""
    return f"That is {abs(off):.3g}{unit} too {'much' if off > 0 else 'little'}."


def _title(kind: str) -> str:
    return SKILL[kind].title if kind in SKILL else "From this shop"


def _left(until: datetime, now: datetime) -> str:
    left = max(until - now, timedelta())
    minutes = -(-int(left.total_seconds()) // 60)
    return f"{minutes} min left" if left else "time is up"
