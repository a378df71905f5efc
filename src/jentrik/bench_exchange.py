"""A large shop taken away and brought in as one document: seconds of each, and the memory it took.

The shop has 5 000 machines and 60 000 jobs.
"""

import resource
import tempfile
import time
from datetime import datetime
from pathlib import Path

from jentrik.bench_shop import grow
from jentrik.demo.harbour import fill
from jentrik.store.database import close_database, open_database
from jentrik.store.shop_export import Wanted, export
from jentrik.store.shop_import import import_shop

NOON = datetime(2026, 11, 23, 12, 0)
MACHINES, JOBS = 5_000, 60_000


def exchange_figures() -> tuple[float, float, float]:
    """Return the seconds of an export, those of an import, and the MB the import took more."""
    with tempfile.TemporaryDirectory() as old, tempfile.TemporaryDirectory() as new:
        file = Path(old) / "shop.json"
        database = open_database(Path(old))
        fill(database, Path(old), now=NOON)
        grow(database, NOON.date(), machines=MACHINES, jobs=JOBS)
        start = time.perf_counter()
        with file.open("w", encoding="utf-8") as written:
            for piece in export(Path(old), Wanted(), now=NOON):
                written.write(piece)
        exported = time.perf_counter() - start
        close_database(database)
        database = open_database(Path(new))
        before = _most_mb()
        start = time.perf_counter()
        with file.open("rb") as document:
            import_shop(database, Path(new), document, now=NOON)
        imported = time.perf_counter() - start
        close_database(database)
    return exported, imported, _most_mb() - before


def _most_mb() -> float:
    return resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024
