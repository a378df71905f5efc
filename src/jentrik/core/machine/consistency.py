r"""Figures of a sheet compared with each other: what contradicts, and what follows.

    drop        bottom-bracket height = rear radius - drop
    wheelbase   = sqrt(CS^2 - (Rr - b)^2) + sqrt(FC^2 - (Rf - b)^2)
    trail       = (Rf cos h - o) / sin h
    head tube   its top, stack and reach from the bottom bracket, lies on the steering axis
    fork        crown seat to that top, along the axis, is the head tube

A relation is contradicted when it is off by more than twice what the tools can tell.  The
figure likeliest wrong is the one whose correction leaves the other relations in peace, and of
those the smallest against its own ±; assumed figures are doubted first, the maker's and what a
tire's code tells last.  A relation with one figure missing gives it, marked computed.
Source: derived.
"""

import math
from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace

from jentrik.core.amounts import mm
from jentrik.core.geometry.frame import bottom_bracket
from jentrik.core.geometry.steering import trail
from jentrik.core.machine.declared import ENDS
from jentrik.core.machine.fields import FIELD_BY_KEY, INSTRUMENT_SET, STRAIGHT_FORK
from jentrik.core.machine.figure import Figure, Provenance
from jentrik.core.machine.readings import nominal_worth, worth
from jentrik.core.machine.sheet import Sheet
from jentrik.core.tire.reading import Reading
from jentrik.core.tire.sidewall import known_code

Values = Mapping[str, float]
_DOUBT = {
    Provenance.ASSUMED: 0.3,
    Provenance.SIMULATED: 0.3,
    Provenance.COMPUTED: 0.8,  # worked out from another set-up
    Provenance.PHOTOGRAPH: 0.8,
    Provenance.MEASURED: 1.0,
    Provenance.MAKER: 1.5,
}
_STEP = 1e-4
_BROKEN = 1e6


@dataclass(frozen=True, slots=True)
class Relation:
    """Figures that must go together: what is left over, in mm, is nothing on a true sheet."""

    id: str
    keys: tuple[str, ...]
    left: Callable[[Values], float]


@dataclass(frozen=True, slots=True)
class Contradiction:
    """A relation that does not hold: by how much, and the figure likeliest wrong."""

    relation: str
    keys: tuple[str, ...]
    off_mm: float
    tells_mm: float
    likely: str
    value: float
    would_fit: float


def _bracket(v: Values) -> float:
    """Return how far the bottom bracket lies ahead of the rear axle, in mm."""
    x, _ = bottom_bracket(
        rear_radius_mm=v["rear_radius"],
        chainstay_mm=v["chainstay_mm"],
        bb_height_mm=v["bb_height_mm"],
    )
    return float(x)


def _drop(v: Values) -> float:
    return v["bb_height_mm"] - v["rear_radius"] + v["cross.bb_drop_mm"]


def _wheelbase(v: Values) -> float:
    rise = v["front_radius"] - v["bb_height_mm"]
    ahead = math.sqrt(v["cross.front_center_mm"] ** 2 - rise**2)
    return v["wheelbase_mm"] - _bracket(v) - ahead


def _trail(v: Values) -> float:
    result = trail(
        radius_mm=v["front_radius"], head_angle_deg=v["head"], offset_mm=v["fork.offset_mm"]
    )
    return v["cross.trail_mm"] - float(result)


def _top_from_axle(v: Values) -> tuple[float, float]:
    """Return the head tube's top forward of the front axle, and above it."""
    x = _bracket(v) + v["reach_mm"] - v["wheelbase_mm"]
    return x, v["bb_height_mm"] + v["stack_mm"] - v["front_radius"]


def _head_tube_line(v: Values) -> float:
    x, y = _top_from_axle(v)
    head = math.radians(v["head"])
    return x * math.sin(head) + y * math.cos(head) + v["fork.offset_mm"]


def _fork(v: Values) -> float:
    x, y = _top_from_axle(v)
    head = math.radians(v["head"])
    along = -x * math.cos(head) + y * math.sin(head)
    return v["fork.length_mm"] + v["cross.head_tube_mm"] - along


_TOP = ("stack_mm", "reach_mm", "head", "wheelbase_mm", "chainstay_mm", "bb_height_mm")
RELATIONS = (
    Relation("drop", ("bb_height_mm", "cross.bb_drop_mm", "rear_radius"), _drop),
    Relation(
        "wheelbase",
        (
            "wheelbase_mm",
            "chainstay_mm",
            "cross.front_center_mm",
            "bb_height_mm",
            "rear_radius",
            "front_radius",
        ),
        _wheelbase,
    ),
    Relation("trail", ("cross.trail_mm", "head", "fork.offset_mm", "front_radius"), _trail),
    Relation(
        "head tube", (*_TOP, "fork.offset_mm", "rear_radius", "front_radius"), _head_tube_line
    ),
    Relation(
        "fork",
        (*_TOP, "fork.length_mm", "cross.head_tube_mm", "rear_radius", "front_radius"),
        _fork,
    ),
)
_GUESS = {"head": 70.0}
# what a relation may give where it is missing; radii come from the tires alone
_GIVEN = {
    "drop": ("bb_height_mm",),
    "wheelbase": ("wheelbase_mm", "chainstay_mm"),
    "trail": ("fork.offset_mm", "head"),
    "head tube": ("fork.offset_mm",),
    "fork": ("fork.length_mm",),
}


