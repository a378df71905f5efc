"""What becomes of an offer: given, agreed, declined, asked for a price."""

from typing import Literal

from pydantic import Field

from jentrik.core.errors import OutOfRange, StoreError
from jentrik.core.text import one_line
from jentrik.core.work.day import OfferState
from jentrik.store import costs, documents, jobs
from jentrik.store.offers import KeptOffer, last_offer
from jentrik.web.live.command import Command, Words
from jentrik.web.pages.jobs.on_bench import on_bench
from jentrik.web.pages.offer.offered import offer_document, offered
from jentrik.web.shop import Shop

HOW = ("here", "phone", "letter")
LONGEST_NAME = 80


class OfferAnswered(Command):
    """What a customer says to an offer, who, and how."""

    proposal: Words = Field(examples=["A"])
    by: Words = Field(default="", examples=["Ada Fairlead"], description="Who of the customer's")
    how: Literal["here", "phone", "letter"] = Field(default="here")
    state: Literal["offered", "agreed", "declined", "asked for a price"] = "agreed"

    def carry_out(self, shop: Shop, job_id: int, page: str = "") -> KeptOffer:
        """Seal what was shown, `page` as it was printed, and what was said to it."""
        state, by = OfferState(self.state), one_line(self.by, most=LONGEST_NAME)
        if state in (OfferState.AGREED, OfferState.DECLINED) and not by:
            raise OutOfRange(
                f"Write who has {state.value}: a name stands under what was {state.value}.",
                field="by",
                expected="a name",
            )
        with shop.step(f"offer {state.value}", f"job {job_id} offer", job_id=job_id) as step:
            jobs.must_not_be_done(job_id)
            there = on_bench(shop, job_id)
            if not self.proposal:
                raise OutOfRange("Say which proposal.", field="proposal", expected="its name")
            one = offered(there, costs.entries(job_id), self.proposal)
            if not one.changes:
                raise StoreError(
                    "This proposal changes nothing yet: there is nothing to offer.",
                    field="proposal",
                    expected="a proposal that changes something",
                )
            if state is OfferState.AGREED and not one.signable:
                raise StoreError(
                    f"Nothing is signed while this is open: {'; '.join(one.stops)}.",
                    field="proposal",
                    expected="a proposal without a stop",
                )
            values = {
                "format": "jentrik-offer",
                "version": 1,
                "tag": there.job.tag,
                "machine": there.sheet.name,
                "owner": there.sheet.owner,
                "state": state.value,
                "proposal": one.kept.name,
                "changes": one.kept.changes,
                "by": by,
                "how": self.how,
                "offer": offer_document(one),
                "page": page,
            }
            documents.seal(step, job_id, values, at=shop.now(), by=shop.who, kind="offer")
            known = last_offer(job_id)
            assert known is not None
        return known
