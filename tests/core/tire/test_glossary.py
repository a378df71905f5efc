"""Each term of the trade is said once, drawn where it can be, and stands for figures that exist."""

from dataclasses import fields

from jentrik.core.figures.contact import Contact
from jentrik.core.figures.rider import RiderReach
from jentrik.core.geometry.figures import Geometry
from jentrik.core.machine.fields import FIELD_BY_KEY
from jentrik.core.rules import RULES, TITLES
from jentrik.core.tire.tables.glossary import TERMS, term_of


def test_every_term_is_one_sentence_under_one_name() -> None:
    assert len(TERMS) > 30
    assert len({term.id for term in TERMS}) == len({term.name for term in TERMS}) == len(TERMS)
    for term in TERMS:
        assert term.says.endswith("."), term.name
        assert term.says.count(". ") == 0, term.name


def test_a_term_stands_for_figures_that_exist_and_each_figure_for_one_term() -> None:
    known = {name.name for of in (Geometry, Contact, RiderReach) for name in fields(of)}
    named = [key for term in TERMS for key in term.figures]
    assert set(named) <= known | set(FIELD_BY_KEY)
    assert len(named) == len(set(named))
    assert term_of("trail_mm").id == "trail"
    assert term_of("rider_kg") is None


def test_every_rule_has_a_title_and_a_subject() -> None:
    assert {rule.id for rule in RULES} == set(TITLES)
    assert len(set(TITLES.values())) == len(TITLES)
