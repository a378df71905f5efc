"""The entries of the demo's past: looks, jobs, rides, wheels and prices, by days before today.

Invented, and agreeing with itself: tread and odometer go one way, ages are those of the marks.
"""

from datetime import timedelta

from jentrik.core.machine.declared import End

IDA, BO = "Ida", "Bo"

# machine, days ago, km, and of a wheel: left/middle/right mm, signs, cold kPa, week and year
LOOKS: tuple[
    tuple[
        str,
        int,
        float | None,
        End,
        tuple[float, float, float] | None,
        tuple[str, ...],
        float | None,
        str | None,
        str,
    ],
    ...,
] = (
    ("Breakwater twin", 410, 38_120, "rear", (7.0, 7.1, 7.0), (), 220, "1023", IDA),
    ("Breakwater twin", 410, None, "front", (5.2, 5.4, 5.2), (), 190, "4221", IDA),
    ("Breakwater twin", 225, 41_060, "rear", (6.1, 5.4, 6.0), (), 215, "1023", BO),
    ("Breakwater twin", 60, 43_310, "rear", (5.3, 4.2, 5.3), (), 195, "1023", IDA),
    ("Breakwater twin", 60, None, "front", (4.3, 4.4, 4.3), (), 188, "4221", IDA),
    ("Lighthouse single", 300, 11_400, "rear", (9.0, 8.6, 9.0), (), 210, "3322", BO),
    (
        "Lighthouse single",
        90,
        14_900,
        "rear",
        (6.1, 4.9, 6.0),
        ("cut in the rubber only",),
        205,
        "3322",
        BO,
    ),
    ("Parcel runner", 180, 22_700, "rear", (4.2, 3.3, 4.1), (), 235, "0823", IDA),
    ("Parcel runner", 35, 28_900, "rear", (2.9, 1.9, 2.8), ("foreign body",), 210, "0823", BO),
    ("Low Tide cruiser", 200, 17_350, "rear", (5.0, 5.1, 5.0), (), 250, "2617", IDA),
    (
        "Low Tide cruiser",
        20,
        17_900,
        "rear",
        (4.9, 5.0, 4.9),
        ("cracks between the blocks",),
        230,
        "2617",
        IDA,
    ),
    ("Green tourer", 120, 6_420, "rear", None, (), 400, None, BO),
    ("Slipway enduro", 45, None, "rear", (3.6, 2.4, 3.5), (), 160, None, BO),
)
DONE = (  # machine, tag, days ago, for what, front and rear tire fitted
    ("Lighthouse single", 11, 330, "New rear tire", None, "130/80-17 65S"),
    ("Green tourer", 12, 140, "New tires before the tour", "37-622", "37-622"),
    ("Harbour scooter", 14, 75, "Puncture, rear", None, "3.50-10 51J"),
)
PAID = {  # by tag: what was written on the order lists of these
    11: {"price:rear tire 130/80-17 65s": "96.50"},
    12: {
        "price:front tire 37-622": "31.90",
        "price:rear tire 37-622": "31.90",
        "hours:A:wheels exchanged": "0.8",
    },
}
# of the cargo bike with its new rear tire
MEASURED_AFTER = {
    "rear.overall_diameter_mm": 655.0,
    "rear.width_mm": 48.5,
    "bb_height_mm": 291.0,
    "place:Chain stays": 9.5,
}

