"""The schema's step to measuring by photograph: pictures with their marks, figures read off them.

What a figure may come from stands in a check of its table.  SQLite changes a check only in the text
of the schema (its manual, "making other kinds of table schema changes"): no row is touched.
"""

_KNOWN, _NOW = "''assumed'')", "''assumed'', ''photograph'')"
PHOTOGRAPHS = (
    """CREATE TABLE photograph (
        id INTEGER PRIMARY KEY,
        machine_id INTEGER NOT NULL REFERENCES machine (id) ON DELETE CASCADE,
        file TEXT NOT NULL,
        width_px INTEGER NOT NULL,
        height_px INTEGER NOT NULL,
        focal_px REAL,
        added_at TEXT NOT NULL,
        by TEXT NOT NULL,
        marks TEXT NOT NULL
    )""",
    "CREATE INDEX photograph_machine ON photograph (machine_id)",
    "PRAGMA writable_schema = ON",
    f"UPDATE sqlite_master SET sql = replace(sql, '{_KNOWN}', '{_NOW}')"
    " WHERE type = 'table' AND sql LIKE '%CHECK (provenance IN (%'",
    "PRAGMA writable_schema = RESET",
)
