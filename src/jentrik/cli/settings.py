"""Every setting: its option, the variable of the environment that says it, what it is otherwise."""

import argparse
import os
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from jentrik.core.errors import OutOfRange

ON = ("1", "yes", "true", "on")


@dataclass(frozen=True, slots=True)
class Setting:
    """One setting; without an option it is said by the environment alone."""

    option: str
    variable: str
    usual: str
    words: str
    choices: tuple[str, ...] = ()
    switch: bool = False

    @property
    def said(self) -> str:
        """What the environment says, else what is usual."""
        return os.environ.get(self.variable) or self.usual


DATA = Setting("--data", "JENTRIK_DATA", "data", "the folder a shop is kept in")
PASSPHRASE = Setting("", "JENTRIK_PASSPHRASE", "", "the shop's passphrase, at least 8 characters")
SERVING = (
    Setting("--host", "JENTRIK_HOST", "127.0.0.1", "the address; another needs a passphrase"),
    Setting("--port", "JENTRIK_PORT", "8765", "the port"),
    Setting("--demo", "JENTRIK_DEMO", "", "fill an empty shop with the demo", switch=True),
    Setting("--without-log", "", "", "go on where the database's log is lost", switch=True),
    Setting("--proxy", "JENTRIK_PROXY", "", "whose X-Forwarded headers count"),
    Setting("--log", "JENTRIK_LOG", "none", "how requests are logged", ("none", "lines", "json")),
    Setting("--metrics", "JENTRIK_METRICS", "", "figures of the server at /metrics", switch=True),
    Setting(
        "--hooks", "JENTRIK_HOOKS", "off", "which programs to notify", ("off", "others", "own")
    ),
    Setting("--second-place", "JENTRIK_SECOND_PLACE", "", "a folder where backups are copied to"),
    PASSPHRASE,
)
SERVED = (
    Setting("--url", "JENTRIK_URL", "http://127.0.0.1:8765", "where the shop is served"),
    Setting("--key", "JENTRIK_KEY", "", "the key of a program"),
    PASSPHRASE,
)


def _folder(said: str) -> Path | None:
    return Path(said) if said else None


_KINDS: dict[str, Callable[[str], Any]] = {"data": Path, "port": int, "second_place": _folder}


def add_settings(parser: argparse.ArgumentParser, *settings: Setting) -> None:
    """Add the options of settings, each with what the environment says where it is left out."""
    for one in settings:
        name = one.option.strip("-").replace("-", "_")
        if not one.option:
            parser.set_defaults(**{one.variable.removeprefix("JENTRIK_").lower(): one.said})
        elif one.switch:
            on = one.said.casefold() in ON
            parser.add_argument(one.option, action="store_true", default=on, help=one.words)
        else:
            if one.choices and one.said not in one.choices:
                raise OutOfRange(
                    f"{one.variable} is “{one.said[:30]}”.", expected=", ".join(one.choices)
                )
            kind = _KINDS.get(name, str)
            usual = f"; {one.usual}" if one.usual else ""
            parser.add_argument(
                one.option,
                type=kind,
                default=one.said,
                choices=one.choices or None,
                help=f"{one.words}{usual}",
            )
