"""The command line: parse arguments, call the core, print.

Exit status 0: done; 2: the input was refused, with one sentence on standard error, or with
`--json` the error object on standard output.  A command names its function: nothing of it is
loaded before it runs.
"""

import argparse
import errno
import json
import os
import sys
from collections.abc import Sequence
from contextlib import suppress
from datetime import date
from pathlib import Path
from pkgutil import resolve_name
from typing import Any

from jentrik import __version__
from jentrik.cli.settings import DATA, SERVED, SERVING, add_settings
from jentrik.core.amounts import in_plain
from jentrik.core.errors import Refusal

ABOUT = "What wheel sizes do to a bicycle or motorcycle, and the shop's work with them."
SHELLS = ("bash", "zsh", "tcsh")


def main(arguments: Sequence[str] | None = None) -> int:
    """Run one command and return its exit status."""
    given = sys.argv[1:] if arguments is None else arguments
    options = argparse.Namespace()
    try:
        options = parser().parse_args([_text(one) for one in given])
        status = int(resolve_name(options.run)(options))
        sys.stdout.flush()
        return status
    except Refusal as refusal:
        if getattr(options, "json", False):
            document = json.dumps(refusal.as_document(), ensure_ascii=False, indent=2)
            print(in_plain(document))
        else:
            where = f"{refusal.field}: " if refusal.field else ""
            print(in_plain(f"{where}{refusal.message}"), file=sys.stderr)
        return 2
    except OSError as error:
        if error.errno not in (errno.EPIPE, errno.ENOSPC):
            raise
        _let_go_of_output()
        closed = error.errno == errno.EPIPE
        why = "was closed before all of it was written" if closed else "has no room left"
        print(f"The output {why}.", file=sys.stderr)
        return 2


def _let_go_of_output() -> None:
    """Let what is left to print go nowhere, so that ending does not fail on it once more."""
    with suppress(OSError, ValueError):
        nowhere = os.open(os.devnull, os.O_WRONLY)
        os.dup2(nowhere, sys.stdout.fileno())
        os.close(nowhere)


def _text(argument: str) -> str:
    """Return an argument with what is no text in it shown as such, so that it can be refused."""
    return argument.encode("utf-8", "backslashreplace").decode()


def parser() -> argparse.ArgumentParser:
    """Return the parser of every command; each names the function that runs it."""
    whole = argparse.ArgumentParser(prog="jentrik", description=ABOUT)
    whole.add_argument("--version", action="version", version=f"jentrik {__version__}")
    commands = whole.add_subparsers(required=True, metavar="COMMAND")

    _add_core(commands)
    serve = commands.add_parser("serve", help="run the application")
    add_settings(serve, *SERVING, DATA)
    serve.set_defaults(run="jentrik.cli.serving:run")

    backup = commands.add_parser("backup", help="everything, photos included, as one file")
    backup.add_argument("file", type=Path, metavar="FILE", help="the file to write")
    add_settings(backup, DATA)
    backup.set_defaults(run="jentrik.cli.folder:backup")

    restore = commands.add_parser("restore", help="a folder as a backup holds it")
    restore.add_argument("file", type=Path, metavar="FILE", help="a backup")
    add_settings(restore, DATA)
    restore.add_argument("--replace", action="store_true", help="keep a shop there beside it")
    restore.set_defaults(run="jentrik.cli.folder:restore")

    _add_exchange(commands)
    _add_shop(commands)
    completion = commands.add_parser("completion", help="completion of these commands in a shell")
    completion.add_argument("shell", choices=SHELLS, help="the shell it is for")
    completion.set_defaults(run="jentrik.cli.completion:run")
    bench = commands.add_parser("bench", help="run the benchmarks")
    bench.add_argument("--json", action="store_true", help="print the figures as JSON")
    bench.add_argument("--only", nargs="+", metavar="NAME", help="these figures alone")
    bench.set_defaults(run="jentrik.cli.benchmarks:run")
    return whole


