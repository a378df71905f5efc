"""The Shop page: what is set there judges every open job; and the page of all rules."""

import re
from typing import Any

from fastapi.applications import FastAPI
from fastapi.testclient import TestClient
from httpx2 import Response

from jentrik.core.amounts import in_plain
from jentrik.core.rules import RULES, SUBJECTS
from jentrik.core.work.policy import DEFAULT_POLICY, AgeSchool, StandIns
from jentrik.core.work.policy_table import POLICY_FIELDS
from jentrik.store.policy import stored_policy

FRAGMENT = {"HX-Request": "true"}

OF_THE_DEMO = DEFAULT_POLICY.having({"stand_ins": StandIns.ON})


def setting(client: TestClient, **values: Any) -> Response:
    form = {f"policy:{key.replace('__', '.')}": value for key, value in values.items()}
    return client.post("/shop/answer", data=form, headers=FRAGMENT)


def test_the_page_shows_every_field_with_its_reason(client: TestClient) -> None:
    page = client.get("/shop").text
    for known in POLICY_FIELDS:
        assert f'id="{known.id}"' in page
    assert "Others: Some judge by mechanical trail" in page


def test_a_changed_limit_judges_open_jobs_anew_and_says_which(client: TestClient) -> None:
    assert "Trail 12 mm" not in client.get("/jobs/1?station=check").text
    answer = setting(client, limits__trail_mm__low="-0.2", limits__trail_mm__high="0.2")
    assert answer.status_code == 200
    assert re.search(r"Judged otherwise now: .*tag 17", answer.text)
    check = client.get("/jobs/1?station=check").text
    assert "trail-shift" in check
    assert "the shop accepts 0 mm" in in_plain(check)
    assert "Common practice" in answer.text


def test_undo_and_the_default_itself_take_the_setting_back(
    client: TestClient, app: FastAPI
) -> None:
    app.state.shop.ready()
    setting(client, room__mud_mm="9")
    assert stored_policy().room.mud_mm == 9
    client.post("/shop/undo")
    assert stored_policy() == OF_THE_DEMO
    setting(client, rubber__age_school=AgeSchool.CONDITION.value)
    assert stored_policy().rubber.age_school is AgeSchool.CONDITION
    setting(client, rubber__age_school=AgeSchool.YEARS.value)
    assert client.get("/shop").text.count("set 23 Nov") == 1  # the demo's stand-ins


def test_a_refused_entry_stays_as_typed_and_sets_nothing(client: TestClient, app: FastAPI) -> None:
    app.state.shop.ready()
    answer = setting(client, room__mud_mm="lots", room__chain_mm="5")
    assert answer.status_code == 422
    assert 'value="lots"' in answer.text
    assert "a plain number is wanted" in answer.text
    assert stored_policy() == OF_THE_DEMO
    assert setting(client, lean__pedal_deg="400").status_code == 422


def test_every_rule_stands_on_the_rules_page_with_its_source(client: TestClient) -> None:
    page = client.get("/rules").text
    for rule in RULES:
        assert f'id="{rule.id}"' in page
    assert page.count('class="rule-check"') == len(RULES)
    assert "the local rule decides" in page


def test_the_shops_own_local_rules_stand_with_findings_about_a_rule(client: TestClient) -> None:
    setting(client, local_rules="Ask <the> harbour office.")
    page = client.get("/jobs/11?station=check").text
    shown = "Here: Ask &lt;the&gt; harbour office." in page
    assert shown is ("speedometer-over-limit" in page or "approval-asked" in page)


def test_a_rule_is_found_by_its_words_and_opens(client: TestClient) -> None:
    page = client.get("/rules?find=tone+ring").text
    assert "Runout of the tone ring" in page
    assert "Wheelbase" not in page.partition('id="rules"')[2]
    assert 'id="sensor-ring-runout"' in page
    whole = client.get("/rules").text
    assert whole.count('<section class="policy-group"><h2>') == len(set(SUBJECTS.values()))
    assert "load-index-below-spec" not in re.sub(r"<[^>]+>", " ", whole)  # titles, never ids


def test_the_words_of_the_trade_are_one_click_from_each_figure(client: TestClient) -> None:
    words = client.get("/words").text
    links = set(re.findall(r'href="/words#([a-z-]+)"', client.get("/jobs/1").text))
    assert {"trail", "head-angle", "bb-height", "wheelbase"} <= links
    for link in links:
        assert f'id="{link}"' in words
