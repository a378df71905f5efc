"""Sealed documents in a chain: an edit of the file shows."""

from datetime import datetime

import pytest

from jentrik.store import documents, jobs
from jentrik.store.chain import adopt, verify
from jentrik.store.rows import first_row
from jentrik.store.undo import Scope, undo
from jentrik.web.shop import Shop
from tests.conftest import A_MONDAY

LATER = datetime(2026, 11, 24, 8, 0)


def test_the_demo_is_whole_and_an_edited_document_is_named(shop: Shop) -> None:
    state = verify(shop.database, at=A_MONDAY)
    assert (state.broken, state.whole_at) == ("", "2026-11-23T09:00")
    assert state.documents > 5
    row = first_row("SELECT * FROM job_document ORDER BY id LIMIT 1")
    shop.database.execute_sql(
        "UPDATE job_document SET document = replace(document, 'rear', 'read') WHERE id = ?",
        (row["id"],),
    )
    state = verify(shop.database, at=LATER)
    assert f"document {row['id']} of job" in state.broken
    assert state.whole_at == "2026-11-23T09:00"


@pytest.mark.parametrize(
    ("harm", "named"),
    [
        ("DELETE FROM job_document WHERE id = (SELECT MIN(id) FROM job_document)", "is missing"),
        ("UPDATE document_chain SET digest = 'x' WHERE id = 2", "link 2 of the chain"),
        ("DELETE FROM document_chain WHERE id = 2", "link 3 of the chain"),
        (
            "INSERT INTO job_document (id, job_id, made_at, by, document)"
            " SELECT 9999, job_id, made_at, by, document FROM job_document LIMIT 1",
            "never sealed here",
        ),
    ],
)
def test_what_was_done_to_the_file_is_named(shop: Shop, harm: str, named: str) -> None:
    shop.database.execute_sql(harm)
    assert named in verify(shop.database, at=A_MONDAY).broken


def test_undo_and_redo_of_a_sealing_keep_the_chain_whole(shop: Shop) -> None:
    with shop.step("closed", "job 3 close", job_id=3) as step:
        documents.write_done(step, jobs.job(3), shop.policy, at=A_MONDAY, by="Ida")
    assert not verify(shop.database, at=A_MONDAY).broken
    change = first_row("SELECT MAX(id) AS id FROM change")["id"]
    for again in (False, True):
        scope = Scope(job_id=3)
        assert undo(shop.database, change, scope, shop.author, now=A_MONDAY, again=again)
        assert not verify(shop.database, at=A_MONDAY).broken
    adopt(shop.database)  # nothing is left to adopt
    assert not verify(shop.database, at=A_MONDAY).broken
