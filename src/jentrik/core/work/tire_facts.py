"""What a shop knows of a tire beyond its code: compound, tread, plies, weight, expected life.

Nothing here follows from a make: each is what someone in the shop measured, weighed, read from
the maker's sheet or has seen happen.  Words to choose from are common practice.
"""

from collections.abc import Mapping
from dataclasses import asdict, dataclass
from typing import Any

from jentrik.core.errors import OutOfRange

COMPOUNDS = ("soft", "medium", "hard", "hard middle, soft sides", "winter")
TREADS = ("slick", "fine", "mixed", "blocks", "knobs")
SIDEWALLS = ("supple", "medium", "stiff")
CHOICES = {"compound": COMPOUNDS, "tread": TREADS, "sidewall": SIDEWALLS}
RANGES: dict[str, tuple[float, float, str]] = {
    "void_percent": (0, 80, "%"),
    "plies": (1, 12, "plies"),
    "weight_g": (50, 20_000, "g"),
    "life_km": (100, 200_000, "km"),
}


@dataclass(frozen=True, slots=True)
class TireFacts:
    """What is known of a tire; words are empty and figures None where no one wrote any.

    `void_percent` is the share of the tread that is groove, `life_km` how far one lasts here.
    """

    compound: str = ""
    tread: str = ""
    sidewall: str = ""
    void_percent: float | None = None
    plies: float | None = None
    weight_g: float | None = None
    life_km: float | None = None

    def __post_init__(self) -> None:
        for name, choices in CHOICES.items():
            if getattr(self, name) not in ("", *choices):
                raise OutOfRange(
                    f"“{getattr(self, name)[:40]}” is not one of {', '.join(choices)}.",
                    field=name,
                    expected=", ".join(choices),
                )
        for name, (least, most, unit) in RANGES.items():
            value = getattr(self, name)
            if value is not None and not least <= value <= most:
                raise OutOfRange(
                    f"{value:g} {unit} is outside {least:g} to {most:g}.",
                    field=name,
                    expected=f"{least:g} to {most:g} {unit}",
                )

    def values(self) -> dict[str, Any]:
        """Return what is known, by name."""
        return {name: value for name, value in asdict(self).items() if value not in ("", None)}


def facts_of(values: Mapping[str, Any]) -> TireFacts:
    """Return facts of what is known by name; a name that is no fact is passed over."""
    names = TireFacts.__dataclass_fields__
    return TireFacts(**{name: value for name, value in values.items() if name in names})
