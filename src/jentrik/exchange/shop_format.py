"""What a shop's document holds: every list, its columns, and what each may be.

    {"format": "jentrik-shop", "version": 1, "exported_at": …, "shop": …, "machines": [ … ], … }

A line of a list is an object with an `id` of its own, `<shop>-<number>`, that no other line of
that list has anywhere; lines refer to one another by it.  Lists stand in the order in which they
can be read: what is referred to comes first, but for `machines.setup`.  The journal of keystrokes
that undo needs stays with the shop and its backup.  Keys end in their unit; an unknown value
is null.
"""

from dataclasses import dataclass
from typing import Any, Literal

from jentrik.core.machine.figure import Provenance
from jentrik.core.machine.point_role import PointRole
from jentrik.core.machine.sheet import DrawnAs
from jentrik.core.work.inspection import Look

FORMAT, VERSION = "jentrik-shop", 1
Plain = Literal["text", "day", "moment", "whole", "figure", "yes", "figures", "words", "object"]
Kind = Plain | Literal["ref", "tire", "value", "parts", "takes"]  # the others speak of other lines
Group = Literal["machines", "jobs", "wheels", "log", "policies", "templates"]
GROUPS: tuple[Group, ...] = ("machines", "jobs", "wheels", "log", "policies", "templates")
ENDS = ("front", "rear")


@dataclass(frozen=True, slots=True)
class Column:
    """A key of a line: what it holds, whether it may be null, and what it is kept under."""

    name: str
    kind: Kind = "text"
    optional: bool = False
    to: str = ""  # the list a reference points into
    among: tuple[str, ...] = ()
    column: str = ""
    absent: Any = None  # of a key that came later: what stands for it in documents from before
    later: bool = False

    @property
    def kept(self) -> str:
        """The column of the table it is kept in."""
        return self.column or (f"{self.name}_id" if self.kind == "ref" else self.name)


@dataclass(frozen=True, slots=True)
class Listing:
    """A list of the document: the table it is kept in, its columns, and whose lines they are.

    `key` names the columns that a line is known by in any shop; `sealed` lines are never changed.
    """

    name: str
    table: str
    group: Group
    of: Literal["machine", "job", "card", "ride", "shop"]
    columns: tuple[Column, ...]
    key: tuple[str, ...] = ()
    sealed: bool = False


def _texts(*names: str) -> tuple[Column, ...]:
    return tuple(Column(name) for name in names)


def _later(kind: Kind, absent: Any, *names: str) -> tuple[Column, ...]:
    return tuple(Column(name, kind, absent is None, absent=absent, later=True) for name in names)


def _maybe(*names: str, kind: Kind = "text") -> tuple[Column, ...]:
    return tuple(Column(name, kind, optional=True) for name in names)


_MACHINE = Column("machine", "ref", to="machines")
_JOB = Column("job", "ref", to="jobs")
_JOB_IF_ANY = Column("job", "ref", to="jobs", optional=True)
_RESERVED_FOR = Column("reserved_for", "ref", optional=True, to="jobs", column="job_id", later=True)
_SETUP_IF_ANY = Column("setup", "ref", to="setups", optional=True)
_TAKEN = (Column("provenance", among=tuple(Provenance)), Column("taken_on", "day"))
_KINDS = ("bicycle", "motorcycle")

