"""The schema as it grew: numbered migrations, never edited once they have shipped."""

from jentrik.store.migrations_of_lists import LISTS, counted
from jentrik.store.migrations_of_photographs import PHOTOGRAPHS
from jentrik.store.migrations_of_practice import PRACTICE
from jentrik.store.migrations_of_programs import PROGRAMS
from jentrik.store.migrations_of_room import ROOM
from jentrik.store.migrations_of_setups import JOB_DOCUMENTS, ROLES, SET_UPS, WHEELS
from jentrik.store.migrations_of_shelf import SHELF_OF_THINGS
from jentrik.store.migrations_of_the_day import THE_DAY
from jentrik.store.migrations_of_trust import TRUST

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

_POLICY = (
    """CREATE TABLE policy (
        id INTEGER PRIMARY KEY,
        key TEXT NOT NULL UNIQUE,
        value TEXT NOT NULL,
        set_on TEXT NOT NULL
    )""",
)

_WHERE_A_GAP_LIES = (
    "ALTER TABLE place ADD COLUMN bearing_deg REAL",
    "ALTER TABLE place ADD COLUMN from_axle_mm REAL",
    "ALTER TABLE place ADD COLUMN moves_with TEXT CHECK (moves_with IN ('wheel', 'body'))",
    "ALTER TABLE point ADD COLUMN out_mm REAL",
)

_SPEED_PAIRS = (
    """CREATE TABLE speed_pair (
        id INTEGER PRIMARY KEY,
        machine_id INTEGER NOT NULL REFERENCES machine (id) ON DELETE CASCADE,
        true_kmh REAL NOT NULL,
        shown_kmh REAL NOT NULL,
        taken_on TEXT NOT NULL
    )""",
    "CREATE INDEX speed_pair_machine ON speed_pair (machine_id)",
)

_APPROVED_PAIRS = (
    f"""CREATE TABLE approved_pair (
        id INTEGER PRIMARY KEY,
        machine_id INTEGER NOT NULL REFERENCES machine (id) ON DELETE CASCADE,
        name TEXT NOT NULL,
        front_tire TEXT NOT NULL,
        rear_tire TEXT NOT NULL,
        front_rim_mm TEXT,
        rear_rim_mm TEXT,
        front_make TEXT,
        rear_make TEXT,
        position TEXT,
        provenance TEXT NOT NULL {_PROVENANCE},
        taken_on TEXT NOT NULL,
        UNIQUE (machine_id, name)
    )""",
)

_CARDS = (
    "ALTER TABLE job ADD COLUMN closed_at TEXT",
    "ALTER TABLE job ADD COLUMN binned_at TEXT",
    "ALTER TABLE machine ADD COLUMN binned_at TEXT",
    "ALTER TABLE change ADD COLUMN by TEXT NOT NULL DEFAULT ''",
    """CREATE TABLE card (
        id INTEGER PRIMARY KEY,
        job_id INTEGER NOT NULL REFERENCES job (id) ON DELETE CASCADE,
        proposal TEXT NOT NULL,
        template TEXT NOT NULL,
        made_at TEXT NOT NULL
    )""",
    """CREATE TABLE card_step (
        id INTEGER PRIMARY KEY,
        card_id INTEGER NOT NULL REFERENCES card (id) ON DELETE CASCADE,
        place INTEGER NOT NULL,
        plan TEXT NOT NULL,
        torque_nm REAL,
        torque_source TEXT,
        reading TEXT,
        done_by TEXT,
        done_at TEXT,
        waived TEXT,
        version INTEGER NOT NULL DEFAULT 0
    )""",
    """CREATE TABLE template (
        id INTEGER PRIMARY KEY,
        name TEXT NOT NULL UNIQUE,
        text TEXT NOT NULL,
        set_on TEXT NOT NULL
    )""",
    """CREATE TABLE photo (
        id INTEGER PRIMARY KEY,
        job_id INTEGER NOT NULL REFERENCES job (id) ON DELETE CASCADE,
        file TEXT NOT NULL,
        caption TEXT NOT NULL,
        taken_at TEXT NOT NULL,
        by TEXT NOT NULL
    )""",
    "CREATE INDEX card_job ON card (job_id)",
    "CREATE INDEX card_step_card ON card_step (card_id)",
    "CREATE INDEX photo_job ON photo (job_id)",
)

