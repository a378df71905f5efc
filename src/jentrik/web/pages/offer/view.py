"""The customer's paper: the offer of one or two proposals, or the hand-over of a job that is done.

Two pages at most, black on white, in the customer's words; see `offered` for what it says.
"""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from datetime import date

from markupsafe import Markup

from jentrik.core.amounts import THIN, mm, torque
from jentrik.core.errors import StoreError
from jentrik.core.machine.fields import missing_of
from jentrik.core.machine.sheet import Sheet
from jentrik.core.plan.answer import Verdict
from jentrik.core.plan.effects import effects
from jentrik.core.plan.plan import Outcome, PlanResult
from jentrik.core.rules.case import Finding, Severity
from jentrik.core.rules.joined import JoinedFinding, joined
from jentrik.core.work.card import HOW_SETTLED, Card, first_ride
from jentrik.core.work.cost import ways_of
from jentrik.core.work.day import OfferState
from jentrik.core.work.job import Job
from jentrik.core.work.look_again import in_words
from jentrik.core.work.order_entries import OLD_PARTS, way_key
from jentrik.core.work.policy import Policy
from jentrik.exchange.plan_document import read_kept
from jentrik.store import after_fitting, cards, look_again
from jentrik.store.documents import OnBench
from jentrik.store.offers import KeptOffer
from jentrik.web.figures import fixed
from jentrik.web.pages.jobs.compare import noticed
from jentrik.web.pages.jobs.scene import plain_drawing
from jentrik.web.pages.offer.offered import Offered, changed_since, offered, shop_head
from jentrik.web.parts.address import Link
from jentrik.web.parts.verdict import found_of, judged
from jentrik.web.parts.words import what_changes

ASK_FIRST = (
    "Another size of tire or wheel may touch type approval, registration and insurance: ask before "
    "riding on the road."
)
MOST_NAMED = 8
# Rules whose caution is of a change that "what you will feel" names.
_FELT = frozenset(
    {"head-angle-shift", "trail-shift", "bb-low", "bb-high", "reach-shift", "seat-height-shift"}
)


@dataclass(frozen=True, slots=True)
class OptionOnPaper:
    """One proposal on the paper; without `one`, why it cannot be offered yet."""

    name: str
    waits: str
    changes: str = ""
    one: Offered | None = None
    drawing: Markup | None = None
    feels: Sequence[str] = ()
    warned: Sequence[JoinedFinding] = ()
    ways: tuple[str, ...] = ()
    way_key: str = ""
    since: str = ""  # what moved since it was agreed

    @property
    def sentence(self) -> str:
        """The heading: whether it goes, and what has to be decided where it does not."""
        assert self.one is not None
        return self.one.answer.sentence

    @property
    def first_measure(self) -> bool:
        """Whether something is measured first."""
        return self.one is not None and self.one.answer.verdict is Verdict.MEASURE


@dataclass(frozen=True, slots=True)
class HandOver:
    """What a job came to: what was done, torques, measured, the set-up that is on, old parts."""

    on: date
    changes: str
    done: Sequence[str]
    torques: Sequence[str]
    measured: Sequence[str]
    setup: str
    settled: Sequence[str]
    old_parts: str
    stops: bool  # whether a stop stands that the card does not settle


@dataclass(frozen=True, slots=True)
class Paper:
    """Everything the customer's page shows."""

    job: Job
    sheet: Sheet
    on: date
    policy: Policy
    head: Sequence[str]
    options: Sequence[OptionOnPaper]
    tabs: Sequence[Link]
    ride: Sequence[str]
    again: str
    look_on: date | None
    law: str
    last: KeptOffer | None
    handed: HandOver | None = None
    states: Sequence[KeptOffer] = ()
    old_parts: Sequence[str] = field(default=OLD_PARTS)

    @property
    def title(self) -> str:
        """What the page is: an offer before the work, a hand-over after it."""
        return "Hand-over" if self.handed else "Offer"

    @property
    def signable(self) -> list[OptionOnPaper]:
        """The proposals that may be signed."""
        return [one for one in self.options if one.one is not None and one.one.signable]

    @property
    def agreed(self) -> KeptOffer | None:
        """What was agreed last; None where the last word is another."""
        return self.last if self.last and self.last.state is OfferState.AGREED else None


def paper(
    there: OnBench,
    entries: Mapping[str, str],
    names: str,
    path: str,
    states: Sequence[KeptOffer] = (),
) -> Paper:
    """Return the paper of a job: proposals by their names, "A" or "A,B"; the first without."""
    job, last = there.job, states[-1] if states else None
    fitted = job.done.proposal if job.done else ""
    first = fitted or (job.about.name if job.about else "")
    asked = [name for name in names.split(",") if job.proposal(name)][:2] or [first]
    options = [_option(there, entries, name, last) for name in ([fitted] if fitted else asked)]
    law = any(finding.law for one in options if one.one for finding in one.one.outcome.findings)
    ready = any(one.one is not None for one in options)
    look = look_again.day_of(there.sheet.id) if job.done else None
    return Paper(
        job=job,
        sheet=there.sheet,
        on=there.today,
        policy=there.policy,
        head=shop_head(there.policy),
        options=options,
        tabs=[] if job.done else _tabs(job, asked, path),
        ride=first_ride(there.sheet.kind) if ready else [],
        again=in_words(look) if ready else "",
        look_on=look,
        law=ASK_FIRST if law else "",
        last=last,
        handed=_handed(there, entries, options[0]) if job.done else None,
        states=states,
    )


