"""Choosing which columns of a wide table stand side by side, on the screen and on paper."""

from collections.abc import Sequence

from jentrik.web.parts.address import Link

MOST_COLUMNS = 4  # that are read at a glance, and that stand on one sheet of paper


def chosen_columns(count: int, asked: str, usual: Sequence[int]) -> list[int]:
    """Return the places of the columns asked for, as in “0.2”; else the usual ones."""
    places = [int(one) for one in asked.split(".") if one.isdecimal() and len(one) < 4]
    known = sorted({place for place in places if place < count})
    return (known or list(usual))[:MOST_COLUMNS]


def column_links(names: Sequence[str], shown: Sequence[int], href: str) -> list[Link]:
    """Return a link for each column that puts it in or takes it out; none for a narrow table."""
    if len(names) < 3:
        return []
    joint = "&" if "?" in href else "?"
    links = []
    for place, name in enumerate(names):
        kept = [one for one in shown if one != place] if place in shown else [*shown, place]
        kept = (kept or list(shown))[-MOST_COLUMNS:]
        asked = ".".join(str(one) for one in sorted(kept))
        links.append(Link(name, f"{href}{joint}columns={asked}", place in shown))
    return links
