"""Whether a tire is too old to be mounted, by the shop's school: said alike everywhere.

Bench, shelf, reader and card all ask here.  Source: the shop's limits, common practice.
"""

from dataclasses import dataclass

from jentrik.core.work.policy import AgeSchool, Policy


@dataclass(frozen=True, slots=True)
class TooOld:
    """What the shop makes of an age: whether it stops, and in words."""

    stops: bool
    says: str


def too_old(age_years: float | None, policy: Policy) -> TooOld | None:
    """Return what speaks against mounting a tire of that age; None where nothing does."""
    rubber = policy.rubber
    if age_years is None:
        return None
    if age_years < 0:
        return TooOld(False, "The week is still to come: read the date again.")
    if rubber.age_school is AgeSchool.CONDITION:
        if age_years < rubber.look_yearly_from_years:
            return None
        return TooOld(
            False,
            f"This shop judges by condition, with a look every year from "
            f"{rubber.look_yearly_from_years:g}: look closely.",
        )
    if age_years >= rubber.replace_at_years:
        return TooOld(True, f"This shop replaces at {rubber.replace_at_years:g} years.")
    if age_years > rubber.mount_younger_than_years:
        return TooOld(
            False, f"This shop mounts none older than {rubber.mount_younger_than_years:g} years."
        )
    return None
