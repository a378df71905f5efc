"""The schema's step to offers that are agreed and to the day: whose a job is, promised when."""

from jentrik.store.migrations_of_lists import noted

THE_DAY = (
    "ALTER TABLE job ADD COLUMN whose TEXT NOT NULL DEFAULT ''",
    "ALTER TABLE job ADD COLUMN promised_time TEXT NOT NULL DEFAULT ''",
    "ALTER TABLE job ADD COLUMN rung_at TEXT",
    "ALTER TABLE job_document ADD COLUMN kind TEXT NOT NULL DEFAULT 'job'",
    "ALTER TABLE person ADD COLUMN hours_a_day REAL",
    "ALTER TABLE card_step ADD COLUMN plus_minus REAL",
    *(
        statement
        for table in ("machine", "job", "person", "shelf_tire")
        for statement in (
            f"ALTER TABLE {table} ADD COLUMN external_id TEXT NOT NULL DEFAULT ''",
            f"CREATE UNIQUE INDEX {table}_external ON {table} (external_id)"
            " WHERE external_id != ''",
        )
    ),
    "CREATE INDEX change_at ON change (at)",
    "ALTER TABLE job_line ADD COLUMN stage TEXT NOT NULL DEFAULT ''",
    "ALTER TABLE job_line ADD COLUMN next TEXT NOT NULL DEFAULT ''",
    "ALTER TABLE job_line ADD COLUMN hours REAL NOT NULL DEFAULT 0",
    "ALTER TABLE job_line ADD COLUMN waits_for TEXT NOT NULL DEFAULT ''",
    "ALTER TABLE job_line ADD COLUMN waits_since TEXT",
    "ALTER TABLE job_line ADD COLUMN arrived INTEGER NOT NULL DEFAULT 0",
    "ALTER TABLE job_line ADD COLUMN lies TEXT NOT NULL DEFAULT ''",
    "ALTER TABLE job_line ADD COLUMN offer TEXT NOT NULL DEFAULT ''",
    "INSERT OR IGNORE INTO stale SELECT 'job', id FROM job"
    " WHERE closed_at IS NULL AND binned_at IS NULL",
    *noted("job_document", "job", "job_id"),
    *noted("cost_entry", "job", "job_id"),
    "CREATE INDEX job_open_whose ON job (whose) WHERE closed_at IS NULL AND binned_at IS NULL",
    # What happened, in order: every change, every keystroke that joined it, taken back, done again.
    """CREATE TABLE happened (n INTEGER PRIMARY KEY AUTOINCREMENT, change_id INTEGER NOT NULL,
       undone INTEGER NOT NULL)""",
    "INSERT INTO happened (change_id, undone) SELECT id, 0 FROM change ORDER BY id",
    "INSERT INTO happened (change_id, undone)"
    " SELECT id, 1 FROM change WHERE undone_at IS NOT NULL ORDER BY undone_at, id",
    *(
        f"CREATE TRIGGER change_{event.lower()}_happened AFTER {event} ON change BEGIN"
        " INSERT INTO happened (change_id, undone) VALUES (new.id, new.undone_at IS NOT NULL); END"
        for event in ("INSERT", "UPDATE")
    ),
)