_ENDURO: dict[str, str | float] = {
    "front.tire": "58-584",
    "rear.tire": "58-584",
    "front.fitted.pressure_kpa": 150.0,
    "suspension.front.sag_mm": 38.0,
    "suspension.rear.sag_mm": 42.0,
}
# of the enduro: set-up, how it is set
SETUPS: dict[str, dict[str, str | float]] = {
    "As it came": {**_ENDURO, "rear.fitted.pressure_kpa": 165.0},
    "Less air": {**_ENDURO, "rear.fitted.pressure_kpa": 145.0},
}
RIDES = (  # setup, days ago, ground, scores, in words
    ("As it came", 52, "firm", (3, 4, 3, 4, 2, 3, 4), "steps out in the roots"),
    ("As it came", 49, "firm", (3, 4, 3, 4, 2, 3, 4), ""),
    ("As it came", 47, "loose", (3, 4, 2, 4, 2, 3, 4), ""),
    ("Less air", 44, "firm", (4, 4, 4, 4, 4, 3, 4), "odd at first, then holds"),
    ("Less air", 41, "firm", (4, 4, 4, 4, 4, 3, 4), ""),
    ("Less air", 38, "firm", (4, 3, 4, 4, 3, 3, 4), "rim felt once on the slip"),
)
# Of the tall single: its second set.
WINTER_WHEELS: dict[End, dict[str, str | float]] = {
    "front": {
        "tire": "90/90-21 54S TT",
        "fitted.make": "Skerry Nail",
        "rim.bead_seat_diameter_mm": 533.0,
        "hub.rotor_mm": 300.0,
        "tone_ring_slots": 48.0,
        "fitted.pressure_kpa": 190.0,
    },
    "rear": {
        "tire": "120/90-17 64S TT",
        "fitted.make": "Skerry Nail",
        "rim.bead_seat_diameter_mm": 432.0,
        "tone_ring_slots": 44.0,
        "fitted.pressure_kpa": 210.0,
    },
}
SMALL_REAR = {"rear": {"tire": "58-559"}, "position": "Small wheel"}
ORDERED_BEFORE = timedelta(days=4)
PHONES = {  # numbers no one has, by owner
    "Ada Fairlead": "555 0142",
    "Fish market": "555 0117",
    "Ole Brandt": "555 0164",
    "Ship chandler": "555 0190",
}
WHOSE = {  # by tag: who does it, and the hour it is promised for
    29: (BO, "11:00"),
    19: (IDA, "09:00"),
    17: (IDA, "16:00"),
    21: (BO, "12:00"),
}
PRICED = {  # by tag: prices and how far a tire goes, as typed in the order list
    17: {
        "price:front tire 47-584": "34.90",
        "price:rear tire 47-584": "34.90",
        "price:front tire 54-584": "39.50",
        "price:rear tire 54-584": "39.50",
        "price:front rim tape": "6.50",
        "price:rear rim tape": "6.50",
        "price:front wheel or rim, bead seat 584 mm": "148.00",
        "price:rear wheel or rim, bead seat 584 mm": "179.00",
        "price:rear sprockets": "42.00",
        "price:front rim, bead seat 584 mm": "54.00",
        "price:rear rim, bead seat 584 mm": "54.00",
        "price:front spokes and nipples": "28.00",
        "price:rear spokes and nipples": "28.00",
        "life:front tire 47-584": "6000",
        "life:rear tire 47-584": "6000",
        "years": "5",
        "swaps-a-year": "2",
        "supplier:front tire 47-584": "Quay wholesale",
        "supplier:rear tire 47-584": "Quay wholesale",
        "supplier:front rim tape": "Quay wholesale",
        "supplier:rear rim tape": "Quay wholesale",
        "supplier:front wheel or rim, bead seat 584 mm": "Breakwater wheels",
        "supplier:rear wheel or rim, bead seat 584 mm": "Breakwater wheels",
        "state:front tire 47-584": "ordered",
        "state:rear tire 47-584": "ordered",
    },
    22: {
        "price:front tire 90/90-19 52h": "92.00",
        "price:rear tire 110/90-18 61h": "108.00",
        "price:front tire 100/90-19 57h tl": "104.00",
        "price:rear tire 120/90-18 65h tl": "121.00",
        "price:front tube": "14.00",
        "price:rear tube": "15.00",
        "life:rear tire 110/90-18 61h": "9000",
    },
}
