"""Sources: how each of the three standings prints."""

from datetime import date

from jentrik.core import sources
from jentrik.core.rules import RULES
from jentrik.core.sources import COMMON_PRACTICE, DERIVED, UN_R39, Source


def test_a_published_text_no_one_has_opened_is_from_memory() -> None:
    assert str(UN_R39) == "UN Regulation 39 (from memory)"
    assert str(UN_R39.at("5.3")) == "UN Regulation 39, 5.3 (from memory)"


def test_a_published_text_names_the_day_it_was_read() -> None:
    read = UN_R39.at("5.3", seen=date(2026, 11, 23))
    assert str(read) == "UN Regulation 39, 5.3 (read 2026-11-23)"
    assert UN_R39.place is None  # naming a place makes another source


def test_practice_and_derivation_claim_no_document() -> None:
    assert str(COMMON_PRACTICE) == "common practice"
    assert str(COMMON_PRACTICE.at("as stated")) == "common practice, as stated"
    assert str(DERIVED) == "exact, from the stated figures"


def test_every_rule_leans_on_a_source_of_this_module() -> None:
    titles = {value.title for value in vars(sources).values() if isinstance(value, Source)}
    assert {rule.source.title for rule in RULES} <= titles
