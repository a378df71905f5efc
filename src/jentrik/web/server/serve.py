"""Running the application with uvicorn, on loopback unless the shop set a passphrase."""

import os
import socket
from dataclasses import dataclass
from pathlib import Path
from types import FrameType

import uvicorn

from jentrik.core.errors import StoreError
from jentrik.store.database import open_folder
from jentrik.store.files import held_alone
from jentrik.web.app import create_app
from jentrik.web.live.feed import Feed
from jentrik.web.security.connections import BoundedConnection, prepare
from jentrik.web.security.passphrase import SHORTEST_PASSPHRASE
from jentrik.web.server.noted import Lines, log_as
from jentrik.web.server.notifying import Hooks

PASSPHRASE_VARIABLE = "JENTRIK_PASSPHRASE"  # noqa: S105  # a name, not a secret
GRACE_S = 5  # for answers under way when the program is stopped
_LOOPBACK = ("127.0.0.1", "localhost", "::1")


def _refuse_taken(host: str, port: int) -> None:
    try:
        family = socket.getaddrinfo(host, port, type=socket.SOCK_STREAM)[0][0]
        socket.create_server((host, port), family=family).close()
    except OSError as error:
        reason = os.strerror(error.errno).lower() if error.errno else "no such address"
        raise StoreError(
            f"{host}, port {port}, cannot be served: {reason}. Choose another with --port.",
            expected="a free port",
        ) from None


class _Server(uvicorn.Server):
    """A server that ends every listening first: one that listens would never end by itself."""

    def __init__(self, config: uvicorn.Config, feed: Feed) -> None:
        super().__init__(config)
        self._feed = feed

    def handle_exit(self, sig: int, frame: FrameType | None) -> None:
        """Stop."""
        self._feed.stop()
        super().handle_exit(sig, frame)


@dataclass(frozen=True, slots=True)
class Serving:
    """How a shop is served: where, whose forwarded headers count, what is written down."""

    host: str
    port: int
    data: Path
    demo: bool = False
    without_log: bool = False
    proxy: str = ""  # whose X-Forwarded headers are believed; none without one
    log: Lines = "none"
    metrics: bool = False
    hooks: Hooks = "off"
    second_place: Path | None = None
    passphrase: str = ""


def serve(how: Serving) -> None:
    """Serve until stopped; refuses another address than this machine's without a passphrase.

    A passphrase that is set is asked for on this machine's address too: a proxy lets others in.
    """
    host, port, data = how.host, how.port, how.data
    passphrase = how.passphrase or None
    asked = host not in _LOOPBACK or passphrase is not None
    if asked and len(passphrase or "") < SHORTEST_PASSPHRASE:
        raise StoreError(
            f"On {host} others may come in: set {PASSPHRASE_VARIABLE} to a passphrase of at least "
            f"{SHORTEST_PASSPHRASE} characters first.",
            expected="a shop passphrase",
        )
    if not 1 <= port <= 65535:
        raise StoreError(f"{port} is not a port; use 1 to 65535.", expected="a port")
    _refuse_taken(host, port)
    os.umask(0o077)  # what the program writes is its owner's alone
    open_folder(data)
    with held_alone(data):
        app = create_app(
            data,
            demo=how.demo,
            passphrase=passphrase,
            without_log=how.without_log,
            keeps_itself=True,
            metrics=how.metrics,
            hooks=how.hooks,
            second=how.second_place,
        )
        print(f"Jentrik: http://{f'[{host}]' if ':' in host else host}:{port}", flush=True)
        log_as(how.log)
        prepare()
        config = uvicorn.Config(
            app,
            host=host,
            port=port,
            log_level="warning",
            log_config=None,
            access_log=False,
            proxy_headers=bool(how.proxy),
            forwarded_allow_ips=how.proxy or None,
            server_header=False,
            http=BoundedConnection,
            timeout_graceful_shutdown=GRACE_S,
        )
        _Server(config, app.state.feed).run()
