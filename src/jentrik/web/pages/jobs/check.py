"""Station Check: every finding with what stands behind it, and what would let more rules speak."""

from collections.abc import Iterable, Mapping
from dataclasses import asdict, dataclass

from jentrik.core.amounts import in_words
from jentrik.core.machine.declared import ENDS
from jentrik.core.machine.fields import FIELD_BY_KEY
from jentrik.core.machine.sheet import DrawnAs, Sheet
from jentrik.core.machine.wheel import Fitted, Hub
from jentrik.core.plan.plan import Outcome, PlanResult
from jentrik.core.rules import RULES
from jentrik.core.rules.missing import MissingFigures, figure_label, missing_figures
from jentrik.core.tire.tables.load_at_speed import LOAD_PERCENT
from jentrik.core.work.carry_over import PartLine, parts_of
from jentrik.core.work.job import KeptProposal
from jentrik.core.work.policy_field import PolicyField
from jentrik.core.work.policy_fields import POLICY_FIELD
from jentrik.web.figures import plain
from jentrik.web.pages.jobs.instruments import InstrumentsView, instruments_view
from jentrik.web.pages.jobs.parking import StandsView, stands_view
from jentrik.web.pages.jobs.room import RoomView, room_view


@dataclass(frozen=True, slots=True)
class Behind:
    """What a finding came from: figures with where each is from, and the policy it went by."""

    figures: list[str]
    policy: list[PolicyField]


@dataclass(frozen=True, slots=True)
class Trace:
    """How the findings of one machine lead back to its sheet and to the shop's policy."""

    sheet: Sheet
    local_rules: str

    def behind(self, figures: Iterable[str], policy: Iterable[str]) -> Behind:
        """Return the figures and the policy behind a finding, from their keys."""
        said = [words for key in dict.fromkeys(figures) if (words := self._figure(key))]
        fields = [POLICY_FIELD[key] for key in policy]  # both ends of a change are one line
        return Behind(said, list({field.line: field for field in reversed(fields)}.values())[::-1])

    def _figure(self, key: str) -> str:
        """Return a figure of the sheet in words; nothing where it is not on the sheet."""
        figure = self.sheet.figures.get(key)
        if figure is None:
            return ""
        says = in_words(key, plain(figure.value), FIELD_BY_KEY[key].unit)
        return f"{figure_label(key)} {says} ({figure.provenance.value})"


@dataclass(frozen=True, slots=True)
class CheckView:
    """What station Check shows of the chosen proposal, beyond its findings."""

    trace: Trace
    waiting: tuple[MissingFigures, ...]
    room: RoomView
    stands: StandsView
    parts: tuple[PartLine, ...]
    instruments: InstrumentsView


def check_view(sheet: Sheet, found: PlanResult, kept: KeptProposal, outcome: Outcome) -> CheckView:
    """Return what stands behind the findings of a proposal, and what is still missing."""
    trace = Trace(sheet, found.policy.local_rules)
    return CheckView(
        trace=trace,
        waiting=waiting_for(sheet, kept, outcome),
        room=room_view(found, outcome),
        stands=stands_view(found, outcome, sheet),
        parts=parts_of(found.bike, outcome.proposal),
        instruments=instruments_view(found, outcome),
    )


_BUILT = {  # what rules of one kind of machine wait for it by
    DrawnAs.FOLDING: "folding",
    DrawnAs.CHILD: "child",
    DrawnAs.TANDEM: "tandem",
    DrawnAs.RECUMBENT: "recumbent",
    DrawnAs.OUTFIT: "sidecar",
}


def waiting_for(sheet: Sheet, kept: KeptProposal, outcome: Outcome) -> tuple[MissingFigures, ...]:
    """Return the figures no rule can do without, the most waited for first."""
    changed = [end for end in ENDS if end in kept.changes]
    known = set(sheet.figures) | _known_of_proposal(outcome, kept.changes)
    lists = {
        "places": sheet.clearances,
        "points": sheet.points,
        "positions": sheet.positions,
        "approved": sheet.pairs,
        "room": sheet.room,
        "points.out_mm": [p for p in sheet.points if p.out_mm is not None],
    }
    known |= {name for name, lines in lists.items() if lines}
    known.add(f"built.{_BUILT.get(sheet.drawn_as, '')}")
    if sheet.text("outfit") == "sidecar":
        known.add("built.sidecar")
    known -= {key for key in ("front.guard", "rear.guard") if sheet.text(key) == "none"}
    known |= {
        f"approved.{end}.make"
        for end in ENDS
        if any(getattr(pair, f"{end}_make") for pair in sheet.pairs)
    }
    for key in tuple(known):
        if key.endswith("_least_mm"):
            known.add(key.replace("_least_mm", "_mm"))
    return missing_figures(RULES, kind=sheet.kind, known=known, changed=changed)


def _known_of_proposal(outcome: Outcome, changes: Mapping[str, object]) -> set[str]:
    """Return the keys under which the proposal itself says something of its wheels."""
    known = {"planned.fork"} if changes.keys() & {"fork", "lower_cup_mm"} else set()
    for end in ENDS:
        wheel = outcome.figures.wheels.at(end)
        tire, rim, change = wheel.tire, wheel.rim, getattr(outcome.proposal, end)
        said = {
            "load_index": tire and tire.load_index,
            "speed_symbol": tire and tire.speed_symbol,
            "fast": True if tire and tire.speed_symbol in FAST else None,
            "rim.inner_width_mm": rim and rim.inner_width_mm,
            "rim.tube": rim and rim.tube,
            "rim.hookless": True if rim and rim.hooks == "hookless" else None,
            "rim.most": True if rim and (rim.most_kpa or rim.hooks == "hookless") else None,
            "another": True if outcome.another_wheel(end) else None,
            **_said(wheel.fitted, "fitted"),
            **_said(wheel.hub, "hub"),
        }
        if change.tire is None:  # nothing is mounted there: its age and tread are not asked
            said |= {"fitted.made": True, "fitted.tread_mm": True, "fitted.pressure_kpa": True}
        known |= {f"planned.{end}.{name}" for name, value in said.items() if value is not None}
    return known


FAST = tuple(LOAD_PERCENT)


def _said(part: Fitted | Hub, name: str) -> dict[str, object]:
    return {f"{name}.{key}": value for key, value in asdict(part).items()}
