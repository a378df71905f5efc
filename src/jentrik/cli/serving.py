"""`jentrik serve`: the application."""

import argparse

from jentrik.web.server.serve import Serving, serve


def run(options: argparse.Namespace) -> int:
    """Serve until someone stops it."""
    serve(
        Serving(
            host=options.host,
            port=options.port,
            data=options.data,
            demo=options.demo,
            without_log=options.without_log,
            proxy=options.proxy,
            log=options.log,
            metrics=options.metrics,
            hooks=options.hooks,
            second=options.second_place,
            passphrase=options.passphrase,
        )
    )
    return 0
