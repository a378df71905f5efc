"""Commands on the folder of a shop: backup, restore, export, import."""

import argparse
import sys
from datetime import datetime

from jentrik.cli.printing import print_json
from jentrik.store.safekeeping import (
    STANDARD,
    backup_from_outside,
    export_from_outside,
    import_from_outside,
    restore_from_outside,
)
from jentrik.store.shop_export import Wanted


def backup(options: argparse.Namespace) -> int:
    """Write everything as one file."""
    holds = backup_from_outside(options.data, options.file, now=datetime.now())
    print(
        f"{options.file}: {holds.machines} machines, {holds.jobs} jobs, {holds.photos} photos; "
        "verified."
    )
    if holds.missing_photos:
        print(f"{holds.missing_photos} photos were missing in {options.data}.", file=sys.stderr)
    return 0


def restore(options: argparse.Namespace) -> int:
    """Fill a folder as a backup holds it."""
    holds, old = restore_from_outside(
        options.file, options.data, now=datetime.now(), replace=options.replace
    )
    print(f"{options.data}: {holds.machines} machines, {holds.jobs} jobs, {holds.photos} photos.")
    if old is not None:
        print(f"The shop that was there lies in {old}.")
    return 0


def export(options: argparse.Namespace) -> int:
    """Write the shop as one document."""
    wanted = Wanted(photos=options.photos)
    size = export_from_outside(options.data, options.file, wanted, now=datetime.now())
    if options.file != STANDARD:
        print(f"{options.file}: {size / 1_000_000:.1f} MB.")
    return 0


def bring(options: argparse.Namespace) -> int:
    """Bring a shop's document into a folder."""

    def said(name: str, count: int) -> None:
        if sys.stderr.isatty():
            print(f"\r{count} lines, {name:<20}", end="", file=sys.stderr, flush=True)

    report = import_from_outside(
        options.data, options.file, now=datetime.now(), dry_run=options.dry_run, progress=said
    )
    if options.json:
        print_json({"dry_run": options.dry_run, **report.as_document()})
    else:
        print(f"{'It would be' if options.dry_run else options.data}: {report.in_words()}.")
    return 0
