"""An accounts program takes the lines of every offer that was agreed.

    JENTRIK_URL=http://127.0.0.1:8765 JENTRIK_KEY=… python accounts.py 2026-11-01 > lines.csv

Writes one line a part, in the order of an accounting line, of the jobs that changed since a day.
What has no price yet is left blank; amounts are text, and are never added up as floats.
"""

import csv
import json
import os
import sys
from urllib.error import HTTPError
from urllib.parse import quote
from urllib.request import Request, urlopen

URL = os.environ.get("JENTRIK_URL", "http://127.0.0.1:8765")
KEY = os.environ.get("JENTRIK_KEY", "")
HEADS = ("tag", "wanted", "key", "size", "pieces", "unit_price", "tax_percent", "currency")


def ask(path: str) -> dict:
    """Ask the shop."""
    headers = {"Authorization": f"Bearer {KEY}"} if KEY else {}
    with urlopen(Request(f"{URL}/api{path}", headers=headers)) as answer:
        return json.load(answer)


def jobs_since(day: str) -> list[dict]:
    """Return every job that changed since a day, whatever became of it."""
    found, page = [], 1
    while True:
        listed = ask(f"/jobs?state=all&changed_since={day}&size=200&page={page}")
        found += listed["jobs"]
        if not listed["more"]:
            return found
        page += 1


def main(day: str) -> None:
    """Write the lines of what was agreed."""
    written = csv.writer(sys.stdout)
    written.writerow(HEADS)
    for job in jobs_since(day):
        if job["state"] == "binned":
            continue
        try:
            agreed = ask(f"/jobs/{job['id']}/offer")["agreed"]
        except HTTPError as refused:
            if refused.code not in (404, 422):  # else there is nothing to offer
                raise
            continue
        if agreed is None:
            continue
        for line in ask(f"/jobs/{job['id']}/offer?proposal={quote(agreed['proposal'])}")["lines"]:
            values = [line.get(name) for name in HEADS[2:]]
            written.writerow([job["tag"], job["wanted"], *values])


if __name__ == "__main__":
    main(sys.argv[1])
