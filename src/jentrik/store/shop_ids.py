"""What a row is called outside this shop: `<shop>-<number>`, the same for ever and everywhere.

A row made here is called by this shop's own mark and its number; one that came in a document keeps
the name it had, which stands in `outside_id`.
"""

from jentrik.exchange.shop_reading import ID
from jentrik.store.models import MachineTable
from jentrik.store.rows import first_row, rows

TIRES = "tires"  # tires have numbers, and no list of their own


def shop_mark() -> str:
    """Return this shop's own mark, eight figures and letters."""
    row = first_row("SELECT value FROM shop_state WHERE key = 'shop'")
    assert row is not None  # a migration made it
    return str(row["value"])


def adopt_mark(mark: str) -> None:
    """Take the mark of the shop that moves in here; this one is empty."""
    _run("UPDATE shop_state SET value = ? WHERE key = 'shop'", mark)


def _run(sql: str, *values: object) -> None:
    MachineTable._meta.database.execute_sql(sql, values)


class OutsideIds:
    """The names of rows outside and their numbers here, list by list, each looked up once."""

    def __init__(self, another: str = "") -> None:
        self.mark = shop_mark()
        self._another = another  # a program whose own ids are kept apart from those of shops
        self._names: dict[str, dict[int, str]] = {}
        self._numbers: dict[str, dict[str, int]] = {}

    def _load(self, name: str) -> None:
        if name not in self._names:
            found = rows("SELECT row_id, outside FROM outside_id WHERE list = ?", self._list(name))
            self._names[name] = {row["row_id"]: row["outside"] for row in found}
            self._numbers[name] = {row["outside"]: row["row_id"] for row in found}

    def _list(self, name: str) -> str:
        return f"{self._another}/{name}" if self._another else name

    def name(self, of: str, number: int) -> str:
        """Return what a row of a list is called outside."""
        self._load(of)
        return self._names[of].get(number) or f"{self.mark}-{number}"

    def number(self, of: str, name: str) -> int | None:
        """Return the number of the row of that name here, None where it never was here."""
        self._load(of)
        known = self._numbers[of].get(name)
        if known is not None or self._another:
            return known
        found = ID.fullmatch(name)
        if found is None or found["shop"] != self.mark:
            return None
        number = int(found["number"])
        return None if number in self._names[of] else number  # it is another one's number here

    def keep(self, of: str, name: str, number: int) -> None:
        """Note what a row that came in is called; its own name needs no note."""
        self._load(of)
        if self.name(of, number) != name:
            _run(
                "INSERT INTO outside_id (list, row_id, outside) VALUES (?, ?, ?)",
                self._list(of),
                number,
                name,
            )
            self._names[of][number], self._numbers[of][name] = name, number
