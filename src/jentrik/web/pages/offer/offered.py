"""What a job offers, as its paper and the API give it: worked out once for both."""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from datetime import date
from decimal import Decimal
from typing import Any

from jentrik.core.days import days_after, with_offset
from jentrik.core.errors import StoreError
from jentrik.core.machine.fields import FIELD_BY_KEY, missing_of
from jentrik.core.machine.figure import Provenance
from jentrik.core.machine.sheet import Sheet
from jentrik.core.plan.answer import Answer, answer_of
from jentrik.core.plan.plan import Outcome, PlanResult
from jentrik.core.rules.case import Severity
from jentrik.core.rules.joined import of_severity
from jentrik.core.work.day import OfferState
from jentrik.core.work.job import KeptProposal
from jentrik.core.work.offer import Offer, OfferLine, moved_since, offer_of
from jentrik.core.work.policy import Policy
from jentrik.exchange.plan_document import read_kept
from jentrik.store.documents import OnBench
from jentrik.store.offers import KeptOffer
from jentrik.web.parts.verdict import found_of, judged


@dataclass(frozen=True, slots=True)
class Offered:
    """One proposal as it is offered: how it is judged, its lines, how long it stands."""

    kept: KeptProposal
    found: PlanResult
    outcome: Outcome
    answer: Answer
    offer: Offer
    valid_until: date
    measured: tuple[str, ...]
    usual: tuple[str, ...]

    @property
    def changes(self) -> bool:
        """Whether it changes anything."""
        return bool(self.kept.changes)

    @property
    def stops(self) -> tuple[str, ...]:
        """The headlines of the stops that stand: what has to be decided before anyone signs."""
        stops = of_severity(self.outcome.findings, Severity.STOP)
        return tuple(dict.fromkeys(finding.headline for finding in stops))

    @property
    def signable(self) -> bool:
        """Whether it may be agreed: it changes something, and no stop stands."""
        return self.changes and not self.stops


def offered(there: OnBench, entries: Mapping[str, str], name: str) -> Offered:
    """Return a proposal of a job as it is offered; refuses one that cannot be judged."""
    kept = there.job.proposal(name) if name else there.job.about
    if kept is None:
        raise StoreError("There is no such proposal.", expected="a proposal of this job")
    found, impossible = found_of(there.sheet, missing_of(there.sheet), there.policy, there.today)
    outcome = judged(found, kept) if found is not None else impossible
    if found is None or not isinstance(outcome, Outcome):
        raise StoreError(
            str(outcome) or "The offer waits for figures of the machine.",
            field="figures",
            expected="the machine measured",
        )
    money = there.policy.money
    return Offered(
        kept,
        found,
        outcome,
        answer_of(found, outcome, with_nearest=False),
        offer_of(found.bike, read_kept(kept), entries, money),
        days_after(there.today, money.offer_days),
        *_known(there.sheet, outcome),
    )


def _known(sheet: Sheet, outcome: Outcome) -> tuple[tuple[str, ...], tuple[str, ...]]:
    """Return the labels of what was measured on the machine, and of what is usual for its kind.

    What the findings rest on comes first.
    """
    rests = {key for finding in outcome.findings for key in finding.figures}
    measured, usual = list[str](), list[str]()
    for key, figure in sorted(sheet.figures.items(), key=lambda one: one[0] not in rests):
        known = FIELD_BY_KEY.get(key)
        if known is None:
            continue
        if figure.provenance in (Provenance.MEASURED, Provenance.PHOTOGRAPH):
            measured.append(known.label.lower())
        elif figure.provenance.unproved:
            usual.append(known.label.lower())
    return tuple(dict.fromkeys(measured)), tuple(dict.fromkeys(usual))


def offer_document(one: Offered, agreed: KeptOffer | None = None) -> dict[str, Any]:
    """Return an offer as plain values; amounts are text with their hundredths, tax apart."""
    offer = one.offer
    total = offer.total
    return {
        "proposal": one.kept.name,
        "way": offer.way.value,
        "verdict": one.answer.verdict.value,
        "sentence": one.answer.sentence,
        "stops": list(one.stops),
        "lines": _lines_document(offer.lines, offer),
        "maybe": _lines_document(offer.maybe, offer),
        "kept": list(offer.kept),
        "work": [
            {
                "what": line.what,
                "hours": f"{line.hours:f}",
                "rate": f"{line.rate:.2f}",
                "sum": f"{line.sum:.2f}",
                "tax_percent": f"{line.tax_percent.normalize():f}",
            }
            for line in offer.work
        ],
        "not_priced": list(offer.not_priced),
        "parts_sum": f"{offer.parts_sum:.2f}",
        "work_sum": f"{offer.work_sum:.2f}",
        "prices": offer.money.tax.value,
        "taxes": [
            {
                "percent": f"{tax.percent.normalize():f}",
                "net": f"{tax.net:.2f}",
                "tax": f"{tax.tax:.2f}",
            }
            for tax in offer.taxes
        ],
        "priced_so_far": f"{offer.priced_so_far:f}",
        "total": None if total is None else f"{total:f}",
        "currency": offer.money.currency,
        "valid_until": one.valid_until.isoformat(),
        "measured": list(one.measured),
        "usual": list(one.usual),
        "signable": one.signable,
        "agreed": _agreed_document(agreed, one),
    }


def _lines_document(lines: Iterable[OfferLine], offer: Offer) -> list[dict[str, Any]]:
    return [
        {
            "key": line.key,
            "part": line.part,
            "size": line.size,
            "pieces": line.pieces,
            "unit_price": None if line.unit_price is None else f"{line.unit_price:.2f}",
            "sum": None if line.sum is None else f"{line.sum:.2f}",
            "tax_percent": f"{line.tax_percent.normalize():f}",
            "currency": offer.money.currency,
        }
        for line in lines
    ]


def _agreed_document(agreed: KeptOffer | None, one: Offered) -> dict[str, Any] | None:
    """Return what was agreed last, by whom, when, how, and what moved since; None where nothing."""
    if agreed is None or agreed.state is not OfferState.AGREED:
        return None
    return {
        "by": agreed.by,
        "at": with_offset(agreed.at),
        "how": agreed.how,
        "proposal": agreed.proposal,
        "sha256": agreed.sha256,
        "since": changed_since(agreed, one.kept, one.offer),
    }


def changed_since(agreed: KeptOffer, kept: KeptProposal, offer: Offer) -> str:
    """Return in words what is otherwise since an offer was agreed; "" where it stands as it was."""
    if agreed.proposal != kept.name:
        return f"Proposal {agreed.proposal} was agreed, not this one."
    was = agreed.offer
    moved = moved_since(Decimal(str(was["parts_sum"])), Decimal(str(was["work_sum"])), offer)
    said = [f"{name.lower()} {'+' if by > 0 else ''}{offer.written(by)}" for name, by in moved]
    if agreed.values.get("changes") != kept.changes:
        said.insert(0, "what is changed on the machine")
    elif not moved and was["lines"] != _lines_document(offer.lines, offer):
        said.append("the parts")
    return f"Since agreed: {', '.join(said)}." if said else ""


def shop_head(policy: Policy) -> list[str]:
    """Return the line below the shop's name: address, phone, tax number, as far as they are set."""
    head = policy.head
    number = f"tax no. {head.tax_number}" if head.tax_number else ""
    return [words for words in (head.address, head.phone, number) if words]
