"""The schema's step to room by distance: widths inside and limits, each at its distance."""

from jentrik.store.migrations_of_lists import counted, noted

ROOM = (
    """CREATE TABLE room_line (
        id INTEGER PRIMARY KEY,
        machine_id INTEGER NOT NULL REFERENCES machine (id) ON DELETE CASCADE,
        setup_id INTEGER NOT NULL REFERENCES setup (id),
        name TEXT NOT NULL,
        wheel TEXT NOT NULL CHECK (wheel IN ('front', 'rear')),
        part TEXT NOT NULL CHECK (part IN ('frame', 'fork')),
        from_axle_mm REAL NOT NULL,
        inside_mm REAL,
        minimum_mm REAL,
        provenance TEXT NOT NULL,
        taken_on TEXT NOT NULL
    )""",
    "CREATE INDEX room_line_machine ON room_line (machine_id)",
    *noted("room_line", "machine", "machine_id"),
    *counted("room_line"),
)
