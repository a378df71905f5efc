"""The schema's step to set-ups: what a machine is set up as, from a day to a day.

A figure is measured in a set-up.  What lay on a machine's sheet is what it is set up as now; the
setups that were only ridden are earlier ones, put together from what was written of them.
"""

_PROVENANCE = "CHECK (provenance IN ('measured', 'maker''s sheet', 'assumed'))"

_RIDDEN_KEYS = {
    "front_tire": "front.tire",
    "rear_tire": "rear.tire",
    "front_kpa": "front.fitted.pressure_kpa",
    "rear_kpa": "rear.fitted.pressure_kpa",
    "front_insert": "set.front.insert",
    "rear_insert": "set.rear.insert",
    "front_sag_mm": "suspension.front.sag_mm",
    "rear_sag_mm": "suspension.rear.sag_mm",
    "shock_kpa": "set.shock_kpa",
    "position": "set.position",
}
_AS_KEY = " ".join(f"WHEN '{old}' THEN '{new}'" for old, new in _RIDDEN_KEYS.items())
_TIRES = """(SELECT group_concat(CASE WHEN json_valid(value) THEN json_extract(value, '$') END, ' ')
    FROM measurement JOIN machine ON machine.id = measurement.machine_id
    AND measurement.setup_id = machine.setup_id
    WHERE machine.id = {machine} AND key IN ('front.tire', 'rear.tire'))"""
_ROWS = (("INSERT", "new"), ("UPDATE", "new"), ("DELETE", "old"))

SET_UPS = (
    # The setups of rides become earlier set-ups of their machine.
    "ALTER TABLE setup RENAME COLUMN made_on TO since_on",
    "ALTER TABLE setup ADD COLUMN until_on TEXT",
    "ALTER TABLE setup ADD COLUMN sealed_on TEXT",
    "ALTER TABLE setup ADD COLUMN reconstructed INTEGER NOT NULL DEFAULT 0",
    "ALTER TABLE setup ADD COLUMN job_id INTEGER REFERENCES job (id) ON DELETE SET NULL",
    """UPDATE change SET subject = 'stays ' || subject WHERE undone_at IS NULL
       AND subject NOT LIKE 'stays %' AND entries LIKE '%"table": "setup"%'""",
    "ALTER TABLE machine ADD COLUMN setup_id INTEGER REFERENCES setup (id)",
    """UPDATE setup SET reconstructed = 1, sealed_on = since_on, until_on = COALESCE(
       (SELECT MIN(since_on) FROM setup AS next WHERE next.machine_id = setup.machine_id
        AND next.id > setup.id), since_on)""",
    # What is on the sheet now is the set-up of today.
    """INSERT INTO setup (machine_id, name, parts, since_on, sealed_on)
       SELECT id, CASE WHEN EXISTS (SELECT 1 FROM setup WHERE machine_id = machine.id
         AND name = 'As it stands') THEN 'As it stands (2)' ELSE 'As it stands' END, '{}',
       COALESCE((SELECT MAX(taken_on) FROM fitting WHERE machine_id = machine.id),
         (SELECT MAX(until_on) FROM setup WHERE machine_id = machine.id), date(created_at)),
       (SELECT MAX(taken_on) FROM fitting WHERE machine_id = machine.id) FROM machine""",
    "UPDATE machine SET setup_id = (SELECT MAX(id) FROM setup WHERE machine_id = machine.id)",
    # A figure is of the set-up it was measured in.
    f"""CREATE TABLE measured_in (
        id INTEGER PRIMARY KEY,
        machine_id INTEGER NOT NULL REFERENCES machine (id) ON DELETE CASCADE,
        setup_id INTEGER NOT NULL REFERENCES setup (id) ON DELETE CASCADE,
        key TEXT NOT NULL,
        value TEXT NOT NULL,
        provenance TEXT NOT NULL {_PROVENANCE},
        taken_on TEXT NOT NULL,
        plus_minus REAL,
        readings TEXT NOT NULL DEFAULT '[]',
        UNIQUE (machine_id, setup_id, key)
    )""",
    """INSERT INTO measured_in SELECT measurement.id, machine_id, machine.setup_id, key, value,
       provenance, taken_on, plus_minus, readings
       FROM measurement JOIN machine ON machine.id = machine_id ORDER BY measurement.id""",
    "DROP TABLE measurement",
    "ALTER TABLE measured_in RENAME TO measurement",
    f"""INSERT OR IGNORE INTO measurement
        (machine_id, setup_id, key, value, provenance, taken_on)
        SELECT machine_id, setup.id, CASE part.key {_AS_KEY} END, json_quote(part.value),
        'measured', since_on FROM setup, json_each(setup.parts) AS part
        WHERE part.key IN ({", ".join(f"'{key}'" for key in _RIDDEN_KEYS)})""",
    "ALTER TABLE setup DROP COLUMN parts",
    """INSERT INTO last_id (name, id) SELECT 'measurement', id FROM measurement
       WHERE id = (SELECT MAX(id) FROM measurement)
       ON CONFLICT (name) DO UPDATE SET id = MAX(last_id.id, excluded.id)""",
    *(
        f"CREATE TRIGGER measurement_{event.lower()}_noted AFTER {event} ON measurement BEGIN"
        f" INSERT OR IGNORE INTO stale VALUES ('machine', {row}.machine_id); END"
        for event, row in _ROWS
    ),
    *(
        f"CREATE TRIGGER measurement_words_{event.lower()} AFTER {event} ON measurement"
        f" WHEN {row}.key IN ('front.tire', 'rear.tire') BEGIN UPDATE machine_words SET tires ="
        f" {_TIRES.format(machine=f'{row}.machine_id')} WHERE rowid = {row}.machine_id; END"
        for event, row in _ROWS
    ),
    "CREATE TRIGGER machine_words_set_up AFTER UPDATE OF setup_id ON machine BEGIN"
    f" UPDATE machine_words SET tires = {_TIRES.format(machine='new.id')}"
    " WHERE rowid = new.id; END",
    *(
        statement
        for table in ("place", "point", "position")
        for statement in (
            f"ALTER TABLE {table} ADD COLUMN setup_id INTEGER REFERENCES setup (id)",
            f"UPDATE {table} SET setup_id ="
            f" (SELECT setup_id FROM machine WHERE id = {table}.machine_id)",
        )
    ),
    "CREATE INDEX measurement_setup ON measurement (setup_id)",
    """CREATE INDEX measurement_tire_id ON measurement (setup_id, key, value)
       WHERE key IN ('set.front.tire_id', 'set.rear.tire_id')""",
    "DROP INDEX setup_machine",
    "CREATE INDEX setup_machine ON setup (machine_id, since_on, id)",
    *(
        f"CREATE TRIGGER setup_{event.lower()}_noted AFTER {event} ON setup BEGIN"
        f" INSERT OR IGNORE INTO stale VALUES ('machine', {row}.machine_id); END"
        for event, row in _ROWS
    ),
)

