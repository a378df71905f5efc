"""Photos in the data folder: each under the mark of its contents, whole or not there."""

import hashlib
import re
from pathlib import Path

from jentrik.store.database import make_folder
from jentrik.store.files import written_whole

FOLDER = "photos"
NAME = re.compile(r"[0-9a-f]{32}\.jpg")


def keep_photo(data: Path, contents: bytes) -> str:
    """Keep a photo and return its file's name; one that is kept already is not written again."""
    name = f"{hashlib.sha256(contents).hexdigest()[:32]}.jpg"
    there = data / FOLDER / name
    make_folder(there.parent)
    if not (there.is_file() and there.read_bytes() == contents):
        with written_whole(there) as file:
            file.write(contents)
    return name


def contents(data: Path, name: str) -> bytes | None:
    """Return a photo's contents; None where its file is not there."""
    there = data / FOLDER / name
    return there.read_bytes() if NAME.fullmatch(name) and there.is_file() else None


# The files that a job shows, or that the journal may bring back.
NAMED = """SELECT file FROM photo UNION SELECT photo FROM machine WHERE photo != ''
    UNION SELECT photo FROM shelf_tire WHERE photo != ''
    UNION SELECT photo FROM wheel WHERE photo != ''
    UNION SELECT file FROM photograph
    UNION SELECT json_extract(value, '$') FROM policy WHERE key = 'head.sign'
    UNION SELECT json_extract(json_extract(entry.value, '$.before.value'), '$') FROM change,
      json_each(entries) AS entry WHERE entries LIKE '%"head.sign"%'
    UNION SELECT json_extract(json_extract(entry.value, '$.after.value'), '$') FROM change,
      json_each(entries) AS entry WHERE entries LIKE '%"head.sign"%'
    UNION SELECT json_extract(entry.value, '$.before.photo') FROM change, json_each(entries)
      AS entry WHERE entries LIKE '%"photo": "%'
    UNION SELECT json_extract(entry.value, '$.after.photo') FROM change, json_each(entries)
      AS entry WHERE entries LIKE '%"photo": "%'
    UNION SELECT json_extract(entry.value, '$.before.file') FROM change, json_each(entries) AS entry
    WHERE entries LIKE '%"table": "photo%'
    UNION SELECT json_extract(entry.value, '$.after.file') FROM change, json_each(entries) AS entry
    WHERE entries LIKE '%"table": "photo%'"""
