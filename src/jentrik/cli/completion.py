"""`jentrik completion`: completion of these commands in a shell."""

import argparse

import shtab

from jentrik.cli import parser


def run(options: argparse.Namespace) -> int:
    """Print the completion for a shell."""
    print(shtab.complete(parser(), options.shell))
    return 0
