"""The page that draws the house names every room as the room itself does."""

import ast
import re
from pathlib import Path

ROOT = Path(__file__).parents[1]
HOUSE = ROOT / "src" / "jentrik"


def test_every_folder_stands_on_the_page_in_its_own_words() -> None:
    rooms = {}
    for init in HOUSE.rglob("__init__.py"):
        if init.parent != HOUSE:
            said = ast.get_docstring(ast.parse(init.read_text(encoding="utf-8")))
            assert said, init
            rooms[init.parent.relative_to(HOUSE).as_posix()] = said.partition("\n")[0]
    page = (ROOT / "docs" / "architecture.md").read_text(encoding="utf-8")
    assert len(rooms) > 20
    assert dict(re.findall(r"^\| `([^`]+)` \| (.+) \|$", page, re.MULTILINE)) == rooms


def test_what_the_pages_for_contributors_name_is_there() -> None:
    for page in ("CONTRIBUTING.md", "docs/architecture.md"):
        text = (ROOT / page).read_text(encoding="utf-8")
        named = re.findall(r"`((?:core|web|store|exchange|devices|cli|tests)/[\w/.]+)`", text)
        assert named
        for path in named:
            assert (HOUSE / path).exists() or (ROOT / path).exists(), (page, path)
