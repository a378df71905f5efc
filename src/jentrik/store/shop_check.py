"""Sees that what came into the shop holds together: everything a page would load is loaded once."""

from collections.abc import Iterable

from jentrik.core.errors import DocumentError, Refusal
from jentrik.core.machine.fields import missing_of
from jentrik.core.machine.machine_of import machine_of
from jentrik.core.plan.plan import as_measured
from jentrik.core.work.template import steps_of
from jentrik.exchange.job_document import shown_document
from jentrik.store import cards, documents, machine_data, wheels
from jentrik.store.rows import rows

_WRONG = (Refusal, ValueError, KeyError, TypeError, AttributeError, AssertionError)
_EVERY_LINE = 100_000


def check_machines(ids: Iterable[int]) -> None:
    """Refuse machines whose sheet, wheels, log, cards or documents cannot be read."""
    for machine_id in ids:
        try:
            _load(machine_id)
        except _WRONG as error:
            name = rows("SELECT name FROM machine WHERE id = ?", machine_id)[0]["name"]
            why = error.message if isinstance(error, Refusal) else "a value no page can show"
            raise DocumentError(
                f"The machine “{name}” of the document does not hold together: {why}",
                field="machines",
                expected="a machine as an export writes it",
            ) from None


def check_templates() -> None:
    """Refuse templates of cards that cannot be read."""
    for text in cards.templates().values():
        steps_of(text)


def _load(machine_id: int) -> None:
    if rows("SELECT 1 FROM machine WHERE id = ? AND binned_at IS NULL", machine_id):
        (sheet,) = machine_data.log_of_machine(machine_id, most=_EVERY_LINE).sheets.values()
        wheels.wheels_of(sheet)
        if not missing_of(sheet):
            as_measured(machine_of(sheet))
    of_machine = "JOIN job ON job.id = job_id WHERE machine_id = ?"
    for row in rows(f"SELECT job_id FROM card {of_machine}", machine_id):  # noqa: S608  # our own
        cards.card_of(row["job_id"])
    sealed_jobs = f"SELECT DISTINCT job_id FROM job_document {of_machine} AND kind = 'job'"  # noqa: S608
    for row in rows(sealed_jobs, machine_id):
        sealed = documents.document(row["job_id"])
        assert sealed is not None
        shown_document(sealed.values, "done")
