"""Making anew the lines that lists show: what a job comes to, what a machine wears, what is due."""

import peewee

from jentrik.core.errors import Refusal
from jentrik.core.machine.declared import ENDS
from jentrik.core.machine.fields import missing_of
from jentrik.core.machine.machine_of import machine_of
from jentrik.core.machine.sheet import Sheet
from jentrik.core.rules.case import Severity
from jentrik.core.rules.joined import joined
from jentrik.core.tire.sidewall import known_code
from jentrik.store import cards, jobs, logbook, machines
from jentrik.store import list_rows as lines
from jentrik.store.rows import writing
from jentrik.web.drawing.silhouette import silhouette
from jentrik.web.drawing.skeleton import skeleton_of
from jentrik.web.figures import fixed
from jentrik.web.pages.jobs.bench import assumed_labels
from jentrik.web.pages.jobs.day import day_line
from jentrik.web.pages.jobs.view import judged_job, reached
from jentrik.web.parts.tires_in_use import due_of_tires
from jentrik.web.parts.words import what_changes
from jentrik.web.shop import Shop

AT_ONCE = 8  # rows of one transaction: others write between two
MOST_AT_A_LOOK = 60  # made before a list is shown; the rest in the background


def refresh(shop: Shop, *, most: int = MOST_AT_A_LOOK) -> bool:
    """Make stale lines anew, so many at most; return whether some are left.

    A disk that takes no write leaves them as they were.
    """
    try:
        lines.drop_stale_of_done_jobs(shop.database)
        for kind, make in (("machine", _machine), ("job", _job)):
            ids = lines.stale_ids(kind, most=most)
            if kind == "job":
                ids += lines.judged_before(shop.today, most=max(most - len(ids), 0))
            for start in range(0, len(ids), AT_ONCE):
                with writing(shop.database):
                    for row_id in ids[start : start + AT_ONCE]:
                        make(shop, row_id)
            most -= len(ids)
            if most <= 0:
                return True
    except peewee.DatabaseError:
        return True
    return False


def _machine(shop: Shop, machine_id: int) -> None:
    try:
        sheet = machines.sheet(machine_id)
    except Refusal:  # it is in the bin, or gone
        lines.keep_due(shop.database, machine_id, ())
        lines.keep_line(shop.database, "machine_line", machine_id, None)
        return
    angle = "head_angle_deg" if sheet.kind == "bicycle" else "rake_deg"
    lines.keep_line(
        shop.database,
        "machine_line",
        machine_id,
        {
            "front": sheet.text("front.tire") or "–",
            "rear": sheet.text("rear.tire") or "–",
            **{f"{end}_bead_seat_mm": _bead_seat(sheet, end) for end in ENDS},
            "wheelbase": _figure(sheet, "wheelbase_mm", 0),
            "steering": f"{_figure(sheet, angle, 1)}° "
            f"{'head' if sheet.kind == 'bicycle' else 'rake'}",
            "assumed": len(assumed_labels(sheet)),
            "picture": _picture(sheet),
        },
    )
    log = logbook.log(machine_id)
    lines.keep_due(shop.database, machine_id, due_of_tires(sheet, log, shop.policy))
    for job in jobs.open_jobs_of(machine_id):
        _job(shop, job.id)


def _picture(sheet: Sheet) -> str:
    """Return the machine drawn small; nothing while it cannot stand yet."""
    if missing_of(sheet):
        return ""
    try:
        return str(silhouette(skeleton_of(machine_of(sheet)), sheet.kind))
    except Refusal:
        return ""


def _bead_seat(sheet: Sheet, end: str) -> int | None:
    try:
        return known_code(sheet.text(f"{end}.tire") or "").bead_seat_diameter_mm
    except Refusal:
        return None


def _figure(sheet: Sheet, key: str, digits: int) -> str:
    kept = sheet.figures.get(key)
    return fixed(None if kept is None else kept.value, digits)


def _job(shop: Shop, job_id: int) -> None:
    try:
        job = jobs.job(job_id)
        sheet = machines.sheet(job.machine_id)
    except Refusal:  # it, or its machine, is in the bin or gone
        lines.keep_line(shop.database, "job_line", job_id, None)
        return
    verdict = judged_job(job, sheet, shop.policy, shop.today)
    findings, says = verdict.findings, verdict.says
    weighty = [one for one in joined(findings) if one.severity is not Severity.NOTE]
    station, so_far = reached(job, sheet, cards.progress(job_id).get(job_id))
    first = job.about
    lines.keep_line(
        shop.database,
        "job_line",
        job_id,
        {
            "judged_on": shop.today.isoformat(),
            "changes": what_changes(job, sheet, first) if first else "nothing proposed yet",
            "proposals": " ".join(kept.name for kept in job.proposals),
            "station": station,
            "so_far": so_far,
            "severity": findings[0].severity.value if findings else "",
            "headline": findings[0].headline if findings else "",
            "others": len(weighty) - 1,
            "says": says,
            **day_line(shop, job, sheet, free=verdict.free),
        },
    )
