"""Who works here and who is at this screen; keys other programs ask with.

GET  /shop/people            the list, and who is at this screen
POST /shop/people            one more, other initials, a passphrase, off the list
POST /who                    who is at this screen, until someone else is
GET  /shop/keys, POST        keys of other programs and calendars: made, shown once, revoked
"""

from urllib.parse import urlencode

from fastapi import APIRouter, Request
from fastapi.concurrency import run_in_threadpool
from fastapi.responses import HTMLResponse, RedirectResponse, Response

from jentrik.core.errors import OutOfRange, Refusal, StoreError
from jentrik.core.text import counted
from jentrik.store import people
from jentrik.store.access_keys import Purpose, access_keys, make_key, revoke_key
from jentrik.store.journal import STAYS, Step
from jentrik.store.sessions import end_session, sessions
from jentrik.store.webhooks import add_webhook, end_webhook, webhooks
from jentrik.web.security.guard import Guarding
from jentrik.web.security.network import network_address
from jentrik.web.shop import AForm, AShop, Shop, remember_who
from jentrik.web.templating import page

router = APIRouter(include_in_schema=False)
SUBJECT = f"{STAYS} people"  # undo passes over it


class WrongPassphraseError(Refusal):
    """Not the passphrase of that person."""


@router.get("/shop/people", name="people_page")
def people_page(request: Request, shop: AShop, who: str = "", back: str = "") -> HTMLResponse:
    """Show who works here."""
    return _render(request, asked=who, back=back)


def _render(
    request: Request, *, asked: str = "", back: str = "", refusal: Refusal | None = None
) -> HTMLResponse:
    known = people.people()
    return page(
        request,
        "shop/people.html",
        status=422 if refusal else 200,
        people=known,
        here=request.state.who,
        asked=people.person(asked),
        sessions=sessions() if request.app.state.guarding.passphrase else [],
        this_session=getattr(request.state, "session", ""),
        back=_inside(back),
        complaint=refusal.message if refusal else "",
    )


def _inside(back: str) -> str:
    """Return an address of ours; another becomes nothing."""
    return back if back.startswith("/") and not back.startswith(("//", "/\\")) else ""


@router.post("/shop/people", name="set_people")
def set_people(request: Request, shop: AShop, form: AForm) -> Response:
    """Add someone, or change what is kept of them."""
    act, name = str(form.get("act", "")), str(form.get("name", ""))
    try:
        with shop.step("", SUBJECT) as step:
            if act == "add":
                added = people.add_person(step, name, str(form.get("initials", "")))
                step.label = f"{added.name} works here"
            else:
                _change(step, form, act)
    except Refusal as refusal:
        return _render(request, refusal=refusal)
    there = RedirectResponse(request.app.url_path_for("people_page"), status_code=303)
    if shop.who:
        remember_who(there, shop.who, shop.secret)  # their own passphrase may just have changed
    return there


def _change(step: Step, form: AForm, act: str) -> None:
    """Change someone within a step; who has a passphrase gives it."""
    number = counted(form.get("person"))
    known = next((person for person in people.people() if person.id == number), None)
    if known is None:
        raise StoreError("They are not on the list any more.", expected="someone on the list")
    if not people.is_passphrase(known, str(form.get("now", ""))):
        raise WrongPassphraseError(f"That is not the passphrase of {known.name}.")
    if act == "remove":
        step.label = f"{known.name} off the list"
        people.remove_person(step, known.id)
    elif act == "initials":
        step.label = f"initials of {known.name}"
        people.set_initials(step, known, str(form.get("initials", "")))
    elif act == "hours":
        step.label = f"hours of {known.name}"
        people.set_hours(step, known, str(form.get("hours", "")))
    elif act == "passphrase":
        step.label = f"passphrase of {known.name}"
        people.set_passphrase(step, known, str(form.get("passphrase", "")))
    else:
        raise OutOfRange("There is no such change.", expected="a change there is")


@router.post("/shop/sessions/end", name="end_session")
def end_one_session(request: Request, shop: AShop, form: AForm) -> Response:
    """End one session: its browser is asked for the passphrase again."""
    end_session(shop.database, str(form.get("session", "")), at=shop.now())
    return RedirectResponse(request.app.url_path_for("people_page"), status_code=303)


