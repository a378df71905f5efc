"""Findings as pages list them: what a rule says of both wheels in the same words stands once.

Every page, print and table that lists or counts findings starts from here.  Findings of another
weight never join, so a stop is never read as the caution beside it.
"""

from collections.abc import Iterable
from dataclasses import dataclass

from jentrik.core.machine.declared import ENDS
from jentrik.core.rules.case import Finding, Severity


@dataclass(frozen=True, slots=True)
class JoinedFinding:
    """Findings of one rule, severity and headline: at least one, in the order they were made."""

    parts: tuple[Finding, ...]

    @property
    def rule(self) -> str:
        """The id of their rule."""
        return self.parts[0].rule

    @property
    def severity(self) -> Severity:
        """How much each of them weighs."""
        return self.parts[0].severity

    @property
    def headline(self) -> str:
        """The headline they share."""
        return self.parts[0].headline

    @property
    def source(self) -> str:
        """Where their rule comes from."""
        return self.parts[0].source

    @property
    def law(self) -> bool:
        """Whether the local rule decides."""
        return self.parts[0].law

    @property
    def policy(self) -> tuple[str, ...]:
        """The keys of the shop's limits behind them."""
        return tuple(dict.fromkeys(key for part in self.parts for key in part.policy))

    @property
    def figures(self) -> tuple[str, ...]:
        """The keys of the figures behind them."""
        return tuple(dict.fromkeys(key for part in self.parts for key in part.figures))

    @property
    def messages(self) -> tuple[str, ...]:
        """What they say, each sentence once."""
        return tuple(dict.fromkeys(part.message for part in self.parts))

    @property
    def ends(self) -> tuple[str, ...]:
        """The wheels they are of, front first; empty for the pair and the whole machine."""
        places = {part.where for part in self.parts}
        return tuple(end for end in ENDS if end in places)


_ORDER = tuple(Severity)


def joined(findings: Iterable[Finding]) -> tuple[JoinedFinding, ...]:
    """Return findings joined by rule, severity and headline, the heaviest first."""
    groups: dict[tuple[str, str, Severity], list[Finding]] = {}
    for finding in findings:
        groups.setdefault((finding.rule, finding.headline, finding.severity), []).append(finding)
    return tuple(
        JoinedFinding(tuple(group))
        for group in sorted(groups.values(), key=lambda group: _ORDER.index(group[0].severity))
    )


def of_severity(findings: Iterable[Finding], severity: Severity) -> tuple[JoinedFinding, ...]:
    """Return the joined findings of one severity."""
    return tuple(finding for finding in joined(findings) if finding.severity is severity)


def count_in_words(findings: Iterable[Finding], *, changed: bool = True) -> str:
    """Return how many stops and cautions there are, in words.

    Without any finding it says whether something was `changed` that rules could speak of.
    """
    listed = joined(findings)
    counts = [
        f"{count} {severity.value}{'s' if count > 1 else ''}"
        for severity in (Severity.STOP, Severity.CAUTION)
        if (count := sum(finding.severity is severity for finding in listed))
    ]
    silent = "no findings" if changed else NOTHING_TO_CHECK
    return ", ".join(counts) or ("notes only" if listed else silent)


def headlines(findings: Iterable[Finding]) -> list[tuple[str, str]]:
    """Return severity and headline of the joined findings."""
    return [(finding.severity.value, finding.headline) for finding in joined(findings)]


NOTHING_TO_CHECK = "nothing to check yet"
NO_FINDING = "no rule speaks against it with the figures there are"
