"""The schema's step to a shelf of things: whose, where, how many, what for and how worn."""

from jentrik.store.migrations_of_lists import full_text

_WORDS = ("code", "make", "whose", "place")
SHELF_OF_THINGS = (
    "ALTER TABLE shelf_tire ADD COLUMN pieces INTEGER NOT NULL DEFAULT 1",
    *(
        f"ALTER TABLE shelf_tire ADD COLUMN {name} TEXT NOT NULL DEFAULT ''"
        for name in ("make", "whose", "place", "price", "photo")
    ),
    "ALTER TABLE shelf_tire ADD COLUMN tread_mm REAL",
    "ALTER TABLE shelf_tire ADD COLUMN km REAL",
    "ALTER TABLE shelf_tire ADD COLUMN signs TEXT NOT NULL DEFAULT '[]'",
    "ALTER TABLE shelf_tire ADD COLUMN facts TEXT NOT NULL DEFAULT '{}'",
    "ALTER TABLE shelf_tire ADD COLUMN tire_id INTEGER",
    "ALTER TABLE shelf_tire ADD COLUMN job_id INTEGER REFERENCES job (id) ON DELETE SET NULL",
    *(
        f"ALTER TABLE wheel ADD COLUMN {name} TEXT NOT NULL DEFAULT ''"
        for name in ("place", "price", "photo")
    ),
    "ALTER TABLE wheel ADD COLUMN job_id INTEGER REFERENCES job (id) ON DELETE SET NULL",
    *(f"CREATE INDEX {table}_job ON {table} (job_id)" for table in ("shelf_tire", "wheel")),
    *(f"DROP TRIGGER shelf_tire_words_{when}" for when in ("in", "on", "out")),
    "DROP TABLE shelf_words",
    *full_text("shelf_tire", "shelf_words", _WORDS),
)
