"""Jobs: what is on the bench, and one job's bench.

GET  /jobs                     the list, and a new job in a few fields
POST /jobs                     a new job, then its bench
GET  /jobs/{id}                the bench; asked by htmx, its fragment alone
GET  /jobs/{id}/here           who else is on a job
POST /jobs/{id}/day            whose it is, when it is promised, rung
POST /jobs/{id}/answer         answers, then the same fragment (422: as typed, with reasons)
POST /jobs/{id}/proposals      one more proposal        .../drop  one less
POST /jobs/{id}/lines/places, points, positions, pairs   one more   .../lines/drop  one less
POST /jobs/{id}/undo           the last change taken back
"""

from dataclasses import replace
from urllib.parse import urlencode

from fastapi import APIRouter, Request
from fastapi.responses import HTMLResponse, RedirectResponse, Response

from jentrik.core.errors import Refusal, StoreError
from jentrik.demo.harbour import fill
from jentrik.store import documents, jobs
from jentrik.store.documents import OnBench
from jentrik.store.listing import JOB_SORTS, is_empty, job_counts, jobs_listed, names_like
from jentrik.store.undo import Scope
from jentrik.web.live.answers import KINDS, Answers
from jentrik.web.live.fields import is_live, sent_fields, take_fields
from jentrik.web.live.undoing import Undoing, must_stand, take_back
from jentrik.web.pages.jobs.bench_page import bench_page
from jentrik.web.pages.jobs.day import promised_on
from jentrik.web.pages.jobs.day_commands import DayChanged
from jentrik.web.pages.jobs.list_refresh import refresh
from jentrik.web.pages.jobs.newcomer import SameName, start_job
from jentrik.web.pages.jobs.on_bench import on_bench
from jentrik.web.pages.jobs.proposing_from import propose_from
from jentrik.web.pages.jobs.view import jobs_view
from jentrik.web.pages.machines.places import add_line, drop_line
from jentrik.web.parts.address import LONGEST_NAME, Address
from jentrik.web.parts.fields import NOTHING_TYPED, Typed
from jentrik.web.parts.paging import wanted_of
from jentrik.web.shop import AForm, AShop, Shop, came_from
from jentrik.web.templating import page, wants_fragment

router = APIRouter(include_in_schema=False)
FIELDS_OF_A_JOB = ("what", "tire", "rear", "build")


@router.get("/jobs", name="jobs_page")
def jobs_page(request: Request, shop: AShop) -> HTMLResponse:
    """Show what is on the bench."""
    return _list(request, shop)


@router.post("/demo", name="open_demo")
def open_demo(request: Request, shop: AShop, form: AForm) -> Response:
    """Fill an empty shop with the harbour-town workshop."""
    fill(shop.database, shop.folder, now=shop.now())
    return RedirectResponse(request.app.url_path_for("jobs_page"), status_code=303)


@router.post("/jobs", name="new_job")
def new_job(request: Request, shop: AShop, form: AForm) -> Response:
    """Start a job: a machine we know by its name, or a new one from the tire it wears."""
    typed = {name: str(form.get(name, "")).strip() for name in FIELDS_OF_A_JOB}
    same = str(form.get("same", ""))
    try:
        job_id = start_job(
            shop, typed["what"], typed["tire"], typed["rear"], typed["build"], same=same
        )
    except SameName as question:
        asked = Typed({**typed, "asks_same": "yes"}, {"what": question})
        return _list(request, shop, typed=asked)
    except Refusal as refusal:
        at = refusal.field if refusal.field in typed else "what"
        return _list(request, shop, typed=Typed(typed, {at: refusal}))
    return _to(request.app.url_path_for("bench", job_id=job_id))


def _list(request: Request, shop: Shop, *, typed: Typed = NOTHING_TYPED) -> HTMLResponse:
    refresh(shop)
    wanted = wanted_of(dict(request.query_params), sorts=JOB_SORTS, who=shop.who, today=shop.today)
    path = request.app.url_path_for("jobs_page")
    counts, day = job_counts(shop.who, shop.today), promised_on(shop.today, shop.policy)
    view = jobs_view(jobs_listed(wanted), wanted, names_like(""), path, counts, day, typed=typed)
    template = "jobs/_list.html" if wants_fragment(request) else "jobs/list.html"
    return page(
        request, template, status=422 if typed.refusals else 200, view=view, empty=is_empty()
    )


@router.get("/jobs/{job_id}/here", name="job_here")
def here(request: Request, job_id: int, shop: AShop) -> HTMLResponse:
    """Show who else is on a job, in place of what is wanted; its fragment alone."""
    return page(request, "jobs/_here.html", job=jobs.job(job_id))


@router.post("/jobs/{job_id}/day", name="change_day")
def change_day(request: Request, job_id: int, shop: AShop, form: AForm) -> Response:
    """Take a job over, give it, promise it, note that its customer was rung."""
    try:
        DayChanged.of(form).carry_out(shop, job_id)
    except Refusal as refusal:
        if refusal.field != "who":
            raise
        back = came_from(request)
        asks = f"{request.app.url_path_for('people_page')}?{urlencode({'back': back})}"
        return Response(headers={"HX-Redirect": asks}) if wants_fragment(request) else _to(asks)
    if wants_fragment(request):
        return Response(status_code=204, headers={"HX-Trigger": "day"})
    return _to(came_from(request))


@router.get("/jobs/{job_id}", name="bench")
def bench(request: Request, job_id: int, shop: AShop) -> HTMLResponse:
    """Show a job's bench."""
    return bench_page(request, shop, on_bench(shop, job_id), _address(request, job_id))