@router.post("/who", name="set_who")
async def set_who(request: Request, shop: AShop, form: AForm) -> Response:
    """Remember who is at this screen, and go back where they were; a wrong passphrase is slow."""
    who, back = " ".join(str(form.get("who", "")).split()), _inside(str(form.get("back", "")))
    given = str(form.get("passphrase", ""))
    guarding: Guarding = request.app.state.guarding
    address = f"{request.client.host if request.client else ''} {who.casefold()}"
    try:
        if guarding.slowdown.full(address):
            raise WrongPassphraseError("Too many wrong passphrases at once: wait a little.")
        if who:
            who = await run_in_threadpool(here_now, shop, who, given)
    except WrongPassphraseError as refusal:
        if not given:
            query = urlencode({"who": who, "back": back})
            there = f"{request.app.url_path_for('people_page')}?{query}"
            return RedirectResponse(there, status_code=303)
        await guarding.slowdown.wrong(address)
        return _render(request, asked=who, back=back, refusal=refusal)
    except Refusal as refusal:
        return _render(request, back=back, refusal=refusal)
    guarding.slowdown.right(address)
    answer = RedirectResponse(back or "/jobs", status_code=303)
    await run_in_threadpool(_remembered, shop, answer, who)
    return answer


def _remembered(shop: Shop, answer: Response, who: str) -> None:
    shop.ready()
    remember_who(answer, who, shop.secret)


def here_now(shop: Shop, who: str, passphrase: str) -> str:
    """Return who is at this screen as they are listed; a new name goes onto the list.

    Refuses a wrong passphrase.
    """
    shop.ready()
    known = people.person(" ".join(who.split()))
    if known is None:
        with shop.step("", SUBJECT) as step:
            known = people.add_person(step, who)
            step.label = f"{known.name} works here"
    elif not people.is_passphrase(known, passphrase):
        raise WrongPassphraseError(f"That is not the passphrase of {known.name}.")
    return known.name


@router.get("/shop/keys", name="keys_page")
def keys_page(request: Request, shop: AShop) -> HTMLResponse:
    """Show the keys other programs ask with."""
    return _keys(request)


def _keys(
    request: Request,
    *,
    made: str = "",
    feed: str = "",
    secret: str = "",
    refusal: Refusal | None = None,
) -> HTMLResponse:
    return page(
        request,
        "shop/keys.html",
        status=422 if refusal else 200,
        keys=access_keys(),
        hooks=request.app.state.hooks,
        webhooks=webhooks(),
        secret=secret,
        purposes=list(Purpose),
        made=made,
        feed=feed,
        complaint=refusal.message if refusal else "",
    )


@router.post("/shop/keys", name="set_keys")
def set_keys(request: Request, shop: AShop, form: AForm) -> Response:
    """Make a key and show it once, or revoke one."""
    revoked = counted(form.get("revoke"))
    if revoked is not None:
        revoke_key(shop.database, revoked, at=shop.now())
        return RedirectResponse(request.app.url_path_for("keys_page"), status_code=303)
    purpose = next((one for one in Purpose if one.value == form.get("purpose")), Purpose.PROGRAM)
    try:
        key = make_key(
            shop.database, str(form.get("name", "")), purpose, at=shop.now(), by=shop.who
        )
    except Refusal as refusal:
        return _keys(request, refusal=refusal)
    feed = ""
    if purpose is Purpose.CALENDAR:
        path = f"{request.app.url_path_for('due_calendar')}?key={key}"
        feed = network_address(request, path) or str(request.base_url).rstrip("/") + path
    return _keys(request, made=key, feed=feed)


@router.post("/shop/keys/webhooks", name="set_webhook")
def set_webhook(request: Request, shop: AShop, form: AForm) -> Response:
    """Notify a program from now on, its key shown once, or stop it."""
    ended = counted(form.get("end"))
    if ended is not None:
        end_webhook(shop.database, ended, at=shop.now())
        return RedirectResponse(request.app.url_path_for("keys_page"), status_code=303)
    try:
        address = str(form.get("address", ""))
        secret = add_webhook(shop.database, address, at=shop.now(), by=shop.who)
    except Refusal as refusal:
        return _keys(request, refusal=refusal)
    return _keys(request, secret=secret)
