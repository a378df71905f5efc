"""The shop: its policy, and every rule it judges with.

GET  /shop          limits and schools; asked by htmx, its fragment alone
POST /shop/answer   one of them set, then the same fragment (422: as typed)
POST /shop/undo     the last change taken back
GET  /rules         every rule, made from the code
"""

from dataclasses import dataclass
from datetime import date

from fastapi import APIRouter, Request
from fastapi.responses import HTMLResponse, RedirectResponse, Response

from jentrik.core.errors import DocumentError, OutOfRange, Refusal
from jentrik.core.tire.tables.glossary import TERMS
from jentrik.core.units import read_figure
from jentrik.core.work.display_units import CHOICES
from jentrik.core.work.policy import Policy
from jentrik.core.work.policy_fields import POLICY_FIELD, checked_policy
from jentrik.devices.drawer import real_tools
from jentrik.store import gauges, jobs, machines
from jentrik.store.backups import kept_backups
from jentrik.store.own_units import choose_unit, own_units, units_for
from jentrik.store.policy import SUBJECT, set_on, set_policy, stored_policy
from jentrik.store.undo import Scope
from jentrik.web.drawing.measure import measure_drawing
from jentrik.web.figures import plain
from jentrik.web.live.command import sent_bytes
from jentrik.web.live.fields import Write, is_live, sent_fields, take_fields
from jentrik.web.live.undoing import Undoing, UndoView, take_back, undo_view
from jentrik.web.pages.backups.view import last_in_words
from jentrik.web.pages.jobs.view import MOST_JUDGED, jobs_judged
from jentrik.web.pages.people.route import here_now
from jentrik.web.pages.shop.commands import GaugeSet, set_sign
from jentrik.web.pages.shop.view import rules_view, shop_view
from jentrik.web.parts.fields import NOTHING_TYPED, Typed
from jentrik.web.shop import AForm, AnUpload, AShop, Shop, remember_who
from jentrik.web.templating import page, wants_fragment

router = APIRouter(include_in_schema=False)


@router.get("/shop", name="shop_page")
def shop_page(request: Request, shop: AShop) -> HTMLResponse:
    """Show the shop's policy."""
    return _render(request, shop)


@dataclass(slots=True)
class PolicyAnswers:
    """Reads what is typed on the page of shop limits."""

    policy: Policy
    today: date
    subject: str = SUBJECT

    def stored(self, name: str) -> str | None:
        """Return what a field shows; None where there is no such field."""
        key = name.partition(":")[2]
        return plain(self.policy.at(key)) if key in POLICY_FIELD else None

    def unit(self, name: str) -> str:
        """Return the unit a field's figure is kept in; "" where it has none."""
        known = POLICY_FIELD.get(name.partition(":")[2])
        return known.unit if known and known.least is not None else ""

    def read(self, name: str, text: str) -> list[Write]:
        """Return the write of one limit; none where it is as it was."""
        key = name.partition(":")[2]
        known = POLICY_FIELD.get(key)
        figure = known is not None and known.least is not None
        typed = read_figure(text, unit=known.unit) if known and figure else text.strip()
        value = checked_policy(key, typed)
        if value == self.policy.at(key):
            return []
        self.policy = self.policy.having({key: value})
        return [
            Write(
                f"{POLICY_FIELD[key].label.lower()} {value}",
                lambda step: set_policy(step, key, value, on=self.today),
                {},
            )
        ]


@router.post("/shop/answer", name="shop_answer")
def shop_answer(request: Request, shop: AShop, form: AForm) -> Response:
    """Set what was typed, and say which open jobs are judged otherwise by it."""
    before = _judged(shop)
    fields = sent_fields(form.multi_items(), ("policy",))
    _, taken = take_fields(
        shop, fields, lambda: PolicyAnswers(stored_policy(), shop.today), live=is_live(request)
    )
    if not wants_fragment(request) and not taken.typed.refusals:
        return _to_shop(request)
    after = _judged(shop) if taken.labels else before
    changed = [f"{name}: {after[name]}" for name in after if after[name] != before[name]]
    return taken.mark(
        _render(request, shop, typed=taken.typed, rejudged=changed, asked=bool(taken.labels))
    )


