"""The shop's policy and the list of all rules, as pages show them."""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field
from datetime import date
from types import MappingProxyType

from jentrik.core.amounts import Amount, bare
from jentrik.core.rules import RULES, SUBJECT_OF, TITLES
from jentrik.core.rules.case import Rule
from jentrik.core.rules.missing import figure_label
from jentrik.core.work.display_units import CHOICES, DisplayUnits
from jentrik.core.work.policy import Policy
from jentrik.core.work.policy_field import PolicyField
from jentrik.core.work.policy_fields import POLICY_FIELD, default_of
from jentrik.core.work.policy_table import POLICY_FIELDS
from jentrik.web.figures import plain
from jentrik.web.live.undoing import UndoView
from jentrik.web.parts.fields import NOTHING_TYPED, Complaint, Typed


@dataclass(frozen=True, slots=True)
class PolicyEntry:
    """One thing the shop sets: its field, what is typed, what common practice has, since when."""

    field: PolicyField
    name: str
    value: str
    stored: str
    common: str
    since: str
    complaint: Complaint | None


@dataclass(frozen=True, slots=True)
class PolicyRow:
    """A line of the page: one thing to set, or the two ends of an accepted change."""

    line: str
    why: str
    others: str
    entries: list[PolicyEntry]


@dataclass(frozen=True, slots=True)
class UnitChoice:
    """One quantity: the shop's unit, the person's own where it is another, and all there are."""

    quantity: str
    label: str
    shop: str
    own: str
    choices: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class ShopView:
    """The page of the shop's policy."""

    groups: list[tuple[str, list[PolicyRow]]]
    undo: UndoView
    backup: str = ""  # when the last one was made, in words
    rejudged: list[str] = field(default_factory=list)
    asked: bool = False  # whether something was just changed
    strays: list[Complaint] = field(default_factory=list)
    who: str = ""
    own_units: list[UnitChoice] = field(default_factory=list)


def unit_choices(shop: DisplayUnits, own: Mapping[str, str]) -> list[UnitChoice]:
    """Return what a person may choose, quantity by quantity."""
    return [
        UnitChoice(
            quantity,
            POLICY_FIELD[f"units.{quantity}"].label,
            str(getattr(shop, quantity)),
            own.get(quantity, ""),
            tuple(unit.value for unit in units),
        )
        for quantity, units in CHOICES.items()
    ]


def shop_view(
    policy: Policy,
    since: Mapping[str, date],
    undo: UndoView,
    *,
    typed: Typed = NOTHING_TYPED,
    rejudged: Iterable[str] = (),
    asked: bool = False,
    backup: str = "",
    who: str = "",
    own: Mapping[str, str] = MappingProxyType({}),
) -> ShopView:
    """Return everything the shop sets, in groups."""
    groups: dict[str, list[PolicyRow]] = {}
    for known in POLICY_FIELDS:
        name = f"policy:{known.key}"
        stored = bare(plain(policy.at(known.key)), known.unit)
        value, complaint = typed.shown(name, stored)
        entry = PolicyEntry(
            field=known,
            name=name,
            value=value,
            stored=stored,
            common=str(Amount(plain(default_of(known.key)), known.unit)),
            since=f"{since[known.key]:%d %b %Y}" if known.key in since else "",
            complaint=complaint,
        )
        lines = groups.setdefault(known.group, [])
        if not lines or lines[-1].line != known.line:
            lines.append(PolicyRow(known.line, known.why, known.others, []))
        lines[-1].entries.append(entry)
    return ShopView(
        groups=list(groups.items()),
        undo=undo,
        backup=backup,
        rejudged=list(rejudged),
        asked=asked,
        strays=typed.strays(f"policy:{known.key}" for known in POLICY_FIELDS),
        who=who,
        own_units=unit_choices(policy.units, own),
    )


@dataclass(frozen=True, slots=True)
class RuleView:
    """One check of a rule: how much it weighs, what it looks at, and where it comes from."""

    severity: str
    says: str
    limit: str
    source: str
    needs: list[str]
    policy: list[tuple[PolicyField, str]]
    kinds: str
    law: bool


@dataclass(frozen=True, slots=True)
class TitledRule:
    """The checks of one rule under its title."""

    id: str
    title: str
    checks: list[RuleView]

    @property
    def severity(self) -> str:
        """The heaviest of its checks."""
        weights = [check.severity for check in self.checks]
        return min(weights, key=("stop", "caution", "note").index)

    @property
    def text(self) -> str:
        """Everything it says, to be searched."""
        said = (
            f"{check.says} {check.limit} {check.source} {' '.join(check.needs)}"
            for check in self.checks
        )
        return f"{self.title} {self.id} {' '.join(said)}".casefold()


@dataclass(frozen=True, slots=True)
class RulesView:
    """Rules under their titles, subject by subject; `find` is what was looked for."""

    subjects: list[tuple[str, list[TitledRule]]]
    count: int
    shown: int
    find: str


def rules_view(policy: Policy, find: str = "") -> RulesView:
    """Return every rule as the code holds it, or those with the words looked for."""
    titled: dict[str, TitledRule] = {}
    subjects: dict[str, list[TitledRule]] = {}
    for rule in RULES:
        if rule.id not in titled:
            titled[rule.id] = TitledRule(rule.id, TITLES[rule.id], [])
            subject = SUBJECT_OF[rule.module]
            subjects.setdefault(subject, []).append(titled[rule.id])
        titled[rule.id].checks.append(_rule_view(rule, policy))
    words = find.casefold().split()
    kept = {
        name: [one for one in rules if all(word in f"{name} {one.text}" for word in words)]
        for name, rules in ((name.casefold(), rules) for name, rules in subjects.items())
    }
    found = [(name, kept[name.casefold()]) for name in subjects if kept[name.casefold()]]
    return RulesView(found, len(RULES), sum(len(rules) for _, rules in found), find)


def _said_of(rule: Rule) -> str:
    """Return what a check speaks of: the first sentence of its function, as a statement."""
    words = " ".join((rule.check.__doc__ or "").split("\n\n")[0].split())
    verb, _, rest = words.partition(" ")
    return f"{rest[:1].upper()}{rest[1:]}" if verb == "Name" else f"{verb}s {rest}"


def _now(policy: Policy, known: PolicyField) -> str:
    """Return what the shop has set, with its unit."""
    return str(Amount(plain(policy.at(known.key)), known.unit))


def _rule_view(rule: Rule, policy: Policy) -> RuleView:
    return RuleView(
        severity=rule.severity.value,
        says=_said_of(rule),
        limit=rule.limit,
        source=str(rule.source)
        + (f"; motorcycles: {rule.motorcycle_source}" if rule.motorcycle_source else ""),
        needs=[figure_label(key) for key in rule.needs],
        policy=[(POLICY_FIELD[key], _now(policy, POLICY_FIELD[key])) for key in rule.policy],
        kinds="" if len(rule.kinds) > 1 else f"{rule.kinds[0]}s",
        law=rule.law,
    )
