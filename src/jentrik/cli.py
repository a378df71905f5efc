"""The command line: parse arguments, call the core, print.

Exit status 0: done; 2: the input was refused, with one sentence on standard error, or with
`--json` the error object on standard output.
"""

import argparse
import json
import sys
from collections.abc import Sequence
from datetime import date, datetime
from pathlib import Path
from typing import Any

import shtab

from jentrik import __version__
from jentrik.core.amounts import in_plain
from jentrik.core.errors import DocumentError, Refusal
from jentrik.core.plan.plan import PlanResult
from jentrik.core.tirecode.found import Sidewall
from jentrik.core.tirecode.reading import Reading
from jentrik.core.tirecode.sidewall import read_sidewall
from jentrik.exchange.find_document import find_from_json
from jentrik.exchange.plan_answer import result_document
from jentrik.exchange.plan_document import plan_from_json
from jentrik.exchange.practice_document import items_document
from jentrik.exchange.reading_document import sidewall_document
from jentrik.exchange.strict_json import LARGEST_DOCUMENT_BYTES
from jentrik.shop_commands import add_shop_commands


def main(arguments: Sequence[str] | None = None) -> int:
    """Run one command and return its exit status."""
    given = sys.argv[1:] if arguments is None else arguments
    options = _parser().parse_args([_text(one) for one in given])
    try:
        return int(options.run(options))
    except Refusal as refusal:
        if getattr(options, "json", False):
            _print_json(refusal.as_document())
        else:
            where = f"{refusal.field}: " if refusal.field else ""
            print(in_plain(f"{where}{refusal.message}"), file=sys.stderr)
        return 2
    except BrokenPipeError:
        return 0


def _text(argument: str) -> str:
    """Return an argument with what is no text in it shown as such, so that it can be refused."""
    return argument.encode("utf-8", "backslashreplace").decode()


def _parser() -> argparse.ArgumentParser:
    parser = argparse.ArgumentParser(prog="jentrik", description=__doc__.split("\n")[0])
    parser.add_argument("--version", action="version", version=f"jentrik {__version__}")
    commands = parser.add_subparsers(required=True, metavar="COMMAND")

    _add_core(commands)
    serve = commands.add_parser("serve", help="run the application")
    serve.add_argument("--host", default="127.0.0.1", help="default 127.0.0.1")
    serve.add_argument("--port", type=int, default=8765, help="default 8765")
    serve.add_argument("--data", type=Path, default=Path("data"), help="folder of the database")
    serve.add_argument("--demo", action="store_true", help="fill an empty database with the demo")
    serve.add_argument("--without-log", action="store_true", help="go on where the log is lost")
    serve.set_defaults(run=_serve)

    backup = commands.add_parser("backup", help="everything, photos included, as one file")
    backup.add_argument("file", type=Path, metavar="FILE", help="the file to write")
    backup.add_argument("--data", type=Path, default=Path("data"), help="folder of the database")
    backup.set_defaults(run=_backup)

    restore = commands.add_parser("restore", help="a folder as a backup holds it")
    restore.add_argument("file", type=Path, metavar="FILE", help="a backup")
    restore.add_argument("--data", type=Path, default=Path("data"), help="folder to fill")
    restore.add_argument("--replace", action="store_true", help="keep a shop there beside it")
    restore.set_defaults(run=_restore)

    _add_exchange(commands)
    add_shop_commands(commands)
    completion = commands.add_parser("completion", help="completion of these commands in a shell")
    completion.add_argument("shell", choices=shtab.SUPPORTED_SHELLS, help="the shell it is for")
    completion.set_defaults(run=_completion)
    bench = commands.add_parser("bench", help="run the benchmarks")
    bench.add_argument("--json", action="store_true", help="print the figures as JSON")
    bench.set_defaults(run=_bench)
    return parser


def _add_core(commands: Any) -> None:
    """Add the commands that answer from the core alone, without a shop."""
    read = commands.add_parser("read", help="read one tire code")
    read.add_argument("code", metavar="CODE", help="as it stands on the sidewall, in quotes")
    read.add_argument("--vehicle", choices=("bicycle", "motorcycle"), help="settles a doubt")
    read.add_argument("--on", type=_day, metavar="DAY", help="count ages to this day, 2026-11-23")
    read.add_argument("--json", action="store_true", help="print the reading as JSON")
    read.set_defaults(run=_read)

    plan = commands.add_parser("plan", help="compute a plan document")
    plan.add_argument("file", metavar="FILE", help="a plan document; - reads standard input")
    plan.add_argument("--json", action="store_true", help="print the whole answer as JSON")
    plan.set_defaults(run=_plan)

    find = commands.add_parser("find", help="what can be put on a machine")
    find.add_argument("file", metavar="FILE", help="a plan document with a search; - reads input")
    find.add_argument("--json", action="store_true", help="print the whole answer as JSON")
    find.set_defaults(run=_find)

    photo = commands.add_parser("photo", help="figures of a machine from marks on a photograph")
    photo.add_argument("file", metavar="FILE", help="a document of marks; - reads standard input")
    photo.add_argument("--json", action="store_true", help="print the whole answer as JSON")
    photo.set_defaults(run=_photo)

    practice = commands.add_parser("practice", help="practice items with their answers, by a seed")
    practice.add_argument("--seed", type=int, default=1, help="the same seed gives the same items")
    practice.add_argument("--count", type=int, default=10, help="how many, 10 by default")
    practice.add_argument("--json", action="store_true", help="print the items as JSON")
    practice.set_defaults(run=_practice)


