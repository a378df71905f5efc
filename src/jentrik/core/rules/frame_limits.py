"""What the frame's maker allows: the length of the fork, and each rear position with its wheel."""

from jentrik.core.amounts import mm
from jentrik.core.rules.case import THE_SHEETS, Case, Severity, Words, rule
from jentrik.core.sources import COMMON_PRACTICE

MAKERS_LIMIT = COMMON_PRACTICE.at("the frame maker's limit on the sheet")


@rule(
    "fork-over-makers-limit",
    Severity.STOP,
    title="Fork longer than the maker allows",
    source=MAKERS_LIMIT,
    needs=("fork.longest_mm",),
    only_with=("planned.fork",),
    limit=THE_SHEETS,
)
def fork_too_long(case: Case) -> Words | None:
    """Name a fork longer than the frame's maker allows; a cup below the head tube counts."""
    fork, proposal = case.found.fork, case.proposal
    length, cup = proposal.fork_length(case.found), proposal.lower_cup_mm
    if length <= fork.length_mm and not cup:
        return None
    over = fork.longer_than_allowed(length + cup, proposal.fork_offset(case.found))
    if over is None:
        return None
    asked, longest = over
    with_cup = f" with a {mm(cup):g} cup" if cup else ""
    return Words(
        f"Fork {mm(asked - longest):.0f} over the maker's limit",
        f"The fork would be {mm(asked):.0f} long{with_cup}; the frame's maker allows "
        f"{mm(longest):g}. A longer fork loads the head tube more than it was made for.",
    )


@rule(
    "fork-wheel-size",
    Severity.STOP,
    title="Wheel larger than the fork is made for",
    source=MAKERS_LIMIT,
    needs=("fork.rated_bead_seat_mm",),
    only_with=("fork.rated_bead_seat_mm",),
    limit=THE_SHEETS,
)
def fork_wheel_too_large(case: Case) -> Words | None:
    """Name a front wheel larger than the fork is made for."""
    tire = case.after.wheels.front.tire
    rated = case.proposal.fork_rated_mm
    if rated is None and not case.proposal.another_fork:
        rated = case.found.fork.rated_bead_seat_mm
    if rated is None or tire is None or tire.bead_seat_diameter_mm <= rated:
        return None
    return Words(
        f"Wheel {tire.bead_seat_diameter_mm} mm, fork made for {rated:g}",
        f"The fork is made for a wheel of {rated:g} mm at most; “{tire.text}” sits on "
        f"{tire.bead_seat_diameter_mm} mm. At full travel the tire can meet the crown: another "
        "fork, or the smaller wheel.",
    )


@rule(
    "position-without-its-wheel",
    Severity.STOP,
    title="Rear position without its wheel",
    source=COMMON_PRACTICE,
    limit="the bead seat its maker pairs the position with",
)
def position_without_its_wheel(case: Case) -> Words | None:
    """Name a rear position used with another wheel than its maker pairs it with."""
    paired, wheel = _pairing(case)
    if paired is None or wheel is None or wheel == paired[1]:
        return None
    if case.proposal.position is None and wheel < paired[1]:
        return None
    return Words(
        f"Position “{paired[0]}” belongs to {paired[1]:g} mm",
        f"Its maker pairs position “{paired[0]}” with a {paired[1]:g} mm rear wheel, not with "
        f"{wheel:g} mm. Without its wheel the tire can meet the frame at full travel: choose the "
        "position that goes with the wheel.",
    )


@rule(
    "position-to-turn",
    Severity.CAUTION,
    title="Rear position left as it was",
    source=COMMON_PRACTICE,
    limit="a bead seat smaller than the one paired with the position",
)
def position_to_turn(case: Case) -> Words | None:
    """Name a position left as it was though the wheel became smaller than its pairing."""
    paired, wheel = _pairing(case)
    if paired is None or wheel is None or case.proposal.position is not None:
        return None
    if wheel >= paired[1]:
        return None
    return Words(
        f"Position “{paired[0]}” belongs to {paired[1]:g} mm",
        f"The rear goes to {wheel:g} mm while the position stays with its {paired[1]:g} mm wheel. "
        "Ask the frame's maker which position goes with this wheel; it is a correction that "
        "belongs to the change.",
    )


def _pairing(case: Case) -> tuple[tuple[str, float] | None, float | None]:
    """Return the position in use with the wheel it is paired with, and the wheel planned."""
    position = case.found.position(case.proposal.position)
    tire = case.after.wheels.rear.tire
    if position is None or position.bead_seat_diameter_mm is None:
        return None, None
    pair = (position.name, position.bead_seat_diameter_mm)
    return pair, None if tire is None else float(tire.bead_seat_diameter_mm)
