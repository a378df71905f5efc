"""The schema's step to lists of any length: a line of each job and machine, and words to find."""

_OF_MACHINE = (
    "measurement",
    "place",
    "point",
    "position",
    "approved_pair",
    "inspection",
    "odometer",
    "odometer_check",
    "fitting",
    "puncture",
)
_OF_JOB = ("proposal", "card", "confronted")
_TIRES = """(SELECT group_concat(CASE WHEN json_valid(value) THEN json_extract(value, '$') END, ' ')
    FROM measurement WHERE machine_id = {row}.machine_id AND key IN ('front.tire', 'rear.tire'))"""


def noted(table: str, kind: str, column: str) -> tuple[str, ...]:
    """Return triggers that note a machine or job whose line is to be made anew."""
    return tuple(
        f"CREATE TRIGGER {table}_{event.lower()}_noted AFTER {event} ON {table} BEGIN"
        f" INSERT OR IGNORE INTO stale VALUES ('{kind}', {row}.{column}); END"
        for event, row in (("INSERT", "new"), ("UPDATE", "new"), ("DELETE", "old"))
    )


def counted(table: str) -> tuple[str, ...]:
    """Return triggers that count every write of a table: what was read at a count still holds."""
    return tuple(
        f"CREATE TRIGGER {table}_{done}_counts AFTER {done} ON {table}"
        " BEGIN UPDATE last_id SET id = id + 1 WHERE name = 'sheets'; END"
        for done in ("insert", "update", "delete")
    )


def _words(table: str, words: str, columns: tuple[str, ...]) -> tuple[str, ...]:
    """Return the full-text table of some columns, its triggers, and what fills it now."""
    names, new = ", ".join(columns), ", ".join(f"new.{column}" for column in columns)
    changes = ", ".join(f"{column} = new.{column}" for column in columns)
    return (
        f"CREATE TRIGGER {table}_words_in AFTER INSERT ON {table} BEGIN"
        f" INSERT INTO {words} (rowid, {names}) VALUES (new.id, {new}); END",
        f"CREATE TRIGGER {table}_words_on AFTER UPDATE OF {names} ON {table} BEGIN"
        f" UPDATE {words} SET {changes} WHERE rowid = new.id; END",
        f"CREATE TRIGGER {table}_words_out AFTER DELETE ON {table} BEGIN"
        f" DELETE FROM {words} WHERE rowid = old.id; END",
        f"INSERT INTO {words} (rowid, {names}) SELECT id, {names} FROM {table}",
    )


_FTS = "tokenize = \"unicode61 remove_diacritics 2\", prefix = '2 3'"


def full_text(table: str, words: str, columns: tuple[str, ...]) -> tuple[str, ...]:
    """Return what makes a full-text table of some columns and keeps it in step with theirs."""
    made = f"CREATE VIRTUAL TABLE {words} USING fts5 ({', '.join(columns)}, {_FTS})"
    return made, *_words(table, words, columns)


