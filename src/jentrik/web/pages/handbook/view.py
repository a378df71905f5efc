"""The handbook: a first job, a page a station, every figure; made from what the rules are made of.

The words between stand in `templates/handbook/`; tables of figures, rules, traps, remedies and
signs come from the tables of the core, so that none is described that is not there.
"""

import re
from collections.abc import Iterable
from dataclasses import dataclass
from html import unescape

from jentrik.core.machine.declared import About, Guide
from jentrik.core.machine.depends import FOUND
from jentrik.core.machine.fields import FIELDS
from jentrik.core.plan.effects import EFFECT_WORDS
from jentrik.core.rules import RULES, SUBJECT_OF, TITLES
from jentrik.core.tire.tables.glossary import TERMS, Term
from jentrik.core.tire.tables.remedies import KEPT, RemedyRow
from jentrik.core.tire.traps import TRAPS, Trap
from jentrik.core.work.inspection import SIGNS, Sign
from jentrik.core.work.ride import SCORES
from jentrik.web.pages.jobs.ledger import GEOMETRY_NAMES


@dataclass(frozen=True, slots=True)
class Chapter:
    """One page: its name in the address, its title, what it is for in a line."""

    id: str
    title: str
    about: str


CHAPTERS = (
    Chapter("first-job", "A first job in five minutes", "From a tire code to a job card."),
    Chapter("read", "Read", "What a sidewall says, and what it does not."),
    Chapter("measure", "Measure", "Which figures, with what, and what each is for."),
    Chapter("practice", "Practise", "Ten minutes a day, a question at a time."),
    Chapter("photograph", "Measure by photograph", "A dozen marks, and the wheels are the ruler."),
    Chapter("propose", "Propose", "Another tire, wheel or part, and what it does."),
    Chapter("check", "Check", "What speaks against it, by how much, and why."),
    Chapter("fit", "Fit", "Order, card, torque, readings, closing."),
    Chapter("ride", "Ride", "The first ride, set-ups and what they say."),
    Chapter("choose", "Choose", "What can go on a machine, and why the rest cannot."),
    Chapter("figures", "Every figure", "What it is, what it rests on, how it feels."),
    Chapter("shop", "The shop", "People, limits, keys, backups, other programs."),
)
CHAPTER = {one.id: one for one in CHAPTERS}


@dataclass(frozen=True, slots=True)
class MeasuredFigure:
    """A figure of the sheet: how it is taken, and what it is for."""

    field: About
    guide: Guide | None
    kinds: str


def measured_figures() -> list[tuple[str, list[MeasuredFigure]]]:
    """Return every figure of a sheet by group."""
    groups: dict[str, list[MeasuredFigure]] = {}
    for one in FIELDS:
        kinds = "" if len(one.kinds) > 1 else f"{one.kinds[0]}s"
        groups.setdefault(one.group, []).append(MeasuredFigure(one, one.guide, kinds))
    return list(groups.items())


@dataclass(frozen=True, slots=True)
class ComputedFigure:
    """A figure of the geometry: what it is, what it rests on, how more and less of it feels."""

    key: str
    name: str
    term: Term | None
    rests_on: list[tuple[str, str]]  # key and label of each figure of the sheet
    more: str
    less: str


def computed_figures() -> list[ComputedFigure]:
    """Return every figure of the geometry that rests on figures of the sheet."""
    labels = {one.key: one.label for one in FIELDS}
    terms = {key: term for term in TERMS for key in term.figures}
    return [
        ComputedFigure(
            key,
            _name(key, terms.get(key)),
            terms.get(key),
            [(one, labels[one]) for one in rests_on if one in labels],
            _felt(key, up=True),
            _felt(key, up=False),
        )
        for key, rests_on in FOUND.items()
    ]


def _name(key: str, term: Term | None) -> str:
    """Return what a figure is called: as the ledger calls it, else as what is felt, or its word."""
    if key in _NAMES:
        return _NAMES[key]
    if key in GEOMETRY_NAMES:
        return GEOMETRY_NAMES[key]
    if key in EFFECT_WORDS:
        return EFFECT_WORDS[key].name
    return term.name if term else key


_NAMES = {
    "pitch_deg": "Pitch of the chassis",
    "front_share_percent": "Load on the front wheel",
    "saddle_to_bar_mm": "Saddle to bar",
    "bar_above_saddle_mm": "Bar above the saddle",
    "seat_angle_at_saddle_deg": "Seat angle at the saddle",
    "pedal_height_mm": "Lowest pedal",
    "seat_height_mm": "Seat height",
}


def _felt(key: str, *, up: bool) -> str:
    words = EFFECT_WORDS.get(key)
    if words is None:
        return ""
    way, feels = (words.up, words.up_feels) if up else (words.down, words.down_feels)
    return f"{way}: {feels}" if feels else ""


def rules_by_subject() -> list[tuple[str, list[tuple[str, str]]]]:
    """Return the id and title of every rule by subject."""
    subjects: dict[str, dict[str, str]] = {}
    for rule in RULES:
        subject = SUBJECT_OF[rule.module]
        subjects.setdefault(subject, {})[rule.id] = TITLES[rule.id]
    return [(name, list(rules.items())) for name, rules in subjects.items()]


@dataclass(frozen=True, slots=True)
class Tables:
    """What the chapters are made of besides their words."""

    measured: list[tuple[str, list[MeasuredFigure]]]
    computed: list[ComputedFigure]
    rules: list[tuple[str, list[tuple[str, str]]]]
    traps: tuple[Trap, ...]
    remedies: tuple[RemedyRow, ...]
    signs: tuple[Sign, ...]
    scores: tuple[str, ...]
    terms: tuple[Term, ...]


def tables() -> Tables:
    """Return every table of the handbook."""
    return Tables(
        measured_figures(),
        computed_figures(),
        rules_by_subject(),
        TRAPS,
        KEPT,
        SIGNS,
        SCORES,
        tuple(TERMS),
    )


@dataclass(frozen=True, slots=True)
class Passage:
    """A part of the handbook that a search finds: where it is, its heading, its words."""

    chapter: Chapter
    place: str
    heading: str
    words: str


_PART = re.compile(r'<(?:h2|tr|dt)[^>]*\bid="([^"]+)"[^>]*>')
_TAG = re.compile(r"<[^>]+>")


def passages(chapter: Chapter, html: str) -> list[Passage]:
    """Return the parts of a chapter: each begins at a place with a name of its own."""
    found = [(m.start(), m[1]) for m in _PART.finditer(html)]
    parts = []
    for (start, place), (end, _) in zip(found, [*found[1:], (len(html), "")], strict=True):
        words = " ".join(unescape(_TAG.sub(" ", html[start:end])).split())
        parts.append(Passage(chapter, place, words[:60], words))
    return parts


def searched(parts: Iterable[Passage], find: str, *, most: int = 40) -> list[Passage]:
    """Return the parts with every word looked for, those that begin with one first."""
    words = find.casefold().split()
    found = [part for part in parts if all(word in part.words.casefold() for word in words)]
    begins = tuple(words)
    found.sort(key=lambda one: not one.words.casefold().startswith(begins))
    return found[:most]
