"""A machine made of plain values nested by their keys, as a sheet and a plan document hold them.

A part's keys are the names of its attributes, so a figure that is new on a part needs no line
here.  Refusals name the key with its whole path.  What stands in a document has been checked for
its shape at the door; a figure that is no number is refused here too.
"""

from collections.abc import Mapping, Sequence
from typing import Any, TypeVar

from jentrik.core.amounts import mm
from jentrik.core.errors import DocumentError, OutOfRange, blamed_on
from jentrik.core.machine.build import Build
from jentrik.core.machine.declared import ENDS, Declared, End, attributes, check_attribute
from jentrik.core.machine.gearing import UNGEARED, Gearing
from jentrik.core.machine.machine import (
    NO_SIDECAR,
    WEIGHTLESS,
    Bike,
    CenterStand,
    Clearance,
    Cranks,
    Design,
    Fork,
    Frame,
    MakersSheet,
    Mass,
    NamedPoint,
    Riding,
    Sidecar,
    SideStand,
    Speedometer,
    length_along_axis,
)
from jentrik.core.machine.point_role import PointRole, role_named
from jentrik.core.machine.room_line import RoomLine
from jentrik.core.machine.suspension import RIGID, Pivot, Position, Shock, State, Suspension
from jentrik.core.machine.suspension import Travel as EndTravel
from jentrik.core.machine.wheel import (
    NEW_TIRE,
    NO_HUB,
    NO_SENSOR,
    ApprovedPair,
    Fitted,
    Hub,
    Rim,
    RimBrake,
    Sensor,
    Wheel,
    WheelChange,
    WheelSpec,
)
from jentrik.core.tire.reading import Reading
from jentrik.core.tire.sidewall import known_code
from jentrik.core.tire.tables.speed_symbol import SPEED_KMH

Values = Mapping[str, Any]
D = TypeVar("D", bound=Declared)
_SAME_LENGTH_MM = 0.5


def bike_of(values: Values) -> Bike:
    """Return the machine of plain values; refuses what no machine has, naming the key."""
    if not str(values["name"]).strip():
        raise DocumentError("The name is blank.", field="name", expected="a name")
    for name in ("points", "clearances", "positions", "approved"):
        unique([line["name"] for line in values.get(name, ())], name)
    wheels = {}
    for end in ENDS:
        with blamed_on(end):
            wheels[end] = wheel_of(values.get(end) or {})
    return Bike(
        name=values["name"],
        kind=values["kind"],
        vehicle_class=values.get("class") or values["kind"],
        frame=_frame(values),
        fork=_fork(values),
        front=wheels["front"],
        rear=wheels["rear"],
        suspension=_suspension(values.get("suspension")),
        cranks=_filled(Cranks, values),
        gearing=_gearing(values.get("gearing")),
        mass=_part(values, "mass", Mass, WEIGHTLESS),
        riding=_filled(Riding, values),
        build=_filled(Build, values),
        sidecar=_part(values, "sidecar", Sidecar, NO_SIDECAR),
        side_stand=_part(values, "side_stand", SideStand, None),
        center_stand=_center_stand(values),
        speedometer=_part(values, "speedometer", Speedometer, None),
        clearances=_each(values, "clearances", Clearance),
        room=_each(values, "room", RoomLine),
        maker=MakersSheet(
            _specs(values.get("spec") or {}),
            tuple(_approved(values.get("approved", ()))),
            _design(values.get("design") or {}),
        ),
    )


def _frame(values: Values) -> Frame:
    given = {
        **values,
        "head_angle_deg": _head_angle(values),
        "points": _points(values),
        "positions": _each(values, "positions", Position),
    }
    return _filled(Frame, given)


def _fork(values: Values) -> Fork:
    fork = values.get("fork") or {}
    with blamed_on("fork"):
        _must_be_numbers(Fork, fork)
    length = _fork_length(fork)
    with blamed_on("fork"):
        return _filled(Fork, {**fork, "length_mm": length})


def wheel_of(values: Values) -> Wheel:
    """Return a wheel as found."""
    return _filled(Wheel, {**values, **_of_any_wheel(values)})