_LOGBOOK = (
    "ALTER TABLE machine ADD COLUMN stands_since TEXT",
    """CREATE TABLE inspection (
        id INTEGER PRIMARY KEY,
        machine_id INTEGER NOT NULL REFERENCES machine (id) ON DELETE CASCADE,
        wheel TEXT NOT NULL CHECK (wheel IN ('front', 'rear')),
        look TEXT NOT NULL,
        taken_on TEXT NOT NULL,
        tire TEXT NOT NULL,
        tread TEXT,
        signs TEXT NOT NULL,
        pressure_kpa REAL,
        made TEXT,
        km REAL,
        by TEXT NOT NULL,
        note TEXT NOT NULL
    )""",
    """CREATE TABLE odometer (
        id INTEGER PRIMARY KEY,
        machine_id INTEGER NOT NULL REFERENCES machine (id) ON DELETE CASCADE,
        taken_on TEXT NOT NULL,
        km REAL NOT NULL,
        swapped INTEGER NOT NULL DEFAULT 0
    )""",
    """CREATE TABLE odometer_check (
        id INTEGER PRIMARY KEY,
        machine_id INTEGER NOT NULL REFERENCES machine (id) ON DELETE CASCADE,
        taken_on TEXT NOT NULL,
        counted_km REAL NOT NULL,
        true_km REAL NOT NULL
    )""",
    """CREATE TABLE fitting (
        id INTEGER PRIMARY KEY,
        machine_id INTEGER NOT NULL REFERENCES machine (id) ON DELETE CASCADE,
        job_id INTEGER REFERENCES job (id) ON DELETE SET NULL,
        taken_on TEXT NOT NULL,
        summary TEXT NOT NULL,
        front_tire TEXT,
        rear_tire TEXT,
        sensed_ratio REAL NOT NULL DEFAULT 1,
        by TEXT NOT NULL
    )""",
    """CREATE TABLE puncture (
        id INTEGER PRIMARY KEY,
        machine_id INTEGER NOT NULL REFERENCES machine (id) ON DELETE CASCADE,
        wheel TEXT NOT NULL CHECK (wheel IN ('front', 'rear')),
        taken_on TEXT NOT NULL,
        what TEXT NOT NULL,
        done TEXT NOT NULL,
        by TEXT NOT NULL
    )""",
    *(
        f"CREATE INDEX {table}_machine ON {table} (machine_id)"
        for table in ("inspection", "odometer", "odometer_check", "fitting", "puncture")
    ),
)

_CONFRONTED = (
    """CREATE TABLE confronted (
        id INTEGER PRIMARY KEY,
        job_id INTEGER NOT NULL REFERENCES job (id) ON DELETE CASCADE,
        key TEXT NOT NULL,
        label TEXT NOT NULL,
        unit TEXT NOT NULL,
        predicted REAL NOT NULL,
        plus_minus REAL NOT NULL,
        measured REAL NOT NULL,
        tire TEXT NOT NULL,
        taken_on TEXT NOT NULL,
        by TEXT NOT NULL,
        UNIQUE (job_id, key)
    )""",
)