@router.post("/shop/sign", name="set_sign")
def keep_sign(request: Request, shop: AShop, form: AnUpload) -> Response:
    """Keep the picture of the shop's sign, or remove it."""
    remove = form.get("act") == "remove"
    raw = b"" if remove else sent_bytes(form.get("sign"))
    if not raw and not remove:
        raise DocumentError("No picture was chosen.", field="sign", expected="a JPEG or PNG")
    set_sign(shop, raw)
    return _to_shop(request)


@router.post("/shop/undo", name="undo_policy")
def undo_policy(request: Request, shop: AShop, form: AForm) -> Response:
    """Take one change of the limits back, or do it again."""
    return _render(request, shop, undone=take_back(shop, Undoing.of(form), Scope(subject=SUBJECT)))


@router.post("/shop/units", name="set_own_units")
def set_own_units(request: Request, shop: AShop, form: AForm) -> Response:
    """Keep the units a person sees figures in; who has no name at this screen yet gives one."""
    who = shop.who or _named_here(shop, str(form.get("who", "")))
    with shop.step(f"units of {who}", f"units {who}") as step:
        for quantity in CHOICES:
            choose_unit(step, who, quantity, str(form.get(quantity, "")))
    there = _to_shop(request)
    remember_who(there, who, shop.secret)
    return there


def _named_here(shop: Shop, who: str) -> str:
    if not who.strip():
        raise OutOfRange("Say whose units these are.", field="who", expected="your name")
    return here_now(shop, who, "")


@router.get("/shop/gauges", name="gauges_page")
def gauges_page(request: Request, shop: AShop) -> HTMLResponse:
    """Show the gauges as they lie in their drawers."""
    real, complaint = {}, ""
    try:
        real = real_tools(shop.folder)
    except Refusal as refusal:
        complaint = refusal.message
    return page(
        request,
        "shop/gauges.html",
        gauges=[gauge for gauge in gauges.gauges() if gauge.quantity not in real],
        real=real.values(),
        complaint=complaint,
    )


@router.post("/shop/gauges", name="set_gauge")
def set_gauge(request: Request, shop: AShop, form: AForm) -> Response:
    """Switch a gauge on or off, zero it, or charge it."""
    GaugeSet.of(form).carry_out(shop, str(form.get("tool", "")))
    return RedirectResponse(request.app.url_path_for("gauges_page"), status_code=303)


@router.get("/rules", name="rules_page")
def rules_page(request: Request, shop: AShop, find: str = "") -> HTMLResponse:
    """Show every rule, made from the code, or those with the words looked for."""
    template = "shop/_rules.html" if wants_fragment(request) else "shop/rules.html"
    return page(request, template, view=rules_view(shop.policy, find[:80]))


@router.get("/words", name="words_page")
def words_page(request: Request) -> HTMLResponse:
    """Show the terms of the trade, each in one sentence with its drawing."""
    drawn = [
        (
            term,
            measure_drawing(term.shows, "bicycle", f"{term.name}, in blue") if term.shows else "",
        )
        for term in TERMS
    ]
    return page(request, "shop/words.html", terms=drawn)


def _judged(shop: Shop) -> dict[str, str]:
    """Return what the open jobs that are due first come to, in words, by tag."""
    there = [(job, machines.sheet(job.machine_id)) for job in jobs.jobs(most=MOST_JUDGED)]
    return jobs_judged(there, shop.policy, shop.today)


def _to_shop(request: Request) -> Response:
    return RedirectResponse(request.app.url_path_for("shop_page"), status_code=303)


def _render(
    request: Request,
    shop: Shop,
    *,
    typed: Typed = NOTHING_TYPED,
    rejudged: list[str] | None = None,
    asked: bool = False,
    undone: UndoView | None = None,
) -> HTMLResponse:
    undone = undone or undo_view(shop, Scope(subject=SUBJECT))
    request.state.units = units_for(shop.who)  # the shop may just have chosen others
    view = shop_view(
        stored_policy(),
        set_on(),
        undone,
        typed=typed,
        rejudged=rejudged or (),
        asked=asked,
        backup=last_in_words(kept_backups(shop.folder), shop.now()),
        who=shop.who,
        own=own_units(shop.who),
    )
    template = "shop/_policy_swapped.html" if wants_fragment(request) else "shop/policy.html"
    return page(request, template, status=422 if typed.refusals else 200, view=view)
