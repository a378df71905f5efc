"""The core stands alone: it imports with every web, store and document library barred."""

import subprocess
import sys
from subprocess import CompletedProcess

BARRED = (
    "fastapi",
    "starlette",
    "pydantic",
    "jinja2",
    "peewee",
    "uvicorn",
    "sqlite3",
    "jentrik.web",
    "jentrik.store",
    "jentrik.exchange",
    "jentrik.demo",
)

SCRIPT = """
import importlib, pkgutil, sys

class Barrier:
    def find_spec(self, name, path=None, target=None):
        if name in {barred!r} or name.split('.')[0] in {barred!r}:
            raise ImportError(name + ' is barred')

sys.meta_path.insert(0, Barrier())
import jentrik.core
names = [module.name for module in pkgutil.walk_packages(jentrik.core.__path__, 'jentrik.core.')]
for name in names:
    importlib.import_module(name)
print(len(names))
"""


def import_all(barred: set[str]) -> CompletedProcess[str]:
    command = [sys.executable, "-c", SCRIPT.replace("{barred!r}", repr(barred))]
    return subprocess.run(command, capture_output=True, text=True, check=False)


def test_every_module_of_the_core_imports_with_the_others_barred() -> None:
    assert int(import_all(set(BARRED)).stdout) >= 35


def test_the_barrier_itself_bars() -> None:
    assert "numpy is barred" in import_all({*BARRED, "numpy"}).stderr
