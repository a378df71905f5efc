"""Machines for programs: the sheet, its lines, set-ups and wheels, the log, the speedometer."""

import hashlib
from collections.abc import Callable
from dataclasses import replace
from functools import partial
from typing import Annotated, Any, Literal

from fastapi import APIRouter, Query, Request
from pydantic import Field
from starlette.responses import Response

from jentrik.core.errors import StoreError
from jentrik.core.text import external_key
from jentrik.store import journal, machines, records, shelf
from jentrik.store.listing import MACHINE_SORTS, machines_listed
from jentrik.store.undo import Scope
from jentrik.web.api import documents as documented
from jentrik.web.api.field_changes import MachineChange, change_fields, of_machine
from jentrik.web.api.listed import KNOWN_ONLY, AList, one_of, sorted_by
from jentrik.web.api.program import APicture, AProgram, Program, as_text, fields_named, marked
from jentrik.web.live.answers import Answers
from jentrik.web.live.command import Body, ExternalId, MaybeCode, Name, Words
from jentrik.web.live.typed_values import checked_name
from jentrik.web.live.undoing import Undoing, must_stand, take_back
from jentrik.web.pages.jobs.list_refresh import refresh
from jentrik.web.pages.jobs.newcomer import Newcomer, add_machine_on, copy_machine
from jentrik.web.pages.logbook.commands import (
    Entry,
    Inspected,
    OdometerChecked,
    OdometerRead,
    Punctured,
    Standing,
)
from jentrik.web.pages.machines.commands import Gauged
from jentrik.web.pages.machines.places import add_line, drop_line
from jentrik.web.pages.paper.view import machine_paper
from jentrik.web.pages.records.commands import bin_machine
from jentrik.web.pages.setups.commands import (
    GoneBack,
    Named,
    NewSet,
    PutOn,
    WheelMoved,
    set_machine_photo,
)
from jentrik.web.pages.speed.commands import (
    PairsDropped,
    SpeedPair,
    Tracked,
    put_line_on_sheet,
    read_pair,
)
from jentrik.web.pages.tire_use.view import compared, sizes_to_compare
from jentrik.web.pages.tracks import route as tracks
from jentrik.web.pages.wheel_sizes.route import sizes_asked
from jentrik.web.parts.paging import LONGEST_FIND
from jentrik.web.shop import AShop
from jentrik.web.templating import drawing_file

router = APIRouter(prefix="/api/machines", tags=["machines"], dependencies=[KNOWN_ONLY])
Lines = Literal["places", "points", "positions", "pairs", "room"]


class NewMachine(Body):
    """A machine to add: its name and the tires it wears; the rest is assumed until measured."""

    name: Name = Field(examples=["Harbour tourer"])
    front_tire: MaybeCode = Field(examples=["37-622"])
    rear_tire: MaybeCode = ""
    build: Words = Field(default="", description="What it is built like")
    external_id: ExternalId = Field(default="", description="Another program's own key")


class Copied(Body):
    """The name of a machine like another one."""

    name: Name


class NewLine(Body):
    """A line of a machine's list: its name, and the columns of that list."""

    name: Name = Field(examples=["fork crown"])
    columns: dict[str, str | float] = Field(
        default_factory=dict,
        examples=[{"wheel": "front", "direction": "radial", "on": "fork", "gap_mm": 14}],
    )


@router.get("")
def list_machines(
    shop: AShop,
    listed: AList,
    find: Annotated[str, Query(max_length=LONGEST_FIND)] = "",
    sort: Annotated[str, one_of(MACHINE_SORTS)] = "",
) -> Response:
    """Return a page of machines, by name."""
    refresh(shop)
    wanted = replace(sorted_by(listed, sort, MACHINE_SORTS), find=" ".join(find.split()))
    return marked(documented.machines_document(machines_listed(wanted)))


@router.post("", status_code=201)
def add(program: AProgram, body: NewMachine) -> Response:
    """Add a machine."""
    shop = program.shop

    def act() -> int:
        name = checked_name(body.name)
        subject = f"{journal.STAYS} new machine {name}"
        with shop.step(f"new machine: {name}", subject) as step:
            came = Newcomer(name, body.front_tire, body.rear_tire, body.build)
            with fields_named({"tire": "front_tire", "rear": "rear_tire"}):
                step.machine_id = machine_id = add_machine_on(step, shop, came)
            if body.external_id:
                key = external_key(body.external_id)
                machines.set_word(step, machine_id, "external_id", key)
        return machine_id

    return program.write(act, documented.machine_document, sent=body, status=201, now=None)


