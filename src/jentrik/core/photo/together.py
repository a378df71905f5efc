"""Several pictures of one machine as one answer: means by their weights, disagreements named."""

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

from jentrik.core.photo.measured import FIGURES, Measured, PhotoFigures


@dataclass(frozen=True, slots=True)
class Together:
    """One figure over all pictures of a machine: the mean by their weights, and who disagrees."""

    name: str
    mean: Measured
    count: int
    disagree: bool


def together(measured: Sequence[PhotoFigures]) -> dict[str, Together]:
    """Return figures of several pictures as one, each weighed by its ±."""
    result = {}
    for name in FIGURES:
        those = [one.figures[name] for one in measured if name in one.figures]
        if not those:
            continue
        weights = [1 / max(one.plus_minus, 1e-6) ** 2 for one in those]
        mean = sum(w * one.value for w, one in zip(weights, those, strict=True)) / sum(weights)
        within = 1 / math.sqrt(sum(weights))
        disagree = any(abs(one.value - mean) > math.hypot(one.plus_minus, within) for one in those)
        result[name] = Together(name, Measured(mean, within), len(those), disagree)
    return result


WORDS = {
    name: name.rpartition("_")[0].replace("_", " ").replace("bb", "bottom bracket")
    for name in FIGURES
}


def merged(measured: Sequence[PhotoFigures]) -> PhotoFigures | None:
    """Return several pictures as one answer; None where none tells anything.

    One picture stays what it is.  Points and residual are the first one's.
    """
    if len(measured) < 2:
        return measured[0] if measured else None
    known = together(measured)
    notes = tuple(
        f"The pictures do not agree on the {WORDS[one.name]}: look at their marks again."
        for one in known.values()
        if one.disagree
    )
    figures = {one.name: one.mean for one in known.values()}
    return replace(measured[0], figures=figures, notes=notes)