def _tabs(job: Job, asked: Sequence[str], path: str) -> list[Link]:
    names = [kept.name for kept in job.proposals]
    pair = names[:2] if len(asked) < 2 else list(asked)
    links = [Link(name, f"{path}?proposal={name}", list(asked) == [name]) for name in names]
    if len(names) > 1:
        both = Link(" and ".join(pair), f"{path}?proposal={','.join(pair)}", len(asked) == 2)
        links.append(both)
    return links if len(links) > 1 else []


def _option(
    there: OnBench, entries: Mapping[str, str], name: str, last: KeptOffer | None
) -> OptionOnPaper:
    kept = there.job.proposal(name)
    if kept is None:
        return OptionOnPaper(name, "Nothing is proposed yet.")
    changes = what_changes(there.job, there.sheet, kept)
    try:
        one = offered(there, entries, name)
    except StoreError as refusal:
        return OptionOnPaper(name, refusal.message, changes)
    agreed = last if last and last.state is OfferState.AGREED else None
    feels = noticed(one.found, one.outcome)
    return OptionOnPaper(
        name,
        "",
        changes,
        one,
        plain_drawing(there.sheet, one.found, one.outcome, _plain_words(one.found, one.outcome)),
        feels or ["Nothing a rider would notice in these figures."],
        _warned(one.outcome.findings),
        tuple(way.value for way in ways_of(one.found.bike, read_kept(kept))),
        way_key(name),
        changed_since(agreed, kept, one.offer) if agreed and not there.job.done else "",
    )


def _plain_words(found: PlanResult, outcome: Outcome) -> tuple[str, str]:
    """Return how the feet and the steering come to stand, in a customer's words."""
    felt = {effect.key: effect for effect in effects(found, outcome)}
    low = next((felt[key] for key in ("bb_height_mm", "feet_height_mm") if key in felt), None)
    name = "pedals" if found.bike.kind == "bicycle" else "pegs"
    height = ""
    if low is not None:
        by = fixed(abs(low.by))
        height = f"{name} as they were" if by == "0" else f"{name} {mm(by)} {low.way}"
    turned = [felt[key] for key in ("trail_mm", "head_angle_deg") if key in felt]
    worst = max(turned, key=lambda one: one.times, default=None)
    if worst is None or worst.times < 1:
        return height, "steering as it was"
    unit = worst.words.unit if worst.words.unit == "°" else f"{THIN}{worst.words.unit}"
    by = f"{fixed(abs(worst.by), worst.words.digits)}{unit}"
    return height, f"{worst.words.name.lower()} {by} {worst.way}"


def _warned(findings: Iterable[Finding]) -> list[JoinedFinding]:
    """Return the stops and cautions, but for a caution about what will be felt."""
    return [
        finding
        for finding in joined(findings)
        if finding.severity is Severity.STOP
        or (finding.severity is Severity.CAUTION and finding.rule not in _FELT)
    ]


def _handed(there: OnBench, entries: Mapping[str, str], option: OptionOnPaper) -> HandOver:
    assert there.job.done is not None
    card = cards.card_of(there.job.id)
    settled = _settled(there)
    found, _ = found_of(there.sheet, missing_of(there.sheet), there.policy, there.today)
    kept = there.job.proposal(there.job.done.proposal)
    outcome = judged(found, kept) if found is not None and kept is not None else ""
    findings = outcome.findings if isinstance(outcome, Outcome) else ()
    stops = sum(finding.severity is Severity.STOP for finding in joined(findings))
    setup = (there.document.values.get("fitted_sheet") or {}) if there.document else {}
    return HandOver(
        on=there.job.done.on,
        changes=option.changes,
        done=_done(card),
        torques=_torques(card),
        measured=[
            f"{one.expected.label} {fixed(one.measured, 1).removesuffix('.0')}{THIN}"
            f"{one.expected.unit}"
            for one in after_fitting.measured_of(there.job.id).values()
        ],
        setup=str((setup.get("setup") or {}).get("name", "")),
        settled=settled,
        old_parts=entries.get("old-parts", ""),
        stops=stops > len(settled),
    )


def _done(card: Card | None) -> list[str]:
    """Return what was done, by group, and what was skipped with its reason."""
    if card is None:
        return []
    said = []
    for group in card.groups:
        done = sum(step.done_at is not None for step in group.steps)
        words = group.name or card.template or "Card"
        said.append(f"{words}: {done} of {len(group.steps)} steps")
    said += [f"Skipped: {step.plan.text} ({step.waived})" for step in card.steps if step.waived]
    return said


def _torques(card: Card | None) -> list[str]:
    return [
        f"{step.plan.fastener} {torque(step.torque_nm)} ({step.torque_source})"
        for step in (card.steps if card else ())
        if step.plan.fastener and step.torque_nm is not None and step.done_at is not None
    ]


def _settled(there: OnBench) -> tuple[str, ...]:
    """Return how the stops of a job were settled: what its sealed card says, by whom."""
    card = there.document.values.get("card") if there.document else None
    return tuple(
        f"{step['text']} ({step['reading']}, {step['done_by']})"
        for step in (card or {"steps": ()})["steps"]
        if step["reads"] == HOW_SETTLED and step["done_at"] and step["reading"]
    )


def named(names: Sequence[str]) -> str:
    """Return names in a row, of many the first and how many more."""
    more = len(names) - MOST_NAMED
    shown = ", ".join(names[:MOST_NAMED])
    return f"{shown} and {more} more" if more > 0 else shown
