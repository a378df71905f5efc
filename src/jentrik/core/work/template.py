r"""A job card's template as text: one step a line, so that a shop can write its own.

    step   =  [ "!" ] words { "|" detail }
    detail =  ( "tools" | "supplies" | "torque" | "reading" | "caution" ) ":" words
            | "only" ":" ( "front wheel" | "rear wheel" ) | "qualified"
            | "for" ":" condition { "," condition }
            | ( "at least" | "at most" ) ":" figure | "measures" ":" key | "limits from" ":" words
            | "group" ":" words

"!" keeps the job open until the step is done or waived with a reason.  "torque" names a fastener:
its figure comes from the maker or the part, never from here.  "reading" names what is measured
and, after the last comma, its unit.  "only" leaves the step out of a card that does not touch
that wheel, "for" out of one whose machine is not so.  "qualified" is machine-shop work that
someone qualified signs.  "at least" and "at most" are the limits of the reading; "measures" is
the key of the figure it is, for the sheet, and "limits from" says whose the limits are; "group" is
what the step is done in one go with.  In a part of a card "{end}" and "{End}" stand for the wheel
it is of.
"""

from dataclasses import dataclass, replace
from importlib.resources import files

from jentrik.core.errors import DocumentError, OutOfRange
from jentrik.core.machine.declared import End
from jentrik.core.units import read_figure

LONGEST_LINE, MOST_STEPS = 300, 60
_ONLY: dict[str, End] = {"front wheel": "front", "rear wheel": "rear"}
UNITS = ("mm", "km", "kPa", "km/h", "°", "kg", "words")


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
    conditions: tuple[str, ...] = ()
    at_least: float | None = None
    at_most: float | None = None
    measures: str = ""
    limits_from: str = ""  # who says what the reading may be
    group: str = ""  # what it is done in one go with

    @property
    def stands_out(self) -> bool:
        """Whether it is done on its own: it holds the job, or something is written down."""
        return bool(self.stop or self.reading or self.fastener or self.qualified)

    def at(self, end: End | None) -> "StepPlan":
        """Return the step as it stands on a card: of one wheel, its conditions met."""
        return replace(
            self,
            text=_of_wheel(self.text, end),
            fastener=_of_wheel(self.fastener, end),
            reading=_of_wheel(self.reading, end),
            caution=_of_wheel(self.caution, end),
            measures=_of_wheel(self.measures, end),
            group=_of_wheel(self.group, end),
            conditions=(),
        )


_WORDS = ("tools", "supplies", "torque", "reading", "caution", "measures", "limits from", "group")
CONDITIONS = (
    "bicycle",
    "motorcycle",
    "front",
    "rear",
    "disc",
    "rim brake",
    "drum",
    "no drum",
    "coaster",
    "brake not known",
    "another rotor",
    "another guard",
    "chain",
    "belt",
    "shaft",
    "variator",
    "drive not known",
    "derailleur",
    "hub gear",
    "single gear",
    "rim lock",
    "no rim lock",
    "none",
    "tube",
    "tubeless",
    "spoked",
    "cast",
    "ring",
    "sprung",
    "same wheel",
    "another wheel",
    "wheel swapped",
    "wheel worked on",
    "new tire",
    "tire as it was",
)


def _of_wheel(text: str, end: End | None) -> str:
    return text.replace("{end}", end or "").replace("{End}", (end or "").capitalize())


def steps_of(text: str) -> tuple[StepPlan, ...]:
    """Return the steps of a template; refuses a line it cannot read, naming it."""
    lines = [(number, line.strip()) for number, line in enumerate(text.splitlines(), start=1)]
    too_long = next((number for number, line in lines if len(line) > LONGEST_LINE), None)
    if too_long is not None:
        raise _refused(too_long, f"is longer than {LONGEST_LINE} characters")
    steps = [_step(number, line) for number, line in lines if line]
    if not steps:
        raise DocumentError("A card needs at least one step.", field="text", expected="a step")
    if len(steps) > MOST_STEPS:
        raise DocumentError(
            f"A card has at most {MOST_STEPS} steps.", field="text", expected="fewer steps"
        )
    return tuple(steps)


def _step(number: int, line: str) -> StepPlan:
    stop = line.startswith("!")
    words, *details = (part.strip() for part in line.removeprefix("!").split("|"))
    if not words:
        raise _refused(number, "says nothing to do")
    said = dict(_detail(number, detail) for detail in details)
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
        "qualified" in said,
        _ONLY.get(said.get("only", "")),
        tuple(one.strip() for one in said.get("for", "").split(",") if one),
        _figure(said["at least"], number) if "at least" in said else None,
        _figure(said["at most"], number) if "at most" in said else None,
        said.get("measures", ""),
        said.get("limits from", ""),
        said.get("group", ""),
    )


def _detail(number: int, detail: str) -> tuple[str, str]:
    """Return one detail of a step by its name; refuses what no step has."""
    name, colon, rest = (part.strip() for part in detail.partition(":"))
    if detail == "qualified":
        return name, detail
    if name == "for" and rest and not {one.strip() for one in rest.split(",")} <= set(CONDITIONS):
        raise _refused(number, f"is for “{rest[:30]}”, which no machine is")
    known = rest in _ONLY if name == "only" else name in (*_WORDS, "for", "at least", "at most")
    if not (colon and rest and known):
        raise _refused(number, f"has “{detail[:30]}”, which is no detail of a step")
    return name, rest


def _figure(text: str, number: int) -> float:
    try:
        return read_figure(text)
    except OutOfRange:
        raise _refused(number, f"has “{text[:20]}”, which is no figure") from None


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


def kept_step(line: str) -> StepPlan:
    """Return a step of a card as `text_of` wrote it, however long."""
    return _step(1, line)


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
    limits = (("at least", step.at_least), ("at most", step.at_most))
    details += [f"{name}: {limit:.10g}" for name, limit in limits if limit is not None]
    details += [f"measures: {step.measures}"] if step.measures else []
    details += [f"limits from: {step.limits_from}"] if step.limits_from else []
    details += [f"group: {step.group}"] if step.group else []
    details += [f"for: {', '.join(step.conditions)}"] if step.conditions else []
    details += ["qualified"] if step.qualified else []
    parts = [f"{'! ' if step.stop else ''}{step.text}", *details]
    return " | ".join(part.replace("|", "/") for part in parts)


def built_in() -> dict[str, str]:
    """Return the parts of cards that come with the program: name -> text, in the bench's order.

    Source: common practice.
    """
    whole = (files("jentrik.core.tire.tables") / "card_parts.txt").read_text(encoding="utf-8")
    texts = {}
    for part in whole.split("== ")[1:]:
        name, _, text = part.partition("\n")
        texts[name.strip()] = text.strip()
    return texts
