"""The shelf for programs: its tires, and the wheels that are off, as things."""

import hashlib
from collections.abc import Callable
from dataclasses import replace
from typing import Annotated, Any

from fastapi import APIRouter, Query
from pydantic import Field
from starlette.responses import Response

from jentrik.exchange.sheet_document import wheel_document
from jentrik.store import machines, shelf, wheels
from jentrik.store.listing import MACHINE_SORTS, SHELF_SORTS, machines_listed, shelf_listed
from jentrik.store.undo import Scope
from jentrik.web.api import documents as documented
from jentrik.web.api.field_changes import change_fields
from jentrik.web.api.listed import KNOWN_ONLY, AList, one_of, sorted_by
from jentrik.web.api.program import APicture, AProgram, Program, as_text, marked
from jentrik.web.live.command import Body, Code, ExternalId, FewWords
from jentrik.web.live.fields import Sent
from jentrik.web.live.undoing import Undoing, take_back
from jentrik.web.pages.jobs.list_refresh import refresh
from jentrik.web.pages.shelf.shelving import put_back, put_on_shelf, take_off_shelf
from jentrik.web.pages.things.commands import (
    LookedOver,
    Reserved,
    photograph_tire,
    photograph_wheel,
)
from jentrik.web.pages.things.fields import FACT_FIELDS, tire_answers, wheel_answers
from jentrik.web.pages.things.where import Changes, of_tire, of_wheel, where_rows
from jentrik.web.parts.paging import LONGEST_FIND, wanted_of
from jentrik.web.shop import AShop

router = APIRouter(prefix="/api", tags=["shelf"], dependencies=[KNOWN_ONLY])
PageNumber = Annotated[int, Query(ge=1, le=100_000)]
FACTS = {one.name for one in FACT_FIELDS}


class NewTire(Body):
    """A tire for the shelf, as its sidewall reads, and how it was received."""

    code: Code = Field(examples=["37-622 DOT 0824"])
    pieces: int | None = Field(default=None, examples=[4])
    price: str | None = Field(default=None, examples=["34.90"])
    place: FewWords | None = Field(default=None, examples=["hook 7"])
    whose: FewWords | None = None
    make: FewWords | None = None
    external_id: ExternalId | None = Field(default=None, description="Another program's own key")

    def received(self) -> dict[str, str]:
        """Return what is said beside the code, as it is typed into the fields of a tire."""
        given = self.model_dump(exclude_none=True, exclude={"code"})
        return {name: as_text(value) for name, value in given.items()}


class ThingChange(Body):
    """What changes of a tire or a wheel; what is absent stays, an empty text clears a field."""

    fields: dict[str, float | str | None] = Field(
        examples=[{"price": "34.90", "place": "hook 7", "compound": "hard", "life_km": 6000}]
    )


@router.get("/shelf")
def tires(
    shop: AShop,
    listed: AList,
    find: Annotated[str, Query(max_length=LONGEST_FIND)] = "",
    sort: Annotated[str, one_of(SHELF_SORTS)] = "",
) -> Response:
    """Return a page of the tires on the shelf, the newest first."""
    refresh(shop)
    wanted = replace(sorted_by(listed, sort, SHELF_SORTS), find=" ".join(find.split()))
    return marked(documented.shelf_document(shelf_listed(wanted)))


@router.post("/shelf", status_code=201)
def add_tire(program: AProgram, body: NewTire) -> Response:
    """Put a tire on the shelf."""
    return program.write(
        lambda: put_on_shelf(program.shop, body.code, body.received()),
        documented.tire_document,
        sent=body,
        status=201,
        now=None,
    )


@router.get("/shelf/{tire_id:int}")
def tire(tire_id: int) -> Response:
    """Return one tire on the shelf."""
    return marked(documented.tire_document(tire_id))


@router.patch("/shelf/{tire_id:int}")
def change_tire(program: AProgram, tire_id: int, body: ThingChange) -> Response:
    """Change a tire on the shelf, all of it or nothing."""
    return _changed(
        program,
        body,
        lambda: change_fields(program.shop, _sent(body), lambda: tire_answers(tire_id)),
        lambda: documented.tire_document(tire_id),
    )


@router.get("/shelf/{tire_id:int}/where")
def where_tire(shop: AShop, tire_id: int, find: str = "", page: PageNumber = 1) -> Response:
    """Return a page of machines with what the rules say of the tire at each end."""
    return _where(shop, of_tire(shelf.known_tire(tire_id)), find, page)


@router.post("/shelf/{tire_id:int}/look")
def look_over(program: AProgram, tire_id: int, body: LookedOver) -> Response:
    """Write what a look over a tire found."""
    return _changed(
        program,
        body,
        lambda: body.carry_out(program.shop, tire_id),
        lambda: documented.tire_document(tire_id),
    )


