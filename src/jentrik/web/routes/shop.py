"""The shop: what it goes by, and every rule it judges with.

GET  /shop          limits and schools; asked by htmx, its fragment alone
POST /shop/answer   one of them set, then the same fragment (422: as typed)
POST /shop/undo     the last change taken back
GET  /rules         every rule, made from the code
"""

from collections.abc import Mapping

from fastapi import APIRouter, Request
from fastapi.responses import HTMLResponse, RedirectResponse, Response

from jentrik.core.errors import Refusal, StoreError
from jentrik.core.policy_fields import POLICY_FIELD, checked_policy
from jentrik.core.units import read_figure
from jentrik.devices.simulated import TOOL
from jentrik.store import gauges, journal
from jentrik.store.policy import SUBJECT, set_policy
from jentrik.web.shop import AForm, AShop, remember_who
from jentrik.web.templating import page, wants_fragment
from jentrik.web.views.fields import NOTHING_TYPED, Typed
from jentrik.web.views.jobs import jobs_judged
from jentrik.web.views.shop import rules_view, shop_view

router = APIRouter(include_in_schema=False)


@router.get("/shop", name="shop_page")
def shop_page(request: Request, shop: AShop) -> HTMLResponse:
    """Show what the shop goes by."""
    return page(request, "shop/policy.html", view=shop_view())


@router.post("/shop/answer", name="shop_answer")
def shop_answer(request: Request, shop: AShop, form: AForm) -> Response:
    """Set what was typed, all or nothing, and say which open jobs are judged otherwise by it."""
    values, refusals = _read(form)
    if refusals:
        typed = Typed({name: str(value) for name, value in form.items()}, refusals)
        return _render(request, typed=typed)
    before = jobs_judged(shop.policy, shop.today)
    was = shop.policy
    now = {key: value for key, value in values.items() if value != was.at(key)}
    if now:
        label = "; ".join(
            f"{POLICY_FIELD[key].label.lower()} {value}" for key, value in now.items()
        )
        with shop.step(label[:200], f"{SUBJECT} {' '.join(now)}"[:200]) as step:
            for key, value in now.items():
                set_policy(step, key, value, on=shop.today)
    if not wants_fragment(request):
        return _to_shop(request)
    after = jobs_judged(shop.policy, shop.today)
    changed = [f"{name}: {after[name]}" for name in after if after[name] != before[name]]
    return _render(request, rejudged=changed, asked=bool(now))


def _read(form: Mapping[str, object]) -> tuple[dict[str, float | str], dict[str, Refusal]]:
    """Return what a form sets by key, and what of it is refused by field."""
    values: dict[str, float | str] = {}
    refusals: dict[str, Refusal] = {}
    for name, typed in form.items():
        kind, _, key = name.partition(":")
        if kind != "policy" or not isinstance(typed, str):
            continue
        known = POLICY_FIELD.get(key)
        try:
            if known is not None and known.least is not None:
                values[key] = checked_policy(key, read_figure(typed, unit=known.unit))
            else:
                values[key] = checked_policy(key, typed.strip())
        except Refusal as refusal:
            refusals[name] = refusal
    return values, refusals


@router.post("/shop/undo", name="undo_policy")
def undo_policy(request: Request, shop: AShop, form: AForm) -> Response:
    """Take the last change of the policy back."""
    journal.undo(shop.database, now=shop.now(), subject=SUBJECT)
    return _render(request) if wants_fragment(request) else _to_shop(request)


@router.get("/shop/gauges", name="gauges_page")
def gauges_page(request: Request, shop: AShop) -> HTMLResponse:
    """Show the gauges as they lie in their drawers."""
    return page(request, "shop/gauges.html", gauges=gauges.gauges())


@router.post("/shop/gauges", name="set_gauge")
def set_gauge(request: Request, shop: AShop, form: AForm) -> Response:
    """Switch a gauge on or off, zero it, or charge it."""
    tool, act = str(form.get("tool", "")), str(form.get("act", ""))
    if tool not in TOOL or act not in ("switch", "zero", "charge"):
        raise StoreError("There is no such gauge.", expected="a gauge of the list")
    gauge = gauges.gauge(tool)
    if act == "switch":
        gauge.on = not gauge.on
    elif act == "zero":
        gauge.zero_error = 0.0
    else:
        gauge.battery_percent = 100.0
    with shop.step(f"{gauge.name.lower()}: {act}", f"gauge {tool}") as step:
        gauges.put_back(step, gauge)
    return RedirectResponse(request.app.url_path_for("gauges_page"), status_code=303)


@router.post("/who", name="set_who")
def set_who(request: Request, form: AForm) -> Response:
    """Remember who is at this screen, and go back where they were."""
    who, back = " ".join(str(form.get("who", "")).split()), str(form.get("back", ""))
    inside = back.startswith("/") and not back.startswith(("//", "/\\"))
    there = RedirectResponse(back if inside else "/jobs", status_code=303)
    remember_who(there, who)
    return there


@router.get("/rules", name="rules_page")
def rules_page(request: Request) -> HTMLResponse:
    """Show every rule, made from the code."""
    return page(request, "shop/rules.html", view=rules_view())


def _to_shop(request: Request) -> Response:
    return RedirectResponse(request.app.url_path_for("shop_page"), status_code=303)


def _render(
    request: Request,
    *,
    typed: Typed = NOTHING_TYPED,
    rejudged: list[str] | None = None,
    asked: bool = False,
) -> HTMLResponse:
    view = shop_view(typed=typed, rejudged=rejudged or (), asked=asked)
    template = "shop/_policy.html" if wants_fragment(request) else "shop/policy.html"
    return page(request, template, status=422 if typed.refusals else 200, view=view)
