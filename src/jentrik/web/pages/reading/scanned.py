"""What a scanned code opens: a tag, a machine, a wheel, a tire or a set of ours; else it is read.

A code of ours on paper holds an address of this program, or a word and a number like "tag 29".
"""

import re

from jentrik.store.rows import first_row

_TAGGED = re.compile(r"\s*(tag|machine|wheel|tire|set|job)\s+(\d{1,9})\s*", re.IGNORECASE)
_ADDRESS = re.compile(
    r"https?://[^/\s]+(/(?:jobs|machines|wheels|shelf/tires)/\d{1,9}(?:/[a-z-]+)?)/?"
)


def opened_by(code: str) -> str | None:
    """Return the address a code of ours opens; None where it is none, or what it names is gone."""
    address = _ADDRESS.fullmatch(code.strip())
    if address:
        return address.group(1)
    tagged = _TAGGED.fullmatch(code)
    if tagged is None:
        return None
    kind, number = tagged.group(1).lower(), int(tagged.group(2))
    if kind in ("tag", "job"):
        row = first_row(
            "SELECT id FROM job WHERE tag = ? AND binned_at IS NULL"
            " ORDER BY closed_at IS NOT NULL, id DESC LIMIT 1",
            number,
        )
        return f"/jobs/{row['id']}" if row else None
    if kind == "machine":
        row = first_row("SELECT id FROM machine WHERE id = ? AND binned_at IS NULL", number)
        return f"/machines/{number}" if row else None
    if kind == "set":
        row = first_row("SELECT machine_id FROM wheel_set WHERE id = ?", number)
        return f"/machines/{row['machine_id']}#setups" if row else None
    table, path = {"wheel": ("wheel", "/wheels"), "tire": ("shelf_tire", "/shelf/tires")}[kind]
    row = first_row(f"SELECT id FROM {table} WHERE id = ?", number)  # noqa: S608  # one of two
    return f"{path}/{number}" if row else None
