"""Jobs: what is on the bench, and one job's bench.

GET  /jobs                     the list, and a new job in two fields
POST /jobs                     a new job, then its bench
GET  /jobs/{id}                the bench; asked by htmx, its fragment alone
POST /jobs/{id}/answer         answers, then the same fragment (422: as typed, with reasons)
POST /jobs/{id}/proposals      one more proposal        .../drop  one less
POST /jobs/{id}/lines/places, points, positions, pairs   one more   .../lines/drop  one less
POST /jobs/{id}/undo           the last change taken back
"""

from fastapi import APIRouter, Request
from fastapi.responses import HTMLResponse, RedirectResponse, Response

from jentrik.core.errors import Refusal
from jentrik.core.job.job import Job
from jentrik.core.sheet.sheet import Sheet
from jentrik.demo.harbour import fill
from jentrik.store import jobs, machines
from jentrik.store.listing import JOB_SORTS, is_empty, jobs_listed, names_like
from jentrik.store.undo import Scope
from jentrik.web.answers import KINDS, Answers
from jentrik.web.list_refresh import refresh
from jentrik.web.live import is_live, sent_fields, take_fields
from jentrik.web.newcomer import start_job
from jentrik.web.places import add_line, drop_line
from jentrik.web.shop import AForm, AShop, Shop
from jentrik.web.templating import page, wants_fragment
from jentrik.web.undoing import UndoView, must_stand, take_back, undo_view
from jentrik.web.views.address import Address
from jentrik.web.views.bench import bench_view
from jentrik.web.views.fields import NOTHING_TYPED, Typed
from jentrik.web.views.jobs import jobs_view
from jentrik.web.views.paging import wanted_of
from jentrik.web.views.verdict import Known

router = APIRouter(include_in_schema=False)


@router.get("/jobs", name="jobs_page")
def jobs_page(request: Request, shop: AShop) -> HTMLResponse:
    """Show what is on the bench."""
    return _list(request, shop)


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
        return _list(request, shop, typed=Typed({"what": what, "tire": tire}, {at: refusal}))
    return _to(request.app.url_path_for("bench", job_id=job_id))


def _list(request: Request, shop: Shop, *, typed: Typed = NOTHING_TYPED) -> HTMLResponse:
    refresh(shop)
    wanted = wanted_of(dict(request.query_params), sorts=JOB_SORTS)
    path = request.app.url_path_for("jobs_page")
    view = jobs_view(jobs_listed(wanted), wanted, names_like(""), path, shop.today, typed=typed)
    template = "jobs/_list.html" if wants_fragment(request) else "jobs/list.html"
    return page(
        request, template, status=422 if typed.refusals else 200, view=view, empty=is_empty()
    )


@router.get("/jobs/{job_id}", name="bench")
def bench(request: Request, job_id: int, shop: AShop) -> HTMLResponse:
    """Show a job's bench."""
    job = jobs.job(job_id)
    return _render(request, shop, job, machines.sheet(job.machine_id), _address(request, job_id))


@router.post("/jobs/{job_id}/answer", name="answer")
def answer(request: Request, job_id: int, shop: AShop, form: AForm) -> Response:
    """Take answers; what is refused changes nothing and stays as typed."""
    address = _address(request, job_id)

    def load() -> Answers:
        job = jobs.job(job_id)
        named = (kept for kept in job.proposals if address.proposal in ("", kept.name))
        sheet = machines.sheet(job.machine_id)
        return Answers(sheet, shop.today, next(named, None), job, shop.policy)

    fields = sent_fields(form.multi_items(), KINDS)
    answers, taken = take_fields(shop, fields, load, live=is_live(request))
    if not wants_fragment(request) and not taken.typed.refusals:
        return _to(address.at())
    assert answers.job is not None
    return taken.mark(
        _render(
            request,
            shop,
            answers.job,
            answers.sheet,
            address,
            typed=taken.typed,
            known=answers.known,
        )
    )


@router.post("/jobs/{job_id}/proposals", name="add_proposal")
def add_proposal(request: Request, job_id: int, shop: AShop, form: AForm) -> Response:
    """Add a proposal that changes nothing yet, and go to it."""
    with shop.step("one more proposal", f"job {job_id} add proposal", job_id=job_id) as step:
        jobs.job(job_id)
        name = jobs.add_proposal(step, job_id, {})
    address = _address(request, job_id)
    return _to(address.at(station="propose", proposal=name))


@router.post("/jobs/{job_id}/proposals/drop", name="drop_proposal")
def drop_proposal(request: Request, job_id: int, shop: AShop, form: AForm) -> Response:
    """Take the proposal in the address away; undo brings it back."""
    address = _address(request, job_id)
    with shop.step("proposal taken away", f"job {job_id} drop", job_id=job_id) as step:
        for kept in jobs.job(job_id).proposals:
            if kept.name == address.proposal:
                step.label = f"proposal {kept.name} taken away"
                jobs.drop_proposal(step, kept.id)
    return _to(address.at(proposal=""))


@router.post("/jobs/{job_id}/lines/drop", name="job_drop_line")
def job_drop_line(request: Request, job_id: int, shop: AShop, form: AForm) -> Response:
    """Take a measured gap or a named point off the machine's sheet."""
    drop_line(shop, jobs.job(job_id).machine_id, form)
    return _to(_address(request, job_id).at())


@router.post("/jobs/{job_id}/lines/{which}", name="job_add_line")
def job_add_line(request: Request, job_id: int, which: str, shop: AShop, form: AForm) -> Response:
    """Add a line to one of the machine's lists: a gap, a point, a rear position, a pair."""
    job, address = jobs.job(job_id), _address(request, job_id)
    typed = add_line(shop, job.machine_id, which, form)
    if typed.refusals:
        sheet = machines.sheet(job.machine_id)
        return _render(request, shop, job, sheet, address, typed=typed)
    return _to(address.at())


@router.post("/jobs/{job_id}/undo", name="undo")
def undo(request: Request, job_id: int, shop: AShop, form: AForm) -> Response:
    """Take one change of this job or its machine back, or do it again."""
    job = jobs.job(job_id)
    scope = Scope(machine_id=job.machine_id, job_id=job_id)
    undone = take_back(shop, form, scope, check=must_stand(job.machine_id))
    job, address = jobs.job(job_id), _address(request, job_id)
    return _render(request, shop, job, machines.sheet(job.machine_id), address, undone=undone)


def _to(href: str) -> Response:
    return RedirectResponse(href, status_code=303)


def _address(request: Request, job_id: int) -> Address:
    return Address.of(request.app.url_path_for("bench", job_id=job_id), request.query_params)


def _render(
    request: Request,
    shop: Shop,
    job: Job,
    sheet: Sheet,
    address: Address,
    *,
    typed: Typed = NOTHING_TYPED,
    undone: UndoView | None = None,
    known: Known | None = None,
) -> HTMLResponse:
    undone = undone or undo_view(shop, Scope(machine_id=job.machine_id, job_id=job.id))
    view = bench_view(
        job,
        sheet,
        address,
        shop.policy,
        shop.today,
        typed=typed,
        undo=undone,
        who=shop.who,
        known=known,
    )
    template = "jobs/_bench.html" if wants_fragment(request) else "jobs/bench.html"
    return page(request, template, status=422 if typed.refusals else 200, view=view)
