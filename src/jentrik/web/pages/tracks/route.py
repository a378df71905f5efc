"""Where a ride went: a GPX file in, and out again with the log's entries as waypoints.

POST /jobs/{id}/rides/{ride}/gpx-track   a track kept with a ride, its waypoints into the log
GET  /machines/{id}/rides/{ride}.gpx      the ride as GPX
"""

from collections.abc import Iterator

from fastapi import APIRouter, Request
from fastapi.responses import RedirectResponse, Response
from starlette.datastructures import UploadFile

from jentrik.core.errors import DocumentError, OutOfRange, Refusal, StoreError
from jentrik.core.work.ride import Ride
from jentrik.core.work.wear import Odometer
from jentrik.exchange.gpx_track import TRACK
from jentrik.exchange.ride_gpx import (
    LogWaypoint,
    RideTrack,
    odometer_waypoint,
    puncture_waypoint,
    read_ride,
    ride_gpx,
)
from jentrik.store import jobs, logbook, machines, rides
from jentrik.store.journal import Step
from jentrik.web.live.typed_values import noted, words
from jentrik.web.pages.jobs.bench_page import bench_page
from jentrik.web.pages.jobs.on_bench import on_bench
from jentrik.web.parts.address import Address
from jentrik.web.parts.fields import Typed
from jentrik.web.shop import AnUpload, AShop, Shop
from jentrik.web.templating import attachment

router = APIRouter(include_in_schema=False)


@router.post("/jobs/{job_id}/rides/{ride_id}/gpx-track", name="add_ride_track")
def add_ride_track(
    request: Request, job_id: int, ride_id: int, shop: AShop, form: AnUpload
) -> Response:
    """Keep a track with a ride, its waypoints of ours as entries of the log; all or nothing."""
    machine_id = jobs.job(job_id).machine_id
    part = form.get(TRACK)
    try:
        raw = part.file.read() if isinstance(part, UploadFile) else b""
        keep_track(shop, machine_id, ride_id, raw)
    except Refusal as refusal:
        address = Address(request.app.url_path_for("bench", job_id=job_id), station="ride")
        typed = Typed({}, {f"{TRACK}:{ride_id}": refusal})
        return bench_page(request, shop, on_bench(shop, job_id), address, typed=typed)
    there = Address(request.app.url_path_for("bench", job_id=job_id)).at(station="ride")
    return RedirectResponse(there, status_code=303)


def keep_track(shop: Shop, machine_id: int, ride_id: int, raw: bytes) -> RideTrack:
    """Keep a track with a ride and return it; refuses one of another day."""
    read = read_ride(raw)
    label, subject = "track of a ride", f"machine {machine_id} track"
    with shop.step(label, subject, machine_id=machine_id) as step:
        ride = rides.ride_of(machine_id, ride_id)
        if abs((read.on - ride.on).days) > 1:  # a recorder's day may be that of another zone
            raise DocumentError(
                f"The track is of {read.on}, the ride of {ride.on}.",
                field=TRACK,
                expected="the track of that ride",
            )
        rides.set_track(step, rides.KeptTrack(ride_id, read.km, read.seconds, read.gpx))
        known = set(_entries(machine_id, ride))
        for entry in read.entries:
            if entry not in known:
                _note(step, shop, machine_id, entry)
    return read


def _note(step: Step, shop: Shop, machine_id: int, one: LogWaypoint) -> None:
    """Write a waypoint into the log."""
    if one.km is not None:
        reading = Odometer(one.on, one.km)
        logbook.add_odometer(step, machine_id, reading, today=shop.today)
        return
    what, _, done = one.words.partition("; ")
    if not what or not done:
        raise OutOfRange(
            f"“{one.name}” does not say what was found and what was done.",
            field=TRACK,
            expected="words like: glass in the tread; new tube",
        )
    logbook.add_puncture(
        step,
        machine_id,
        end=one.end or "",
        on=one.on,
        what=noted(what),
        done=words(done),
        by=shop.who,
        today=shop.today,
    )


def _entries(machine_id: int, ride: Ride) -> Iterator[LogWaypoint]:
    """Give what the log has of the day of a ride."""
    log = logbook.log(machine_id)
    for puncture in log.punctures:
        if puncture.on == ride.on:
            yield puncture_waypoint(puncture.on, puncture.end, puncture.what, puncture.done)
    for reading in log.odometer.get(machine_id, ()):
        if reading.on == ride.on:
            yield odometer_waypoint(reading.on, reading.km)


def ride_file(machine_id: int, ride_id: int) -> Response:
    """Return a ride as GPX with the entries of its day; refuses one without a track."""
    sheet, ride = machines.sheet(machine_id), rides.ride_of(machine_id, ride_id)
    kept = rides.track(ride_id)
    if kept is None:
        raise StoreError("This ride has no track.")
    text = ride_gpx(kept.gpx, f"{sheet.name}, {ride.on}", ride.note, _entries(machine_id, ride))
    headers = {"Content-Disposition": attachment(f"ride-{ride.on}.gpx")}
    return Response(text, media_type="application/gpx+xml", headers=headers)


@router.get("/machines/{machine_id}/rides/{ride_id}.gpx", name="ride_gpx")
def ride_as_gpx(machine_id: int, ride_id: int, shop: AShop) -> Response:
    """Return a ride as GPX."""
    return ride_file(machine_id, ride_id)