@router.post("/jobs/{job_id}/answer", name="answer")
def answer(request: Request, job_id: int, shop: AShop, form: AForm) -> Response:
    """Take answers; what is refused changes nothing and stays as typed."""
    address = _address(request, job_id)

    loaded: list[OnBench] = []

    def load() -> Answers:
        there = on_bench(shop, job_id)
        loaded[:] = [there]
        named = (kept for kept in there.job.proposals if address.proposal in ("", kept.name))
        return Answers(
            there.sheet, shop.today, next(named, None), there.job, there.policy, asks=True
        )

    fields = sent_fields(form.multi_items(), KINDS)
    answers, taken = take_fields(shop, fields, load, live=is_live(request))
    if not wants_fragment(request) and not taken.typed.refusals:
        return _to(address.at())
    (there,) = loaded
    if answers.follows:  # another set-up follows: its figures are worked out anew
        there = on_bench(shop, job_id)
    else:
        assert answers.job is not None
        there = replace(there, job=answers.job, sheet=answers.sheet)
    return taken.mark(
        bench_page(request, shop, there, address, typed=taken.typed, known=answers.known)
    )


@router.post("/jobs/{job_id}/proposals", name="add_proposal")
def add_proposal(request: Request, job_id: int, shop: AShop, form: AForm) -> Response:
    """Add a proposal, empty or made of what is there, and go to it."""
    with shop.step("one more proposal", f"job {job_id} add proposal", job_id=job_id) as step:
        jobs.job(job_id)
        documents.must_be_open(job_id)
        name = propose_from(step, job_id, str(form.get("from", "")))
    address = _address(request, job_id)
    return _to(address.at(station="propose", proposal=name))


@router.post("/jobs/{job_id}/proposals/name", name="name_proposal")
def name_proposal(request: Request, job_id: int, shop: AShop, form: AForm) -> Response:
    """Give the proposal in the address another name."""
    address = _address(request, job_id)
    name = name_proposal_of(shop, job_id, address.proposal, str(form.get("name", "")))
    return _to(address.at(station="propose", proposal=name))


def name_proposal_of(shop: Shop, job_id: int, known: str, typed: str) -> str:
    """Give a proposal another name and return it as it is kept."""
    name = " ".join(typed.split())[:LONGEST_NAME]
    with shop.step(f"proposal named {name}", f"job {job_id} name", job_id=job_id) as step:
        documents.must_be_open(job_id)
        kept = jobs.job(job_id).proposal(known)
        if kept is None or not name:
            raise StoreError("Say how the proposal is called.", expected="a name")
        jobs.name_proposal(step, job_id, kept, name)
    return name


@router.post("/jobs/{job_id}/proposals/drop", name="drop_proposal")
def drop_proposal(request: Request, job_id: int, shop: AShop, form: AForm) -> Response:
    """Take the proposal in the address away; undo brings it back."""
    address = _address(request, job_id)
    drop_proposal_of(shop, job_id, address.proposal)
    return _to(address.at(proposal=""))


def drop_proposal_of(shop: Shop, job_id: int, name: str) -> None:
    """Take a proposal away; one that is gone already is no trouble."""
    with shop.step("proposal taken away", f"job {job_id} drop", job_id=job_id) as step:
        documents.must_be_open(job_id)
        for kept in jobs.job(job_id).proposals:
            if kept.name == name:
                step.label = f"proposal {kept.name} taken away"
                jobs.drop_proposal(step, kept.id)


@router.post("/jobs/{job_id}/lines/drop", name="job_drop_line")
def job_drop_line(request: Request, job_id: int, shop: AShop, form: AForm) -> Response:
    """Take a measured gap or a named point off the machine's sheet."""
    documents.must_be_open(job_id)
    drop_line(shop, jobs.job(job_id).machine_id, form)
    return _to(_address(request, job_id).at())


@router.post("/jobs/{job_id}/lines/{which}", name="job_add_line")
def job_add_line(request: Request, job_id: int, which: str, shop: AShop, form: AForm) -> Response:
    """Add a line to one of the machine's lists: a gap, a point, a rear position, a pair."""
    documents.must_be_open(job_id)
    job, address = jobs.job(job_id), _address(request, job_id)
    typed = add_line(shop, job.machine_id, which, form)
    if typed.refusals:
        return bench_page(request, shop, on_bench(shop, job_id), address, typed=typed)
    return _to(address.at())


@router.post("/jobs/{job_id}/undo", name="undo")
def undo(request: Request, job_id: int, shop: AShop, form: AForm) -> Response:
    """Take one change of this job or its machine back, or do it again."""
    job = jobs.job(job_id)
    scope = Scope(machine_id=job.machine_id, job_id=job_id)
    undone = take_back(shop, Undoing.of(form), scope, check=must_stand(job.machine_id))
    if not jobs.stands(job_id):  # what was taken back is that there was such a job
        there = request.app.url_path_for("machine_page", machine_id=job.machine_id)
        return Response(headers={"HX-Redirect": there}) if wants_fragment(request) else _to(there)
    address = _address(request, job_id)
    return bench_page(request, shop, on_bench(shop, job_id), address, undone=undone)


def _to(href: str) -> Response:
    return RedirectResponse(href, status_code=303)


def _address(request: Request, job_id: int) -> Address:
    return Address.of(request.app.url_path_for("bench", job_id=job_id), request.query_params)