def wheel_change_of(values: Values) -> WheelChange:
    """Return what a proposal says of a wheel."""
    sensor = _part(values, "sensor", Sensor, NO_SENSOR)
    return _filled(WheelChange, {**values, **_of_any_wheel(values), "sensor": sensor})


def _of_any_wheel(values: Values) -> dict[str, Any]:
    return {
        "tire": _tire(values.get("tire")),
        "rim": _part(values, "rim", Rim, None),
        "fitted": _part(values, "fitted", Fitted, NEW_TIRE),
        "hub": _part(values, "hub", Hub, NO_HUB),
        "rim_brake": _rim_brake(values.get("rim_brake")),
    }


def _tire(code: str | None) -> Reading | None:
    if code is None:
        return None
    with blamed_on("tire"):
        return known_code(code)


def _part(values: Values, name: str, of: type[D], empty: D | None) -> Any:
    """Return a part of plain figures; refusals name it, and one not there is the empty one."""
    said = values.get(name)
    if said is None:
        return empty
    with blamed_on(name):
        return _filled(of, said)


def _filled(of: type[D], values: Values) -> D:
    _must_be_numbers(of, values)
    names = _names(of)
    return of(**{names[key]: value for key, value in values.items() if key in names})


def _names(of: type[Declared]) -> dict[str, str]:
    """Return the names of a part's attributes by their keys."""
    return {attribute.keys[0]: attribute.name for attribute in attributes(of)}


def _numbers(of: type[Declared]) -> frozenset[str]:
    """Return the keys of a part that are figures."""
    return frozenset(
        key for attribute in attributes(of) if attribute.type is float for key in attribute.keys
    )


def _must_be_numbers(of: type[Declared], values: Values) -> None:
    numbers = _numbers(of)
    for name, value in values.items():
        if name in numbers and isinstance(value, str):
            raise DocumentError(
                f"“{name}” must be a number.", field=name, expected="a number without quotes"
            )


def _rim_brake(values: Values | None) -> RimBrake | None:
    if values is None:
        return None
    with blamed_on("rim_brake"):
        return _filled(RimBrake, {**values, "slot_mm": _pair(values.get("slot_mm"))})


def _pair(figures: Sequence[float] | None) -> tuple[float, float] | None:
    return None if figures is None else (figures[0], figures[1])


def _each(values: Values, name: str, of: type[D]) -> tuple[D, ...]:
    """Return a list of parts; refusals name the place in it."""
    built = []
    for place, line in enumerate(values.get(name, ())):
        with blamed_on(f"{name}[{place}]"):
            built.append(_filled(of, line))
    return tuple(built)


def _points(values: Values) -> tuple[NamedPoint, ...]:
    """Return the named points; one that says no role has the one its name says."""
    lines = [
        {**line, "role": PointRole(line.get("role") or role_named(line["name"]))}
        for line in values.get("points", ())
    ]
    return _each({"points": lines}, "points", NamedPoint)


def unique(names: Sequence[str], path: str) -> None:
    """Refuse blank names and names used twice in one list."""
    seen: set[str] = set()
    for place, name in enumerate(names):
        field = f"{path}[{place}].name"
        if not name.strip():
            raise DocumentError("The name is blank.", field=field, expected="a name")
        if name.strip() in seen:
            raise DocumentError(
                f"The name “{name}” is used twice.", field=field, expected="names that differ"
            )
        seen.add(name.strip())


def _head_angle(values: Values) -> float:
    head, rake = values.get("head_angle_deg"), values.get("rake_deg")
    if head is None and rake is None:
        raise DocumentError(
            "“head_angle_deg” is missing; a motorcycle may give “rake_deg” instead.",
            field="head_angle_deg",
            expected="a head angle or a rake",
        )
    if head is None:
        assert rake is not None
        check_attribute(Frame, "rake_deg", rake)
        return 90.0 - float(rake)
    if rake is not None and not abs(90.0 - rake - head) <= 1e-6:
        raise OutOfRange(
            f"A head angle of {head:g}° is a rake of {90 - head:g}°, not {rake:g}°.",
            field="rake_deg",
            expected="head angle and rake that add up to 90°",
        )
    return float(head)