def completed(sheet: Sheet) -> Sheet:
    """Return the sheet with every figure that the others fix, marked computed."""
    bare = _with_instrument(_with_straight_fork(_stated(sheet)))
    if not any(key.startswith("cross.") or key == "stack_mm" for key in bare.figures):
        return bare
    for _ in RELATIONS:
        values = values_of(bare)
        given = next(filter(None, (_given(relation, values) for relation in RELATIONS)), None)
        if given is None:
            return bare
        key, value = _as_kept(bare, *given)
        latest = max(figure.taken_on for figure in bare.figures.values())
        figure = Figure(round(value, 2), Provenance.COMPUTED, latest)
        bare = replace(bare, figures={**bare.figures, key: figure})
    return bare


def _with_straight_fork(sheet: Sheet) -> Sheet:
    """Return a bicycle's sheet with the straight length of its fork beside the one along the axis.

    The longer side of a triangle whose other sides are that length and the offset.
    """
    length, offset = (sheet.figures.get(key) for key in ("fork.length_mm", "fork.offset_mm"))
    stated = sheet.figures.get(STRAIGHT_FORK)
    stated = None if stated and stated.provenance is Provenance.COMPUTED else stated
    if sheet.kind != "bicycle" or length is None or offset is None or stated is not None:
        return sheet
    straight = math.hypot(float(length.value), float(offset.value))
    figure = Figure(round(straight, 2), Provenance.COMPUTED, length.taken_on)
    return replace(sheet, figures={**sheet.figures, STRAIGHT_FORK: figure})


def _with_instrument(sheet: Sheet) -> Sheet:
    """Return a sheet with what a computer reads over: its setting over what its wheel rolls.

    It counts turns times its setting, so this is exact; a rolled distance counts before pi times
    the diameter.  A figure someone measured stays.
    """
    said, key = sheet.figures.get(INSTRUMENT_SET), "speedometer.reads_over_percent"
    known, end = sheet.figures.get(key), sheet.text("speedometer.wheel")
    if said is None or end not in ENDS:
        return sheet
    if known is not None and known.provenance is not Provenance.COMPUTED:
        return sheet
    rolled = sheet.figures.get(f"{end}.rolled_mm")
    radius = values_of(sheet).get(f"{end}_radius")
    around = float(rolled.value) if rolled else 2 * math.pi * radius if radius else None
    if around is None:
        return sheet
    over = round((float(said.value) / around - 1) * 100, 2)
    figure = Figure(over, Provenance.COMPUTED, said.taken_on)
    return replace(sheet, figures={**sheet.figures, key: figure})


def _stated(sheet: Sheet) -> Sheet:
    """Return the sheet with what someone stated alone."""
    figures = {
        key: figure
        for key, figure in sheet.figures.items()
        if figure.provenance is not Provenance.COMPUTED or figure.measured_in
    }
    return replace(sheet, figures=figures)


def _as_kept(sheet: Sheet, key: str, value: float) -> tuple[str, float]:
    if key != "head":
        return key, value
    return ("head_angle_deg", value) if sheet.kind == "bicycle" else ("rake_deg", 90 - value)


def _given(relation: Relation, values: Values) -> tuple[str, float] | None:
    missing = [key for key in relation.keys if key not in values]
    if len(missing) != 1 or missing[0] not in _GIVEN[relation.id]:
        return None
    value = _solved(relation, values, missing[0], _GUESS.get(missing[0], 400.0))
    return None if value is None else (missing[0], value)


def _solved(relation: Relation, values: Values, key: str, guess: float) -> float | None:
    """Return the value of one figure that makes a relation hold, by Newton's steps."""
    value = guess
    for _ in range(50):
        here = {**values, key: value}
        left, slope = _off(relation, here), _slope(relation, here, key)
        if left is None or not slope:
            return None
        if abs(left) < 1e-9:
            return value if value > 0 or key == "fork.offset_mm" else None
        value -= max(-200.0, min(200.0, left / slope))
    return None


def _slope(relation: Relation, values: Values, key: str) -> float | None:
    high = _off(relation, {**values, key: values[key] + _STEP})
    low = _off(relation, {**values, key: values[key] - _STEP})
    return None if high is None or low is None else (high - low) / (2 * _STEP)


def values_of(sheet: Sheet) -> dict[str, float]:
    """Return the sheet's numbers by key, with the head angle and both radii."""
    values = {
        key: float(figure.value)
        for key, figure in sheet.figures.items()
        if not isinstance(figure.value, str)
    }
    if "head_angle_deg" in values:
        values["head"] = values["head_angle_deg"]
    elif "rake_deg" in values:
        values["head"] = 90.0 - values["rake_deg"]
    for end in ("front", "rear"):
        tire = _tire(sheet, end)
        diameter = values.get(f"{end}.overall_diameter_mm")
        if diameter is None and tire is not None:
            diameter = tire.overall_diameter_mm
        if diameter is not None:
            values[f"{end}_radius"] = diameter / 2
    return values


