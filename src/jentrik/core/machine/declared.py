"""What is to be known of a figure, said once, with the attribute that holds it.

    lean_deg: Annotated[float, About("Lean on the side stand", (0, 45), gauge="angle")]

Sheet fields, limits, parts of a set-up, guides, gauges and the plan document follow from it; see
`core/machine/figures.py`, which walks the classes of a machine.
"""

from dataclasses import dataclass, replace
from enum import StrEnum
from typing import Annotated, Any, ClassVar, Literal, get_args, get_origin, get_type_hints

from jentrik.core.errors import OutOfRange
from jentrik.core.geometry.frame import within

End = Literal["front", "rear"]
ENDS: tuple[End, End] = ("front", "rear")
Kind = Literal["bicycle", "motorcycle"]
BOTH: tuple[Kind, ...] = ("bicycle", "motorcycle")
BICYCLE: tuple[Kind, ...] = ("bicycle",)
MOTORCYCLE: tuple[Kind, ...] = ("motorcycle",)
Gauged = Literal["angle", "axle load", "short length"]
_UNITS = {"mm": "mm", "deg": "°", "kmh": "km/h", "kpa": "kPa", "kg": "kg", "percent": "%"}


class Part(StrEnum):
    """What two set-ups can differ in, in the order of the bench."""

    WHEEL = "wheel"
    TIRE = "tire"
    INSERT = "insert"
    BRAKE = "brake"
    ROTOR = "rotor"
    GUARD = "mudguard"
    TONE_RING = "tone ring"
    PRESSURE = "pressure"
    FORK = "fork"
    TRAVEL = "fork travel"
    HEADSET = "headset"
    POSITION = "chip or dropout"
    DROPOUT = "dropouts"
    LINK = "link"
    SHOCK = "shock"
    BAR = "bar"
    SEAT = "seat"
    CRANKS = "cranks"
    SPROCKETS = "sprockets"
    SAG = "sag"
    INSTRUMENT = "instrument"


@dataclass(frozen=True, slots=True)
class Guide:
    """How a figure is taken: its turn at the bench, the tool, the way, and the drawing."""

    turn: int
    tool: str
    how: str
    shows: str


@dataclass(frozen=True, slots=True)
class About:
    """What is known of one figure; one without a label is not asked on the sheet.

    `between` is the least and the most a real machine has, generous on purpose, and `counted` the
    word for its unit where its name ends in none.  `key` stands in documents and on the sheet where
    that is not the attribute's name, `set_up_key` on the sheet alone.  `of_frame` marks what is
    measured in a set-up and worked out for every other; `part` is what it belongs to of a set-up.
    An attribute that is said in two ways, or a range, has two of these; `end` limits one to an end,
    and `after` is the key it stands behind on the sheet, where it does not stand in its class's
    order.  What a class says of all its figures is said with the class.
    """

    label: str = ""
    between: tuple[float, float] | None = None
    unlocks: str = ""
    group: str = ""
    unit: str = ""
    counted: str = ""
    kinds: tuple[Kind, ...] = ()
    needed: bool = False
    choices: tuple[str, ...] = ()
    words: bool = False
    key: str = ""
    set_up_key: str = ""
    part: Part | None = None
    of_frame: bool = False
    end: End | None = None
    after: str = ""
    guide: Guide | None = None
    gauge: Gauged | None = None

    @property
    def spoken_unit(self) -> str:
        """The unit a refusal names."""
        return self.counted or ("degrees" if self.unit == "°" else self.unit)


class Declared:
    """A part of a machine whose attributes say what they are; a figure no machine has is refused.

    `path` is where it stands in a document, `{end}` for either end; the rest is said of every
    figure of the class that says nothing else.
    """

    __slots__ = ()
    __dataclass_fields__: ClassVar[dict[str, Any]]
    path: ClassVar[str] = ""
    common: ClassVar[About] = About()

    def __init_subclass__(cls, *, path: str | None = None, **common: Any) -> None:
        if path is not None:  # a class with slots is made twice, the second time without it
            cls.path, cls.common = path, About(**common)

    def __post_init__(self) -> None:
        check_figures(self)