def _fork_length(fork: Values) -> float:
    """Return the length along the axis; one given straight is the longer side of a triangle."""
    straight, length, offset = (
        fork.get(name) for name in ("axle_to_crown_mm", "length_mm", "offset_mm")
    )
    assert offset is not None
    if straight is None:
        if length is None:
            raise DocumentError(
                "“fork.length_mm” is missing; “fork.axle_to_crown_mm” may stand in its place.",
                field="fork.length_mm",
                expected="a length in mm",
            )
        return float(length)
    along = length_along_axis(axle_to_crown_mm=straight, offset_mm=offset)
    if length is not None and abs(length - along) > _SAME_LENGTH_MM:
        raise OutOfRange(
            f"A fork of {mm(straight):g} axle to crown is {mm(along):.1f} along the axis, not "
            f"{mm(length):g}.",
            field="fork.axle_to_crown_mm",
            expected="one of the two lengths, or both alike",
        )
    return along


def _center_stand(values: Values) -> CenterStand | None:
    said = values.get("center_stand")
    if said is None:
        return None
    with blamed_on("center_stand"):
        return _filled(CenterStand, {"lifts": "rear", **said})


def _suspension(values: Values | None) -> Suspension:
    if values is None:
        return RIGID
    front, rear = values.get("front") or {}, values.get("rear") or {}
    with blamed_on("suspension.front"):
        front_travel = _filled(EndTravel, front)
    with blamed_on("suspension.rear"):
        rear_travel = _filled(EndTravel, rear)
        shock = _filled(Shock, rear)
        whole = rear.get("pivot_x_mm") is not None and rear.get("pivot_height_mm") is not None
        pivot = _filled(Pivot, rear) if whole else None
        measured = State(values.get("measured") or State.UNLADEN)
        return Suspension(front_travel, rear_travel, measured, shock, pivot)


def _design(values: Values) -> Design:
    """Return the machine as its maker states it; a rake is given as the head angle it is."""
    figures, rake = dict(values), values.get("rake_deg")
    if rake is not None and figures.get("head_angle_deg") is None:
        figures["head_angle_deg"] = 90.0 - rake
    with blamed_on("design"):
        return _filled(Design, figures)


def _gearing(values: Values | None) -> Gearing:
    if values is None:
        return UNGEARED
    rows = {name: tuple(values.get(name) or ()) for name in ("chainrings", "sprockets")}
    rows["gear_ratios"] = tuple(values.get("gear_ratios") or ())
    with blamed_on("gearing"):
        return _filled(Gearing, {**values, **rows})


def _specs(values: Values) -> dict[End, WheelSpec]:
    """Return what the maker asks of both wheels."""
    specs: dict[End, WheelSpec] = {}
    for end in ENDS:
        with blamed_on(f"spec.{end}"):
            specs[end] = _spec(values.get(end) or {})
    return specs


def _spec(values: Values) -> WheelSpec:
    tire = _tire(values.get("tire"))
    symbol = values.get("speed_symbol")
    if symbol is not None and symbol not in SPEED_KMH and symbol != "ZR":
        raise DocumentError(
            f"“{symbol[:20]}” is not a speed symbol.",
            field="speed_symbol",
            expected="a letter like H, or ZR",
        )
    of_tire = {
        name: getattr(tire, name) if tire and values.get(name) is None else values.get(name)
        for name in ("load_index", "speed_symbol", "construction")
    }
    rim = _pair(values.get("rim_width_mm"))
    return _filled(WheelSpec, {**values, **of_tire, "tire": tire, "rim_width_mm": rim})


def _approved(lines: Sequence[Values]) -> list[ApprovedPair]:
    """Return the pairs on the maker's sheet; refuses one without both tires."""
    pairs = []
    for place, line in enumerate(lines):
        specs: dict[End, WheelSpec] = {}
        for end in ENDS:
            with blamed_on(f"approved[{place}].{end}"):
                specs[end] = _spec(line[end])
                if specs[end].tire is None:
                    raise DocumentError(
                        "A pair on the maker's sheet names both tires.",
                        field="tire",
                        expected="a tire code",
                    )
        pairs.append(
            ApprovedPair(line["name"], specs["front"], specs["rear"], line.get("position"))
        )
    return pairs
