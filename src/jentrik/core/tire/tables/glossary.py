"""The terms of the trade, one sentence each, the figures they name and a drawing that shows them.

Source: common practice; sizes and marks after ISO 5775-1 and the tire and rim tables, from memory.
"""

import csv
from dataclasses import dataclass
from importlib.resources import files


@dataclass(frozen=True, slots=True)
class Term:
    """One term: its name, what it is in one sentence, its drawing, the figures it stands for."""

    id: str
    name: str
    says: str
    shows: str  # the drawing that shows it, "" without one
    figures: tuple[str, ...]  # keys of the sheet, the geometry and the contact points


def _terms() -> tuple[Term, ...]:
    text = files(__package__).joinpath("glossary.csv").read_text(encoding="utf-8")
    terms = [
        Term(row["id"], row["name"], row["says"], row["shows"], tuple(row["figures"].split()))
        for row in csv.DictReader(text.splitlines())
    ]
    return tuple(sorted(terms, key=lambda term: term.name.casefold()))


TERMS = _terms()
_OF_FIGURE = {key: term for term in TERMS for key in term.figures}


def term_of(key: str) -> Term | None:
    """Return the term a figure's key stands for; None where it needs no word of its own."""
    return _OF_FIGURE.get(key)
