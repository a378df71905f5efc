"""What lies on the shop's shelf: tires by their code, with the week they were made."""

from dataclasses import dataclass
from datetime import date

from jentrik.core.tirecode.dates import DAYS_A_YEAR, first_day_of
from jentrik.core.tirecode.reading import Reading
from jentrik.core.tirecode.sidewall import known_code


@dataclass(frozen=True, slots=True)
class ShelfTire:
    """A tire on the shelf; week and year of making are None where no date was read."""

    id: int
    code: str
    week: int | None
    year: int | None
    added_on: date

    @property
    def reading(self) -> Reading:
        """What its code says."""
        return known_code(self.code)

    def age_years(self, on: date) -> float | None:
        """Return its age on a day in years; None where no date was read."""
        if self.week is None or self.year is None:
            return None
        return (on - first_day_of(self.week, self.year)).days / DAYS_A_YEAR
