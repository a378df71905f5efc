"""Every write, asked with what nobody sane types: a sentence or a page, never a crash."""

import importlib
import itertools
import pkgutil
import re

import pytest
from fastapi.routing import APIRoute

from jentrik.store import cards
from jentrik.store.rows import rows
from jentrik.web import routes

MODULES = [
    importlib.import_module(f"{routes.__name__}.{one.name}")
    for one in pkgutil.iter_modules(routes.__path__)
]
NASTY = (
    "", " ", "0", "-1", "1e400", "nan", "NaN", "∞", "٣", "1,2,3", "9" * 400, "None", "true", "null",
    "'; DROP TABLE job; --", "<script>alert(1)</script>", "\x00", "\u202e", "é" * 300, "{{ 7*7 }}",
    "%s%s%s", "../../etc/passwd", "2026-02-30", "0000-00-00", "99999-01-01", "A\nB", "±", "1 ± -1",
)  # fmt: skip
FIELDS = (
    "what", "tire", "name", "code", "text", "where", "rim", "gap_mm", "wheel", "direction", "on",
    "x_mm", "height_mm", "y_mm", "bead_seat_diameter_mm", "front_tire", "rear_tire", "front_rim_mm",
    "place", "point", "position", "pair", "true", "shown", "typed", "proposal", "template", "act",
    "version", "torque_nm", "torque_source", "reading", "reason", "who", "back", "caption", "photo",
    "end", "look", "tread_left", "tread_middle", "tread_right", "signs", "pressure_kpa", "made",
    "km", "swapped", "counted_km", "true_km", "done", "ridden", "setup", "weather", "ground",
    "form", "rider", "trail", "score:braking", "note", "outcome", "gauge", "tool", "steps",
    "sought", "sheet:wheelbase_mm", "sheet:front.tire", "sheet:gearing.sprockets",
    "from:wheelbase_mm", "assume:seat_angle_deg", "proposal:front.tire", "proposal:position",
    "proposal:front.fitted.made", "proposal:rear.hub.driver", "place:1:gap_mm", "point:1:x_mm",
    "pair:1:front_tire", "machine:name", "job:due_on", "policy:limits.trail_mm.low",
    "policy:money.currency", "policy:rubber.age_school", "measured:bb_height_mm",
    "measured:front.rolled_mm", "price:front tire", "quantity:x", "source:x", "hours:A:x",
    "km-a-year", "life:x", "rear_kpa", "tire_id",
)  # fmt: skip


def writes(step_id=1):
    """Return every address that takes a form, with the demo's ids put in."""
    told = set()
    for route in itertools.chain(*(module.router.routes for module in MODULES)):
        if isinstance(route, APIRoute) and "POST" in route.methods and "/api/" not in route.path:
            path = route.path
            for name, value in (("job_id", "6"), ("machine_id", "6"), ("step_id", str(step_id)),
                                ("which", "pairs")):  # fmt: skip
                path = path.replace(f"{{{name}}}", value)
            assert "{" not in path, path
            told.add(path)
    return sorted(told)


def test_every_write_is_found():
    assert len(writes()) > 40


@pytest.mark.parametrize("turn", range(6))
def test_no_write_breaks_on_what_nobody_types(client, app, turn):
    app.state.shop.ready()
    object.__setattr__(app.state.shop, "wait", lambda seconds: None)
    client.post("/jobs/6/card", data={"proposal": "A", "template": "Tire swap"})
    client.post("/who", data={"who": "Ida", "back": "/jobs"})
    values = itertools.cycle(NASTY[turn:] + NASTY[:turn])
    for path in writes(cards.card_of(6).steps[-1].id):
        for fields in (FIELDS[turn::6], FIELDS[turn::2], ()):
            data = {name: next(values) for name in fields}
            answer = client.post(path, data=data, headers={"HX-Request": "true"})
            assert answer.status_code < 500, (path, data)
            assert "Traceback" not in answer.text
            assert "<script>alert" not in answer.text
    for table in ("job", "machine", "measurement", "card_step", "inspection", "ride"):
        rows(f"SELECT COUNT(*) FROM {table}")  # still there
    for page in (
        "/jobs",
        "/jobs/6",
        "/machines/6",
        "/logbook",
        "/machines/6/log",
        "/shop",
        "/shelf",
    ):
        assert client.get(page).status_code in (200, 404), page  # what went into the bin is gone


@pytest.mark.parametrize("value", [*NASTY, "1", "2", "sage"])
def test_no_page_breaks_on_an_address_nobody_types(client, value):
    for path in ("/jobs/6", "/jobs/6/ways", "/jobs/6/compare", "/read", "/machines/6/history",
                 "/shop/cards", "/jobs/6/card"):  # fmt: skip
        names = ("station", "proposal", "view", "magnify", "state", "more", "before", "after",
                 "code", "rim", "near", "base", "over", "load", "without", "name")  # fmt: skip
        answer = client.get(path, params=dict.fromkeys(names, value))
        assert answer.status_code < 500, (path, value)
    for path in ("/jobs/{}", "/machines/{}", "/photos/{}", "/jobs/{}/order", "/machines/{}/log"):
        there = path.format(re.sub(r"[\x00\n/?#%]", "", value) or "x")
        assert client.get(there).status_code < 500
