"""The answer to every proposal of the demo, and the usual search: how long a mechanic waits."""

import tempfile
from functools import partial
from pathlib import Path
from statistics import median

from jentrik.bench_finder import best_seconds
from jentrik.core.errors import Refusal
from jentrik.core.machine.fields import missing_of
from jentrik.core.machine.machine import Bike
from jentrik.core.machine.machine_of import machine_of
from jentrik.core.plan.answer import answer_of
from jentrik.core.plan.finder import Wanted, find
from jentrik.core.plan.plan import Outcome, PlanResult, as_measured, outcome_of
from jentrik.core.plan.sizes import marks_on, on_one_rim, standard_sizes, usual_sizes
from jentrik.exchange.plan_document import read_kept
from jentrik.store import jobs, machines
from jentrik.web.app import create_app


def answer_times() -> tuple[float, float, float]:
    """Return the median and the worst answer in ms, and the slowest usual search in seconds."""
    with tempfile.TemporaryDirectory() as folder:
        app = create_app(Path(folder), demo=True)
        app.state.shop.ready()
        bikes = [machine_of(sheet) for sheet in machines.sheets() if not missing_of(sheet)]
        asked = _asked()
    answers = [best_seconds(partial(answer_of, *one)) * 1000 for one in asked]
    return (
        median(answers),
        max(answers),
        max(best_seconds(partial(_search, bike)) for bike in bikes),
    )


def _asked() -> list[tuple[PlanResult, Outcome]]:
    asked = []
    for sheet in machines.sheets():
        for job in () if missing_of(sheet) else jobs.open_jobs_of(sheet.id):
            found = as_measured(machine_of(sheet))
            for kept in job.proposals:
                try:
                    asked.append((found, outcome_of(found, read_kept(kept))))
                except Refusal:
                    continue  # one that cannot stand has no answer
    return asked


def _search(bike: Bike) -> object:
    sizes = standard_sizes(bike.kind)
    fronts, rears = usual_sizes(bike, "front", sizes), usual_sizes(bike, "rear", sizes)
    wanted = Wanted(fronts, rears, one_rim=on_one_rim(bike), without=marks_on(bike))
    return find(bike, wanted) if fronts and rears else None
