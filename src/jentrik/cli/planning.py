"""`jentrik plan`: what proposals do to a machine."""

import argparse
from datetime import date

from jentrik.cli.printing import bytes_of, print_json, print_lines
from jentrik.core.plan.plan import PlanResult
from jentrik.exchange.plan_answer import result_document
from jentrik.exchange.plan_document import plan_from_json

_LINES = (
    ("head angle", "head_angle_deg", "°", 1),
    ("trail", "trail_mm", "mm", 0),
    ("bottom bracket", "bb_height_mm", "mm", 0),
    ("wheelbase", "wheelbase_mm", "mm", 0),
    ("pitch", "pitch_deg", "°", 1),
)


def plan(options: argparse.Namespace) -> int:
    """Compute a plan document."""
    result = plan_from_json(bytes_of(options.file), on=date.today())
    if options.json:
        print_json(result_document(result))
    else:
        print_lines(_plan_lines(result))
    return 0


def _plan_lines(result: PlanResult) -> list[str]:
    lines = [result.bike.name]
    for outcome in result.outcomes:
        lines.append(f"Proposal {outcome.proposal.name}")
        for label, key, unit, digits in _LINES:
            old, new = getattr(result.figures.geometry, key), getattr(outcome.figures.geometry, key)
            if old is not None and new is not None:
                lines.append(
                    f"  {label:<15} {old:.{digits}f} → {new:.{digits}f} {unit} "
                    f"({new - old:+.{digits}f})"
                )
        lines += [
            f"  {finding.severity}: {finding.headline}. {finding.message} [{finding.source}]"
            for finding in outcome.findings
        ]
    return lines
