r"""A job card's template as text: one step a line, so that a shop can write its own.

    step   =  [ "!" ] words { "|" detail }
    detail =  ( "tools" | "supplies" | "torque" | "reading" | "caution" ) ":" words
            | "only" ":" ( "front wheel" | "rear wheel" ) | "qualified"

"!" keeps the job open until the step is done or waived with a reason.  "torque" names a fastener:
its figure comes from the maker or the part, never from here.  "reading" names what is measured
and, after the last comma, its unit.  "only" leaves the step out of a card that does not touch
that wheel.  "qualified" is machine-shop work that someone qualified
signs.
"""

from dataclasses import dataclass
from importlib.resources import files

from jentrik.core.errors import DocumentError
from jentrik.core.machine.suspension import End

LONGEST_LINE, MOST_STEPS = 300, 60
_ONLY: dict[str, End] = {"front wheel": "front", "rear wheel": "rear"}
UNITS = ("mm", "kPa", "km/h", "°", "kg", "words")


@dataclass(frozen=True, slots=True)
class StepPlan:
    """One step as planned: what to do, with what, and what must be written down."""

    text: str
    stop: bool = False
    tools: str = ""
    supplies: str = ""
    fastener: str = ""
    reading: str = ""
    unit: str = ""
    caution: str = ""
    qualified: bool = False
    only: End | None = None


def steps_of(text: str) -> tuple[StepPlan, ...]:
    """Return the steps of a template; refuses a line it cannot read, naming it."""
    lines = [(number, line.strip()) for number, line in enumerate(text.splitlines(), start=1)]
    steps = [_step(number, line) for number, line in lines if line]
    if not steps:
        raise DocumentError("A card needs at least one step.", field="text", expected="a step")
    if len(steps) > MOST_STEPS:
        raise DocumentError(
            f"A card has at most {MOST_STEPS} steps.", field="text", expected="fewer steps"
        )
    return tuple(steps)


def _step(number: int, line: str) -> StepPlan:
    if len(line) > LONGEST_LINE:
        raise _refused(number, f"is longer than {LONGEST_LINE} characters")
    stop = line.startswith("!")
    words, *details = (part.strip() for part in line.removeprefix("!").split("|"))
    if not words:
        raise _refused(number, "says nothing to do")
    said: dict[str, str] = {}
    qualified, only = False, None
    for detail in details:
        name, colon, rest = (part.strip() for part in detail.partition(":"))
        if detail == "qualified":
            qualified = True
        elif name == "only" and rest in _ONLY:
            only = _ONLY[rest]
        elif colon and rest and name in ("tools", "supplies", "torque", "reading", "caution"):
            said[name] = rest
        else:
            raise _refused(number, f"has “{detail[:30]}”, which is no detail of a step")
    reading, unit = _reading(said.get("reading", ""), number)
    return StepPlan(
        words,
        stop,
        said.get("tools", ""),
        said.get("supplies", ""),
        said.get("torque", ""),
        reading,
        unit,
        said.get("caution", ""),
        qualified,
        only,
    )


def _reading(said: str, number: int) -> tuple[str, str]:
    if not said:
        return "", ""
    label, comma, unit = (part.strip() for part in said.rpartition(","))
    if not comma or not label or unit not in UNITS:
        raise _refused(number, f"names a reading without one of the units {', '.join(UNITS)}")
    return label, unit


def _refused(number: int, said: str) -> DocumentError:
    return DocumentError(
        f"Line {number} {said}.",
        field="text",
        position=number,
        expected="a step like: Wheel in | torque: axle",
    )


def text_of(steps: tuple[StepPlan, ...]) -> str:
    """Return steps as someone would write them."""
    return "\n".join(_line(step) for step in steps)


def _line(step: StepPlan) -> str:
    details = [
        f"{name}: {words}"
        for name, words in (
            ("tools", step.tools),
            ("supplies", step.supplies),
            ("torque", step.fastener),
            ("reading", f"{step.reading}, {step.unit}" if step.reading else ""),
            ("caution", step.caution),
        )
        if words
    ]
    details += [f"only: {step.only} wheel"] if step.only else []
    details += ["qualified"] if step.qualified else []
    return " | ".join([f"{'! ' if step.stop else ''}{step.text}", *details])


def built_in() -> dict[str, str]:
    """Return the templates that come with the program: name -> text. Source: common practice."""
    whole = (files("jentrik.core.tables") / "card_templates.txt").read_text(encoding="utf-8")
    texts = {}
    for part in whole.split("== ")[1:]:
        name, _, text = part.partition("\n")
        texts[name.strip()] = text.strip()
    return texts
