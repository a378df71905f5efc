"""A real tool on a serial line, played by the other end of a terminal pair."""

import json
import os
import textwrap
import threading
import time
from collections.abc import Iterator
from contextlib import nullcontext
from importlib.metadata import EntryPoint
from pathlib import Path
from typing import Any

import pytest

from jentrik.core.errors import DocumentError
from jentrik.devices import drawer, serial_text
from jentrik.devices.drawer import FILE_NAME, GROUP, real_tools
from jentrik.devices.port import GaugeError, GaugeQuantity, Place

HELD = Place(1, "rim.inner_width_mm")


class Sender(threading.Thread):
    """A tool that sends lines again and again, as most do."""

    def __init__(self, lines: bytes) -> None:
        super().__init__(daemon=True)
        self.ours, theirs = os.openpty()
        self.device, self.lines, self.stop = os.ttyname(theirs), lines, threading.Event()

    def run(self) -> None:
        while not self.stop.wait(0.02):
            os.write(self.ours, self.lines)


@pytest.fixture(name="tool")
def _tool(request: pytest.FixtureRequest) -> Iterator[serial_text.SerialText]:
    lines, quantity = request.param
    sender = Sender(lines)
    sender.start()
    yield serial_text.from_settings(
        {
            "name": "Tool",
            "quantity": quantity,
            "device": sender.device,
            "plus_minus": 0.03,
            "all_the_time": True,
        }
    )
    sender.stop.set()
    sender.join()


@pytest.mark.parametrize(
    ("tool", "value"),
    [
        ((b"  12.34 mm\r\n", "short length"), 12.34),
        ((b"+0012.34\r\n", "short length"), 12.34),
        ((b"0.5 in\r\n", "short length"), 12.7),
        ((b"US,GS,+  61.8kg\r\nST,GS,+  62.5kg\r\n", "axle load"), 62.5),
        ((b"ST,NT,137.8 lb\r\n", "axle load"), 62.505),  # by hand: 137.8 x 0.45359237
        ((b"\x02-1.2 deg\x03\r\n", "angle"), -1.2),
        ((b"32.0 psi\r\n", "pressure"), 220.63),
        ((b"ERR\r\n7.1\r\n", "tread"), 7.1),
    ],
    indirect=["tool"],
)
def test_a_line_of_text_is_a_reading(tool: serial_text.SerialText, value: float) -> None:
    taken = tool.read(HELD)
    assert taken.value == pytest.approx(value, abs=0.005)
    assert (taken.plus_minus, taken.gauge) == (0.03, "Tool")


@pytest.mark.parametrize("tool", [(b"US,GS,+ 61.8kg\r\n", "axle load")], indirect=True)
def test_a_scale_that_never_rests_gives_no_reading(
    tool: serial_text.SerialText, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(serial_text, "WAIT_S", 0.2)
    began = time.monotonic()
    with pytest.raises(GaugeError, match="no reading at rest"):
        tool.read(HELD)
    assert time.monotonic() - began < 5


class Said:
    """A line on which this was said."""

    def __init__(self, *lines: bytes) -> None:
        self.lines, self.asked = list(lines), b""

    def write(self, asked: bytes) -> int:
        self.asked += asked
        return len(asked)

    def readline(self, most: int) -> bytes:
        return self.lines.pop(0) if self.lines else b""


@pytest.mark.parametrize(("all_the_time", "value"), [(False, 2.34), (True, 12.34)])
def test_the_first_line_of_a_tool_that_always_sends_may_be_cut_off(
    all_the_time: bool, value: float
) -> None:
    line = Said(b"2.34 mm\r\n", b"12.34 mm\r\n")
    settings = serial_text.Settings(
        name="T",
        quantity=GaugeQuantity.LENGTH,
        device="x",
        plus_minus=0.1,
        asks="P\r",
        all_the_time=all_the_time,
    )
    tool = serial_text.SerialText(settings, opened=lambda _: nullcontext(line))
    assert (tool.read(HELD).value, line.asked) == (value, b"P\r")


def test_a_tool_that_is_not_plugged_in_says_so() -> None:
    settings = {"name": "T", "quantity": "angle", "device": "/dev/none", "plus_minus": 0.1}
    with pytest.raises(GaugeError, match="no answer at /dev/none"):
        serial_text.from_settings(settings).read(HELD)


def test_a_shop_says_which_tools_are_real(tmp_path: Path) -> None:
    assert real_tools(tmp_path) == {}
    tool = {"driver": "serial text", "name": "Scale", "quantity": "axle load", "plus_minus": 0.5}
    (tmp_path / FILE_NAME).write_text(json.dumps({"tools": [{**tool, "device": "COM3"}]}))
    assert real_tools(tmp_path)[GaugeQuantity.LOAD].name == "Scale"


@pytest.mark.parametrize(
    "text",
    [
        "",
        "[]",
        '{"tools": 3}',
        '{"tools": [{"driver": "wireless"}]}',
        '{"tools": [{"driver": "serial text", "name": "x"}]}',
        '{"tools": [{"driver": "serial text", "name": "x", "quantity": "mood", "device": "c"}]}',
    ],
)
def test_a_file_that_describes_no_tool_is_refused(tmp_path: Path, text: str) -> None:
    (tmp_path / FILE_NAME).write_text(text)
    with pytest.raises(DocumentError):
        real_tools(tmp_path)


def test_the_driver_of_the_documentation_works(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    text = (Path(__file__).parents[2] / "docs/measuring-tools.md").read_text(encoding="utf-8")
    block = text.split("# shop_gauges/rim_tester.py\n")[1].split("\nand a package")[0]
    made: dict[str, Any] = {}
    exec(textwrap.dedent(block), made)  # our own page
    point = EntryPoint("rim tester", "rim_tester:RimTester", GROUP)
    monkeypatch.setattr(EntryPoint, "load", lambda self: made["RimTester"])
    monkeypatch.setattr(drawer, "entry_points", lambda **_: [point])
    (tmp_path / "last").write_text("23.4")
    entry = {"driver": "rim tester", "name": "Rim tester", "file": str(tmp_path / "last")}
    (tmp_path / FILE_NAME).write_text(json.dumps({"tools": [entry]}))
    tool = real_tools(tmp_path)[GaugeQuantity.LENGTH]
    assert tool.read(HELD).value == 23.4
    (tmp_path / "last").write_text("none")
    with pytest.raises(GaugeError, match="no reading"):
        tool.read(HELD)
    shown = text.split("folder of the shop's data:\n")[1].split("\n| key")[0]
    (tmp_path / FILE_NAME).write_text(textwrap.dedent(shown))
    assert set(real_tools(tmp_path)) == {GaugeQuantity.LENGTH, GaugeQuantity.LOAD}
