"""Pairs of true and shown speeds of a machine: queries that return core values, and changes."""

import json
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date

from jentrik.core.errors import StoreError
from jentrik.core.figures.calibration import SpeedPair
from jentrik.store import journal, models
from jentrik.store.rows import first_row, rows

MOST_PAIRS = 200


@dataclass(frozen=True, slots=True)
class KeptPair:
    """A pair as kept, with the day it was taken."""

    id: int
    pair: SpeedPair
    taken_on: date
    simulated: bool = False


def pairs(machine_id: int) -> list[KeptPair]:
    """Return the pairs of the wheel a machine's instrument counts now, the slowest first.

    Those taken before wheels had numbers are of the wheel that was on.
    """
    return [
        KeptPair(
            row["id"],
            SpeedPair(row["true_kmh"], row["shown_kmh"]),
            date.fromisoformat(row["taken_on"]),
            bool(row["simulated"]),
        )
        for row in rows(
            "SELECT * FROM speed_pair WHERE machine_id = ? AND (wheel_id IS NULL OR wheel_id = ?)"
            " ORDER BY true_kmh, id",
            machine_id,
            sensed_wheel(machine_id),
        )
    ]


def add_pairs(
    taken: journal.Step,
    machine_id: int,
    new: Sequence[SpeedPair],
    *,
    on: date,
    simulated: bool = False,
) -> None:
    """Add pairs within a step; refuses more than are kept for one machine."""
    if len(pairs(machine_id)) + len(new) > MOST_PAIRS:
        raise StoreError(
            f"At most {MOST_PAIRS} pairs are kept for a machine: drop old ones first.",
            field="pairs",
            expected="fewer pairs",
        )
    number = sensed_wheel(machine_id)
    for pair in new:
        taken.insert(
            models.SpeedPairTable,
            machine=machine_id,
            true_kmh=pair.true_kmh,
            shown_kmh=pair.shown_kmh,
            taken_on=on.isoformat(),
            wheel=number,
            simulated=simulated,
        )


def drop_pairs(taken: journal.Step, machine_id: int, pair_id: int | None) -> None:
    """Take one pair of a machine away within a step, or all of them."""
    for kept in pairs(machine_id):
        if pair_id is None or kept.id == pair_id:
            taken.delete(models.SpeedPairTable, kept.id)


def sensed_wheel(machine_id: int) -> int | None:
    """Return the number of the wheel a machine's instrument counts; None where it has none."""
    row = first_row(
        """SELECT wheel.value FROM machine JOIN measurement AS wheel ON wheel.setup_id =
           machine.setup_id AND wheel.key = CASE WHEN (SELECT value FROM measurement WHERE
             machine_id = machine.id AND key = 'speedometer.wheel' ORDER BY id DESC LIMIT 1)
             = '"front"' THEN 'set.front.wheel' ELSE 'set.rear.wheel' END
           WHERE machine.id = ?""",
        machine_id,
    )
    return None if row is None else int(float(json.loads(row["value"])))


def number_pairs(taken: journal.Step, machine_id: int, number: int) -> None:
    """Say within a step which wheel the pairs without a number were taken with."""
    for row in rows(
        "SELECT id FROM speed_pair WHERE machine_id = ? AND wheel_id IS NULL", machine_id
    ):
        taken.update(models.SpeedPairTable, row["id"], wheel=number)