@router.get("/{machine_id}")
def machine(machine_id: int, shop: AShop) -> Response:
    """Return a machine: its sheet, its set-ups with the oldest first, its wheels."""
    return marked(documented.machine_document(machine_id))


@router.get("/{machine_id}/drawing", response_class=Response)
def drawing(machine_id: int, shop: AShop, kind: Literal["svg", "png"] = "svg") -> Response:
    """Return the side view of a machine as it is, as SVG or PNG."""
    drawn = machine_paper(machines.sheet(machine_id), shop.today).drawing
    if drawn is None:
        raise StoreError("The drawing waits for figures of the machine.", field="figures")
    return drawing_file(drawn, kind)


def _write(
    program: Program,
    machine_id: int,
    act: Callable[[], object],
    sent: object = None,
    *,
    status: int = 200,
    answer: Callable[[int], Any] = documented.machine_document,
) -> Response:
    """Write something of a machine, and return it, or what else is asked for."""
    return program.write(
        act,
        lambda _: answer(machine_id),
        sent=sent,
        now=lambda: documented.machine_document(machine_id),
        status=status,
    )


@router.patch("/{machine_id}")
def change(program: AProgram, machine_id: int, body: MachineChange) -> Response:
    """Change figures and words of a machine, all of them or none."""
    shop = program.shop

    def act() -> None:
        fields = of_machine(body)
        change_fields(shop, fields, lambda: Answers(machines.sheet(machine_id), shop.today))

    return _write(program, machine_id, act, body)


@router.post("/{machine_id}/copy", status_code=201)
def copy(program: AProgram, machine_id: int, body: Copied) -> Response:
    """Add a machine like this one, its figures assumed until they are measured."""
    return program.write(
        lambda: copy_machine(program.shop, machine_id, body.name),
        documented.machine_document,
        sent=body,
        status=201,
        now=lambda: documented.machine_document(machine_id),
    )


@router.delete("/{machine_id}")
def into_bin(program: AProgram, machine_id: int) -> Response:
    """Put a machine in the bin; one on the bench stays."""
    return program.write(
        lambda: bin_machine(program.shop, machine_id),
        lambda _: documented.bin_document(),
        now=lambda: documented.machine_document(machine_id),
    )


@router.post("/{machine_id}/undo")
def undo(program: AProgram, machine_id: int, body: Undoing) -> Response:
    """Take one change of this machine back, however old, or do it again; without one the last."""
    machines.sheet(machine_id)
    job_id = records.job_of_change(machine_id, body.change)
    scope = Scope(machine_id, job_id)
    return program.write(
        lambda: take_back(program.shop, body, scope, check=must_stand(machine_id)),
        lambda undone: undone.outcome,
        sent=body,
        now=lambda: documented.machine_document(machine_id),
    )


@router.get("/{machine_id}/history")
def history(machine_id: int, before: int | None = None) -> Response:
    """Return the changes of a machine, the last first, with the numbers undo takes."""
    machines.sheet(machine_id)
    return marked(documented.history_document(machine_id, before))


@router.post("/{machine_id}/lines/{which}", status_code=201)
def new_line(program: AProgram, machine_id: int, which: Lines, body: NewLine) -> Response:
    """Add a clearance, a named point, a rear position, an approved pair or a line of the room."""
    typed = {"name": body.name, **{key: as_text(one) for key, one in body.columns.items()}}

    def act() -> None:
        for refusal in add_line(program.shop, machine_id, which, typed).refusals.values():
            raise refusal

    return _write(program, machine_id, act, body, status=201)


@router.delete("/{machine_id}/lines/{kind}/{line}")
def drop(
    program: AProgram,
    machine_id: int,
    kind: Literal["place", "point", "position", "pair", "room"],
    line: int,
) -> Response:
    """Take a line off the sheet; undo brings it back."""
    return _write(
        program, machine_id, lambda: drop_line(program.shop, machine_id, {kind: str(line)})
    )


