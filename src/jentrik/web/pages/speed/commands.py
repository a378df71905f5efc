"""Pairs of true and shown speed: typed, read by tools, out of a track, and onto the sheet."""

from pydantic import Field

from jentrik.core.amounts import kmh
from jentrik.core.errors import OutOfRange
from jentrik.core.figures import calibration
from jentrik.core.figures.speed import shown_kmh
from jentrik.core.figures.track import Aligned, TrackPaces, aligned, paces_of
from jentrik.core.machine.catalogue import check_key
from jentrik.core.machine.fields import missing_of
from jentrik.core.machine.figure import Figure, Provenance
from jentrik.core.machine.machine_of import machine_of
from jentrik.devices.port import GaugeQuantity, Place
from jentrik.exchange.gpx_track import ShownSpeeds, read_shown, read_track
from jentrik.store import machines, speeds
from jentrik.web.live.command import Command, Kmh
from jentrik.web.parts.gauging import take
from jentrik.web.shop import Shop

SLOWEST_KMH, FASTEST_KMH = 3.0, 400.0
STEADY_KMH = (50.0, 90.0, 30.0, 70.0, 110.0)


class SpeedPair(Command):
    """A true speed and what the instrument showed, km/h."""

    true_kmh: Kmh = Field(examples=[48.2])
    shown_kmh: Kmh = Field(examples=[50])

    def carry_out(self, shop: Shop, machine_id: int) -> None:
        """Keep the pair."""
        for name, speed in (("true_kmh", self.true_kmh), ("shown_kmh", self.shown_kmh)):
            if not SLOWEST_KMH <= speed <= FASTEST_KMH:
                raise OutOfRange(
                    f"{kmh(speed)} is outside {kmh(SLOWEST_KMH)} to {kmh(FASTEST_KMH)}.",
                    field=name,
                    expected="a speed in km/h",
                )
        keep_pairs(shop, machine_id, (calibration.SpeedPair(self.true_kmh, self.shown_kmh),))


class PairsDropped(Command):
    """Which pair is taken away; without one all of them."""

    pair: int | None = None

    def carry_out(self, shop: Shop, machine_id: int) -> None:
        """Take one pair away, or all; undo brings them back."""
        with shop.step(
            "speed pairs taken off", f"machine {machine_id} pair", machine_id=machine_id
        ) as step:
            speeds.drop_pairs(step, machine_id, self.pair)


class Tracked(Command):
    """A track as GPX, and the speeds shown beside it as text."""

    gpx: str
    shown: str = Field(examples=["10:00:05 50\n10:01:00 52"])

    def carry_out(self, shop: Shop, machine_id: int) -> None:
        """Keep the pairs of a track, all or nothing."""
        shown = read_shown(self.shown, unit=shop.units.speed)
        pairs_of_track(shop, machine_id, self.gpx.encode(), shown)


def pairs_of_track(
    shop: Shop, machine_id: int, track: bytes, shown: ShownSpeeds
) -> tuple[TrackPaces, Aligned]:
    """Keep the pairs a track and the speeds shown beside it give; return how they were found."""
    paces = paces_of(read_track(track))
    found = aligned(paces.paces, shown.speeds, own_clock=shown.own_clock)
    keep_pairs(shop, machine_id, found.pairs)
    return paces, found


def read_pair(shop: Shop, machine_id: int) -> None:
    """Keep a pair from logger and instrument reader, at a steady speed no one has ridden yet."""
    sheet = machines.sheet(machine_id)
    meter = machine_of(sheet).speedometer if not missing_of(sheet) else None
    ridden = [kept.pair.true_kmh for kept in speeds.pairs(sheet.id)]
    steady = next(
        (speed for speed in STEADY_KMH if all(abs(speed - known) > 5 for known in ridden)),
        STEADY_KMH[0],
    )
    shown = shown_kmh(steady, meter, counted_ratio=1.0)
    (true,) = take(shop, GaugeQuantity.TRUE_SPEED, Place(sheet.id, "true speed", steady))
    there = Place(sheet.id, "shown speed", None if shown is None else float(shown))
    (read,) = take(shop, GaugeQuantity.SHOWN_SPEED, there)
    pair = calibration.SpeedPair(true.value, read.value)
    keep_pairs(shop, machine_id, (pair,), simulated=true.simulated or read.simulated)


def keep_pairs(
    shop: Shop,
    machine_id: int,
    pairs: tuple[calibration.SpeedPair, ...],
    *,
    simulated: bool = False,
) -> None:
    """Keep pairs of a machine, all or nothing."""
    sheet = machines.sheet(machine_id)
    label = f"{len(pairs)} speed pair{'s' if len(pairs) > 1 else ''}"
    with shop.step(label, f"machine {sheet.id} speed", machine_id=sheet.id) as step:
        speeds.add_pairs(step, sheet.id, pairs, on=shop.today, simulated=simulated)


def put_line_on_sheet(shop: Shop, machine_id: int) -> None:
    """Put the line through the pairs onto the sheet, measured."""
    with shop.step(
        "speed reading from pairs", f"machine {machine_id} speed line", machine_id=machine_id
    ) as step:
        sheet = machines.sheet(machine_id)
        kept_pairs = speeds.pairs(sheet.id)
        line = calibration.calibrate([kept.pair for kept in kept_pairs])
        simulated = any(kept.simulated for kept in kept_pairs)
        source = Provenance.SIMULATED if simulated else Provenance.MEASURED
        figures = {
            "speedometer.reads_over_percent": round(line.reads_over_percent, 2),
            "speedometer.offset_kmh": round(line.offset_kmh, 2),
            "speedometer.within_kmh": round(line.plus_minus_kmh(line.mean_kmh), 2),
            "speedometer.within_at_kmh": round(line.mean_kmh, 1),
            "speedometer.within_percent": round(line.slope_error_percent, 2),
        }
        for key, value in figures.items():
            check_key(key, value)
            machines.set_figure(step, sheet.id, key, Figure(value, source, shop.today))