def _tire(sheet: Sheet, end: str) -> Reading | None:
    code = sheet.text(f"{end}.tire")
    return None if code is None else known_code(code)


def contradictions(sheet: Sheet) -> tuple[Contradiction, ...]:
    """Return every relation the sheet's own figures break, the furthest off first."""
    stated = _stated(sheet)
    values = values_of(stated)
    whole = [relation for relation in RELATIONS if all(key in values for key in relation.keys)]
    found = []
    for relation in whole:
        off, tells = _off(relation, values), _tells(relation, stated, values)
        if off is None or abs(off) > 2 * tells:
            found.append(_blamed(relation, whole, stated, values, off or 0.0, tells))
    return tuple(sorted(found, key=lambda one: -abs(one.off_mm) / max(one.tells_mm, 1e-9)))


def _off(relation: Relation, values: Values) -> float | None:
    """Return what is left of a relation in mm; None where its lengths make no triangle."""
    try:
        return relation.left(values)
    except ValueError:  # the square root's, or the refusal of a stay shorter than its rise
        return None


def _tells(relation: Relation, sheet: Sheet, values: Values) -> float:
    """Return what the tools can tell of a relation, in mm."""
    square = 0.0
    for key in relation.keys:
        slope = _slope(relation, values, key)
        square += ((slope or 0.0) * _worth(sheet, key)) ** 2
    return math.sqrt(square)


def _kept_key(sheet: Sheet, key: str) -> str:
    if key == "head":
        return "head_angle_deg" if sheet.kind == "bicycle" else "rake_deg"
    if key.endswith("_radius"):
        return f"{key.removesuffix('_radius')}.overall_diameter_mm"
    return key


def _worth(sheet: Sheet, key: str) -> float:
    kept = _kept_key(sheet, key)
    figure = sheet.figures.get(kept)
    if figure is None:
        return nominal_worth(_tire(sheet, key.removesuffix("_radius"))) / 2
    result = worth(kept, plus_minus=figure.plus_minus, readings=figure.readings)
    return result / 2 if key.endswith("_radius") else result


def _blamed(
    relation: Relation,
    whole: list[Relation],
    sheet: Sheet,
    values: Values,
    off: float,
    tells: float,
) -> Contradiction:
    """Return the contradiction with the figure whose correction is likeliest."""
    best: tuple[float, str, float] | None = None
    for key in relation.keys:
        value = _solved(relation, values, key, values[key])
        if value is None:
            continue
        figure = sheet.figures.get(_kept_key(sheet, key))
        doubt = _DOUBT[figure.provenance if figure else Provenance.MAKER]
        steps = abs(value - values[key]) / max(_worth(sheet, key), 1e-6)
        after = {**values, key: value}
        score = doubt * math.sqrt(steps) + sum(
            _strain(other, sheet, after) for other in whole if other is not relation
        )
        if best is None or score < best[0]:
            best = (score, key, value)
    _, key, fits = best or (0.0, relation.keys[0], values[relation.keys[0]])
    value = values[key]
    if key.endswith("_radius"):
        value, fits = 2 * value, 2 * fits
    kept = _kept_key(sheet, key)
    if kept == "rake_deg":
        value, fits = 90 - value, 90 - fits
    keys = tuple(_kept_key(sheet, one) for one in relation.keys)
    return Contradiction(relation.id, keys, off, tells, kept, value, fits)


def _strain(relation: Relation, sheet: Sheet, values: Values) -> float:
    """Return how badly a relation fits: the square of what is left, in steps of the tools."""
    left = _off(relation, values)
    return _BROKEN if left is None else (left / max(_tells(relation, sheet, values), 1e-6)) ** 2


def contradiction_in_words(one: Contradiction) -> str:
    """Return a contradiction as one sentence, with the likely wrong figure and what would fit."""
    others = [_label(key) for key in one.keys if key != one.likely]
    unit = FIELD_BY_KEY[one.likely].unit if one.likely in FIELD_BY_KEY else "mm"
    space = "" if unit == "°" else " "
    digits = 1 if unit == "°" else 0
    return (
        f"{_label(one.likely).capitalize()} does not go with {', '.join(others)}: off by "
        f"{mm(abs(one.off_mm)):.0f} where the tools tell {mm(one.tells_mm):.0f}. Likely it is the "
        f"{_label(one.likely)}: {one.value:.{digits}f}{space}{unit} stands there, "
        f"{one.would_fit:.{digits}f}{space}{unit} would fit. Measure it again."
    )


def _label(key: str) -> str:
    known = FIELD_BY_KEY.get(key)
    if key.endswith("overall_diameter_mm"):
        return f"{key.split('.')[0]} wheel diameter"
    return known.label.lower() if known else key
