"""`jentrik bench`: the benchmarks, which need the tools of a contributor."""

import argparse

from jentrik.bench import run_all
from jentrik.cli.printing import print_json


def run(options: argparse.Namespace) -> int:
    """Run the benchmarks, or the named ones alone."""
    figures = run_all(options.only)
    if options.json:
        print_json([figure.as_document() for figure in figures])
    else:
        for figure in figures:
            print(figure.line())
    return 0
