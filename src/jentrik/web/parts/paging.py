"""Addresses of a list: other words, another order, the next page."""

from dataclasses import dataclass, replace
from datetime import date
from urllib.parse import urlencode

from jentrik.store.listing import STATES, Wanted

LONGEST_FIND = 80


@dataclass(frozen=True, slots=True)
class Paging:
    """A list's own address, what is asked of it, and whether it goes on."""

    path: str
    wanted: Wanted
    more: bool
    usual: str  # the order without a word for it

    def at(self, **changed: str | int) -> str:
        """Return the address with some of what is asked changed; the page starts anew."""
        asked = replace(self.wanted, **{"page": 1, **changed})  # type: ignore[arg-type]
        named = {"find": asked.find, "sort": asked.sort, "state": asked.state, "page": asked.page}
        usual = {"find": "", "sort": "", "state": "open", "page": 1}
        query = urlencode({key: value for key, value in named.items() if value != usual[key]})
        return f"{self.path}?{query}" if query else self.path

    def sorted_by(self, name: str) -> bool:
        """Whether the list stands in an order."""
        return (self.wanted.sort or self.usual) == name

    @property
    def before(self) -> str:
        """The address of the page before; empty on the first."""
        return self.at(page=self.wanted.page - 1) if self.wanted.page > 1 else ""

    @property
    def after(self) -> str:
        """The address of the next page; empty on the last."""
        return self.at(page=self.wanted.page + 1) if self.more else ""


def wanted_of(
    query: dict[str, str], *, sorts: dict[str, str], who: str = "", today: date = date.min
) -> Wanted:
    """Return what a query asks of a list; what it cannot ask is left out."""
    page = query.get("page", "")
    number = int(page) if page.isascii() and page.isdecimal() and len(page) < 7 else 1
    sort = query.get("sort", "")
    state = query.get("state", "open")
    return Wanted(
        find=" ".join(query.get("find", "").split())[:LONGEST_FIND],
        sort=sort if sort in sorts else "",
        state=state if state in STATES else "open",
        page=max(number, 1),
        who=who,
        today=today,
    )
