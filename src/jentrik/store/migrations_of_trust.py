"""The schema's step to figures and documents that can be trusted.

What a stand-in of a tool read is marked where it is kept.  What a figure may come from stands in
a check of its table, which SQLite changes only in the text of the schema: no row is touched.
"""

_KNOWN, _NOW = "''photograph'')", "''photograph'', ''simulated'')"
TRUST = (
    "PRAGMA writable_schema = ON",
    f"UPDATE sqlite_master SET sql = replace(sql, '{_KNOWN}', '{_NOW}')"
    " WHERE type = 'table' AND sql LIKE '%CHECK (provenance IN (%'",
    "PRAGMA writable_schema = RESET",
    "ALTER TABLE card_step ADD COLUMN simulated INTEGER NOT NULL DEFAULT 0",
    "ALTER TABLE inspection ADD COLUMN simulated INTEGER NOT NULL DEFAULT 0",
    "ALTER TABLE speed_pair ADD COLUMN simulated INTEGER NOT NULL DEFAULT 0",
    """CREATE TABLE document_chain (id INTEGER PRIMARY KEY, document_id INTEGER NOT NULL,
       state TEXT NOT NULL, digest TEXT NOT NULL, link TEXT NOT NULL, at TEXT NOT NULL)""",
    "CREATE INDEX document_chain_document ON document_chain (document_id)",
    """CREATE TABLE session (id TEXT PRIMARY KEY, agent TEXT NOT NULL, address TEXT NOT NULL,
       opened_at TEXT NOT NULL, used_at TEXT NOT NULL, ended_at TEXT)""",
    # What was kept of a passphrase stands in no journal any more, and undo passes over people.
    "UPDATE change SET entries = '[]', subject = 'stays people' WHERE subject = 'people'",
)
