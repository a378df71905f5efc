"""Rim marks: profile letters and old width codes.

Sources: ISO 5775-2 for bicycle rims, ISO 4249-3 for motorcycle profiles.  All from memory.
"""

from jentrik.core.sources import ISO_4249_3, ISO_5775_2

BICYCLE_SOURCE = ISO_5775_2.at("rim designations and profiles")
MOTORCYCLE_SOURCE = ISO_4249_3.at("rim profiles")

# Old width code of spoked motorcycle rims -> inches between the bead seats.
WM_INCHES = {
    "WM0": 1.50,
    "WM1": 1.60,
    "WM2": 1.85,
    "WM3": 2.15,
    "WM4": 2.50,
    "WM5": 2.75,
    "WM6": 3.00,
}

# Profile letters of motorcycle rims -> what they mean, and whether they are made to hold air.
MOTORCYCLE_PROFILES: dict[str, tuple[str, bool | None]] = {
    "MT": ("drop-center profile with safety humps: made for tubeless tires", True),
    "J": ("drop-center profile without humps", None),
    "WM": ("old drop-center profile of spoked rims: with a tube", False),
}
