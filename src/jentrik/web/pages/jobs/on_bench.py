"""A job loaded with what it is judged by, for every page that shows it."""

from jentrik.store import documents, jobs
from jentrik.store.documents import OnBench
from jentrik.web.shop import Shop


def on_bench(shop: Shop, job_id: int) -> OnBench:
    """Return a job as it is judged: now, or of a job that was fitted as on the day."""
    return documents.on_bench(jobs.job(job_id), shop.policy, shop.today)
