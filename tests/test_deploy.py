"""The recipes a shop is installed by: what each starts, tried as far as this machine can."""

import json
import os
import re
import shlex
import shutil
import subprocess
from pathlib import Path

import pytest

from jentrik.cli import main, parser

ROOT = Path(__file__).parents[1]
SERVICE = (ROOT / "deploy" / "jentrik.service").read_text("utf-8")
CONTAINER = (ROOT / "Containerfile").read_text("utf-8").replace("\\\n", " ")


def started(command: list[str], said: dict[str, str], patch: pytest.MonkeyPatch) -> object:
    """Return what a command line is read as, with what the environment says."""
    for name, value in said.items():
        patch.setenv(name, value)
    return parser().parse_args(command[1:])


def test_the_service_serves_the_folder_that_is_made_for_it(monkeypatch: pytest.MonkeyPatch) -> None:
    (said,) = re.findall(r"^Environment=(.*)$", SERVICE, re.M)
    (command,) = re.findall(r"^ExecStart=/opt/jentrik/bin/(.*)$", SERVICE, re.M)
    options = started(shlex.split(command), dict(x.split("=") for x in said.split()), monkeypatch)
    (made,) = re.findall(r"^StateDirectory=(.*)$", SERVICE, re.M)
    assert (options.data, options.log) == (Path("/var/lib") / made, "lines")  # type: ignore[attr-defined]
    assert "DynamicUser=yes" in SERVICE


def test_the_container_serves_a_folder_that_its_user_may_write(
    monkeypatch: pytest.MonkeyPatch, capsys: pytest.CaptureFixture[str]
) -> None:
    (said,) = re.findall(r"^ENV (.*)$", CONTAINER, re.M)
    commands = [json.loads(one) for one in re.findall(r"CMD (\[.*\])", CONTAINER)]
    environment = dict(one.split("=") for one in said.split())
    options = started(commands[-1], environment, monkeypatch)
    (volume,) = re.findall(r"^VOLUME (.*)$", CONTAINER, re.M)
    assert f"install -d -m 700 -o jentrik -g jentrik {volume}" in CONTAINER
    assert (str(options.data), options.host) == (volume, "0.0.0.0")  # type: ignore[attr-defined]
    ignored = (ROOT / ".dockerignore").read_text("utf-8").split()
    copied = re.findall(r"/src/([\w./]+)", CONTAINER)
    assert copied
    assert not [one for one in copied if one.partition("/")[0] in ignored]
    assert main(commands[-1][1:]) == 2  # no passphrase, no door
    assert "JENTRIK_PASSPHRASE" in capsys.readouterr().err
    health = started(commands[0], {"JENTRIK_PASSPHRASE": "low tide at noon"}, monkeypatch)
    assert (health.url, health.passphrase) == ("http://127.0.0.1:8765", "low tide at noon")  # type: ignore[attr-defined]


@pytest.mark.parametrize("tool", ["systemd-analyze", "nginx"])
def test_the_recipe_is_read_by_the_program_it_is_for(tool: str, tmp_path: Path) -> None:
    there = shutil.which(tool) or shutil.which(tool, path="/usr/sbin:/sbin")
    if there is None:
        return  # a machine without it has the tests above
    if tool == "nginx":
        key, certificate = tmp_path / "k", tmp_path / "c"
        made = ["openssl", "req", "-x509", "-newkey", "rsa:2048", "-nodes", "-subj", "/CN=b"]
        subprocess.run(
            [*made, "-keyout", key, "-out", certificate], capture_output=True, check=True
        )
        recipe = (ROOT / "deploy" / "nginx.conf").read_text("utf-8")
        recipe = recipe.replace("/etc/ssl/bench.crt", str(certificate))
        recipe = recipe.replace("/etc/ssl/bench.key", str(key))
        file = tmp_path / "nginx.conf"
        head = f"pid {tmp_path}/pid;\nerror_log {tmp_path}/log;\nevents {{}}\n"
        file.write_text(f"{head}http {{\naccess_log off;\n{recipe}\n}}\n", "utf-8")
        command = [there, "-t", "-c", str(file), "-p", str(tmp_path)]
    else:
        unit = tmp_path / "jentrik.service"
        unit.write_text(SERVICE.replace("/opt/jentrik/bin/jentrik", "/bin/true"), "utf-8")
        command = [there, "verify", str(unit)]
    done = subprocess.run(command, capture_output=True, text=True, check=False, env={**os.environ})
    assert done.returncode == 0, done.stderr
