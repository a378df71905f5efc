"""Items on a sidewall drawn as it stands on rubber: raised letters on a ring, marks where they are.

Size and service description stand over the rim, load and ply list on the left, the arrow on the
right, the date mark below.  What is asked for is left out where a mark would say it outright.
"""

import math
import random
from dataclasses import dataclass, replace

from jentrik.core.practice.codes import motorcycle_code
from jentrik.core.practice.item import Item
from jentrik.core.tire.reading import Reading
from jentrik.core.tire.sidewall import read_code

_SIZE, _MIDDLE, _RUBBER, _RIM = 320.0, 160.0, 157.0, 86.0
_WIDE = 50.0  # degrees an arc of lettering reaches to each side of its middle


@dataclass(frozen=True, slots=True)
class _Mark:
    """One mark on the rubber: degrees clockwise from the top, radius, size of letters, the text."""

    at_deg: float
    radius: float
    letters: float
    text: str
    where: str = ""
    asks: str = ""  # what it tells, as it is asked for


@dataclass(frozen=True, slots=True)
class _Sidewall:
    code: str
    read: Reading
    year: int
    dot: str
    marks: tuple[_Mark, ...]
    turned_deg: float


def _a_sidewall(chance: random.Random, *, load_stands: bool) -> _Sidewall:
    code = motorcycle_code(chance)
    read = read_code(code)
    year, week = chance.randint(2014, 2026), chance.randint(1, 52)
    dot = f"DOT {chance.choice('ABDFHK')}{chance.randint(2, 9)}XY {week:02d}{year % 100:02d}"
    plies = chance.choice(("TREAD 3 PLIES NYLON", "TREAD 2 NYLON 1 ARAMID", "SIDEWALL 2 PLIES"))
    pressure = chance.choice((250, 280, 290))
    load = f"MAX LOAD {read.load_kg:g} kg AT {pressure} kPa"
    if not load_stands:
        load = f"MAX {pressure} kPa COLD"
    way = chance.choice((1, -1))  # as it stands on one side of the tire, or on the other
    one, other = ("left", "right")[::way]
    marks = (
        _Mark(4 * way, 117, 20, code, "at the top", "names the size it must match"),
        _Mark(
            -94 * way,
            128,
            15,
            load,
            f"on the {one}",
            "says what it carries at most" if load_stands else "",
        ),
        _Mark(
            -138 * way,
            101,
            15,
            plies,
            f"lower {one}, near the rim",
            "says what the casing is made of",
        ),
        _Mark(158 * way, 130, 15, dot, "at the bottom", "says how old it is"),
        _Mark(88 * way, 124, 16, "ROTATION ▶", f"on the {other}", "says which way it turns"),
    )
    return _Sidewall(code, read, year, dot, marks, float(chance.randint(-6, 6)))


def sidewall(chance: random.Random, name: str) -> Item:
    """Ask for what follows from a whole sidewall."""
    ring = _a_sidewall(chance, load_stands=False)
    read = ring.read
    assert read.load_kg is not None
    asked: list[tuple[str, float, str, str]] = [
        ("How much may this one tire carry, in kg?", read.load_kg, "kg", "the load index"),
        ("Up to how many km/h is it made?", float(read.speed_kmh or 0), "km/h", "the speed symbol"),
        ("On which bead seat, in mm?", float(read.bead_seat_diameter_mm), "mm", "the rim code"),
        (
            "In which year was it made?",
            float(ring.year),
            "",
            "the last two digits of the date mark",
        ),
    ]
    question, answer, unit, where = chance.choice(asked)
    return Item(
        name,
        "sidewall",
        question,
        answer,
        f"The sidewall says {ring.code} and {ring.dot}: {where} gives "
        f"{answer:g}{' ' if unit else ''}{unit}.",
        "UN R75; 49 CFR 574.5",
        2,
        tolerance=0.0 if not unit else 1.0,
        unit=unit,
        drawing=_drawing(ring, name),
        code=ring.code,
    )


