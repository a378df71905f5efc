"""One figure of a machine, and where it came from."""

from dataclasses import dataclass
from datetime import date
from enum import StrEnum


class Provenance(StrEnum):
    """Where a figure came from."""

    MEASURED = "measured"
    MAKER = "maker's sheet"
    PHOTOGRAPH = "photograph"  # read off marks on one, each with its ±
    ASSUMED = "assumed"
    COMPUTED = "computed"  # from the others; never kept
    SIMULATED = "simulated"  # read by a stand-in for a tool: never a measurement

    @property
    def unproved(self) -> bool:
        """Whether it was neither measured nor stated by the maker."""
        return self in (Provenance.ASSUMED, Provenance.SIMULATED)


@dataclass(frozen=True, slots=True)
class Figure:
    """One figure of a sheet: a number in its key's unit, or a word.

    `plus_minus` is what the tool can tell, in the same unit; several `readings` were averaged.
    `measured_in` names another set-up it was measured in: it was worked out from there.
    """

    value: float | str
    provenance: Provenance
    taken_on: date
    plus_minus: float | None = None
    readings: tuple[float, ...] = ()
    measured_in: str = ""
