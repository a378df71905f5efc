"""Commands over the API of a shop that is served: jobs, machines and the shelf from a shell.

    jentrik jobs                     jentrik machines                jentrik shelf
    jentrik job new WHAT --tire T    jentrik job show ID             jentrik shelf add CODE

The address is `--url` or JENTRIK_URL, the key `--key` or JENTRIK_KEY; on the shop's own machine
neither is needed.  Without a key the passphrase of JENTRIK_PASSPHRASE is given.
"""

import argparse
import base64
import json
import uuid
from http.client import HTTPException
from typing import Any
from urllib.error import HTTPError, URLError
from urllib.parse import urlencode, urlsplit
from urllib.request import HTTPRedirectHandler, Request, build_opener

from jentrik.cli.settings import SERVED
from jentrik.core.amounts import in_plain
from jentrik.core.errors import DocumentError, Refusal

WAIT_S = 30


class _NoRedirect(HTTPRedirectHandler):
    """A key goes to the address it was given for and nowhere else."""

    def redirect_request(self, *_: Any) -> None:
        return None


def _ask(options: argparse.Namespace, path: str, sent: dict[str, Any] | None = None) -> Any:
    """Return the answer of the shop; refuses with its sentence, or where there is none."""
    url = options.url.rstrip("/")
    if urlsplit(url).scheme not in ("http", "https"):
        raise DocumentError(
            f"“{url[:60]}” is no address of a shop.", field="url", expected=SERVED[0].usual
        )
    headers = {"Accept": "application/json"}
    if options.key:
        headers["Authorization"] = f"Bearer {options.key}"
    elif options.passphrase:
        given = base64.b64encode(f"shop:{options.passphrase}".encode()).decode()
        headers["Authorization"] = f"Basic {given}"
    body = None
    if sent is not None:
        body = json.dumps(sent).encode()
        headers |= {"Content-Type": "application/json", "Idempotency-Key": uuid.uuid4().hex}
        headers |= {"Jentrik-Person": options.by} if options.by else {}
    request = Request(f"{url}/api{path}", data=body, headers=headers)  # noqa: S310  # checked above
    try:
        with build_opener(_NoRedirect).open(request, timeout=WAIT_S) as answer:
            return json.load(answer)
    except HTTPError as error:
        raise _refusal_of(error) from None
    except (URLError, OSError, HTTPException, ValueError) as error:
        reason = getattr(error, "reason", error)
        said = getattr(reason, "strerror", None) or str(reason)
        raise DocumentError(
            f"No shop answers at {url}: {said.lower()}. Start it with `jentrik serve`, or say "
            "--url.",
            expected="the address of a shop that is served",
        ) from None


def _refusal_of(error: HTTPError) -> Refusal:
    try:
        said = json.load(error)["error"]
        return DocumentError(
            str(said["message"]),
            field=said["field"],
            position=said["position"],
            expected=said["expected"],
            suggestions=tuple(said["suggestions"]),
        )
    except (ValueError, KeyError, TypeError):
        return DocumentError(f"The shop answered {error.code} {error.reason}.", expected="a shop")


def _shown(options: argparse.Namespace, answer: Any, lines: list[str]) -> int:
    if options.json:
        lines = [json.dumps(answer, ensure_ascii=False, indent=2)]
    print(in_plain("\n".join(lines)))
    return 0


def health(options: argparse.Namespace) -> int:
    """Say how the shop stands: its database, the room on its disk, its last backup."""
    answer = _ask(options, "/health")
    last = answer["last_backup_at"] or "none yet"
    said = f"{answer['status']}: {answer['disk_free_mb']} MB free, last backup {last}"
    return _shown(options, answer, [said])


def jobs(options: argparse.Namespace) -> int:
    """List the jobs."""
    query = urlencode({"state": options.state, "find": options.find})
    answer = _ask(options, f"/jobs?{query}")
    lines = [
        f"{one['id']:>5}  tag {one['tag']:<4} {one['machine']}: {one['wanted'] or one['changes']}"
        + (f"  due {one['due_on']}" if one["due_on"] else "")
        + (f"  {one['severity']}: {one['headline']}" if one["headline"] else "")
        for one in answer["jobs"]
    ]
    return _shown(options, answer, [*lines, *_rest(answer)] or ["No job."])


def _rest(answer: Any) -> list[str]:
    return ["There are more: say --find."] if answer["more"] else []


def machines(options: argparse.Namespace) -> int:
    """List the machines."""
    answer = _ask(options, f"/machines?{urlencode({'find': options.find})}")
    lines = [
        f"{one['id']:>5}  {one['name']}: {one['front'] or '–'} / {one['rear'] or '–'}"
        for one in answer["machines"]
    ]
    return _shown(options, answer, [*lines, *_rest(answer)] or ["No machine."])


def new_job(options: argparse.Namespace) -> int:
    """Start a job."""
    sent = {
        "machine": options.machine,
        "front_tire": options.tire,
        "rear_tire": options.rear,
        "build": options.build,
    }
    answer = _ask(options, "/jobs", sent)
    return _shown(options, answer, [f"Job {answer['id']}, tag {answer['tag']}."])


def show_job(options: argparse.Namespace) -> int:
    """Show what a job comes to."""
    answer = _ask(options, f"/jobs/{options.id}")
    lines = [f"Tag {answer['tag']}, {answer['machine']}: {answer['wanted']} ({answer['state']})"]
    for one in answer["proposals"]:
        lines.append(f"Proposal {one['name']}")
        lines += [f"  {f['severity']}: {f['headline']}. {f['message']}" for f in one["findings"]]
    return _shown(options, answer, lines)


def shelf(options: argparse.Namespace) -> int:
    """List the tires on the shelf."""
    answer = _ask(options, "/shelf")
    lines = [f"{one['id']:>5}  {one['code']}{_made(one)}" for one in answer["tires"]]
    return _shown(options, answer, [*lines, *_rest(answer)] or ["The shelf is empty."])


def _made(tire: Any) -> str:
    return f", made {tire['week']:02d}/{tire['year']}" if tire["week"] else ""


def add_tire(options: argparse.Namespace) -> int:
    """Put a tire on the shelf."""
    answer = _ask(options, "/shelf", {"code": options.code})
    return _shown(options, answer, [f"{answer['id']}: {answer['code']}{_made(answer)}"])
