"""A booking program opens a job: who comes, with which machine, for what, until when.

    JENTRIK_URL=http://127.0.0.1:8765 JENTRIK_KEY=… python booking.py bookings.json

`bookings.json` is a list of {"id", "customer", "phone", "machine", "tire", "wanted", "day"}.  Run
again it opens nothing twice: each request carries the booking's own id.
"""

import json
import os
import sys
from urllib.error import HTTPError
from urllib.request import Request, urlopen

URL = os.environ.get("JENTRIK_URL", "http://127.0.0.1:8765")
KEY = os.environ.get("JENTRIK_KEY", "")


def ask(method: str, path: str, body: dict | None = None, once: str = "") -> dict:
    """Ask the shop; a refusal ends the program with its sentence."""
    headers = {"Content-Type": "application/json"}
    if KEY:
        headers["Authorization"] = f"Bearer {KEY}"
    if once:
        headers["Idempotency-Key"] = once
    raw = None if body is None else json.dumps(body).encode()
    try:
        with urlopen(Request(f"{URL}/api{path}", raw, headers, method=method)) as answer:
            return json.load(answer)
    except HTTPError as refused:
        error = json.load(refused)["error"]
        sys.exit(f"{method} {path}: {error['message']} ({error['field']})")


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
