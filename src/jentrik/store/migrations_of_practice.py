"""The schema's step to practice: a card a skill and person, and every answer."""

PRACTICE = (
    """CREATE TABLE practice_card (
        id INTEGER PRIMARY KEY,
        person TEXT NOT NULL,
        kind TEXT NOT NULL,
        card TEXT NOT NULL,
        UNIQUE (person, kind)
    )""",
    """CREATE TABLE practice_answer (
        id INTEGER PRIMARY KEY,
        person TEXT NOT NULL,
        kind TEXT NOT NULL,
        seed INTEGER NOT NULL,
        at TEXT NOT NULL,
        verdict TEXT NOT NULL CHECK (verdict IN ('right', 'near', 'wrong')),
        seconds REAL NOT NULL,
        said TEXT NOT NULL
    )""",
    "CREATE INDEX practice_answer_person ON practice_answer (person, at)",
)