_COSTS_AND_RIDES = (
    """CREATE TABLE cost_entry (
        id INTEGER PRIMARY KEY,
        job_id INTEGER NOT NULL REFERENCES job (id) ON DELETE CASCADE,
        key TEXT NOT NULL,
        value TEXT NOT NULL,
        UNIQUE (job_id, key)
    )""",
    """CREATE TABLE setup (
        id INTEGER PRIMARY KEY,
        machine_id INTEGER NOT NULL REFERENCES machine (id) ON DELETE CASCADE,
        name TEXT NOT NULL,
        parts TEXT NOT NULL,
        made_on TEXT NOT NULL,
        UNIQUE (machine_id, name)
    )""",
    """CREATE TABLE ride (
        id INTEGER PRIMARY KEY,
        machine_id INTEGER NOT NULL REFERENCES machine (id) ON DELETE CASCADE,
        job_id INTEGER REFERENCES job (id) ON DELETE SET NULL,
        setup_id INTEGER NOT NULL REFERENCES setup (id) ON DELETE CASCADE,
        taken_on TEXT NOT NULL,
        conditions TEXT NOT NULL,
        scores TEXT NOT NULL,
        outcome TEXT NOT NULL,
        note TEXT NOT NULL,
        by TEXT NOT NULL
    )""",
    "CREATE INDEX cost_entry_job ON cost_entry (job_id)",
    "CREATE INDEX setup_machine ON setup (machine_id)",
    "CREATE INDEX ride_machine ON ride (machine_id)",
)

_GAUGES = (
    """CREATE TABLE gauge (
        id INTEGER PRIMARY KEY,
        tool TEXT NOT NULL UNIQUE,
        switched_on INTEGER NOT NULL,
        zero_error REAL NOT NULL,
        battery_percent REAL NOT NULL
    )""",
)

_TEN_YEARS_ON = (
    "CREATE INDEX inspection_wheel ON inspection (machine_id, wheel, taken_on)",
    "CREATE INDEX odometer_day ON odometer (machine_id, taken_on)",
    "CREATE INDEX job_closed ON job (closed_at) WHERE closed_at IS NOT NULL",
    "CREATE INDEX change_machine_id ON change (machine_id, id)",
    "CREATE INDEX change_job_id ON change (job_id, id)",
    """CREATE INDEX change_loose ON change (id)
       WHERE machine_id IS NULL AND job_id IS NULL AND undone_at IS NULL""",
)

# `casefold` is a function that opening the database lends to SQLite.
_ONE_OF_EACH = (
    "ALTER TABLE change ADD COLUMN screen TEXT NOT NULL DEFAULT ''",
    "ALTER TABLE change ADD COLUMN visit TEXT NOT NULL DEFAULT ''",
    "ALTER TABLE change ADD COLUMN undone_by TEXT NOT NULL DEFAULT ''",
    "ALTER TABLE change ADD COLUMN undone_on TEXT NOT NULL DEFAULT ''",
    "CREATE TABLE last_id (name TEXT PRIMARY KEY, id INTEGER NOT NULL)",
    # An id the journal knows is taken, even where its row is gone.
    """INSERT INTO last_id (name, id)
       SELECT json_extract(entry.value, '$.table'), MAX(json_extract(entry.value, '$.id'))
       FROM change, json_each(change.entries) AS entry GROUP BY 1""",
    "ALTER TABLE machine ADD COLUMN name_key TEXT NOT NULL DEFAULT ''",
    """UPDATE machine SET name = name || ' (' || id || ')' WHERE binned_at IS NULL AND EXISTS
       (SELECT 1 FROM machine AS other WHERE other.id < machine.id AND other.binned_at IS NULL
        AND casefold(other.name) = casefold(machine.name))""",
    "UPDATE machine SET name_key = casefold(name)",
    "CREATE UNIQUE INDEX machine_name ON machine (name_key) WHERE binned_at IS NULL",
    # Of several cards of one job the one with most written on it stays, of equal ones the newest.
    """DELETE FROM card WHERE id NOT IN (SELECT id FROM (SELECT card.id, ROW_NUMBER() OVER
       (PARTITION BY job_id ORDER BY (SELECT COUNT(*) FROM card_step WHERE card_id = card.id
        AND (done_at IS NOT NULL OR waived IS NOT NULL OR reading IS NOT NULL)) DESC, id DESC)
        AS place FROM card) WHERE place = 1)""",
    "DROP INDEX card_job",
    "CREATE UNIQUE INDEX card_job ON card (job_id)",
    "CREATE TABLE shop_state (key TEXT PRIMARY KEY, value TEXT NOT NULL)",
    "PRAGMA application_id = 1246647378",
)