@router.post("/{machine_id}/gauge")
def gauge(program: AProgram, machine_id: int, body: Gauged) -> Response:
    """Fill a figure with what a gauge of the shop reads: value, ± and provenance."""
    return _write(program, machine_id, lambda: body.carry_out(program.shop, machine_id), body)


@router.post("/{machine_id}/photo")
def photograph(program: AProgram, machine_id: int, photo: APicture) -> Response:
    """Keep a photograph of a machine, written anew without what the camera noted in it."""
    return _write(
        program,
        machine_id,
        lambda: set_machine_photo(program.shop, machine_id, photo),
        hashlib.sha256(photo).hexdigest(),
    )


@router.post("/{machine_id}/sets", status_code=201)
def add_set(program: AProgram, machine_id: int, body: NewSet) -> Response:
    """Keep a second wheel set, or name the wheels that are on."""
    return _write(
        program, machine_id, lambda: body.carry_out(program.shop, machine_id), body, status=201
    )


def _new_job(program: Program, machine_id: int, act: Callable[[], int], sent: Body) -> Response:
    """Carry out a step that makes a job, or leads to the open one, and return that job."""
    return program.write(
        act,
        lambda job_id: documented.job_document(program.shop, job_id),
        now=lambda: documented.machine_document(machine_id),
        sent=sent,
        status=201,
    )


@router.post("/{machine_id}/put-on", status_code=201)
def put_on(program: AProgram, machine_id: int, body: PutOn) -> Response:
    """Put a wheel set on: a job, its proposal and its short card in one go."""
    return _new_job(program, machine_id, lambda: body.carry_out(program.shop, machine_id), body)


@router.post("/{machine_id}/go-back", status_code=201)
def go_back(program: AProgram, machine_id: int, body: GoneBack) -> Response:
    """Propose a whole earlier set-up in a new job."""
    return _new_job(program, machine_id, lambda: body.carry_out(program.shop, machine_id), body)


@router.patch("/{machine_id}/setups/{setup_id}")
def name_setup(program: AProgram, machine_id: int, setup_id: int, body: Named) -> Response:
    """Give a set-up another name; what it is stays."""
    return _write(
        program, machine_id, lambda: body.carry_out(program.shop, machine_id, setup_id), body
    )


@router.post("/{machine_id}/wheels/{wheel_id}")
def move_wheel(program: AProgram, machine_id: int, wheel_id: int, body: WheelMoved) -> Response:
    """Keep a wheel that is off elsewhere, name it, or put it in the bin."""
    return _write(
        program, machine_id, lambda: body.carry_out(program.shop, machine_id, wheel_id), body
    )


@router.get("/{machine_id}/tires")
def tires_for_use(
    shop: AShop, machine_id: int, end: Literal["front", "rear"] = "rear", code: str = ""
) -> Response:
    """Return the tires of one size on the shelf beside each other, for the use of a machine."""
    sheet, there = machines.sheet(machine_id), shelf.tires()
    sizes = sizes_to_compare(sheet, end, there)
    code = code or next(iter(sizes), "")
    tires = [one for one in there if one.code == code and code in sizes]
    rows, found = compared(sheet, end, tires, shop.policy, shop.today)
    return marked(documented.tires_document(code, sizes, rows, found))


@router.get("/{machine_id}/sizes")
def wheel_sizes(request: Request, shop: AShop, machine_id: int) -> Response:
    """Return wheel sizes beside each other for a small and a tall rider and the ground.

    The query is the page's: small, small_kg, tall, tall_kg, step, slope, speed, at, made.
    """
    view = sizes_asked(request, shop, machine_id)
    return marked(
        {
            "asked": [documented.plain_fields(one) for one in view.asked],
            "made_for": view.made_for,
            "columns": [documented.plain_fields(column) for column in view.columns],
            "rows": [
                {"label": row.label, "unit": row.unit, "cells": row.cells, "argues": row.argues}
                for row in view.rows
                if row.cells
            ],
            "complaint": view.complaint,
        }
    )


@router.get("/{machine_id}/log")
def log(machine_id: int) -> Response:
    """Return everything in a machine's logbook, oldest first."""
    return marked(documented.log_document(machine_id))


