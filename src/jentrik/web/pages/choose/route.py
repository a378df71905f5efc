"""Choose: what can go on a machine, the map of pairs, and a pair made a proposal.

GET  /machines/{id}/choose   asked by htmx, its fragment alone
POST /machines/{id}/choose   a pair as a proposal of an open job, or of a new one
"""

import contextlib
import threading
from collections import OrderedDict
from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from typing import Any

from fastapi import APIRouter, Request
from fastapi.responses import HTMLResponse, RedirectResponse, Response

from jentrik.core.errors import DocumentError, OutOfRange, Refusal, StoreError
from jentrik.core.machine.declared import ENDS, End
from jentrik.core.machine.fields import missing_of
from jentrik.core.machine.machine import Bike
from jentrik.core.machine.machine_of import machine_of
from jentrik.core.machine.sheet import Sheet
from jentrik.core.plan.finder import Found, FoundPair, Map, Search, Wanted, prepared, proposal_in
from jentrik.core.plan.plan import outcome_of
from jentrik.core.plan.sizes import (
    marks_on,
    on_one_rim,
    prices_of,
    sizes_of,
    standard_sizes,
    usual_sizes,
)
from jentrik.core.text import counted
from jentrik.core.tire.reading import Reading
from jentrik.core.tire.sidewall import read_code
from jentrik.core.work.policy import Policy, ShopLimits
from jentrik.exchange.plan_document import read_kept
from jentrik.store import documents, jobs, machines, shelf, wheels
from jentrik.web.drawing.size_map import MapMark
from jentrik.web.pages.choose.view import (
    FORK_STEPS_MM,
    SHOWN,
    WEIGHTS,
    Asked,
    choose_view,
    weights_of,
    weights_that_count,
)
from jentrik.web.parts.address import Address
from jentrik.web.shop import AForm, AShop, Shop
from jentrik.web.templating import page, wants_fragment

router = APIRouter(include_in_schema=False, prefix="/machines/{machine_id}/choose")
MOST_KEPT = 6


@dataclass(slots=True)
class _Kept:
    """A search, whoever works with it alone, and the maps drawn of it."""

    search: Search
    alone: threading.Lock = field(default_factory=threading.Lock)
    maps: dict[Any, str] = field(default_factory=dict)


class Searches:
    """Searches prepared lately: moving a weight ranks one anew and judges no size again."""

    def __init__(self) -> None:
        self._kept: OrderedDict[Any, _Kept] = OrderedDict()
        self._lock = threading.Lock()

    def found(
        self, key: Any, bike: Bike, wanted: Wanted, policy: Policy
    ) -> tuple[Found, dict[Any, str]]:
        """Return what can go on a machine, by a search that is kept or made, and its maps."""
        with self._lock:
            kept = self._kept.get(key)
            if kept is not None:
                self._kept.move_to_end(key)
        if kept is None:
            kept = _Kept(prepared(bike, wanted, policy=policy))
            with self._lock:
                self._kept[key] = kept
                while len(self._kept) > MOST_KEPT:
                    self._kept.popitem(last=False)
        with kept.alone:
            kept.search.judge_by(policy)
            return kept.search.ranked(wanted.weights, SHOWN), kept.maps

    def grid(self, machine_id: int, bike: Bike, wanted: Wanted, policy: Policy) -> Map | None:
        """Return the map of a search that is kept or made."""
        key = (machine_id, repr(bike), "sizes", repr(replace(policy, limits=ShopLimits())))
        return self.found(key, bike, wanted, policy)[0].grid


@router.get("", name="choose_page")
def choose_page(request: Request, machine_id: int, shop: AShop) -> HTMLResponse:
    """Show what can go on a machine."""
    return _render(request, shop, machine_id)


def _render(request: Request, shop: Shop, machine_id: int) -> HTMLResponse:
    sheet, asked = machines.sheet(machine_id), Asked.of(request.query_params)
    path = request.app.url_path_for("choose_page", machine_id=machine_id)
    policy = asked.policy(shop.policy)
    found, complaint, marks = None, "", []
    maps: dict[Any, str] = {}
    picked: FoundPair | None = None
    weights: Sequence[tuple[str, str]] = WEIGHTS
    try:
        if missing_of(sheet):
            names = ", ".join(one.label.lower() for one in missing_of(sheet))
            raise DocumentError(f"The search waits for {names}.")
        bike = machine_of(sheet)
        wanted = _wanted(bike, asked)
        weights = weights_that_count(bike, wanted)
        apart = replace(policy, limits=ShopLimits())  # no stop depends on an accepted change
        asks = tuple(asked.picks.items()), asked.codes, tuple(wanted.prices.items())
        key = (machine_id, repr(bike), asks, repr(apart))
        found, maps = request.app.state.searches.found(key, bike, wanted, policy)
        marks = _marks(sheet, bike)
        picked = _picked(found, asked.pair) if asked.pair else None
    except Refusal as refusal:
        complaint = refusal.message
    view = choose_view(
        sheet,
        asked,
        path,
        policy,
        found,
        marks,
        [(job.id, job.tag) for job in jobs.open_jobs_of(machine_id) if not job.sealed],
        complaint,
        shop=shop.policy,
        weights=weights,
        drawn=maps,
        picked=picked,
        on_shelf=_on_shelf() if found and found.grid else (),
    )
    template = "machines/_choose.html" if wants_fragment(request) else "machines/choose.html"
    return page(request, template, status=422 if complaint and asked.codes else 200, view=view)


