"""The wheels of a plan document: as found, as proposed, as the maker asks for them."""

from typing import Any, TypeVar

from jentrik.core.errors import DocumentError, blamed_on
from jentrik.core.machine import wheel as wheels
from jentrik.core.machine.suspension import ENDS, End
from jentrik.core.tables.speed_symbol import SPEED_KMH
from jentrik.core.tirecode.reading import Reading
from jentrik.core.tirecode.sidewall import known_code
from jentrik.exchange.plan_parts import (
    ApprovedDocument,
    Part,
    RimBrakeDocument,
    RimDocument,
    SpecDocument,
    WheelChangeDocument,
    WheelDocument,
    WheelSpecDocument,
)

T = TypeVar("T")


def _tire(code: str | None) -> Reading | None:
    if code is None:
        return None
    with blamed_on("tire"):
        return known_code(code)


def _rim(document: RimDocument | None) -> wheels.Rim | None:
    if document is None:
        return None
    with blamed_on("rim"):
        return wheels.Rim(**document.model_dump())


def _rim_brake(document: RimBrakeDocument | None) -> wheels.RimBrake | None:
    if document is None:
        return None
    with blamed_on("rim_brake"):
        return wheels.RimBrake(document.pad_reach_mm, _pair(document.slot_mm), document.mount)


def _pair(figures: list[float] | None) -> tuple[float, float] | None:
    return None if figures is None else (figures[0], figures[1])


def wheel(document: WheelDocument) -> wheels.Wheel:
    """Return a wheel as found."""
    return wheels.Wheel(
        tire=_tire(document.tire),
        overall_diameter_mm=document.overall_diameter_mm,
        rim=_rim(document.rim),
        rim_brake=_rim_brake(document.rim_brake),
        rolled_mm=document.rolled_mm,
        tone_ring_slots=document.tone_ring_slots,
        fitted=part_of("fitted", document.fitted, wheels.NEW_TIRE),
        hub=part_of("hub", document.hub, wheels.NO_HUB),
        axle_load_kg=document.axle_load_kg,
    )


def wheel_change(document: WheelChangeDocument | None) -> wheels.WheelChange:
    """Return what a proposal says of a wheel."""
    if document is None:
        return wheels.WheelChange()
    return wheels.WheelChange(
        tire=_tire(document.tire),
        overall_diameter_mm=document.overall_diameter_mm,
        rim=_rim(document.rim),
        tone_ring_slots=document.tone_ring_slots,
        fitted=part_of("fitted", document.fitted, wheels.NEW_TIRE),
        hub=part_of("hub", document.hub, wheels.NO_HUB),
        sensor=part_of("sensor", document.sensor, wheels.NO_SENSOR),
    )


def part_of(name: str, document: Part | None, empty: T) -> T:
    """Return a part of plain figures; refusals name it, and one not there says nothing."""
    if document is None:
        return empty
    with blamed_on(name):
        return type(empty)(**document.model_dump())


def _spec(document: WheelSpecDocument | None) -> wheels.WheelSpec:
    if document is None:
        return wheels.WheelSpec()
    tire = _tire(document.tire)
    symbol = document.speed_symbol
    if symbol is not None and symbol not in SPEED_KMH and symbol != "ZR":
        raise DocumentError(
            f"“{symbol[:20]}” is not a speed symbol.",
            field="speed_symbol",
            expected="a letter like H, or ZR",
        )
    return wheels.WheelSpec(
        tire=tire,
        load_index=_first(document.load_index, tire and tire.load_index),
        speed_symbol=_first(symbol, tire and tire.speed_symbol),
        construction=_first(document.construction, tire and tire.construction),
        rim_width_mm=_pair(document.rim_width_mm),
        make=document.make,
        pressure_kpa=document.pressure_kpa,
        most_load_kg=document.most_load_kg,
        rotor_most_mm=document.rotor_most_mm,
    )


def approved(document: ApprovedDocument) -> wheels.ApprovedPair:
    """Return a pair on the maker's sheet; refuses one without both tires."""
    specs = {}
    for end in ENDS:
        with blamed_on(end):
            specs[end] = _spec(getattr(document, end))
            if specs[end].tire is None:
                raise DocumentError(
                    "A pair on the maker's sheet names both tires.",
                    field="tire",
                    expected="a tire code",
                )
    return wheels.ApprovedPair(document.name, specs["front"], specs["rear"], document.position)


def _first(stated: T | None, otherwise: Any) -> T | None:
    return otherwise if stated is None else stated


def specs(document: SpecDocument | None) -> dict[End, wheels.WheelSpec]:
    """Return what the maker asks of both wheels."""
    specs: dict[End, wheels.WheelSpec] = {}
    for end in ENDS:
        with blamed_on(f"spec.{end}"):
            specs[end] = _spec(getattr(document, end) if document else None)
    return specs
