"""What the shop set otherwise than common practice: one row for each thing it changed."""

import json
from collections.abc import Mapping
from datetime import date

from jentrik.core.work.policy import DEFAULT_POLICY, Policy
from jentrik.core.work.policy_fields import checked_policy, default_of, known_policy
from jentrik.store import journal, models
from jentrik.store.rows import Kept, first_row, rows

SUBJECT = "policy"  # every change of the policy opens its subject with this word


_policy: Kept[Policy] = Kept()


def stored_policy() -> Policy:
    """Return the policy in force; what a newer program no longer knows is left at its default."""
    return _policy.get("policy", lambda: DEFAULT_POLICY.having(set_otherwise()))


def set_otherwise() -> Mapping[str, float | str]:
    """Return what the shop set, by key."""
    stored = rows("SELECT key, value FROM policy")
    return known_policy({row["key"]: json.loads(row["value"]) for row in stored})


def set_on() -> Mapping[str, date]:
    """Return the day each thing was set on, by key."""
    return {
        row["key"]: date.fromisoformat(row["set_on"])
        for row in rows("SELECT key, set_on FROM policy")
    }


def set_policy(taken: journal.Step, key: str, value: float | str, *, on: date) -> None:
    """Write one thing within a step; what is as common practice has it needs no row."""
    value = checked_policy(key, value)
    known = first_row("SELECT id FROM policy WHERE key = ?", key)
    if value == default_of(key):
        if known is not None:
            taken.delete(models.PolicyTable, known["id"])
        return
    fields = {"value": json.dumps(value, ensure_ascii=False), "set_on": on.isoformat()}
    if known is None:
        taken.insert(models.PolicyTable, key=key, **fields)
    else:
        taken.update(models.PolicyTable, known["id"], **fields)
