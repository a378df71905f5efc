"""Holds the API's description against programs of others: a linter, a generator, a tester.

    python gates/run.py                  the same requests each time
    python gates/run.py --seconds 1200   others each time, for so long

Starts the demo on a free port and ends it.  Needs what `requirements/gates.txt` names; the linter
is fetched by the Node of that environment.
"""

import argparse
import json
import os
import re
import socket
import subprocess
import sys
import tempfile
import time
from pathlib import Path
from urllib.error import URLError
from urllib.request import urlopen

HERE = Path(__file__).resolve().parent
BIN = Path(sys.executable).parent
LINTER = "@stoplight/spectral-cli@6.16.3"
NOT_RUN = "NOT RUN"
STREAM = "/api/events"  # never ends
# What moves the ground under the other requests.
APART = "restore|/import$|/bin/|DELETE /api/machines/.machine_id.$"
NOT_OURS = "use_after_free,ensure_resource_availability,ignored_auth,object_level_authorization"


def main() -> int:
    """Run each gate and say how it went."""
    options = argparse.ArgumentParser(description=__doc__)
    options.add_argument("--seconds", type=int, help="other requests each time, for so long")
    seconds = options.parse_args().seconds
    with tempfile.TemporaryDirectory() as folder:
        there = Path(folder)
        port = _free_port()
        address = f"http://127.0.0.1:{port}"
        jentrik = os.environ.get("JENTRIK", ".venv/bin/jentrik")
        command = [jentrik, "serve", "--demo", "--port", str(port), "--data", str(there / "shop")]
        shop = subprocess.Popen(command, stdout=subprocess.DEVNULL)
        try:
            description = there / "openapi.json"
            description.write_bytes(_fetched(f"{address}/api/openapi.json"))
            gates = (
                ("linter", lambda: _lint(there, description)),
                ("generated client", lambda: _generated(there, description, address)),
                ("property-based tester", lambda: _tested(there, description, address, seconds)),
            )
            held = [_said(name, gate()) for name, gate in gates]
        finally:
            shop.terminate()
            shop.wait()
    return 0 if all(held) else 1


def _said(name: str, trouble: str) -> bool:
    print(f"{name}: {trouble or 'held'}", flush=True)
    return not trouble or trouble.startswith(NOT_RUN)


def _free_port() -> int:
    with socket.socket() as one:
        one.bind(("127.0.0.1", 0))
        return int(one.getsockname()[1])


def _fetched(address: str) -> bytes:
    for _ in range(120):
        try:
            with urlopen(address) as answer:
                return bytes(answer.read())
        except URLError:
            time.sleep(0.5)
    raise SystemExit("The demo did not start.")


def _run(*command: str, at: Path | None = None, **more: str) -> subprocess.CompletedProcess[str]:
    environment = {**os.environ, "PATH": f"{BIN}:{os.environ['PATH']}", **more}
    return subprocess.run(
        command, capture_output=True, text=True, check=False, env=environment, cwd=at
    )


def _lint(there: Path, description: Path) -> str:
    """Hold the linter's recommended rules against the description.

    Where it cannot be fetched, that is said and the other gates decide.
    """
    rules = there / ".spectral.yaml"
    rules.write_text('extends: ["spectral:oas"]\n')
    linter = ("--yes", LINTER, "lint", str(description), "--ruleset", str(rules))
    done = _run("npx", *linter, "--fail-severity", "error", "--quiet")
    said = done.stdout + done.stderr
    if done.returncode and "npm error" in said:
        return f"{NOT_RUN}, it could not be fetched: {said[-300:]}"
    return "" if done.returncode == 0 else said[-3000:]


def _generated(there: Path, description: Path, address: str) -> str:
    """Generate a client, see that no operation is left out, and walk a job with it."""
    client = there / "client"
    done = _run(
        "openapi-python-client",
        "generate",
        "--path",
        str(description),
        "--output-path",
        str(client),
        "--meta",
        "none",
    )
    left_out = re.findall(
        r"WARNING parsing (.*?) within \S+ Endpoint will not", done.stdout + done.stderr
    )
    if done.returncode or left_out:
        return f"{left_out} {done.stderr[-2000:]}"
    operations = json.loads(description.read_bytes())["paths"].values()
    count = sum(len(methods) for methods in operations)
    made = sum(one.name != "__init__.py" for one in (client / "api").glob("*/*.py"))
    if made != count:
        return f"{made} of {count} operations"
    walked = _run(sys.executable, str(HERE / "walk.py"), address, PYTHONPATH=str(there))
    return "" if walked.returncode == 0 else (walked.stdout + walked.stderr)[-3000:]


def _tested(there: Path, description: Path, address: str, seconds: int | None) -> str:
    """Send requests of the described shape and of others: the same ones, or others for a while."""
    same = ("--generation-deterministic", "--max-examples", "5", "--phases", "examples,fuzzing")
    others = ("--max-time", str(seconds), "--phases", "examples,coverage,fuzzing")
    done = _run(
        "schemathesis",
        *("run", str(description), "--url", address, "--no-color"),
        *(others if seconds else same),
        *("--exclude-path", STREAM, "--exclude-path-regex", APART, "--checks", "all"),
        *("--exclude-checks", f"positive_data_acceptance,{NOT_OURS}"),
        *("--continue-on-failure", "--warnings", "off"),
        at=there,
        SCHEMATHESIS_HOOKS="refusals",
        PYTHONPATH=str(HERE),
    )
    return "" if done.returncode == 0 else done.stdout[-40000:] + done.stderr[-1000:]


if __name__ == "__main__":
    sys.exit(main())
