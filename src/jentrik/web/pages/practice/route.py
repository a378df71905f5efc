"""Practice: what is due, sessions that end on time, one item at a time, exams on paper.

GET  /practice                what is due, weak points, weeks
GET  /practice/session        the next item of a session of so many minutes
POST /practice/answer         an answer, and what is right and why
POST /practice/bench          an item opened on the bench as a job
GET  /practice/exam           a sheet for a class, by a seed, and its key
POST /practice/undo           the last answer taken back
"""

import random
from datetime import datetime, timedelta

from fastapi import APIRouter, Request
from fastapi.responses import HTMLResponse, RedirectResponse, Response
from markupsafe import Markup

from jentrik.core.errors import OutOfRange, Refusal, StoreError
from jentrik.core.machine.figure import Figure, Provenance
from jentrik.core.practice.item import Item, Verdict, judged
from jentrik.core.practice.make import item_of, items
from jentrik.core.practice.schedule import next_kind
from jentrik.core.practice.skills import SKILL
from jentrik.core.text import counted
from jentrik.store import jobs, machines, practice
from jentrik.store.undo import Scope
from jentrik.web.live.undoing import Undoing, UndoView, take_back, undo_view
from jentrik.web.pages.jobs.newcomer import Newcomer, add_machine_on
from jentrik.web.pages.practice.own import OWN, own_item
from jentrik.web.pages.practice.view import SESSIONS, answered_view, item_view, practice_view
from jentrik.web.parts.address import Address
from jentrik.web.shop import AForm, AShop, Shop
from jentrik.web.templating import page

router = APIRouter(include_in_schema=False, prefix="/practice")
LONGEST_SECONDS, MOST_EXAM, OWN_EVERY = 900.0, 60, 6
REMEMBERED, TRIES = 12, 12  # answers of a kind after which one may come again; seeds tried


@router.get("", name="practice_page")
def practice_page(request: Request, shop: AShop) -> HTMLResponse:
    """Show what is due, what is weak, and the weeks."""
    return _page(request, shop)


@router.get("/session", name="practice_session")
def practice_session(request: Request, shop: AShop) -> HTMLResponse:
    """Show the next item of a session, or its end when its time is up."""
    until = _until(request, shop)
    if until is not None and shop.now() >= until:
        return _page(request, shop, ended=True)
    minutes = counted(request.query_params.get("minutes"))
    if until is None:
        length = minutes if minutes in SESSIONS else SESSIONS[0]
        until = _in(shop.now(), length)
    kind = request.query_params.get("kind", "")
    wanted = kind if kind in SKILL or kind == OWN else None
    number = counted(request.query_params.get("seed"))
    if number is None:
        kind, seed = _not_asked_lately(shop, wanted)
    else:
        kind, seed = wanted or _next(shop, number), number
    item = item_asked(shop, kind, seed)
    view = item_view(item, seed, until, shop.now())
    return page(request, "practice/item.html", view=view)


@router.post("/answer", name="answer_practice")
def answer_practice(request: Request, shop: AShop, form: AForm) -> Response:
    """Judge an answer, keep it, and show what is right and why."""
    seed = _seed(form)
    item = item_asked(shop, str(form.get("kind", "")), seed)
    until = _time(str(form.get("until", ""))) or shop.now()
    try:
        if str(form.get("asked", "")) not in ("", item.question):
            raise OutOfRange(
                "The shop changed since this was asked; here it stands anew.", expected="an answer"
            )
        answer = str(form.get("answer", ""))
        verdict, said = answer_of(shop, item, seed, answer, seconds=_seconds(shop, form))
    except Refusal as refusal:
        view = item_view(item, seed, until, shop.now(), str(form.get("answer", "")), refusal)
        return page(request, "practice/item.html", status=422, view=view)
    view = answered_view(item, seed, until, shop.now(), verdict, said)
    return page(request, "practice/answered.html", view=view)


def answer_of(
    shop: Shop, item: Item, seed: int, answer: str, *, seconds: float = 0.0
) -> tuple[Verdict, str]:
    """Judge an answer and keep it; refuses what is none."""
    verdict, said = judged(item, answer)
    if practice.seeds_asked(shop.who, item.kind, 1) == [seed]:
        return verdict, said  # sent twice, or again with the answer seen: the first one counts
    subject = f"{practice.SUBJECT} {shop.who}"
    with shop.step(f"practice: {item.kind} {verdict}", subject) as step:
        practice.keep_answer(
            step, shop.who, item.kind, seed, verdict, said=said, seconds=seconds, at=shop.now()
        )
    return verdict, said


@router.post("/bench", name="practice_on_bench")
def practice_on_bench(request: Request, shop: AShop, form: AForm) -> Response:
    """Open an item's machine on the bench as a job of its own."""
    job_id = job_of(shop, item_asked(shop, str(form.get("kind", "")), _seed(form)))
    url = request.app.url_path_for("bench", job_id=job_id)
    return RedirectResponse(Address(url).at(proposal="A"), status_code=303)


