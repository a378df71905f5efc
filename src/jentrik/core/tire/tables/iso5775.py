"""Bead seat diameters of bicycle rims in mm, and the names they go by.

Sources: ISO 5775-1 and -2 for the diameters and the fractional names; the decimal names are
today's usage.  A name that several rims share lists the commonest first.
"""

from jentrik.core.sources import ISO_5775_1, ISO_5775_2

SOURCE = ISO_5775_2.at("rim designations, with 86 to 152, 686 and 787 as the market has them")
NAMES_SOURCE = ISO_5775_1.at("annex, former designations")

BEAD_SEATS_MM = (
    86,
    94,
    137,
    152,
    203,
    239,
    254,
    279,
    288,
    298,
    305,
    317,
    330,
    335,
    337,
    340,
    349,
    355,
    357,
    369,
    387,
    390,
    400,
    406,
    419,
    428,
    432,
    438,
    440,
    451,
    457,
    484,
    489,
    490,
    498,
    501,
    507,
    520,
    531,
    540,
    541,
    547,
    559,
    565,
    571,
    584,
    587,
    590,
    597,
    599,
    622,
    630,
    635,
    642,
    686,
    787,
)
BEAD_SEAT_NAMES = {str(bead_seat): bead_seat for bead_seat in BEAD_SEATS_MM}

# Decimal inch marks, 26 x 1.75: the width has a point.
DECIMAL_INCH_MM = {
    "36": 787,
    "32": 686,
    "29": 622,
    "28": 622,
    "27.5": 584,
    "26": 559,
    "24": 507,
    "22": 457,
    "20": 406,
    "18": 355,
    "16": 305,
    "14": 254,
    "12.5": 203,
    "12 1/2": 203,
    "12": 203,
    "10": 152,
    "8": 94,
}

# Fractional inch marks, 26 x 1 3/8: (diameter, width) -> bead seats, commonest first.
FRACTIONAL_INCH_MM = {
    ("28", "1 1/2"): (635,),
    ("28", "1 3/8"): (642,),
    ("27", "1 1/4"): (630,),
    ("27", "1 1/8"): (630,),
    ("27", "1"): (630,),
    ("26", "1 3/8"): (590, 597),
    ("26", "1 1/4"): (597, 599),
    ("26", "1 1/2"): (584,),
    ("26", "1 3/4"): (571,),
    ("26", "1"): (571,),
    ("24", "1 3/8"): (540, 547),
    ("24", "1 1/4"): (547,),
    ("24", "1 1/8"): (520, 540),
    ("24", "1"): (520, 540),
    ("22", "1 3/8"): (501, 489, 498),
    ("20", "1 3/8"): (451, 438, 440),
    ("20", "1 3/4"): (419,),
    ("20", "1 1/8"): (451,),
    ("20", "1 1/4"): (451, 438),
    ("18", "1 3/8"): (400, 390, 387),
    ("17", "1 1/4"): (369,),
    ("16", "1 3/8"): (349, 340, 337, 335),
    ("16", "1 1/4"): (349,),
    ("16", "1 3/4"): (317,),
    ("14", "1 3/8"): (298, 288),
    ("12 1/2", "2 1/4"): (203,),
    ("8", "1 1/4"): (137,),
    ("6", "1 1/4"): (86,),
}

# Shops write the eighths of an inch with a point: 26 x 1.375 is 26 x 1 3/8.
DECIMAL_EIGHTHS = {".125": "1/8", ".375": "3/8", ".625": "5/8", ".875": "7/8"}
DECIMAL_QUARTERS = {".25": "1/4", ".5": "1/2", ".75": "3/4"}  # where no decimal series has the name

# Marks with two fractions, either way round; the tire's width is the smaller one.
TWO_FRACTION_INCH_MM = {
    **{
        ("28", frozenset({"1 5/8", width})): (622,)
        for width in ("1 1/8", "1 1/4", "1 3/8", "1 3/4")
    },
    ("16", frozenset({"1 3/8", "1 5/8"})): (340,),
    ("14", frozenset({"1 3/8", "1 5/8"})): (288,),
}

# Wheels of chairs and children's vehicles, width in mm: (diameter, width) -> bead seat.
SMALL_WHEELS_MM = {("200", "50"): 94}

FRENCH_MM = {
    "700A": 642,
    "700B": 635,
    "700C": 622,
    "700D": 587,
    "650A": 590,
    "650B": 584,
    "650C": 571,
    "600A": 541,
    "550A": 490,
    "500A": 440,
    "450A": 390,
    "400A": 340,
    "350A": 288,
}
FRENCH_COMMONEST = {
    "700": "C",
    "650": "B",
    "600": "A",
    "550": "A",
    "500": "A",
    "450": "A",
    "400": "A",
    "350": "A",
}

SMALLEST_WIDTH_MM, LARGEST_WIDTH_MM = 12.0, 140.0
SMALLEST_WIDTH_INCH, LARGEST_WIDTH_INCH = 0.6, 5.6