def _add_exchange(commands: Any) -> None:
    """Add the commands that take a shop away as a document and bring one in."""
    export = commands.add_parser("export", help="the shop as one JSON document")
    export.add_argument("file", type=Path, metavar="FILE", help="the file to write")
    export.add_argument("--data", type=Path, default=Path("data"), help="folder of the database")
    export.add_argument("--photos", action="store_true", help="photographs come along")
    export.set_defaults(run=_export)

    bring = commands.add_parser("import", help="a shop's document into a folder")
    bring.add_argument("file", type=Path, metavar="FILE", help="a shop's document")
    bring.add_argument("--data", type=Path, default=Path("data"), help="folder of the database")
    bring.add_argument("--dry-run", action="store_true", help="only say what it would change")
    bring.add_argument("--json", action="store_true", help="print the counts as JSON")
    bring.set_defaults(run=_import)


def _print_json(document: Any) -> None:
    print(in_plain(json.dumps(document, ensure_ascii=False, indent=2, allow_nan=False)))


def _read(options: argparse.Namespace) -> int:
    # A date in the future is one whatever day an age is counted to.
    day = options.on or date.today()
    sidewall = read_sidewall(options.code, vehicle=options.vehicle, on=day)
    if options.json:
        _print_json(sidewall_document(sidewall, on=options.on))
    else:
        print(in_plain("\n".join(_sidewall_lines(sidewall, options.on))))
    return 0


def _day(text: str) -> date:
    try:
        return date.fromisoformat(text)
    except ValueError:
        raise argparse.ArgumentTypeError(f"“{text}” is not a day like 2026-11-23") from None


def _sidewall_lines(sidewall: Sidewall, on: date | None) -> list[str]:
    reading = sidewall.reading
    kind = f", {reading.vehicle}" if reading and reading.vehicle else ""
    family = reading.family if reading else "lines without a size"
    lines = [f"{sidewall.text}: {family}{kind}"]
    lines += [f"  {token.text:<8} {token.means}" for token in sidewall.tokens]
    if isinstance(reading, Reading):
        lines += _size_lines(reading)
    age = sidewall.made.age_years(on) if sidewall.made and on else None
    if age is not None:
        lines.append(f"  {age:.1f} years old")
    return lines + [f"  note: {note}" for note in sidewall.notes]


def _size_lines(reading: Reading) -> list[str]:
    lines = [f"  bead seat {reading.bead_seat_diameter_mm} mm"]
    if reading.overall_diameter_mm is not None and reading.circumference_mm is not None:
        lines.append(
            f"  overall diameter {reading.overall_diameter_mm:.1f} mm, circumference "
            f"{reading.circumference_mm:.0f} mm (nominal, unloaded)"
        )
    lines += [f"  also {other.text}: {other.family}" for other in reading.also]
    lines += [f"  or: {other.note}" for other in reading.alternatives]
    return lines


def _plan(options: argparse.Namespace) -> int:
    result = plan_from_json(_bytes_of(options.file), on=date.today())
    if options.json:
        _print_json(result_document(result))
    else:
        print(in_plain("\n".join(_plan_lines(result))))
    return 0


def _photo(options: argparse.Namespace) -> int:
    # The solver takes time to load, and the other commands do without it.
    from jentrik.exchange.photo_marks import photo_from_json  # noqa: PLC0415

    answer = photo_from_json(_bytes_of(options.file))
    if options.json:
        _print_json(answer)
        return 0
    for name, one in answer["figures"].items():
        print(f"{name} {one['value']:.1f} ± {one['plus_minus']:.1f}")
    for point in answer["points"]:
        print(
            f"{point['name']}: forward {point['x_mm']:.0f} mm, height {point['height_mm']:.0f} mm "
            f"± {point['plus_minus']:.0f}"
        )
    print(f"Marks lie off by {answer['residual_px']:.1f} px.")
    for note in answer["notes"]:
        print(note)
    return 0


def _practice(options: argparse.Namespace) -> int:
    answer = items_document(options.seed, options.count)
    if options.json:
        _print_json(answer)
        return 0
    for number, one in enumerate(answer, 1):
        print(f"{number}. {one['question']}")
        for place, choice in enumerate(one["choices"] or (), 1):
            print(f"   {place}  {choice}")
    print("\nAnswers")
    for number, one in enumerate(answer, 1):
        print(f"{number}. {one['answer']}. {one['why']} [{one['source']}]")
    return 0