def job_of(shop: Shop, item: Item) -> int:
    """Make an item's machine and its change a job; refuses one that has no machine."""
    if not item.machine:
        raise StoreError("This item has no machine to put on the bench.", expected="another item")
    with shop.step(f"practice on the bench: {item.id}", f"stays practice {item.id}") as step:
        tires = [str(item.machine[end]["tire"]) for end in ("front", "rear")]
        name = f"Practice {item.id}"[:80]
        known = machines.named(name)
        machine_id = (
            known if known is not None else add_machine_on(step, shop, Newcomer(name, *tires))
        )
        for key, value in _flat(item.machine):
            figure = Figure(value, Provenance.ASSUMED, shop.today)
            machines.set_figure(step, machine_id, key, figure)
        job_id = jobs.add_job(
            step, machine_id=machine_id, wanted=item.question[:120], at=shop.now()
        )
        jobs.add_proposal(step, job_id, dict(item.changes))
    return job_id


def _flat(values: object, path: str = "") -> list[tuple[str, float | str]]:
    """Return the figures of a plan's machine by their keys on a sheet, without names and tires."""
    found: list[tuple[str, float | str]] = []
    for key, value in values.items() if isinstance(values, dict) else ():
        name = f"{path}{key}"
        if isinstance(value, dict):
            found += _flat(value, f"{name}.")
        elif name not in ("name", "kind") and not name.endswith("tire"):
            found.append((name, value if isinstance(value, str) else float(value)))
    return found


@router.get("/exam", name="practice_exam")
def practice_exam(request: Request, shop: AShop) -> HTMLResponse:
    """Show a sheet of items by a seed to print, or its key."""
    seed = counted(request.query_params.get("seed"), most=2**40) or 1
    count = min(counted(request.query_params.get("count")) or 20, MOST_EXAM)
    asked = items(seed, max(count, 1))
    return page(
        request,
        "practice/exam.html",
        seed=seed,
        items=asked,
        drawings=[Markup(one.drawing or "") for one in asked],  # of our own making
        key=request.query_params.get("key") == "1",
        today=shop.today,
    )


@router.post("/undo", name="undo_practice")
def undo_practice(request: Request, shop: AShop, form: AForm) -> Response:
    """Take the last answer back, or give it again."""
    return _page(
        request, shop, undone=take_back(shop, Undoing.of(form), Scope(subject=practice.SUBJECT))
    )


def _page(
    request: Request, shop: Shop, *, ended: bool = False, undone: UndoView | None = None
) -> HTMLResponse:
    view = practice_view(
        shop.who,
        practice.practised(shop.who),
        practice.weeks(shop.who, shop.today),
        shop.now(),
        ended=ended,
        undo=undone or undo_view(shop, Scope(subject=practice.SUBJECT)),
    )
    return page(request, "practice/list.html", view=view)


def _not_asked_lately(shop: Shop, wanted: str | None) -> tuple[str, int]:
    """Return what is asked next and a seed whose item was not asked of late, as far as there is."""
    for _ in range(TRIES):
        seed = random.randrange(1 << 40)  # noqa: S311
        kind = wanted or _next(shop, seed)
        item = item_asked(shop, kind, seed)
        asked = (
            item_asked(shop, kind, one) for one in practice.seeds_asked(shop.who, kind, REMEMBERED)
        )
        if all((one.question, one.drawing) != (item.question, item.drawing) for one in asked):
            break
    return kind, seed


def _next(shop: Shop, seed: int) -> str:
    """Return what is asked next; now and then something of the shop's own life."""
    lately = practice.lately_asked(shop.who)
    if seed % OWN_EVERY == 0 and OWN not in lately and own_item(seed, shop.today) is not None:
        return OWN
    known = practice.practised(shop.who)
    return next_kind(known, shop.now(), lately)


def item_asked(shop: Shop, kind: str, seed: int) -> Item:
    """Return the item of a kind and a seed; refuses one that is not there."""
    if kind == OWN:
        item = own_item(seed, shop.today)
        if item is None:
            raise StoreError("The shop has nothing of its own to ask yet.", expected="another kind")
        return item
    return item_of(kind, seed)


def _seed(form: AForm) -> int:
    seed = counted(form.get("seed"), most=2**53)
    if seed is None:
        raise OutOfRange("That item is not there any more.", field="seed", expected="a seed")
    return seed


def _until(request: Request, shop: Shop) -> datetime | None:
    until = _time(request.query_params.get("until", ""))
    return None if until is None else min(until, _in(shop.now(), max(SESSIONS)))


def _in(now: datetime, minutes: int) -> datetime:
    """Return the time so many minutes on; a clock at the end of its years stays there."""
    length = timedelta(minutes=minutes)
    return now + length if now <= datetime.max - length else datetime.max


def _time(text: str) -> datetime | None:
    try:
        return datetime.fromisoformat(text).replace(tzinfo=None)
    except ValueError:
        return None


def _seconds(shop: Shop, form: AForm) -> float:
    began = _time(str(form.get("began", "")))
    if began is None:
        return 0.0
    return min(max((shop.now() - began).total_seconds(), 0.0), LONGEST_SECONDS)
