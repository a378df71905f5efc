"""What the API answers of machines: sheet, set-ups, wheels, log, rides, pairs of speeds."""

from datetime import date
from typing import Literal

from pydantic import BaseModel

from jentrik.core.machine.kept_wheel import WheelSet
from jentrik.core.work.inspection import Inspection
from jentrik.core.work.ride import Ride
from jentrik.core.work.wear import DistanceCorrection, Odometer
from jentrik.store.listing import MachineLine
from jentrik.store.logbook import Fitting, Puncture
from jentrik.store.records import PastChange
from jentrik.web.api.answers.base import Figures, Listed, fields_of
from jentrik.web.api.answers.jobs import JobTag
from jentrik.web.api.documents import NOT_SHOWN, SHOWN_IN_WORDS


class SetName(BaseModel):
    """A wheel set that is off, by number and name."""

    id: int
    name: str


class MachineRow(fields_of(MachineLine, *NOT_SHOWN, *SHOWN_IN_WORDS)):  # type: ignore[misc]
    """One machine in a list; what is not known of it is null."""

    front: str | None
    rear: str | None
    wheelbase_mm: float | None
    head_angle_deg: float | None
    rake_deg: float | None
    jobs: list[JobTag]
    sets: list[SetName]


class MachineList(Listed):
    """A page of machines."""

    machines: list[MachineRow]


class Wheel(BaseModel):
    """A wheel: where it is kept, and its figures."""

    id: int
    name: str
    end: Literal["front", "rear"]
    kept: Literal["machine", "owner", "shelf"]
    place: str
    price: str | None
    reserved_for: int | None
    photo: str
    sources: dict[str, str]


class Machine(BaseModel):
    """A machine: its sheet, its set-ups with the oldest first, its wheels and wheel sets."""

    id: int
    name: str
    kind: Literal["bicycle", "motorcycle"]
    owner: str
    phone: str
    note: str
    external_id: str
    sheet: Figures
    setups: list[Figures]
    wheels: list[Wheel]
    sets: list[WheelSet]


class History(BaseModel):
    """A page of the changes of a machine, the last first."""

    changes: list[PastChange]


class InspectionKept(fields_of(Inspection)):  # type: ignore[misc]
    """An inspection of a tire: tread left, middle, right in mm."""

    id: int
    tread_mm: list[float] | None


class Log(BaseModel):
    """A machine's logbook."""

    inspections: list[InspectionKept]
    odometer: list[Odometer]
    odometer_checks: list[DistanceCorrection]
    fittings: list[Fitting]
    punctures: list[Puncture]
    stands_since: date | None


class LogOf(Log):
    """The logbook of a machine."""

    machine_id: int


class Logs(BaseModel):
    """The logbooks that entries went into."""

    logs: list[LogOf]


class RideKept(fields_of(Ride)):  # type: ignore[misc]
    """A ride on one set-up."""

    km: float | None
    seconds: float | None


class Rides(BaseModel):
    """The rides of a machine."""

    rides: list[RideKept]


class ShownSpeed(BaseModel):
    """A true speed and what the instrument showed."""

    id: int
    true_kmh: float
    shown_kmh: float


class SpeedPairs(BaseModel):
    """The pairs of true and shown speed of a machine."""

    pairs: list[ShownSpeed]
