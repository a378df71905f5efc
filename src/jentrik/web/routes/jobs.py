"""Jobs: what is on the bench, and one job's bench.

GET  /jobs                     the list, and a new job in two fields
POST /jobs                     a new job, then its bench
GET  /jobs/{id}                the bench; asked by htmx, its fragment alone
POST /jobs/{id}/answer         answers, then the same fragment (422: as typed, with reasons)
POST /jobs/{id}/proposals      one more proposal        .../drop  one less
POST /jobs/{id}/lines/places, points, positions, pairs   one more   .../lines/drop  one less
POST /jobs/{id}/undo           the last change taken back
"""

from collections.abc import Callable
from dataclasses import replace

from fastapi import APIRouter, Request
from fastapi.responses import HTMLResponse, RedirectResponse, Response

from jentrik.core.errors import Refusal, StoreError
from jentrik.core.job import Job
from jentrik.core.sheet import Sheet
from jentrik.demo.harbour import fill
from jentrik.store import jobs, journal, machines
from jentrik.web.answers import Answers, read_answers
from jentrik.web.newcomer import start_job
from jentrik.web.places import ADD_LINE, drop_line
from jentrik.web.shop import AForm, AShop, Shop
from jentrik.web.templating import page, wants_fragment
from jentrik.web.views.address import Address
from jentrik.web.views.bench import bench_view
from jentrik.web.views.fields import NOTHING_TYPED, Typed
from jentrik.web.views.jobs import jobs_view

router = APIRouter(include_in_schema=False)


@router.get("/jobs", name="jobs_page")
def jobs_page(request: Request, shop: AShop) -> HTMLResponse:
    """Show what is on the bench."""
    return page(request, "jobs/list.html", view=jobs_view(shop.policy, shop.today))


@router.post("/demo", name="open_demo")
def open_demo(request: Request, shop: AShop, form: AForm) -> Response:
    """Fill an empty shop with the harbour-town workshop."""
    fill(shop.database, now=shop.now())
    return RedirectResponse(request.app.url_path_for("jobs_page"), status_code=303)


@router.post("/jobs", name="new_job")
def new_job(request: Request, shop: AShop, form: AForm) -> Response:
    """Start a job: a machine we know by its name, or a new one from the tire it wears."""
    what, tire = str(form.get("what", "")), str(form.get("tire", "")).strip()
    try:
        job_id = start_job(shop, what, tire)
    except Refusal as refusal:
        at = "tire" if refusal.field == "tire" else "what"
        view = jobs_view(
            shop.policy, shop.today, typed=Typed({"what": what, "tire": tire}, {at: refusal})
        )
        return page(request, "jobs/list.html", status=422, view=view)
    return _to(request.app.url_path_for("bench", job_id=job_id))


@router.get("/jobs/{job_id}", name="bench")
def bench(request: Request, job_id: int, shop: AShop) -> HTMLResponse:
    """Show a job's bench."""
    return _bench_page(request, shop, job_id)


@router.post("/jobs/{job_id}/answer", name="answer")
def answer(request: Request, job_id: int, shop: AShop, form: AForm) -> Response:
    """Take answers; what is refused changes nothing and stays as typed."""
    job = jobs.job(job_id)
    sheet = machines.sheet(job.machine_id)
    address = _address(request, job_id)
    chosen = next((kept for kept in job.proposals if kept.name == address.proposal), None)
    chosen = chosen or (job.proposals[0] if job.proposals else None)
    taken = read_answers(Answers(sheet, chosen, job), form, shop.today)
    typed = NOTHING_TYPED
    if taken.refusals:
        values = {name: value for name, value in form.items() if isinstance(value, str)}
        typed = Typed(values, taken.refusals)
    elif taken.writes:
        scope = {"machine_id": sheet.id} if taken.touches_machine else {"job_id": job_id}
        subject = f"job {job_id} {' '.join(n for n in form if ':' in n)}"[:200]
        with shop.step("; ".join(taken.labels)[:200], subject, **scope) as step:
            for write in taken.writes:
                write(step)
        job = taken.job if taken.job is not None else job
        if taken.proposal is not None:
            job = _with_proposal(job, taken)
        sheet = taken.sheet
    if not wants_fragment(request) and not taken.refusals:
        return _to(address.at())
    return _render(request, shop, job, sheet, address, typed=typed)


