"""An accounts program takes the lines of every offer that was agreed.

    python accounts.py 2026-11-01 > lines.csv

Writes one line a part, in the order of an accounting line, of the jobs that changed since a day.
What has no price yet is left blank; amounts are text, and are never added up as floats.
"""

import csv
import sys
from typing import Any
from urllib.parse import quote

from shop import RefusedError, ask

HEADS = ("tag", "wanted", "key", "size", "pieces", "unit_price", "tax_percent", "currency")


def jobs_since(day: str) -> list[dict[str, Any]]:
    """Return every job that changed since a day, whatever became of it."""
    found, page = [], 1
    while True:
        listed = ask("GET", f"/jobs?state=all&changed_since={day}&size=200&page={page}")
        found += listed["jobs"]
        if not listed["more"]:
            return found
        page += 1


def agreed_lines(job: int) -> list[dict[str, Any]]:
    """Return the lines of what was agreed for a job; none where nothing was."""
    try:
        agreed = ask("GET", f"/jobs/{job}/offer")["agreed"]
    except RefusedError as refused:
        if refused.status not in (404, 422):  # else there is nothing to offer
            raise
        return []
    if agreed is None:
        return []
    return ask("GET", f"/jobs/{job}/offer?proposal={quote(agreed['proposal'])}")["lines"]


def main(day: str) -> None:
    """Write the lines of what was agreed."""
    written = csv.writer(sys.stdout)
    written.writerow(HEADS)
    for job in jobs_since(day):
        if job["state"] == "binned":
            continue
        for line in agreed_lines(job["id"]):
            values = [line.get(name) for name in HEADS[2:]]
            written.writerow([job["tag"], job["wanted"], *values])


if __name__ == "__main__":
    main(sys.argv[1])