def _add_core(commands: Any) -> None:
    """Add the commands that answer from the core alone, without a shop."""
    read = commands.add_parser("read", help="read one tire code")
    read.add_argument("code", metavar="CODE", help="as it stands on the sidewall, in quotes")
    read.add_argument("--vehicle", choices=("bicycle", "motorcycle"), help="settles a doubt")
    read.add_argument("--on", type=_day, metavar="DAY", help="count ages to this day, 2026-11-23")
    read.add_argument("--json", action="store_true", help="print the reading as JSON")
    read.set_defaults(run="jentrik.cli.reading:read")

    plan = commands.add_parser("plan", help="compute a plan document")
    plan.add_argument("file", metavar="FILE", help="a plan document; - reads standard input")
    plan.add_argument("--json", action="store_true", help="print the whole answer as JSON")
    plan.set_defaults(run="jentrik.cli.planning:plan")

    find = commands.add_parser("find", help="what can be put on a machine")
    find.add_argument("file", metavar="FILE", help="a plan document with a search; - reads input")
    find.add_argument("--json", action="store_true", help="print the whole answer as JSON")
    find.set_defaults(run="jentrik.cli.finding:find")

    photo = commands.add_parser("photo", help="figures of a machine from marks on a photograph")
    photo.add_argument("file", metavar="FILE", help="a document of marks; - reads standard input")
    photo.add_argument("--json", action="store_true", help="print the whole answer as JSON")
    photo.set_defaults(run="jentrik.cli.photograph:photo")

    practice = commands.add_parser("practice", help="practice items with their answers, by a seed")
    practice.add_argument("--seed", type=int, default=1, help="the same seed gives the same items")
    practice.add_argument("--count", type=int, default=10, help="how many, 10 by default")
    practice.add_argument("--json", action="store_true", help="print the items as JSON")
    practice.set_defaults(run="jentrik.cli.practice:practice")


def _add_exchange(commands: Any) -> None:
    """Add the commands that take a shop away as a document and bring one in."""
    export = commands.add_parser("export", help="the shop as one JSON document")
    export.add_argument("file", type=Path, metavar="FILE", help="to write; - is output")
    add_settings(export, DATA)
    export.add_argument("--photos", action="store_true", help="photographs come along")
    export.set_defaults(run="jentrik.cli.folder:export")

    bring = commands.add_parser("import", help="a shop's document into a folder")
    bring.add_argument(
        "file", type=Path, metavar="FILE", help="a shop's document; - reads standard input"
    )
    add_settings(bring, DATA)
    bring.add_argument("--dry-run", action="store_true", help="only say what it would change")
    bring.add_argument("--json", action="store_true", help="print the counts as JSON")
    bring.set_defaults(run="jentrik.cli.folder:bring")


def _add_shop(commands: Any) -> None:
    """Add the commands that work with a served shop."""
    jobs = _command(commands, "jobs", "list the jobs of a served shop", "jobs")
    jobs.add_argument("--state", choices=("open", "done", "all"), default="open")
    jobs.add_argument("--find", default="", metavar="WORDS", help="only those with these words")
    machines = _command(commands, "machines", "list the machines of a served shop", "machines")
    machines.add_argument("--find", default="", metavar="WORDS", help="only those with these words")

    _command(commands, "health", "how a served shop stands", "health")

    job = commands.add_parser("job", help="start or show a job of a served shop")
    of_job = job.add_subparsers(required=True, metavar="COMMAND")
    new = _command(of_job, "new", "start a job", "new_job")
    new.add_argument("machine", metavar="MACHINE", help="its name; a new one needs --tire")
    new.add_argument("--tire", default="", metavar="CODE", help="the front tire of a new machine")
    new.add_argument("--rear", default="", metavar="CODE", help="the rear tire where it is another")
    new.add_argument("--build", default="", help="what a new machine is built like")
    show = _command(of_job, "show", "show what a job comes to", "show_job")
    show.add_argument("id", type=int, metavar="ID", help="as `jentrik jobs` lists it")

    shelf = _command(commands, "shelf", "list the tires on the shelf, or add one", "shelf")
    of_shelf = shelf.add_subparsers(metavar="COMMAND")
    add = _command(of_shelf, "add", "put a tire on the shelf", "add_tire")
    add.add_argument("code", metavar="CODE", help="as its sidewall reads, in quotes")


def _command(commands: Any, name: str, about: str, run: str) -> argparse.ArgumentParser:
    made: argparse.ArgumentParser = commands.add_parser(name, help=about)
    add_settings(made, *SERVED)
    made.add_argument("--by", default="", metavar="NAME", help="who the change is by")
    made.add_argument("--json", action="store_true", help="print the whole answer as JSON")
    made.set_defaults(run=f"jentrik.cli.served:{run}")
    return made


def _day(text: str) -> date:
    try:
        return date.fromisoformat(text)
    except ValueError:
        raise argparse.ArgumentTypeError(f"“{text}” is not a day like 2026-11-23") from None
