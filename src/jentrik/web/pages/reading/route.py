"""Reading a code anywhere: a page of its own, with an address that can be handed on.

GET  /read?code=…&rim=…&near=3     the page; asked by htmx, its fragment alone
GET  /scan?code=…                  what a scanned code of ours opens; another one is read
POST /read/put                     onto a machine's wheel, a proposal, the shelf
"""

from dataclasses import dataclass
from urllib.parse import urlencode

from fastapi import APIRouter, Request
from fastapi.responses import HTMLResponse, RedirectResponse, Response

from jentrik.core.errors import DocumentError, OutOfRange
from jentrik.core.text import counted
from jentrik.core.tire.sidewall import read_sidewall
from jentrik.store import jobs, machines
from jentrik.store.listing import where_a_tire_goes
from jentrik.web.live.answers import Answers
from jentrik.web.pages.reading.scanned import opened_by
from jentrik.web.pages.reading.view import WINDOWS_PERCENT, reading_view
from jentrik.web.pages.shelf.shelving import put_on_shelf
from jentrik.web.parts.address import Address
from jentrik.web.shop import AForm, AShop, Shop
from jentrik.web.templating import page, wants_fragment

router = APIRouter(include_in_schema=False)
_USUAL_WINDOW = WINDOWS_PERCENT[1]


@router.get("/read", name="read_page")
def read_page(
    request: Request, shop: AShop, code: str = "", rim: str = "", near: str = ""
) -> HTMLResponse:
    """Read the marks in the address; without any, wait for them to be typed."""
    window = next((w for w in WINDOWS_PERCENT if near == f"{w:g}"), _USUAL_WINDOW)
    view = reading_view(
        code[:5000],
        rim=rim[:300],
        window=window,
        today=shop.today,
        policy=shop.policy,
        places={kind: where_a_tire_goes(kind) for kind in ("bicycle", "motorcycle")},
    )
    template = "reading/_reading.html" if wants_fragment(request) else "reading/page.html"
    refused = view.complaint or view.rim.complaint
    return page(request, template, status=422 if refused else 200, view=view)


@router.get("/scan", name="scanned")
def scanned(request: Request, shop: AShop, code: str = "") -> Response:
    """Open what a scanned code of ours names; any other is read."""
    there = opened_by(code[:300])
    if there is None:
        there = f"{request.app.url_path_for('read_page')}?{urlencode({'code': code[:5000]})}"
    return RedirectResponse(there, status_code=303)


@dataclass(frozen=True, slots=True)
class _Target:
    """Where a code goes: a field of a machine's sheet or of a job's proposal."""

    answers: Answers
    field: str
    href: str


@router.post("/read/put", name="put_reading")
def put_reading(request: Request, shop: AShop, form: AForm) -> Response:
    """Put a code where it was sent; what is refused there changes nothing."""
    code, where = str(form.get("code", "")), str(form.get("where", ""))
    if where == "shelf":
        put_on_shelf(shop, str(form.get("text", "")) or code)
        return RedirectResponse(request.app.url_path_for("shelf_page"), status_code=303)
    with shop.step("", f"read {where[:40]}") as step:
        target = _target(request, shop, _resolved(where, str(form.get("named", ""))))
        made = _made(str(form.get("text", "")), shop)
        writes = target.answers.read(target.field, code)
        if target.field.startswith("proposal:") and made:
            writes += target.answers.read(target.field.replace(".tire", ".fitted.made"), made)
        for write in writes:
            step.machine_id = write.scope.get("machine_id")
            step.job_id = write.scope.get("job_id")
            write.act(step)
        step.label = "; ".join(write.label for write in writes)
    return RedirectResponse(target.href, status_code=303)


def _resolved(where: str, name: str) -> str:
    """Return where a code goes, with a machine that was named by its id."""
    kind, _, end = where.partition(":")
    if kind != "named":
        return where
    known = machines.named(" ".join(name.split()))
    if known is None:
        raise OutOfRange(
            "No machine has that name.",
            field="named",
            expected="the name of a machine of this shop",
        )
    return f"machine:{known}:{end}"


def _made(text: str, shop: Shop) -> str:
    """Return the week and year of a sidewall as four digits; nothing where none stands there."""
    made = read_sidewall(text, on=shop.today).made if text.strip() else None
    if made is None or made.year is None:
        return ""
    return f"{made.week:02d}{made.year % 100:02d}"


def _target(request: Request, shop: Shop, where: str) -> _Target:
    kind, _, rest = where.partition(":")
    parts = rest.split(":")
    url, number = request.app.url_path_for, counted(parts[0])
    if kind == "machine" and number is not None and parts[1:] in (["front"], ["rear"]):
        sheet = machines.sheet(number)
        href = url("machine_page", machine_id=sheet.id)
        return _Target(Answers(sheet, shop.today), f"sheet:{parts[1]}.tire", href)
    if kind == "proposal" and number is not None and parts[2:] in (["front"], ["rear"]):
        job = jobs.job(number)
        kept = next((kept for kept in job.proposals if kept.name == parts[1]), None)
        if kept is not None:
            answers = Answers(machines.sheet(job.machine_id), shop.today, kept, job)
            href = Address(url("bench", job_id=job.id)).at(proposal=kept.name)
            return _Target(answers, f"proposal:{parts[2]}.tire", href)
    raise DocumentError("Choose a wheel to put it on.", expected="a machine or a proposal")
