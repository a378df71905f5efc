"""An application served on a free port of this machine for the length of a block."""

import threading
import time
from collections.abc import Iterator
from contextlib import contextmanager
from typing import Any

import uvicorn
from fastapi import FastAPI


@contextmanager
def served(app: FastAPI, **options: Any) -> Iterator[str]:
    """Serve an application beside the caller and yield its address; `options` are uvicorn's."""
    settings: dict[str, Any] = {"port": 0, "log_level": "warning", "lifespan": "off"} | options
    server = uvicorn.Server(uvicorn.Config(app, **settings))
    thread = threading.Thread(target=server.run)
    thread.start()
    while not server.started:
        if not thread.is_alive():
            raise OSError("The server did not start.")
        time.sleep(0.01)
    try:
        yield f"http://127.0.0.1:{server.servers[0].sockets[0].getsockname()[1]}"
    finally:
        app.state.feed.stop()
        server.should_exit = True
        thread.join()
