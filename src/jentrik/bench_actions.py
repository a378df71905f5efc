"""What a card costs a pair of hands: presses and typed fields, and the time of one tick.

A browser walks the card as a mechanic would, group by group: what goes together is ticked by one
press, a figure is typed in its step.  Each press and each typed field counts one.
"""

import re
import statistics
import time
from dataclasses import dataclass
from typing import Any

from jentrik.bench_browser import can_browse, demo_page

HARDTAIL, ENDURO, SINGLE = 4, 9, 10  # machines of the demo
TIRE = {"rear": {"tire": "50-559"}}
WHEEL_WITH_CHIP = {"position": "Small wheel", "rear": {"tire": "58-559"}}
MOST_TICKS = 80
_AT_WORK = ".htmx-request, .htmx-swapping, .htmx-settling"


@dataclass
class Hands:
    """One browser that counts what it presses and types."""

    page: Any
    done: int = 0

    def press(self, one: Any) -> None:
        """Press once and wait until its answer is drawn."""
        one.click()
        self.page.locator(_AT_WORK).first.wait_for(state="detached")
        self.done += 1

    def type(self, field: Any, text: str) -> None:
        """Type one field."""
        field.fill(text)
        self.done += 1


def card_actions() -> dict[str, float] | None:
    """Return the presses and typed fields of three cards, and the ms of a tick; None unmeasured."""
    if not can_browse():
        return None
    with demo_page() as page:
        _written(page, "people", {"name": "Ida"})
        return {
            "actions-tire-change": _whole_card(page, HARDTAIL, TIRE),
            "actions-wheel-with-chip": _whole_card(page, ENDURO, WHEEL_WITH_CHIP),
            "actions-known-set": _known_set(page),
            "card-tick-ms": _tick_ms(page),
        }


def _written(page: Any, path: str, body: Any) -> Any:
    answer = page.request.post(f"/api/{path}", data=body)
    assert answer.ok, answer.text()
    return answer.json()


def _card_of(page: Any, machine_id: int, changes: Any) -> int:
    """Make a job of a machine with one proposal and its card; return the job's number."""
    name = page.request.get(f"/api/machines/{machine_id}").json()["sheet"]["name"]
    job = _written(page, "jobs", {"machine": name})["id"]
    _written(page, f"jobs/{job}/proposals", {"name": "Asked", "changes": changes})
    _written(page, f"jobs/{job}/card", {"proposal": "Asked"})
    return int(job)


def _whole_card(page: Any, machine_id: int, changes: Any) -> float:
    """Tick a whole card, who ticks asked once, and return what it took."""
    job = _card_of(page, machine_id, changes)
    page.context.clear_cookies()
    page.goto(f"/jobs/{job}?station=fit")
    hands = Hands(page)
    for _ in range(MOST_TICKS):
        following = page.locator(".card-group.is-next, .card-step.is-next").first
        if not following.count():
            return float(hands.done)
        who = following.locator(".who-ticks button[value='Ida']")
        if who.count():
            hands.press(who)
        elif "card-group" in str(following.get_attribute("class")):
            hands.press(following.locator(".group-together > form > .button"))
        else:
            _step(hands, following, job)
    raise AssertionError("the card has no end")


def _step(hands: Hands, step: Any, job: int) -> None:
    """Type what a step asks for and press what it is done with."""
    number = int(str(step.get_attribute("id")).removeprefix("step-"))
    known = _plan(hands.page, job, number)
    for field in step.locator("[data-reading]").all():
        if field.input_value():
            continue
        reads = field.get_attribute("name") == "reading"
        hands.type(field, _within(known["reading"]) if reads else "12")
    hands.press(step.locator(".step-entry > .button").first)


def _plan(page: Any, job: int, step_id: int) -> Any:
    steps = page.request.get(f"/api/jobs/{job}/card").json()["steps"]
    return next(step for step in steps if step["id"] == step_id)


def _within(reading: Any) -> str:
    """Return a reading inside its limits, with its unit."""
    if reading["unit"] in ("", "words"):
        return "as it should"
    least, most = reading["at_least"], reading["at_most"]
    value = least if most is None else ((least or 0.0) + most) / 2
    return f"{value or 0:g} {reading['unit']}"


def _swapped_once(page: Any) -> None:
    """Put each set of the machine on once, so that its torques are written."""
    sets = page.request.get(f"/api/machines/{SINGLE}").json()["sets"]
    for known in sorted(sets, key=lambda one: one["name"], reverse=True):
        answer = page.request.post(f"/api/machines/{SINGLE}/put-on", data={"set": known["id"]})
        if not answer.ok:  # it is on
            continue
        job = answer.json()["id"]
        steps = page.request.get(f"/api/jobs/{job}/card").json()["steps"]
        _written(page, f"jobs/{job}/card/steps", {"steps": [_ticked(step) for step in steps]})
        _written(page, f"jobs/{job}/close", {})


def _ticked(step: Any) -> dict[str, Any]:
    ticked = {"id": step["id"], "act": "tick"}
    if step["reading"]:
        ticked["reading"] = _within(step["reading"])
    if step["fastener"]:
        ticked |= {"torque_nm": 12, "torque_source": "on the part"}
    return ticked


def _known_set(page: Any) -> float:
    """Put a set on that was on before, from the machine's page, and return what it took."""
    _swapped_once(page)
    page.goto(f"/machines/{SINGLE}")
    hands = Hands(page)
    with page.expect_navigation():
        page.get_by_role("button", name="Put on").first.click()
    hands.done += 1
    job = int(re.findall(r"/jobs/(\d+)", page.url)[0])
    for field in page.locator(".set-on input[name^='reading:']").all():
        number = int(str(field.get_attribute("name")).partition(":")[2])
        hands.type(field, _within(_plan(page, job, number)["reading"]))
    hands.press(page.locator(".set-on > .button, .set-on .who-ticks button[value='Ida']").first)
    assert page.request.get(f"/api/jobs/{job}").json()["state"] == "done"
    return float(hands.done)


def _tick_ms(page: Any) -> float:
    """Return the median ms from a tick sent to its answer, on a card of sixty steps."""
    job = _card_of(page, HARDTAIL, TIRE)
    have = len(page.request.get(f"/api/jobs/{job}/card").json()["steps"])
    for _ in range(60 - have):
        _written(page, f"jobs/{job}/card/steps", {"text": "Bolt looked at"})
    steps = page.request.get(f"/api/jobs/{job}/card").json()["steps"][-40:]
    times = []
    for step in steps:
        start = time.perf_counter()
        body = {"act": "tick", "version": step["version"]}
        answer = page.request.post(
            f"/api/jobs/{job}/card/steps/{step['id']}", data=body, headers={"Jentrik-Person": "Ida"}
        )
        times.append((time.perf_counter() - start) * 1000)
        assert answer.ok, answer.text()
    return statistics.median(times)