def _log(program: Program, machine_id: int, body: Entry) -> Response:
    """Write one entry of the logbook, and return the log."""
    return _write(
        program,
        machine_id,
        lambda: body.carry_out(program.shop, machine_id),
        body,
        status=201,
        answer=documented.log_document,
    )


@router.post("/{machine_id}/log/inspections", status_code=201)
def inspect(program: AProgram, machine_id: int, body: Inspected) -> Response:
    """Keep the inspection of a tire."""
    return _log(program, machine_id, body)


@router.post("/{machine_id}/log/odometer", status_code=201)
def read_odometer(program: AProgram, machine_id: int, body: OdometerRead) -> Response:
    """Keep what stands on the odometer."""
    return _log(program, machine_id, body)


@router.post("/{machine_id}/log/odometer-checks", status_code=201)
def check_odometer(program: AProgram, machine_id: int, body: OdometerChecked) -> Response:
    """Keep what the odometer counted over a known distance."""
    return _log(program, machine_id, body)


@router.post("/{machine_id}/log/punctures", status_code=201)
def puncture(program: AProgram, machine_id: int, body: Punctured) -> Response:
    """Keep a puncture and what became of it."""
    return _log(program, machine_id, body)


@router.post("/{machine_id}/log/standing", status_code=201)
def stand(program: AProgram, machine_id: int, body: Standing) -> Response:
    """Note since when a machine stands, or that it is ridden again."""
    return _log(program, machine_id, body)


@router.get("/{machine_id}/rides")
def rides(machine_id: int) -> Response:
    """Return the rides of a machine."""
    return marked(documented.rides_document(machine_id))


class RideTracked(Body):
    """A ride's track as the text of a GPX file."""

    gpx: str = Field(max_length=1_900_000)


@router.put("/{machine_id}/rides/{ride_id}/track")
def keep_ride_track(
    program: AProgram, machine_id: int, ride_id: int, body: RideTracked
) -> Response:
    """Keep where a ride went; its waypoints of ours become entries of the log."""
    return _write(
        program,
        machine_id,
        lambda: tracks.keep_track(program.shop, machine_id, ride_id, body.gpx.encode()),
        body,
        answer=documented.rides_document,
    )


@router.get("/{machine_id}/rides/{ride_id}/track")
def ride_track(machine_id: int, ride_id: int, shop: AShop) -> Response:
    """Return a ride as GPX, with the log's entries of its day as waypoints."""
    return tracks.ride_file(machine_id, ride_id)


@router.get("/{machine_id}/speed")
def speeds(machine_id: int) -> Response:
    """Return the pairs of true and shown speed of a machine."""
    return marked(documented.speed_document(machine_id))


def _speed(
    program: Program,
    machine_id: int,
    act: Callable[[], object],
    sent: object = None,
    *,
    status: int = 201,
) -> Response:
    """Write something of the speedometer, and return its pairs."""
    return _write(program, machine_id, act, sent, status=status, answer=documented.speed_document)


@router.post("/{machine_id}/speed/pairs", status_code=201)
def add_pair(program: AProgram, machine_id: int, body: SpeedPair) -> Response:
    """Add a pair of speeds."""
    return _speed(program, machine_id, lambda: body.carry_out(program.shop, machine_id), body)


@router.post("/{machine_id}/speed/gauge", status_code=201)
def gauge_pair(program: AProgram, machine_id: int) -> Response:
    """Add a pair from the logger and the instrument reader."""
    return _speed(program, machine_id, lambda: read_pair(program.shop, machine_id))


@router.post("/{machine_id}/speed/track", status_code=201)
def add_track(program: AProgram, machine_id: int, body: Tracked) -> Response:
    """Take pairs from a track and the speeds shown beside it."""
    return _speed(program, machine_id, lambda: body.carry_out(program.shop, machine_id), body)


@router.post("/{machine_id}/speed/drop")
def drop_pair(program: AProgram, machine_id: int, body: PairsDropped) -> Response:
    """Take one pair away, or all; undo brings them back."""
    act = partial(body.carry_out, program.shop, machine_id)
    return _speed(program, machine_id, act, body, status=200)


@router.post("/{machine_id}/speed/use")
def use_line(program: AProgram, machine_id: int) -> Response:
    """Put the line through the pairs onto the sheet, measured."""
    return _write(program, machine_id, lambda: put_line_on_sheet(program.shop, machine_id))