@dataclass(frozen=True, slots=True)
class Attribute:
    """One attribute of a part: its name, type without None, and what is known of it.

    `keys` are its names in a document: two where it may be said in two ways.
    """

    name: str
    type: Any
    about: tuple[About, ...]
    keys: tuple[str, ...]


_attributes: dict[type[Declared], tuple[Attribute, ...]] = {}


def attributes(of: type[Declared]) -> tuple[Attribute, ...]:
    """Return the attributes of a part in order, with what is known of each."""
    if of not in _attributes:
        hints, names = get_type_hints(of, include_extras=True), of.__dataclass_fields__
        _attributes[of] = tuple(_attribute(of, name, hints[name]) for name in names)
    return _attributes[of]


def _attribute(of: type[Declared], name: str, hint: Any) -> Attribute:
    said: tuple[Any, ...] = ()
    if get_origin(hint) is Annotated:
        hint, *rest = get_args(hint)
        said = tuple(one for one in rest if isinstance(one, About))
    known = tuple(_completed(of.common, one, name, hint) for one in said or (About(),))
    kind = without_none(hint)
    keys = dict.fromkeys((name,) if get_origin(kind) is tuple else (one.key for one in known))
    return Attribute(name, kind, known, tuple(keys))


def without_none(hint: Any) -> Any:
    """Return a type without None; a union of several others as it is."""
    rest = [arg for arg in get_args(hint) if arg is not type(None)]
    return rest[0] if type(None) in get_args(hint) and len(rest) == 1 else hint


def _completed(common: About, about: About, name: str, hint: Any) -> About:
    """Return what is known of a figure, with what its class, its name and its type say."""
    key = about.key or name
    ending = key.rpartition("_")[2]
    choices = tuple(choice for choice in _literals(hint) if isinstance(choice, str))
    return replace(
        about,
        key=key,
        unit=about.unit or _UNITS.get(ending, ""),
        unlocks=about.unlocks or common.unlocks,
        group=about.group or common.group,
        kinds=about.kinds or common.kinds or BOTH,
        part=about.part or common.part,
        of_frame=about.of_frame or common.of_frame,
        choices=about.choices or choices,
    )


def _literals(hint: Any) -> tuple[Any, ...]:
    if get_origin(hint) is Literal:
        return get_args(hint)
    return tuple(choice for arg in get_args(hint) for choice in _literals(arg))


_checked: dict[type[Declared], tuple[tuple[str, About], ...]] = {}


def _limits(of: type[Declared]) -> tuple[tuple[str, About], ...]:
    """Return the attributes that hold one figure each, with the first they are known by."""
    if of not in _checked:
        _checked[of] = tuple(
            (attribute.name, attribute.about[0])
            for attribute in attributes(of)
            if attribute.about[0].between is not None and get_origin(attribute.type) is not tuple
        )
    return _checked[of]


def check_figures(part: Declared) -> None:
    """Refuse a figure no machine has, naming its key."""
    for name, about in _limits(type(part)):
        check(about, getattr(part, name))


def check(about: About, figure: float | None, *, field: str = "") -> None:
    """Refuse a figure that is outside what is known of it, naming its key or another field."""
    if figure is not None and about.between is not None:
        least, most = about.between
        within(field or about.key, figure, least=least, most=most, unit=about.spoken_unit)


def about(of: type[Declared], name: str) -> About:
    """Return what is known of an attribute, or of one of its keys."""
    for attribute in attributes(of):
        for known in attribute.about:
            if name in (attribute.name, known.key):
                return known
    raise KeyError(f"{of.__name__}.{name}")


def changed(of: type[Declared], name: str, key: str) -> About:
    """Return what is known of an attribute, as a proposal changes it under another key."""
    return replace(about(of, name), key=key)


def check_attribute(of: type[Declared], name: str, figure: float | None) -> None:
    """Refuse a figure that an attribute of a part cannot have, before there is such a part."""
    check(about(of, name), figure)


def check_range(of: type[Declared], name: str, pair: tuple[float, float] | None) -> None:
    """Refuse a range whose ends no machine has, or that runs backwards."""
    if pair is not None:
        for end in pair:
            check(about(of, name), end, field=name)
        if pair[0] > pair[1]:
            raise OutOfRange(
                f"{pair[0]:g} to {pair[1]:g} runs backwards.",
                field=name,
                expected="the smaller figure first",
            )