@router.post("/shelf/{tire_id:int}/reserve")
def reserve_tire(program: AProgram, tire_id: int, body: Reserved) -> Response:
    """Reserve pieces of a line for a job, or set them free; the answer is the line they are."""
    return program.write(
        lambda: body.of_tire(program.shop, tire_id),
        documented.tire_document,
        sent=body,
        now=lambda: documented.tire_document(tire_id),
    )


@router.post("/shelf/{tire_id:int}/photo", status_code=201)
def tire_photo(program: AProgram, tire_id: int, photo: APicture) -> Response:
    """Keep a photograph of a tire, written anew without what the camera noted in it."""
    return program.write(
        lambda: photograph_tire(program.shop, tire_id, photo),
        lambda _: documented.tire_document(tire_id),
        sent=hashlib.sha256(photo).hexdigest(),
        status=201,
        now=lambda: documented.tire_document(tire_id),
    )


@router.delete("/shelf/{tire_id:int}")
def drop_tire(program: AProgram, tire_id: int) -> Response:
    """Take a tire off the shelf; undo brings it back."""

    def act() -> dict[str, Any]:
        document = documented.tire_document(tire_id)
        take_off_shelf(program.shop, tire_id)
        return document

    return program.write(
        act, lambda document: document, now=lambda: documented.tire_document(tire_id)
    )


@router.post("/shelf/undo")
def undo_shelf(program: AProgram, body: Undoing) -> Response:
    """Take one change of the shelf back, or do it again."""
    return program.write(
        lambda: take_back(program.shop, body, Scope(subject=shelf.SUBJECT)),
        lambda undone: undone.outcome,
        sent=body,
        now=None,
    )


@router.post("/machines/{machine_id}/tires/{number}/shelf", status_code=201)
def shelve_tire(program: AProgram, machine_id: int, number: int) -> Response:
    """Put a tire that came off a machine on the shelf, with its wear, age and price."""
    return program.write(
        lambda: put_back(program.shop, machine_id, number),
        documented.tire_document,
        status=201,
        now=lambda: documented.machine_document(machine_id),
    )


@router.get("/wheels/{wheel_id}")
def wheel(wheel_id: int) -> Response:
    """Return a wheel, with its figures as it was put away."""
    return marked(wheel_document(wheels.wheel_now(wheel_id)))


@router.patch("/wheels/{wheel_id}")
def change_wheel(program: AProgram, wheel_id: int, body: ThingChange) -> Response:
    """Change where a wheel hangs and what it costs."""
    return _changed(
        program,
        body,
        lambda: change_fields(program.shop, _sent(body), lambda: wheel_answers(wheel_id)),
        lambda: wheel_document(wheels.wheel_now(wheel_id)),
    )


@router.get("/wheels/{wheel_id}/where")
def where_wheel(shop: AShop, wheel_id: int, find: str = "", page: PageNumber = 1) -> Response:
    """Return a page of machines with what the rules say of the wheel at its end."""
    return _where(shop, of_wheel(wheels.wheel_now(wheel_id)), find, page)


@router.post("/wheels/{wheel_id}/reserve")
def reserve_wheel(program: AProgram, wheel_id: int, body: Reserved) -> Response:
    """Reserve a wheel for a job, or set it free."""
    return _changed(
        program,
        body,
        lambda: body.of_wheel(program.shop, wheel_id),
        lambda: wheel_document(wheels.wheel_now(wheel_id)),
    )


@router.post("/wheels/{wheel_id}/photo", status_code=201)
def wheel_photo(program: AProgram, wheel_id: int, photo: APicture) -> Response:
    """Keep a photograph of a wheel."""
    return program.write(
        lambda: photograph_wheel(program.shop, wheel_id, photo),
        lambda _: wheel_document(wheels.wheel_now(wheel_id)),
        sent=hashlib.sha256(photo).hexdigest(),
        status=201,
        now=lambda: wheel_document(wheels.wheel_now(wheel_id)),
    )


def _sent(body: ThingChange) -> list[Sent]:
    kinds = {True: "fact", False: "thing"}
    return [
        Sent(f"{kinds[name in FACTS]}:{name}", as_text(value))
        for name, value in body.fields.items()
    ]


def _changed(
    program: Program, body: Body, act: Callable[[], object], now: Callable[[], dict[str, Any]]
) -> Response:
    return program.write(act, lambda _: now(), sent=body, now=now)


def _where(shop: AShop, changes: Changes, find: str, page: int) -> Response:
    refresh(shop)
    listed = machines_listed(wanted_of({"find": find, "page": str(page)}, sorts=MACHINE_SORTS))
    sheets = [machines.sheet(row.id) for row in listed.rows]
    rows = where_rows(sheets, changes, shop.policy, shop.today)
    return marked(documented.where_document(rows, more=listed.more))
