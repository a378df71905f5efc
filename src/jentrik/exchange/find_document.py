"""What can be put on a machine, as a document: a plan without proposals, and what is looked for.

{"format": "jentrik-plan", "version": 1, "bike": {…},
"search": {"ends": "both", "sizes": "standard", "positions": true, "limit": 50,
"weights": {"geometry": 1, "speed": 1, "room": 1, "choice": 1}}}

Weights of load margin and cost may stand there too, and prices: {"37-622": 24.90}.
"""

from collections.abc import Callable, Mapping
from dataclasses import asdict, replace
from typing import Annotated, Any, Literal

from pydantic import Field

from jentrik.core.errors import DocumentError, blamed_on
from jentrik.core.machine.declared import End
from jentrik.core.machine.machine import Bike
from jentrik.core.plan.finder import MOST_SHOWN, Found, FoundPair, Wanted, find
from jentrik.core.plan.groups import groups_of
from jentrik.core.plan.one_end import CANNOT_STAND
from jentrik.core.plan.plan import difference
from jentrik.core.plan.ranking import Weights
from jentrik.core.plan.sizes import (
    marks_on,
    on_one_rim,
    prices_of,
    sizes_of,
    standard_sizes,
    usual_sizes,
)
from jentrik.core.tire.reading import Reading
from jentrik.core.work.policy import DEFAULT_POLICY, Policy
from jentrik.exchange.plan_document import bike_of, validated
from jentrik.exchange.plan_parts import DocumentPart, Figure, PlanDocument, ProposalDocument
from jentrik.exchange.strict_json import parse_json

Weight = Annotated[float, Field(ge=0, le=100)]
Shelf = Callable[[], Mapping[str, float | None]]  # the codes there, each with its price


class WeightsDocument(DocumentPart):
    """How much each thing counts in the ranking; 0 leaves it out."""

    geometry: Weight = 1.0
    speed: Weight = 1.0
    room: Weight = 1.0
    choice: Weight = 1.0
    load: Weight = 1.0
    cost: Weight = 1.0


class SearchDocument(DocumentPart):
    """What is looked for."""

    ends: Literal["both", "front", "rear"] = "both"
    sizes: Literal["standard", "shelf"] | list[str] = "standard"
    positions: bool = True
    rims: Literal["free", "kept"] = "free"
    fork_steps_mm: list[Figure] = Field(default=[0.0], min_length=1, max_length=20)
    limit: Annotated[int, Field(ge=1, le=MOST_SHOWN)] = 50
    weights: WeightsDocument = WeightsDocument()
    mixed: Annotated[
        bool | None, Field(description="Two rim sizes; else one, unless the machine has two")
    ] = None
    widths_mm: Annotated[list[Figure], Field(min_length=2, max_length=2)] | None = None
    prices: dict[str, Annotated[float, Field(ge=0, le=1e6)]] = Field(default={}, max_length=2000)


class FindDocument(PlanDocument):
    """A plan without proposals, and what is looked for."""

    search: SearchDocument = SearchDocument()
    proposals: list[ProposalDocument] = Field(default=[], json_schema_extra={"maxItems": 0})


def no_shelf() -> Mapping[str, float | None]:
    """Refuse to look on a shelf where there is no shop."""
    raise DocumentError(
        "There is no shelf here: a shop that is served has one.",
        expected="standard, or a list of codes",
    )


def find_from_json(
    raw: bytes, *, shelf: Shelf = no_shelf, policy: Policy = DEFAULT_POLICY
) -> dict[str, Any]:
    """Return the answer to a document; refuses it with one sentence and a full path."""
    document = validated(FindDocument, parse_json(raw))
    if document.proposals:
        raise DocumentError(
            "A search has no proposals: it makes them.", field="proposals", expected="none"
        )
    with blamed_on("bike"):
        bike = bike_of(document.bike)
    found = find(bike, wanted_of(bike, document.search, shelf), policy=policy)
    return find_document(found)


