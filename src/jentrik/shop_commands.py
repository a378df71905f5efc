"""Commands over the API of a shop that is served: jobs, machines and the shelf from a shell.

    jentrik jobs                     jentrik machines                jentrik shelf
    jentrik job new WHAT --tire T    jentrik job show ID             jentrik shelf add CODE

The address is `--url` or JENTRIK_URL, the key `--key` or JENTRIK_KEY; on the shop's own machine
neither is needed.
"""

import argparse
import json
import os
import uuid
from collections.abc import Callable
from http.client import HTTPException
from typing import Any
from urllib.error import HTTPError, URLError
from urllib.parse import urlencode, urlsplit
from urllib.request import HTTPRedirectHandler, Request, build_opener

from jentrik.core.amounts import in_plain
from jentrik.core.errors import DocumentError, Refusal

URL_VARIABLE, KEY_VARIABLE = "JENTRIK_URL", "JENTRIK_KEY"
USUAL_URL, WAIT_S = "http://127.0.0.1:8765", 30


class _NoRedirect(HTTPRedirectHandler):
    """A key goes to the address it was given for and nowhere else."""

    def redirect_request(self, *_: Any) -> None:
        return None


def add_shop_commands(commands: Any) -> None:
    """Add the commands that work with a served shop."""
    jobs = _command(commands, "jobs", "list the jobs of a served shop", _jobs)
    jobs.add_argument("--state", choices=("open", "done", "all"), default="open")
    jobs.add_argument("--find", default="", metavar="WORDS", help="only those with these words")
    machines = _command(commands, "machines", "list the machines of a served shop", _machines)
    machines.add_argument("--find", default="", metavar="WORDS", help="only those with these words")

    job = commands.add_parser("job", help="start or show a job of a served shop")
    of_job = job.add_subparsers(required=True, metavar="COMMAND")
    new = _command(of_job, "new", "start a job", _new_job)
    new.add_argument("machine", metavar="MACHINE", help="its name; a new one needs --tire")
    new.add_argument("--tire", default="", metavar="CODE", help="the front tire of a new machine")
    new.add_argument("--rear", default="", metavar="CODE", help="the rear tire where it is another")
    new.add_argument("--build", default="", help="what a new machine is built like")
    show = _command(of_job, "show", "show what a job comes to", _show_job)
    show.add_argument("id", type=int, metavar="ID", help="as `jentrik jobs` lists it")

    shelf = _command(commands, "shelf", "list the tires on the shelf, or add one", _shelf)
    of_shelf = shelf.add_subparsers(metavar="COMMAND")
    add = _command(of_shelf, "add", "put a tire on the shelf", _add_tire)
    add.add_argument("code", metavar="CODE", help="as its sidewall reads, in quotes")


def _command(
    commands: Any, name: str, about: str, run: Callable[[argparse.Namespace], int]
) -> argparse.ArgumentParser:
    parser: argparse.ArgumentParser = commands.add_parser(name, help=about)
    usual_url = os.environ.get(URL_VARIABLE, USUAL_URL)
    parser.add_argument("--url", default=usual_url, help=f"where it is served; {USUAL_URL}")
    parser.add_argument(
        "--key", default=os.environ.get(KEY_VARIABLE, ""), help="the key of a program"
    )
    parser.add_argument("--by", default="", metavar="NAME", help="who the change is by")
    parser.add_argument("--json", action="store_true", help="print the whole answer as JSON")
    parser.set_defaults(run=run)
    return parser


def _ask(options: argparse.Namespace, path: str, sent: dict[str, Any] | None = None) -> Any:
    """Return the answer of the shop; refuses with its sentence, or where there is none."""
    url = options.url.rstrip("/")
    if urlsplit(url).scheme not in ("http", "https"):
        raise DocumentError(
            f"“{url[:60]}” is no address of a shop.", field="url", expected=USUAL_URL
        )
    headers = {"Accept": "application/json"}
    if options.key:
        headers["Authorization"] = f"Bearer {options.key}"
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


def _jobs(options: argparse.Namespace) -> int:
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


def _machines(options: argparse.Namespace) -> int:
    answer = _ask(options, f"/machines?{urlencode({'find': options.find})}")
    lines = [
        f"{one['id']:>5}  {one['name']}: {one['front']} / {one['rear']}"
        for one in answer["machines"]
    ]
    return _shown(options, answer, [*lines, *_rest(answer)] or ["No machine."])


def _new_job(options: argparse.Namespace) -> int:
    sent = {
        "machine": options.machine,
        "front_tire": options.tire,
        "rear_tire": options.rear,
        "build": options.build,
    }
    answer = _ask(options, "/jobs", sent)
    return _shown(options, answer, [f"Job {answer['id']}, tag {answer['tag']}."])


def _show_job(options: argparse.Namespace) -> int:
    answer = _ask(options, f"/jobs/{options.id}")
    lines = [f"Tag {answer['tag']}, {answer['machine']}: {answer['wanted']} ({answer['state']})"]
    for one in answer["proposals"]:
        lines.append(f"Proposal {one['name']}")
        lines += [f"  {f['severity']}: {f['headline']}. {f['message']}" for f in one["findings"]]
    return _shown(options, answer, lines)


def _shelf(options: argparse.Namespace) -> int:
    answer = _ask(options, "/shelf")
    lines = [f"{one['id']:>5}  {one['code']}{_made(one)}" for one in answer["tires"]]
    return _shown(options, answer, [*lines, *_rest(answer)] or ["The shelf is empty."])


def _made(tire: Any) -> str:
    return f", made {tire['week']:02d}/{tire['year']}" if tire["week"] else ""


def _add_tire(options: argparse.Namespace) -> int:
    answer = _ask(options, "/shelf", {"code": options.code})
    return _shown(options, answer, [f"{answer['id']}: {answer['code']}{_made(answer)}"])
