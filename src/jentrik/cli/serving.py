"""`jentrik serve`: the application."""

import argparse
from dataclasses import fields

from jentrik.web.server.serve import Serving, serve


def run(options: argparse.Namespace) -> int:
    """Serve until someone stops it."""
    serve(Serving(**{one.name: getattr(options, one.name) for one in fields(Serving)}))
    return 0