def wanted_of(bike: Bike, search: SearchDocument, shelf: Shelf) -> Wanted:
    """Return what a document looks for on a machine; refuses sizes that cannot be tried."""
    with blamed_on("search.prices"):
        prices = prices_of(search.prices)
    with blamed_on("search.sizes"):
        if search.sizes == "standard":
            sizes = standard_sizes(bike.kind)
        else:
            there = shelf() if search.sizes == "shelf" else dict.fromkeys(search.sizes)
            sizes = sizes_of(there if search.sizes == "shelf" else search.sizes)
            prices = prices_of(there) | prices
    usual = search.sizes == "standard"
    front, rear = (
        None
        if search.ends == other
        else _on_rim(_kept(sizes, bike, end, search), bike, end, search.rims)
        for end, other in _ENDS
    )
    for end, those in (("front", front), ("rear", rear)):
        if those == ():
            raise DocumentError(
                f"No size is left to try at the {end}.",
                field="search.sizes",
                expected="a size for that end",
            )
    positions = (
        tuple(position.name for position in bike.frame.positions) if search.positions else ()
    )
    weights = Weights(**search.weights.model_dump())
    if usual and bike.riding.ground in ("unpaved", "mud"):
        weights = replace(weights, width=1.0)
    return Wanted(
        front,
        rear,
        (None, *positions),
        tuple(dict.fromkeys(search.fork_steps_mm)),
        search.limit,
        weights,
        prices,
        one_rim=usual and search.ends == "both" and not search.mixed and on_one_rim(bike),
        without=marks_on(bike) if usual else None,
    )


_ENDS: tuple[tuple[End, End], ...] = (("front", "rear"), ("rear", "front"))


def _kept(
    sizes: tuple[Reading, ...], bike: Bike, end: End, search: SearchDocument
) -> tuple[Reading, ...]:
    """Return the sizes a mechanic would mount at an end; a list or the shelf is taken as it is."""
    if search.sizes != "standard":
        return sizes
    widths = search.widths_mm
    return usual_sizes(bike, end, sizes, (widths[0], widths[1]) if widths else None)


def _on_rim(
    sizes: tuple[Reading, ...], bike: Bike, end: str, rims: str
) -> tuple[Reading, ...] | None:
    """Return the sizes of an end: all, or those that sit on the rim that is there."""
    wheel = bike.wheels.front if end == "front" else bike.wheels.rear
    if rims == "free" or wheel.tire is None:
        return sizes
    seat = wheel.tire.bead_seat_diameter_mm
    return tuple(size for size in sizes if size.bead_seat_diameter_mm == seat)


def find_document(found: Found) -> dict[str, Any]:
    """Return the answer as plain values; every figure unrounded, as a plan gives it."""
    bike = found.found.bike
    front, rear = bike.front.tire, bike.rear.tire
    kept = front.text if front else None, rear.text if rear else None
    return {
        "tried": found.tried,
        "left": [
            {"rule": rule, "after": after}
            for rule, after in found.left
            if rule != CANNOT_STAND or after < found.tried
        ],
        "one_mm_more": found.one_mm_more,
        "pairs": [_pair_document(found, pair, kept) for pair in found.pairs],
        "groups": [asdict(group) for group in groups_of(found)],
    }


def _pair_document(
    found: Found, pair: FoundPair, kept: tuple[str | None, str | None]
) -> dict[str, Any]:
    outcome = pair.outcome
    delta = difference(outcome.figures.geometry, found.found.figures.geometry)
    front, rear = outcome.proposal.front.tire, outcome.proposal.rear.tire
    return {
        "front": front.text if front else kept[0],
        "rear": rear.text if rear else kept[1],
        "position": pair.position,
        "fork_longer_mm": pair.fork_longer_mm,
        "score": pair.score,
        "worst": pair.worst,
        "head_angle_delta_deg": delta["head_angle_deg"],
        "trail_delta_mm": delta["trail_mm"],
        "bb_delta_mm": delta["bb_height_mm"],
        "indicated_at_100_kmh": outcome.figures.speed.indicated_at_100_kmh,
        "least_gap_mm": pair.least_gap_mm,
        "sizes_like_it": pair.sizes_like_it,
    }
