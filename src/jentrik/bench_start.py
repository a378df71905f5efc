"""How long a command takes to start, against the interpreter and the frameworks alone."""

import subprocess
import sys
import tempfile
import time
from contextlib import closing
from socket import create_server
from urllib.error import URLError
from urllib.request import urlopen

TRIES = 5
FRAMEWORKS = "import fastapi, jinja2, peewee, numpy, uvicorn"
WAIT_S = 60.0


def _best(command: list[str]) -> float:
    """Return the least of several times a command takes, s."""
    times = []
    for _ in range(TRIES):
        start = time.perf_counter()
        subprocess.run(command, check=True, capture_output=True)  # noqa: S603  # our own words
        times.append(time.perf_counter() - start)
    return min(times)


def read_vs_python() -> float:
    """Return how many times a bare interpreter reading one code takes."""
    read = _best([sys.executable, "-m", "jentrik", "read", "37-622"])
    return read / _best([sys.executable, "-c", "pass"])


def serve_ready_vs_imports() -> float:
    """Return how many times the imports of its frameworks a server takes to answer."""
    return _ready_seconds() / _best([sys.executable, "-c", FRAMEWORKS])


def _ready_seconds() -> float:
    with closing(create_server(("127.0.0.1", 0))) as door:
        port = door.getsockname()[1]
    with tempfile.TemporaryDirectory() as folder:
        start = time.perf_counter()
        command = [sys.executable, "-m", "jentrik", "serve", "--port", str(port), "--data", folder]
        server = subprocess.Popen(  # noqa: S603  # our own words
            command, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL
        )
        try:
            while time.perf_counter() - start < WAIT_S:
                try:
                    with urlopen(f"http://127.0.0.1:{port}/api/health", timeout=1):
                        return time.perf_counter() - start
                except (URLError, OSError):
                    time.sleep(0.01)
        finally:
            server.terminate()
            server.wait()
    return WAIT_S