LISTS: tuple[Listing, ...] = (
    Listing(
        "machines",
        "machine",
        "machines",
        "shop",
        (
            *_texts("name", "owner", "phone", "note", "photo"),
            Column("drawn_as", among=tuple(DrawnAs)),
            Column("kind", among=_KINDS),
            Column("created_at", "moment"),
            Column("binned_at", "moment", optional=True),
            Column("stands_since", "day", optional=True),
            Column("setup", "ref", to="setups", optional=True, column="setup_id"),
            *_later("text", "", "external_id"),
        ),
    ),
    Listing(
        "jobs",
        "job",
        "jobs",
        "machine",
        (
            _MACHINE,
            Column("tag", "whole"),
            Column("wanted"),
            Column("due_on", "day", optional=True),
            Column("created_at", "moment"),
            *_maybe("closed_at", "binned_at", kind="moment"),
            *_later("text", "", "promised_time", "whose", "external_id"),
            Column("rung_at", "moment", optional=True, later=True),
        ),
    ),
    Listing(
        "setups",
        "setup",
        "machines",
        "machine",
        (
            _MACHINE,
            _JOB_IF_ANY,
            Column("name"),
            Column("since_on", "day"),
            *_maybe("until_on", "sealed_on", kind="day"),
            Column("reconstructed", "yes"),
        ),
    ),
    Listing(
        "wheels",
        "wheel",
        "wheels",
        "machine",
        (
            Column("machine", "ref", to="machines", optional=True),
            Column("name"),
            Column("kept", among=("machine", "owner", "shelf")),
            Column("wheel", among=ENDS),
            Column("parts", "parts"),
            Column("added_on", "day"),
            Column("binned_at", "moment", optional=True),
            *_later("text", "", "place", "price", "photo"),
            _RESERVED_FOR,
        ),
    ),
    Listing(
        "wheel_sets",
        "wheel_set",
        "wheels",
        "machine",
        (
            _MACHINE,
            Column("name"),
            *(Column(f"{end}_wheel", "ref", to="wheels", optional=True) for end in ENDS),
        ),
    ),
    Listing(
        "measurements",
        "measurement",
        "machines",
        "machine",
        (
            _MACHINE,
            Column("setup", "ref", to="setups"),
            Column("key"),
            Column("value", "value"),
            *_TAKEN,
            Column("plus_minus", "figure", optional=True),
            Column("readings", "figures"),
        ),
    ),
    Listing(
        "clearances",
        "place",
        "machines",
        "machine",
        (
            _MACHINE,
            _SETUP_IF_ANY,
            Column("name"),
            Column("wheel", among=ENDS),
            Column("direction", among=("radial", "side")),
            Column("on", among=("frame", "fork"), column="part"),
            Column("gap_mm", "figure"),
            *_maybe("minimum_mm", "bearing_deg", "from_axle_mm", kind="figure"),
            Column("moves_with", optional=True, among=("wheel", "body")),
            *_TAKEN,
        ),
    ),
    Listing(
        "points",
        "point",
        "machines",
        "machine",
        (
            _MACHINE,
            _SETUP_IF_ANY,
            Column("name"),
            Column("role", among=tuple(PointRole)),
            Column("x_mm", "figure"),
            Column("height_mm", "figure"),
            Column("out_mm", "figure", optional=True),
            *_TAKEN,
        ),
    ),
    Listing(
        "positions",
        "position",
        "machines",
        "machine",
        (
            _MACHINE,
            _SETUP_IF_ANY,
            Column("name"),
            Column("x_mm", "figure"),
            Column("y_mm", "figure"),
            Column("bead_seat_diameter_mm", "figure", optional=True),
            *_TAKEN,
        ),
    ),
    Listing(
        "room",
        "room_line",
        "machines",
        "machine",
        (
            _MACHINE,
            Column("setup", "ref", to="setups"),
            Column("name"),
            Column("wheel", among=ENDS),
            Column("on", among=("frame", "fork"), column="part"),
            Column("from_axle_mm", "figure"),
            *_maybe("inside_mm", "minimum_mm", kind="figure"),
            *_TAKEN,
        ),
    ),
    Listing(
        "approved_pairs",
        "approved_pair",
        "machines",
        "machine",
        (
            _MACHINE,
            *_texts("name", "front_tire", "rear_tire"),
            *_maybe("front_rim_mm", "rear_rim_mm", "front_make", "rear_make", "position"),
            *_TAKEN,
        ),
    ),
    Listing(
        "proposals",
        "proposal",
        "jobs",
        "job",
        (_JOB, Column("name"), Column("changes", "object"), Column("takes", "takes")),
    ),
    Listing(
        "cards",
        "card",
        "jobs",
        "job",
        (_JOB, *_texts("proposal", "template"), Column("made_at", "moment")),
    ),
    Listing(
        "card_steps",
        "card_step",
        "jobs",
        "card",
        (
            Column("card", "ref", to="cards"),
            Column("place", "whole"),
            Column("plan"),
            Column("torque_nm", "figure", optional=True),
            *_maybe("torque_source", "reading", "done_by"),
            Column("done_at", "moment", optional=True),
            *_maybe("waived", "reason"),
            Column("version", "whole"),
            *_later("yes", False, "simulated"),
            Column("plus_minus", "figure", optional=True, later=True),
        ),
    ),
    Listing(
        "photographs",
        "photograph",
        "machines",
        "machine",
        (
            _MACHINE,
            *_texts("file", "by"),
            Column("width_px", "whole"),
            Column("height_px", "whole"),
            Column("focal_px", "figure", optional=True),
            Column("added_at", "moment"),
            Column("marks", "object"),
        ),
    ),
    Listing(
        "photos",
        "photo",
        "jobs",
        "job",
        (_JOB, *_texts("file", "caption", "by"), Column("taken_at", "moment")),
    ),
    Listing("order_entries", "cost_entry", "jobs", "job", (_JOB, *_texts("key", "value"))),
    Listing(
        "after_fitting",
        "confronted",
        "jobs",
        "job",
        (
            _JOB,
            *_texts("key", "label", "unit", "tire", "by"),
            *(Column(name, "figure") for name in ("predicted", "plus_minus", "measured")),
            Column("taken_on", "day"),
        ),
    ),
    Listing(
        "job_documents",
        "job_document",
        "jobs",
        "job",
        (
            _JOB,
            Column("made_at", "moment"),
            Column("by"),
            Column("document", "object"),
            Column("kind", among=("job", "offer"), absent="job", later=True),
        ),
        sealed=True,
    ),
    Listing(
        "corrections",
        "correction",
        "jobs",
        "job",
        (_JOB, Column("at", "moment"), *_texts("by", "text")),
    ),
    Listing(
        "fittings",
        "fitting",
        "log",
        "machine",
        (
            _MACHINE,
            _JOB_IF_ANY,
            Column("taken_on", "day"),
            *_texts("summary", "by"),
            *_maybe("front_tire", "rear_tire"),
            Column("sensed_ratio", "figure"),
        ),
    ),
    Listing(
        "inspections",
        "inspection",
        "log",
        "machine",
        (
            _MACHINE,
            Column("wheel", among=ENDS),
            Column("look", among=tuple(Look)),
            Column("taken_on", "day"),
            *_texts("tire", "by", "note"),
            Column("tread_mm", "figures", optional=True, column="tread"),
            Column("signs", "words"),
            *_maybe("pressure_kpa", "km", kind="figure"),
            Column("made", optional=True),
            Column("tire_number", "tire", optional=True, column="tire_id"),
            *_later("yes", False, "simulated"),
        ),
    ),
    Listing(
        "rides",
        "ride",
        "log",
        "machine",
        (
            _MACHINE,
            _JOB_IF_ANY,
            Column("setup", "ref", to="setups"),
            Column("taken_on", "day"),
            Column("conditions", "object"),
            Column("scores", "object"),
            *_texts("outcome", "note", "by"),
        ),
    ),
    Listing(
        "ride_tracks",
        "ride_track",
        "log",
        "ride",
        (
            Column("ride", "ref", to="rides"),
            Column("km", "figure"),
            Column("seconds", "figure"),
            Column("gpx"),
        ),
    ),
    Listing(
        "odometers",
        "odometer",
        "log",
        "machine",
        (_MACHINE, Column("taken_on", "day"), Column("km", "figure"), Column("swapped", "yes")),
    ),
    Listing(
        "odometer_checks",
        "odometer_check",
        "log",
        "machine",
        (
            _MACHINE,
            Column("taken_on", "day"),
            Column("counted_km", "figure"),
            Column("true_km", "figure"),
        ),
    ),
    Listing(
        "punctures",
        "puncture",
        "log",
        "machine",
        (
            _MACHINE,
            Column("wheel", among=ENDS),
            Column("taken_on", "day"),
            *_texts("what", "done", "by"),
        ),
    ),
    Listing(
        "speed_pairs",
        "speed_pair",
        "log",
        "machine",
        (
            _MACHINE,
            Column("wheel", "ref", to="wheels", optional=True),
            Column("true_kmh", "figure"),
            Column("shown_kmh", "figure"),
            Column("taken_on", "day"),
            *_later("yes", False, "simulated"),
        ),
    ),
    Listing(
        "shelf_tires",
        "shelf_tire",
        "wheels",
        "shop",
        (
            Column("code"),
            *_maybe("week", "year", kind="whole"),
            Column("added_on", "day"),
            *_later("whole", 1, "pieces"),
            *_later("text", "", "make", "whose", "place", "price", "photo", "external_id"),
            *_later("figure", None, "tread_mm", "km"),
            *_later("words", [], "signs"),
            *_later("object", {}, "facts"),
            Column("tire_number", "tire", optional=True, column="tire_id", later=True),
            _RESERVED_FOR,
        ),
    ),
    Listing(
        "policies",
        "policy",
        "policies",
        "shop",
        (Column("key"), Column("value", "value"), Column("set_on", "day")),
        key=("key",),
    ),
    Listing(
        "own_units",
        "own_unit",
        "policies",
        "shop",
        _texts("person", "quantity", "unit"),
        key=("person", "quantity"),
    ),
    Listing(
        "practice_cards",
        "practice_card",
        "log",
        "shop",
        (*_texts("person", "kind"), Column("card", "object")),
        key=("person", "kind"),
    ),
    Listing(
        "practice_answers",
        "practice_answer",
        "log",
        "shop",
        (
            *_texts("person", "kind", "said"),
            Column("seed", "whole"),
            Column("at", "moment"),
            Column("verdict", among=("right", "near", "wrong")),
            Column("seconds", "figure"),
        ),
    ),
    Listing(
        "people",
        "person",
        "policies",
        "shop",
        (
            *_texts("name", "initials"),
            Column("hours_a_day", "figure", optional=True, later=True),
            *_later("text", "", "external_id"),
        ),
        key=("name",),
    ),
    Listing(
        "templates",
        "template",
        "templates",
        "shop",
        (*_texts("name", "text"), Column("set_on", "day")),
        key=("name",),
    ),
    Listing(
        "gauges",
        "gauge",
        "policies",
        "shop",
        (
            Column("tool"),
            Column("switched_on", "yes"),
            Column("zero_error", "figure"),
            Column("battery_percent", "figure"),
        ),
        key=("tool",),
    ),
)
LIST_BY_NAME = {one.name: one for one in LISTS}
