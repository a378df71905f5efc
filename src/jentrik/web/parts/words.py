"""What a proposal changes and when a job is due, in a few words."""

from datetime import date

from jentrik.core.machine.sheet import Sheet
from jentrik.core.work.change_words import change_in_words
from jentrik.core.work.job import Job, KeptProposal


def what_changes(job: Job, sheet: Sheet, kept: KeptProposal) -> str:
    """Return what a proposal of a job changes in a few words, or changed, once it is done."""
    if job.done is not None and job.done.proposal == kept.name:
        return job.done.summary
    return change_in_words(sheet, kept.changes)


def due_in_words(due: date | None, today: date) -> tuple[str, str]:
    """Return when a job is due in words, and whether that is late or soon."""
    if due is None:
        return "", ""
    days = (due - today).days
    if days < 0:
        return f"{-days} day{'s' if days < -1 else ''} late", "stop"
    if days <= 1:
        return ("today", "caution") if days == 0 else ("tomorrow", "caution")
    return f"{due:%a %d %b}", ""