# A machine's picture is made with its line: every line is to be made anew.
_PICTURES = (
    "ALTER TABLE machine_line ADD COLUMN picture TEXT NOT NULL DEFAULT ''",
    "INSERT OR IGNORE INTO stale SELECT 'machine', id FROM machine",
)

_OWN_UNITS = (
    """CREATE TABLE own_unit (id INTEGER PRIMARY KEY, person TEXT NOT NULL, quantity TEXT NOT NULL,
       unit TEXT NOT NULL, UNIQUE (person, quantity))""",
)

# A row's name outside: this shop's mark and its number, but where it came in with another.
_NAMES_OUTSIDE = (
    """INSERT OR IGNORE INTO shop_state (key, value)
       VALUES ('shop', lower(hex(randomblob(4))))""",
    """CREATE TABLE outside_id (list TEXT NOT NULL, row_id INTEGER NOT NULL, outside TEXT NOT NULL,
       PRIMARY KEY (list, row_id), UNIQUE (list, outside))""",
)

# Who works here; what other programs may ask with, and what they were answered once.
_PEOPLE_AND_KEYS = (
    """CREATE TABLE person (id INTEGER PRIMARY KEY, name TEXT NOT NULL,
       name_key TEXT NOT NULL UNIQUE, initials TEXT NOT NULL, secret TEXT)""",
    """CREATE TABLE access_key (id INTEGER PRIMARY KEY, name TEXT NOT NULL,
       purpose TEXT NOT NULL, digest TEXT NOT NULL UNIQUE, made_at TEXT NOT NULL,
       made_by TEXT NOT NULL, revoked_at TEXT)""",
    """CREATE TABLE kept_answer (client TEXT NOT NULL, key TEXT NOT NULL, asked TEXT NOT NULL,
       status INTEGER NOT NULL, body TEXT NOT NULL, at TEXT NOT NULL,
       PRIMARY KEY (client, key)) WITHOUT ROWID""",
)

_TRACKS = (
    """CREATE TABLE ride_track (id INTEGER PRIMARY KEY, ride_id INTEGER NOT NULL UNIQUE
       REFERENCES ride (id) ON DELETE CASCADE, km REAL NOT NULL, seconds REAL NOT NULL,
       gpx TEXT NOT NULL)""",
)

# What a list shows of a row is kept beside it; a trigger notes the rows that no longer agree.

# Every write of a sheet or of what the shop set counts one: what was read at a count still holds.
_COUNTED = (
    "machine",
    "setup",
    "measurement",
    "place",
    "point",
    "position",
    "approved_pair",
    "policy",
)
_COUNTS = (
    "INSERT OR IGNORE INTO last_id (name, id) VALUES ('sheets', 0)",
    *(trigger for table in _COUNTED for trigger in counted(table)),
)

MIGRATIONS: tuple[tuple[str, ...], ...] = (
    _FIRST_TABLES,
    _SHELF,
    _POSITIONS_AND_READINGS,
    _POLICY,
    _WHERE_A_GAP_LIES,
    _SPEED_PAIRS,
    _APPROVED_PAIRS,
    _CARDS,
    _LOGBOOK,
    _CONFRONTED,
    _COSTS_AND_RIDES,
    _GAUGES,
    _TEN_YEARS_ON,
    _ONE_OF_EACH,
    LISTS,
    SET_UPS + ROLES + JOB_DOCUMENTS + WHEELS,
    _PICTURES,
    _OWN_UNITS,
    _NAMES_OUTSIDE,
    _PEOPLE_AND_KEYS,
    _TRACKS,
    SHELF_OF_THINGS,
    PHOTOGRAPHS,
    PRACTICE,
    TRUST,
    _COUNTS,
    ROOM,
    THE_DAY,
    PROGRAMS,
)
