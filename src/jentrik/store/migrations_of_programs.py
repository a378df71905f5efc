"""The schema's step to programs that are notified of what happens."""

PROGRAMS = (
    """CREATE TABLE webhook (id INTEGER PRIMARY KEY, address TEXT NOT NULL, secret TEXT NOT NULL,
       made_at TEXT NOT NULL, made_by TEXT NOT NULL, sent_to INTEGER NOT NULL,
       failures INTEGER NOT NULL DEFAULT 0, failing_since TEXT, next_at TEXT,
       said TEXT NOT NULL DEFAULT '', ended_at TEXT)""",
)