_SEAT = "lower(name) LIKE 'saddle%' OR lower(name) LIKE 'seat%'"
_NO_SEAT = " AND ".join(
    f"lower(name) NOT LIKE '%{part}%'" for part in ("clamp", "tube", "post", "stay")
)
ROLES = (
    "ALTER TABLE point ADD COLUMN role TEXT NOT NULL DEFAULT 'other'",
    f"""UPDATE point SET role = CASE WHEN ({_SEAT}) AND {_NO_SEAT} THEN 'saddle'
        WHEN lower(name) LIKE 'bar%' OR lower(name) LIKE 'handlebar%' THEN 'bar'
        WHEN lower(name) LIKE 'peg%' OR lower(name) LIKE 'foot%' THEN 'feet'
        WHEN lower(name) LIKE 'box floor%' OR lower(name) LIKE 'parcel%'
          OR lower(name) LIKE 'rack%' THEN 'load' ELSE 'other' END""",
)

JOB_DOCUMENTS = (
    """CREATE TABLE job_document (
        id INTEGER PRIMARY KEY,
        job_id INTEGER NOT NULL REFERENCES job (id) ON DELETE CASCADE,
        made_at TEXT NOT NULL,
        by TEXT NOT NULL,
        document TEXT NOT NULL
    )""",
    "CREATE INDEX job_document_job ON job_document (job_id, id)",
    """CREATE TABLE correction (
        id INTEGER PRIMARY KEY,
        job_id INTEGER NOT NULL REFERENCES job (id) ON DELETE CASCADE,
        at TEXT NOT NULL,
        by TEXT NOT NULL,
        text TEXT NOT NULL
    )""",
    "CREATE INDEX correction_job ON correction (job_id)",
    "ALTER TABLE card_step ADD COLUMN reason TEXT",
    "ALTER TABLE proposal ADD COLUMN takes TEXT NOT NULL DEFAULT '{}'",
)

WHEELS = (
    """CREATE TABLE wheel (
        id INTEGER PRIMARY KEY,
        machine_id INTEGER REFERENCES machine (id) ON DELETE CASCADE,
        name TEXT NOT NULL,
        kept TEXT NOT NULL CHECK (kept IN ('machine', 'owner', 'shelf')),
        wheel TEXT NOT NULL CHECK (wheel IN ('front', 'rear')),
        parts TEXT NOT NULL,
        added_on TEXT NOT NULL,
        binned_at TEXT
    )""",
    "CREATE INDEX wheel_machine ON wheel (machine_id)",
    """CREATE TABLE wheel_set (
        id INTEGER PRIMARY KEY,
        machine_id INTEGER NOT NULL REFERENCES machine (id) ON DELETE CASCADE,
        name TEXT NOT NULL,
        front_wheel_id INTEGER REFERENCES wheel (id) ON DELETE SET NULL,
        rear_wheel_id INTEGER REFERENCES wheel (id) ON DELETE SET NULL,
        UNIQUE (machine_id, name)
    )""",
    "ALTER TABLE inspection ADD COLUMN tire_id INTEGER",
    "ALTER TABLE speed_pair ADD COLUMN wheel_id INTEGER REFERENCES wheel (id) ON DELETE SET NULL",
    "ALTER TABLE machine ADD COLUMN phone TEXT NOT NULL DEFAULT ''",
    "ALTER TABLE machine ADD COLUMN note TEXT NOT NULL DEFAULT ''",
    "ALTER TABLE machine ADD COLUMN photo TEXT NOT NULL DEFAULT ''",
)