LISTS = (
    "ALTER TABLE machine ADD COLUMN owner TEXT NOT NULL DEFAULT ''",
    """CREATE TABLE machine_line (
        machine_id INTEGER PRIMARY KEY REFERENCES machine (id) ON DELETE CASCADE,
        front TEXT NOT NULL,
        rear TEXT NOT NULL,
        front_bead_seat_mm INTEGER,
        rear_bead_seat_mm INTEGER,
        wheelbase TEXT NOT NULL,
        steering TEXT NOT NULL,
        assumed INTEGER NOT NULL
    )""",
    """CREATE TABLE job_line (
        job_id INTEGER PRIMARY KEY REFERENCES job (id) ON DELETE CASCADE,
        judged_on TEXT NOT NULL,
        changes TEXT NOT NULL,
        proposals TEXT NOT NULL,
        station TEXT NOT NULL,
        so_far TEXT NOT NULL,
        severity TEXT NOT NULL,
        headline TEXT NOT NULL,
        others INTEGER NOT NULL,
        says TEXT NOT NULL
    )""",
    """CREATE TABLE due_line (
        key TEXT PRIMARY KEY,
        machine_id INTEGER NOT NULL REFERENCES machine (id) ON DELETE CASCADE,
        on_day TEXT NOT NULL,
        what TEXT NOT NULL,
        why TEXT NOT NULL
    )""",
    "CREATE TABLE stale (kind TEXT, id INTEGER, PRIMARY KEY (kind, id)) WITHOUT ROWID",
    "INSERT INTO stale SELECT 'machine', id FROM machine",
    "INSERT INTO stale SELECT 'job', id FROM job WHERE closed_at IS NULL AND binned_at IS NULL",
    *(trigger for table in _OF_MACHINE for trigger in noted(table, "machine", "machine_id")),
    *(trigger for table in _OF_JOB for trigger in noted(table, "job", "job_id")),
    *noted("job", "job", "id")[:2],
    *noted("machine", "machine", "id")[:2],
    *(
        f"CREATE TRIGGER card_step_{event.lower()}_noted AFTER {event} ON card_step BEGIN"
        f" INSERT OR IGNORE INTO stale SELECT 'job', job_id FROM card WHERE id = {row}.card_id; END"
        for event, row in (("INSERT", "new"), ("UPDATE", "new"), ("DELETE", "old"))
    ),
    *(
        f"CREATE TRIGGER policy_{event.lower()}_noted AFTER {event} ON policy BEGIN"
        " INSERT OR IGNORE INTO stale SELECT 'machine', id FROM machine;"
        " INSERT OR IGNORE INTO stale SELECT 'job', id FROM job"
        " WHERE closed_at IS NULL AND binned_at IS NULL; END"
        for event in ("INSERT", "UPDATE", "DELETE")
    ),
    f"CREATE VIRTUAL TABLE machine_words USING fts5 (name, owner, tires, {_FTS})",
    f"CREATE VIRTUAL TABLE job_words USING fts5 (tag, wanted, {_FTS})",
    *full_text("shelf_tire", "shelf_words", ("code",)),
    *_words("machine", "machine_words", ("name", "owner")),
    *_words("job", "job_words", ("tag", "wanted")),
    *(
        f"CREATE TRIGGER measurement_words_{event.lower()} AFTER {event} ON measurement"
        f" WHEN {row}.key IN ('front.tire', 'rear.tire') BEGIN UPDATE machine_words SET tires ="
        f" {_TIRES.format(row=row)} WHERE rowid = {row}.machine_id; END"
        for event, row in (("INSERT", "new"), ("UPDATE", "new"), ("DELETE", "old"))
    ),
    """UPDATE machine_words SET tires = (SELECT group_concat(CASE WHEN json_valid(value)
       THEN json_extract(value, '$') END, ' ') FROM measurement
       WHERE machine_id = machine_words.rowid AND key IN ('front.tire', 'rear.tire'))""",
    "CREATE INDEX machine_line_front ON machine_line (front_bead_seat_mm)",
    "CREATE INDEX machine_line_rear ON machine_line (rear_bead_seat_mm)",
    "CREATE INDEX due_line_day ON due_line (on_day)",
    "CREATE INDEX due_line_machine ON due_line (machine_id)",
    """CREATE INDEX job_open ON job (due_on IS NULL, due_on, tag)
       WHERE closed_at IS NULL AND binned_at IS NULL""",
    *(
        f"CREATE INDEX {table}_latest ON {table} (taken_on)"
        for table in ("inspection", "odometer", "odometer_check", "fitting", "puncture", "ride")
    ),
    "CREATE INDEX fitting_job ON fitting (job_id)",
    """CREATE INDEX change_loose_undone ON change (undone_at, id)
       WHERE machine_id IS NULL AND job_id IS NULL AND undone_at IS NOT NULL""",
    """CREATE INDEX job_open_machine ON job (machine_id, tag)
       WHERE closed_at IS NULL AND binned_at IS NULL""",
    "CREATE INDEX machine_by_name ON machine (name COLLATE NOCASE, id) WHERE binned_at IS NULL",
    *(
        f"CREATE INDEX change_{of}_{whose} ON change ({of}_id, {whose}, id) WHERE undone_at IS NULL"
        for of in ("machine", "job")
        for whose in ("by", "screen")
    ),
    "CREATE INDEX machine_standing ON machine (stands_since) WHERE stands_since IS NOT NULL",
)
