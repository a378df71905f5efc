"""The schema as it grew: numbered migrations, never edited once they have shipped."""

_PROVENANCE = "CHECK (provenance IN ('measured', 'maker''s sheet', 'assumed'))"

_FIRST_TABLES = (
    """CREATE TABLE machine (
        id INTEGER PRIMARY KEY,
        name TEXT NOT NULL,
        kind TEXT NOT NULL CHECK (kind IN ('bicycle', 'motorcycle')),
        drawn_as TEXT NOT NULL,
        created_at TEXT NOT NULL
    )""",
    f"""CREATE TABLE measurement (
        id INTEGER PRIMARY KEY,
        machine_id INTEGER NOT NULL REFERENCES machine (id) ON DELETE CASCADE,
        key TEXT NOT NULL,
        value TEXT NOT NULL,
        provenance TEXT NOT NULL {_PROVENANCE},
        taken_on TEXT NOT NULL,
        UNIQUE (machine_id, key)
    )""",
    f"""CREATE TABLE place (
        id INTEGER PRIMARY KEY,
        machine_id INTEGER NOT NULL REFERENCES machine (id) ON DELETE CASCADE,
        name TEXT NOT NULL,
        wheel TEXT NOT NULL CHECK (wheel IN ('front', 'rear')),
        direction TEXT NOT NULL CHECK (direction IN ('radial', 'side')),
        part TEXT NOT NULL CHECK (part IN ('frame', 'fork')),
        gap_mm REAL NOT NULL,
        minimum_mm REAL,
        provenance TEXT NOT NULL {_PROVENANCE},
        taken_on TEXT NOT NULL,
        UNIQUE (machine_id, name)
    )""",
    f"""CREATE TABLE point (
        id INTEGER PRIMARY KEY,
        machine_id INTEGER NOT NULL REFERENCES machine (id) ON DELETE CASCADE,
        name TEXT NOT NULL,
        x_mm REAL NOT NULL,
        height_mm REAL NOT NULL,
        provenance TEXT NOT NULL {_PROVENANCE},
        taken_on TEXT NOT NULL,
        UNIQUE (machine_id, name)
    )""",
    """CREATE TABLE job (
        id INTEGER PRIMARY KEY,
        tag INTEGER NOT NULL UNIQUE,
        machine_id INTEGER NOT NULL REFERENCES machine (id),
        wanted TEXT NOT NULL,
        due_on TEXT,
        created_at TEXT NOT NULL
    )""",
    """CREATE TABLE proposal (
        id INTEGER PRIMARY KEY,
        job_id INTEGER NOT NULL REFERENCES job (id) ON DELETE CASCADE,
        name TEXT NOT NULL,
        changes TEXT NOT NULL,
        UNIQUE (job_id, name)
    )""",
    """CREATE TABLE change (
        id INTEGER PRIMARY KEY,
        at TEXT NOT NULL,
        machine_id INTEGER REFERENCES machine (id) ON DELETE CASCADE,
        job_id INTEGER REFERENCES job (id) ON DELETE CASCADE,
        subject TEXT NOT NULL,
        label TEXT NOT NULL,
        entries TEXT NOT NULL,
        undone_at TEXT
    )""",
    "CREATE INDEX job_machine ON job (machine_id)",
    "CREATE INDEX change_machine ON change (machine_id, undone_at)",
    "CREATE INDEX change_job ON change (job_id, undone_at)",
)

_SHELF = (
    """CREATE TABLE shelf_tire (
        id INTEGER PRIMARY KEY,
        code TEXT NOT NULL,
        week INTEGER,
        year INTEGER,
        added_on TEXT NOT NULL
    )""",
)

_POSITIONS_AND_READINGS = (
    f"""CREATE TABLE position (
        id INTEGER PRIMARY KEY,
        machine_id INTEGER NOT NULL REFERENCES machine (id) ON DELETE CASCADE,
        name TEXT NOT NULL,
        x_mm REAL NOT NULL,
        y_mm REAL NOT NULL,
        bead_seat_diameter_mm REAL,
        provenance TEXT NOT NULL {_PROVENANCE},
        taken_on TEXT NOT NULL,
        UNIQUE (machine_id, name)
    )""",
    "ALTER TABLE measurement ADD COLUMN plus_minus REAL",
    "ALTER TABLE measurement ADD COLUMN readings TEXT NOT NULL DEFAULT '[]'",
)

MIGRATIONS: tuple[tuple[str, ...], ...] = (_FIRST_TABLES, _SHELF, _POSITIONS_AND_READINGS)