def _picked(found: Found, pair: str) -> FoundPair:
    """Return a pair of the map as an ordinary proposal."""
    front, rear, position, longer = (*pair.split("|"), "", "", "", "")[:4]
    bike = found.found.bike
    sizes = [read_code(code) if code else None for code in (front, rear)]
    step = next((one for one in FORK_STEPS_MM if f"{one:g}" == longer), 0.0)
    proposal = proposal_in(bike, sizes[0], sizes[1], position or None, step)
    return FoundPair.of(bike, outcome_of(found.found, proposal))


def _on_shelf() -> tuple[Reading, ...]:
    """Return every tire on the shelf that can be read, one for each piece that no job waits for."""
    read = []
    for tire in shelf.tires():
        if tire.job_id is None:
            with contextlib.suppress(Refusal):
                read += [read_code(tire.code)] * tire.pieces
    return tuple(read)


def _wanted(bike: Bike, asked: Asked) -> Wanted:
    """Return what is looked for; refuses sizes that cannot be tried."""
    picks, prices = asked.picks, dict[str, float]()
    if picks["sizes"] == "typed":
        codes = asked.codes.replace(",", "\n").splitlines()
        sizes = sizes_of(code for code in codes if code.strip())
    elif picks["sizes"] == "shelf":
        there = shelf.prices()
        sizes = tuple(size for size in sizes_of(there) if size.vehicle == bike.kind)
        prices = prices_of(there)
    else:
        sizes = standard_sizes(bike.kind)
    ends: list[tuple[Reading, ...] | None] = []
    near = picks["sizes"] != "typed" and picks["widths"] == "near"
    for end, other in _ENDS:
        tire = (bike.front if end == "front" else bike.rear).tire
        seat = tire.bead_seat_diameter_mm if tire and picks["rims"] == "kept" else None
        tried = usual_sizes(bike, end, sizes) if near else sizes
        those = tuple(size for size in tried if seat in (None, size.bead_seat_diameter_mm))
        if picks["ends"] == other:
            ends.append(None)
        elif those:
            ends.append(those)
        else:
            raise OutOfRange("No size is left to try: choose others, or let the rims go.")
    positions = tuple(position.name for position in bike.frame.positions)
    return Wanted(
        ends[0],
        ends[1],
        (None, *(positions if picks["positions"] == "free" else ())),
        FORK_STEPS_MM if picks["fork"] == "free" else (0.0,),
        SHOWN,
        weights_of(asked),
        prices,
        one_rim=picks["sizes"] != "typed" and picks["seats"] == "one" and on_one_rim(bike),
        without=marks_on(bike) if near else None,
    )


_ENDS: tuple[tuple[End, End], ...] = (("front", "rear"), ("rear", "front"))


def _marks(sheet: Sheet, bike: Bike) -> list[MapMark]:
    """Return what is there already: as found, proposed on open jobs, wheel sets that are owned."""
    here = (2 * bike.wheels.radius_mm("front"), 2 * bike.wheels.radius_mm("rear"))
    marks = [MapMark(*here, "found", "as found")]
    for job in jobs.open_jobs_of(sheet.id):
        for kept in job.proposals:
            if not kept.readable:
                continue
            planned = read_kept(kept).wheels(bike)
            there = (2 * planned.radius_mm("front"), 2 * planned.radius_mm("rear"))
            if there != here:
                marks.append(MapMark(*there, "proposed", kept.name))
    owned = {one.id: one for one in wheels.wheels_of(sheet)}
    for set_ in wheels.sets_of(sheet.id):
        kept_wheels = [owned.get(set_.wheel(end) or 0) for end in ENDS]
        read = [_diameter(wheel.text("tire")) if wheel else None for wheel in kept_wheels]
        front, rear = (mm or here[place] for place, mm in enumerate(read))
        if (front, rear) != here:
            marks.append(MapMark(front, rear, "owned", set_.name))
    return marks


def _diameter(code: str) -> float | None:
    return read_code(code).overall_diameter_mm if code else None


@router.post("", name="propose_choice")
def propose_choice(request: Request, machine_id: int, shop: AShop, form: AForm) -> Response:
    """Make a pair a proposal of an open job, or of a new one, and go to it on the bench."""
    front, rear, position, longer = (*str(form.get("pair", "")).split("|"), "", "", "", "")[:4]
    sheet = machines.sheet(machine_id)
    changes: dict[str, Any] = {
        end: {"tire": _known(code)} for end, code in zip(ENDS, (front, rear), strict=True) if code
    }
    bike = machine_of(sheet)
    if position:
        bike.position(position)  # refuses one that is not on the sheet
        changes["position"] = position
    steps = {f"{one:g}": one for one in FORK_STEPS_MM if one}
    if longer in steps:
        changes["fork"] = {"length_mm": bike.fork.length_mm + steps[longer]}
    if not changes:
        raise StoreError("Choose a pair first.", expected="a pair of the chart or the list")
    wanted = counted(form.get("job"))
    label = f"chosen: {front or 'as found'} / {rear or 'as found'}"
    with shop.step(label[:120], f"machine {machine_id} choose", machine_id=machine_id) as step:
        known = next((job for job in jobs.open_jobs_of(machine_id) if job.id == wanted), None)
        if known is None:
            words = f"Another size: {front or 'as found'} / {rear or 'as found'}"
            job_id = jobs.add_job(step, machine_id=machine_id, wanted=words[:120], at=shop.now())
        else:
            job_id = known.id
            documents.must_be_open(job_id)
        name = jobs.add_proposal(step, job_id, changes)
    url = request.app.url_path_for("bench", job_id=job_id)
    return RedirectResponse(Address(url).at(proposal=name), status_code=303)


def _known(code: str) -> str:
    reading: Reading = read_code(code)
    return reading.text