def _find(options: argparse.Namespace) -> int:
    answer = find_from_json(_bytes_of(options.file))
    if options.json:
        _print_json(answer)
        return 0
    lines, before = [f"{answer['tried']} combinations tried."], answer["tried"]
    for one in answer["left"]:
        if one["after"] < before:
            lines.append(f"  {one['after']:>9} left after {one['rule']}")
        before = one["after"]
    lines += [
        f"{one['front']} / {one['rear']}"
        + (f", position {one['position']}" if one["position"] else "")
        + (f", fork {one['fork_longer_mm']:+g} mm" if one["fork_longer_mm"] else "")
        + f": head angle {one['head_angle_delta_deg']:+.1f}°, trail {one['trail_delta_mm']:+.0f} mm"
        + ("" if one["bb_delta_mm"] is None else f", BB {one['bb_delta_mm']:+.0f} mm")
        + f"; {one['worst']}"
        for one in answer["pairs"]
    ]
    print(in_plain("\n".join(lines)))
    return 0


def _bytes_of(name: str) -> bytes:
    most = LARGEST_DOCUMENT_BYTES + 1
    if name == "-":
        return sys.stdin.buffer.read(most)
    try:
        with Path(name).open("rb") as file:
            return file.read(most)
    except OSError as error:
        raise DocumentError(
            f"{name} cannot be read: {(error.strerror or 'unknown reason').lower()}.",
            expected="a plan document",
        ) from None


_LINES = (
    ("head angle", "head_angle_deg", "°", 1),
    ("trail", "trail_mm", "mm", 0),
    ("bottom bracket", "bb_height_mm", "mm", 0),
    ("wheelbase", "wheelbase_mm", "mm", 0),
    ("pitch", "pitch_deg", "°", 1),
)


def _plan_lines(result: PlanResult) -> list[str]:
    lines = [result.bike.name]
    for outcome in result.outcomes:
        lines.append(f"Proposal {outcome.proposal.name}")
        for label, key, unit, digits in _LINES:
            old, new = getattr(result.figures.geometry, key), getattr(outcome.figures.geometry, key)
            if old is not None and new is not None:
                lines.append(
                    f"  {label:<15} {old:.{digits}f} → {new:.{digits}f} {unit} "
                    f"({new - old:+.{digits}f})"
                )
        lines += [
            f"  {finding.severity}: {finding.headline}. {finding.message} [{finding.source}]"
            for finding in outcome.findings
        ]
    return lines


def _serve(options: argparse.Namespace) -> int:
    # The web stack takes time to load, and `read` and `plan` do without it.
    from jentrik.web.serve import serve  # noqa: PLC0415

    serve(
        host=options.host,
        port=options.port,
        data=options.data,
        demo=options.demo,
        without_log=options.without_log,
    )
    return 0


def _backup(options: argparse.Namespace) -> int:
    # The database stack takes time to load, and `read` and `plan` do without it.
    from jentrik.store.safekeeping import backup_from_outside  # noqa: PLC0415

    holds = backup_from_outside(options.data, options.file, now=datetime.now())
    print(
        f"{options.file}: {holds.machines} machines, {holds.jobs} jobs, {holds.photos} photos; "
        "verified."
    )
    if holds.missing_photos:
        print(f"{holds.missing_photos} photos were missing in {options.data}.", file=sys.stderr)
    return 0


def _restore(options: argparse.Namespace) -> int:
    from jentrik.store.safekeeping import restore_from_outside  # noqa: PLC0415

    holds, old = restore_from_outside(
        options.file, options.data, now=datetime.now(), replace=options.replace
    )
    print(f"{options.data}: {holds.machines} machines, {holds.jobs} jobs, {holds.photos} photos.")
    if old is not None:
        print(f"The shop that was there lies in {old}.")
    return 0


def _export(options: argparse.Namespace) -> int:
    from jentrik.store.safekeeping import export_from_outside  # noqa: PLC0415
    from jentrik.store.shop_export import Wanted  # noqa: PLC0415

    wanted = Wanted(photos=options.photos)
    export_from_outside(options.data, options.file, wanted, now=datetime.now())
    print(f"{options.file}: {options.file.stat().st_size / 1_000_000:.1f} MB.")
    return 0


def _import(options: argparse.Namespace) -> int:
    from jentrik.store.safekeeping import import_from_outside  # noqa: PLC0415

    def said(name: str, count: int) -> None:
        if sys.stderr.isatty():
            print(f"\r{count} lines, {name:<20}", end="", file=sys.stderr, flush=True)

    report = import_from_outside(
        options.data, options.file, now=datetime.now(), dry_run=options.dry_run, progress=said
    )
    if options.json:
        _print_json({"dry_run": options.dry_run, **report.as_document()})
    else:
        print(f"{'It would be' if options.dry_run else options.data}: {report.in_words()}.")
    return 0


def _completion(options: argparse.Namespace) -> int:
    print(shtab.complete(_parser(), options.shell))
    return 0


def _bench(options: argparse.Namespace) -> int:
    # The benchmarks need the tools of a contributor.
    from jentrik.bench import run_all  # noqa: PLC0415

    figures = run_all()
    if options.json:
        _print_json([figure.as_document() for figure in figures])
    else:
        for figure in figures:
            print(figure.line())
    return 0


if __name__ == "__main__":
    sys.exit(main())
