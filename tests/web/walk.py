"""The real routes of the application, and addresses made of them."""

import re
from dataclasses import dataclass
from typing import Any

from fastapi import FastAPI

STREAM = "/api/events"  # never ends; it has tests of its own
IDS = {
    "job_id": "6",
    "machine_id": "6",
    "step_id": "1",
    "setup_id": "1",
    "wheel_id": "1",
    "which": "pairs",
    "file": f"{'a' * 32}.jpg",
    "name": "made-x.zip",
    "change_id": "1",
    "photo_id": "1",
    "tire_id": "1",
    "number": "1",
    "photograph_id": "1",
    "ride_id": "1",
    "chapter": "measure",
    "line": "1",
    "kind": "place",
    "tool": "tread",
    "person_id": "1",
    "key_id": "1",
    "session_id": "1",
    "webhook_id": "1",
}


@dataclass(frozen=True, slots=True)
class Entry:
    """One way in: a method and an address with its parameters still open."""

    method: str
    path: str

    def filled(self, **values: Any) -> str:
        """Return the address with its parameters filled in, those given first."""
        return re.sub(r"{(\w+)}", lambda name: values.get(name[1], IDS[name[1]]), self.path)


def entries(app: FastAPI) -> list[Entry]:
    """Return every way in, included routers with it; fails where there are none."""
    found = set()
    routes = list(app.routes)
    while routes:
        route = routes.pop()
        inner = getattr(route, "original_router", None)
        if inner is not None:
            routes += inner.routes
            continue
        for method in getattr(route, "methods", None) or ():
            if method != "HEAD" and route.path_format != STREAM:  # type: ignore[attr-defined]
                found.add(Entry(method, route.path_format))  # type: ignore[attr-defined]
    assert len(found) > 80, "the routes are not found"
    return sorted(found, key=lambda one: (one.path, one.method))