def _with_proposal(job: Job, taken: Answers) -> Job:
    kept = taken.proposal
    assert kept is not None
    proposals = tuple(kept if other.id == kept.id else other for other in job.proposals)
    return replace(job, proposals=proposals)


@router.post("/jobs/{job_id}/proposals", name="add_proposal")
def add_proposal(request: Request, job_id: int, shop: AShop, form: AForm) -> Response:
    """Add a proposal that changes nothing yet, and go to it."""
    job = jobs.job(job_id)
    with shop.step("one more proposal", f"job {job_id} add proposal {len(job.proposals)}",
                   job_id=job_id) as step:  # fmt: skip
        name = jobs.add_proposal(step, job_id, {})
    address = _address(request, job_id)
    return _to(address.at(station="propose", proposal=name))


@router.post("/jobs/{job_id}/proposals/drop", name="drop_proposal")
def drop_proposal(request: Request, job_id: int, shop: AShop, form: AForm) -> Response:
    """Take the proposal in the address away; undo brings it back."""
    address = _address(request, job_id)
    for kept in jobs.job(job_id).proposals:
        if kept.name == address.proposal:
            with shop.step(f"proposal {kept.name} taken away", f"job {job_id} drop {kept.name}",
                           job_id=job_id) as step:  # fmt: skip
                jobs.drop_proposal(step, kept.id)
    return _to(address.at(proposal=""))


@router.post("/jobs/{job_id}/lines/drop", name="job_drop_line")
def job_drop_line(request: Request, job_id: int, shop: AShop, form: AForm) -> Response:
    """Take a measured gap or a named point off the machine's sheet."""
    return _sheet_line(request, shop, job_id, lambda sheet: drop_line(shop, sheet, form))


def _sheet_line(
    request: Request, shop: Shop, job_id: int, act: Callable[[Sheet], Typed]
) -> Response:
    job = jobs.job(job_id)
    sheet = machines.sheet(job.machine_id)
    address = _address(request, job_id)
    typed = act(sheet)
    if typed.refusals:
        return _render(request, shop, job, sheet, address, typed=typed)
    return _to(address.at())


@router.post("/jobs/{job_id}/lines/{which}", name="job_add_line")
def job_add_line(request: Request, job_id: int, which: str, shop: AShop, form: AForm) -> Response:
    """Add a line to one of the machine's lists: a gap, a point, a rear position, a pair."""
    add = ADD_LINE.get(which)
    if add is None:
        raise StoreError("There is no such list.", expected="a list of the sheet")
    return _sheet_line(request, shop, job_id, lambda sheet: add(shop, sheet, form))


@router.post("/jobs/{job_id}/undo", name="undo")
def undo(request: Request, job_id: int, shop: AShop, form: AForm) -> Response:
    """Take the last change of this job or its machine back."""
    job = jobs.job(job_id)
    label = journal.undo(shop.database, now=shop.now(), machine_id=job.machine_id, job_id=job_id)
    address = _address(request, job_id)
    if not wants_fragment(request):
        return _to(address.at())
    done = f"Taken back: {label}" if label else "Nothing left to take back."
    return _bench_page(request, shop, job_id, done=done)


def _to(href: str) -> Response:
    return RedirectResponse(href, status_code=303)


def _address(request: Request, job_id: int) -> Address:
    return Address.of(request.app.url_path_for("bench", job_id=job_id), request.query_params)


def _bench_page(request: Request, shop: Shop, job_id: int, *, done: str = "") -> HTMLResponse:
    job = jobs.job(job_id)
    sheet = machines.sheet(job.machine_id)
    return _render(request, shop, job, sheet, _address(request, job_id), done=done)


def _render(
    request: Request,
    shop: Shop,
    job: Job,
    sheet: Sheet,
    address: Address,
    *,
    typed: Typed = NOTHING_TYPED,
    done: str = "",
) -> HTMLResponse:
    label = journal.last_label(machine_id=job.machine_id, job_id=job.id)
    view = bench_view(
        job, sheet, address, shop.policy, shop.today, typed=typed, undo_label=label, done=done,
        who=shop.who,
    )  # fmt: skip
    template = "jobs/_bench.html" if wants_fragment(request) else "jobs/bench.html"
    return page(request, template, status=422 if typed.refusals else 200, view=view)
