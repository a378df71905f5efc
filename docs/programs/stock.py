"""A stock program says what arrived, and takes note of what happened.

    python stock.py arrived.csv

`arrived.csv` has the columns `part` and `place`: a part as the order list names it, and where it
was put.  What happened is followed from where it ended last, kept in `stock.next`.
"""

import csv
import os
import sys
from pathlib import Path

from shop import ask

NEXT = Path(os.environ.get("STOCK_NEXT", "stock.next"))


def ordered() -> list[tuple[int, str]]:
    """Return what open jobs wait for: the job and the part's key."""
    found = []
    for job in ask("GET", "/jobs?state=open&size=200")["jobs"]:
        entries = ask("GET", f"/jobs/{job['id']}/order")["entries"]
        parts = [key.partition(":")[2] for key, said in entries.items() if said == "ordered"]
        found += [(job["id"], part) for part in parts]
    return found


def main(file: str) -> None:
    """Say of each part that arrived where it lies; list what happened since."""
    waited = ordered()
    with open(file, newline="", encoding="utf-8-sig") as read:
        for line in csv.DictReader(read):
            for job, part in waited:
                if part == line["part"]:
                    ask("POST", f"/jobs/{job}/arrived", {"part": part, "place": line["place"]})
                    print(f"job {job}: {part} lies at {line['place']}")
    since = NEXT.read_text() if NEXT.exists() else "0"
    happened = ask("GET", f"/changes?since={since}")
    for change in happened["changes"]:
        print(f"{change['at']} {change['by']}: {change['what']}")
    NEXT.write_text(str(happened["next"]))


if __name__ == "__main__":
    main(sys.argv[1])
