"""What lies on the shop's shelf: tires by their code, as they were received or came off."""

from dataclasses import dataclass, field
from datetime import date
from decimal import Decimal
from typing import Any

from jentrik.core.tire.dates import DAYS_A_YEAR, first_day_of
from jentrik.core.tire.reading import Reading
from jentrik.core.tire.sidewall import known_code
from jentrik.core.work.inspection import Inspection, Judgement, Look, TireDemands, judge_look
from jentrik.core.work.policy import Policy
from jentrik.core.work.tire_facts import TireFacts

MOST_PIECES = 500


@dataclass(frozen=True, slots=True)
class ShelfTire:
    """A line of the shelf: one used tire, or so many new ones that are alike.

    Week and year of making are None where no date was read.  `whose` is empty for the shop's own,
    `job_id` the job it is reserved for, `tire_id` its number where it was on a machine, `km` how
    far it ran there, `signs` what a look at it found; `signs` is empty where no one looked.
    """

    id: int
    code: str
    week: int | None
    year: int | None
    added_on: date
    pieces: int = 1
    make: str = ""
    whose: str = ""
    place: str = ""
    price: Decimal | None = None
    tread_mm: float | None = None
    km: float | None = None
    signs: tuple[str, ...] = ()
    tire_id: int | None = None
    job_id: int | None = None
    photo: str = ""
    facts: TireFacts = field(default_factory=TireFacts)
    external_id: str = ""  # another program's own key

    @property
    def reading(self) -> Reading:
        """What its code says."""
        return known_code(self.code)

    @property
    def made(self) -> str | None:
        """Week and year as they stand on the sidewall; None where no date was read."""
        if self.week is None or self.year is None:
            return None
        return f"{self.week:02d}{self.year % 100:02d}"

    def age_years(self, on: date) -> float | None:
        """Return its age on a day in years; None where no date was read."""
        if self.week is None or self.year is None:
            return None
        return (on - first_day_of(self.week, self.year)).days / DAYS_A_YEAR

    def looked_over(self, policy: Policy) -> Judgement | None:
        """Return what the look at it comes to; None where no one looked."""
        if not self.signs:
            return None
        look = Inspection("front", Look.RECEIVING, self.added_on, self.code, signs=self.signs)
        return judge_look(look, TireDemands(), policy)

    def change(self) -> dict[str, Any]:
        """Return what it changes at one end of a machine, as a plan document says it."""
        fitted: dict[str, Any] = {}
        if self.made is not None:
            fitted["made"] = self.made
        if self.make:
            fitted["make"] = self.make
        if self.tread_mm is not None and self.reading.vehicle == "motorcycle":
            fitted["tread_mm"] = self.tread_mm
        return {"tire": self.code, **({"fitted": fitted} if fitted else {})}