def find_mark(chance: random.Random, name: str) -> Item:
    """Ask which mark on the drawing tells something: it is touched, or its place is named."""
    ring = _a_sidewall(chance, load_stands=True)
    order = chance.sample(ring.marks, len(ring.marks))
    mark = chance.choice(order)
    places = [_place(ring, one, one.radius + one.letters / 2) for one in order]
    return Item(
        name,
        "find-mark",
        f"Which mark {mark.asks}? Touch it, or say where it stands.",
        mark.where,
        f"“{mark.text}” {mark.asks}.{_MORE[mark.asks]}",
        "UN R75; 49 CFR 574.5; FMVSS 119",
        1,
        choices=tuple(one.where for one in order),
        drawing=_drawing(ring, name),
        places=tuple((x / _SIZE, y / _SIZE) for x, y in places),
        code=ring.code,
    )


_MORE = {
    "names the size it must match": " After it stand load index and speed symbol.",
    "says what it carries at most": " It holds at the pressure beside it, cold, and no other.",
    "says what the casing is made of": " It says nothing of load: that is the index.",
    "says how old it is": " The last four digits: the week, then the year.",
    "says which way it turns": " A rear tire of the same pattern may point the other way in front.",
}


def _place(ring: _Sidewall, mark: _Mark, radius: float) -> tuple[float, float]:
    """Return the place at a mark's middle, so far from the axle, in the drawing's units."""
    turned = math.radians(mark.at_deg + ring.turned_deg)
    return _MIDDLE + radius * math.sin(turned), _MIDDLE - radius * math.cos(turned)


def _drawing(ring: _Sidewall, name: str) -> str:
    """Return the sidewall as SVG; `name` keeps the arcs of several on one page apart."""
    arcs, texts = [], []
    for place, mark in enumerate(ring.marks):
        arcs.append(f'<path id="{name}-{place}" d="{_arc(ring, mark)}"/>')
        texts.append(
            f'<text font-size="{mark.letters:g}"><textPath href="#{name}-{place}" '
            f'startOffset="50%" text-anchor="middle">{mark.text}</textPath></text>'
        )
    return (
        f'<svg class="practice-drawing sidewall-drawn" viewBox="0 0 {_SIZE:g} {_SIZE:g}" '
        'role="img" aria-label="A tire seen from the side, its lettering to be read: '
        f'{"; ".join(mark.text.replace("▶", "with an arrow") for mark in ring.marks)}">'
        f"<defs>{''.join(arcs)}</defs>"
        f'<circle class="rubber" cx="{_MIDDLE:g}" cy="{_MIDDLE:g}" r="{_RUBBER:g}"/>'
        f'<circle class="shoulder" cx="{_MIDDLE:g}" cy="{_MIDDLE:g}" r="{_RUBBER - 5:g}"/>'
        f'<circle class="inside" cx="{_MIDDLE:g}" cy="{_MIDDLE:g}" r="{_RIM:g}"/>'
        f'<circle class="shoulder" cx="{_MIDDLE:g}" cy="{_MIDDLE:g}" r="{_RIM + 4:g}"/>'
        f'<g class="raised">{"".join(texts)}</g></svg>'
    )


def _arc(ring: _Sidewall, mark: _Mark) -> str:
    """Return the line a mark's letters stand on; those of the lower half stand upright."""
    low = math.cos(math.radians(mark.at_deg + ring.turned_deg)) < -0.3
    ends = (_WIDE, -_WIDE) if low else (-_WIDE, _WIDE)
    radius = mark.radius + (8 if low else 0)
    points = [_place(ring, replace(mark, at_deg=mark.at_deg + off), radius) for off in ends]
    (x, y), (to_x, to_y) = points
    return f"M{x:.1f} {y:.1f}A{radius:g} {radius:g} 0 0 {0 if low else 1} {to_x:.1f} {to_y:.1f}"
