"""`jentrik serve`: the application."""

import argparse

from jentrik.web.serve import serve


def run(options: argparse.Namespace) -> int:
    """Serve until someone stops it."""
    serve(
        host=options.host,
        port=options.port,
        data=options.data,
        demo=options.demo,
        without_log=options.without_log,
    )
    return 0
