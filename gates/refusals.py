"""A check of the property-based tester: a request that the description allows is refused for cause.

A refusal is fair where it is of how things stand in the shop, of figures that cannot be together or
of a code that cannot be read; where it is of the document's shape, the description promised too
much.  No text of ours holds characters that are not seen: that is said of all of them at once.
"""

import json
from typing import Any

import schemathesis

FAIR = {"state", "range", "code"}
SAID_OF_ALL = ("is not seen", "half of a character")
FILES = {"photo", "track", "csv", "shown"}  # what a file holds no schema says
# One of two things, or a name of its own: no generator makes a class of what says so.
ONE_OF_TWO = (
    "the text of a step to add, or the steps",
    "one entry of one kind",
    "may give “rake_deg” instead",
    "is used twice",
)


@schemathesis.check  # type: ignore[misc]
def refused_for_cause(_: Any, response: Any, case: Any) -> None:
    """Fail where a request of the described shape is refused for its shape."""
    if response.status_code != 422 or case.meta is None:
        return
    if not case.meta.generation.mode.is_positive:
        return
    kind = response.headers.get("jentrik-refused", [""])[0]
    error = json.loads(response.content)["error"]
    said = error["message"]
    known = any(words in said for words in (*SAID_OF_ALL, *ONE_OF_TWO))
    if kind not in FAIR and error["field"] not in FILES and not known:
        raise AssertionError(f"{kind}: {said}")
