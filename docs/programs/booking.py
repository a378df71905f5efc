"""A booking program opens a job: who comes, with which machine, for what, until when.

    python booking.py bookings.json

`bookings.json` is a list of {"id", "customer", "phone", "machine", "tire", "wanted", "day"}.  Run
again it opens nothing twice: each request carries the booking's own id.
"""

import json
import sys

from shop import ask


def main(file: str) -> None:
    """Open a job for each booking, and say its tag."""
    with open(file, encoding="utf-8") as read:
        bookings = json.load(read)
    for one in bookings:
        key = f"booking {one['id']}"
        new = {"machine": one["machine"], "front_tire": one["tire"], "external_id": key}
        job = ask("POST", "/jobs", new, once=key)
        owner = {"owner": one["customer"], "phone": one["phone"]}
        ask("PATCH", f"/machines/{job['machine_id']}", owner)
        promised = {"wanted": one["wanted"], "due_on": one["day"]}
        job = ask("PATCH", f"/jobs/{job['id']}", promised)
        print(f"{one['customer']}: tag {job['tag']}, promised for {job['promised_at']}")


if __name__ == "__main__":
    main(sys.argv[1])
