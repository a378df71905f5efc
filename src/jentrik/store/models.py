"""The tables as peewee sees them; the schema itself is the migrations'.

Rows never leave the store: queries return core values.
"""

import peewee


def _table(model: type[peewee.Model]) -> str:
    """Return a table's name: its model's, without the word every model ends in."""
    return str(model.__name__).removesuffix("Table").lower()


class _Table(peewee.Model):
    """What every table's model shares."""

    class Meta:
        """The name of its table."""

        table_function = _table


class MachineTable(_Table):
    """A bicycle or motorcycle; `name_key` is its name as the shop compares names."""

    id = peewee.AutoField()
    name = peewee.TextField()
    kind = peewee.TextField()
    drawn_as = peewee.TextField()
    created_at = peewee.TextField()
    binned_at = peewee.TextField(null=True)
    stands_since = peewee.TextField(null=True)
    name_key = peewee.TextField()
    owner = peewee.TextField(default="")
    setup_id = peewee.IntegerField(null=True)  # what it is set up as now
    phone = peewee.TextField(default="")
    note = peewee.TextField(default="")
    photo = peewee.TextField(default="")
    external_id = peewee.TextField(default="")  # another program's own key


class JobTable(_Table):
    """A job on the bench; `tag` is the number on the tag of the machine."""

    id = peewee.AutoField()
    tag = peewee.IntegerField()
    machine = peewee.ForeignKeyField(MachineTable)
    wanted = peewee.TextField()
    due_on = peewee.TextField(null=True)
    promised_time = peewee.TextField(default="")  # of that day, like 16:00
    whose = peewee.TextField(default="")
    rung_at = peewee.TextField(null=True)
    external_id = peewee.TextField(default="")
    created_at = peewee.TextField()
    closed_at = peewee.TextField(null=True)
    binned_at = peewee.TextField(null=True)


class SetupTable(_Table):
    """What a machine is set up as, from a day to a day; its parts are measurements of it."""

    id = peewee.AutoField()
    machine = peewee.ForeignKeyField(MachineTable)
    name = peewee.TextField()
    since_on = peewee.TextField()
    until_on = peewee.TextField(null=True)
    sealed_on = peewee.TextField(null=True)
    reconstructed = peewee.BooleanField(default=False)
    job = peewee.ForeignKeyField(JobTable, null=True)


class MeasurementTable(_Table):
    """One figure of a machine, measured in a set-up; `value` and `readings` are JSON."""

    id = peewee.AutoField()
    machine = peewee.ForeignKeyField(MachineTable)
    setup = peewee.ForeignKeyField(SetupTable)
    key = peewee.TextField()
    value = peewee.TextField()
    provenance = peewee.TextField()
    taken_on = peewee.TextField()
    plus_minus = peewee.FloatField(null=True)
    readings = peewee.TextField(default="[]")


class ClearanceTable(_Table):
    """A gap at a named place of a machine."""

    class Meta:
        """The table's name."""

        table_name = "place"

    id = peewee.AutoField()
    machine = peewee.ForeignKeyField(MachineTable)
    setup = peewee.ForeignKeyField(SetupTable, null=True)
    name = peewee.TextField()
    wheel = peewee.TextField()
    direction = peewee.TextField()
    part = peewee.TextField()
    gap_mm = peewee.FloatField()
    minimum_mm = peewee.FloatField(null=True)
    provenance = peewee.TextField()
    taken_on = peewee.TextField()
    bearing_deg = peewee.FloatField(null=True)
    from_axle_mm = peewee.FloatField(null=True)
    moves_with = peewee.TextField(null=True)


class PointTable(_Table):
    """A named point of a machine's chassis."""

    id = peewee.AutoField()
    machine = peewee.ForeignKeyField(MachineTable)
    setup = peewee.ForeignKeyField(SetupTable, null=True)
    name = peewee.TextField()
    x_mm = peewee.FloatField()
    height_mm = peewee.FloatField()
    provenance = peewee.TextField()
    taken_on = peewee.TextField()
    out_mm = peewee.FloatField(null=True)
    role = peewee.TextField(default="other")


class PositionTable(_Table):
    """A named position of the rear axle."""

    id = peewee.AutoField()
    machine = peewee.ForeignKeyField(MachineTable)
    setup = peewee.ForeignKeyField(SetupTable, null=True)
    name = peewee.TextField()
    x_mm = peewee.FloatField()
    y_mm = peewee.FloatField()
    bead_seat_diameter_mm = peewee.FloatField(null=True)
    provenance = peewee.TextField()
    taken_on = peewee.TextField()


class RoomLineTable(_Table):
    """How wide inside, or where a limit ahead is, at a distance from an axle."""

    class Meta:
        """The table's name."""

        table_name = "room_line"

    id = peewee.AutoField()
    machine = peewee.ForeignKeyField(MachineTable)
    setup = peewee.ForeignKeyField(SetupTable)
    name = peewee.TextField()
    wheel = peewee.TextField()
    part = peewee.TextField()
    from_axle_mm = peewee.FloatField()
    inside_mm = peewee.FloatField(null=True)
    minimum_mm = peewee.FloatField(null=True)
    provenance = peewee.TextField()
    taken_on = peewee.TextField()


class ApprovedPairTable(_Table):
    """A pair of tires on the maker's sheet of a machine; rim widths are ranges like 47-60."""

    class Meta:
        """The table's name."""

        table_name = "approved_pair"

    id = peewee.AutoField()
    machine = peewee.ForeignKeyField(MachineTable)
    name = peewee.TextField()
    front_tire = peewee.TextField()
    rear_tire = peewee.TextField()
    front_rim_mm = peewee.TextField(null=True)
    rear_rim_mm = peewee.TextField(null=True)
    front_make = peewee.TextField(null=True)
    rear_make = peewee.TextField(null=True)
    position = peewee.TextField(null=True)
    provenance = peewee.TextField()
    taken_on = peewee.TextField()


class ProposalTable(_Table):
    """A proposal of a job; `changes` is JSON, a plan document's proposal without its name."""

    id = peewee.AutoField()
    job = peewee.ForeignKeyField(JobTable)
    name = peewee.TextField()
    changes = peewee.TextField()
    takes = peewee.TextField(default="{}")  # JSON: the set-up, wheels or shelf tires it is made of


class CardTable(_Table):
    """A job's card: the proposal it carries out and the template it came from."""

    id = peewee.AutoField()
    job = peewee.ForeignKeyField(JobTable)
    proposal = peewee.TextField()
    template = peewee.TextField()
    made_at = peewee.TextField()


class CardStepTable(_Table):
    """One step of a card; `plan` is a template's line, the rest what was written down."""

    class Meta:
        """The table's name."""

        table_name = "card_step"

    id = peewee.AutoField()
    card = peewee.ForeignKeyField(CardTable)
    place = peewee.IntegerField()
    plan = peewee.TextField()
    torque_nm = peewee.FloatField(null=True)
    torque_source = peewee.TextField(null=True)
    reading = peewee.TextField(null=True)
    plus_minus = peewee.FloatField(null=True)
    done_by = peewee.TextField(null=True)
    done_at = peewee.TextField(null=True)
    waived = peewee.TextField(null=True)
    reason = peewee.TextField(null=True)
    version = peewee.IntegerField(default=0)
    simulated = peewee.IntegerField(default=0)


class TemplateTable(_Table):
    """A card's template as the shop wrote it."""

    id = peewee.AutoField()
    name = peewee.TextField()
    text = peewee.TextField()
    set_on = peewee.TextField()


class PhotoTable(_Table):
    """A photo of a job; `file` is its name in the data folder."""

    id = peewee.AutoField()
    job = peewee.ForeignKeyField(JobTable)
    file = peewee.TextField()
    caption = peewee.TextField()
    taken_at = peewee.TextField()
    by = peewee.TextField()


class PhotographTable(_Table):
    """A photograph of a machine that is measured on; `marks` is JSON, a document of marks."""

    id = peewee.AutoField()
    machine = peewee.ForeignKeyField(MachineTable)
    file = peewee.TextField()
    width_px = peewee.IntegerField()
    height_px = peewee.IntegerField()
    focal_px = peewee.FloatField(null=True)
    added_at = peewee.TextField()
    by = peewee.TextField()
    marks = peewee.TextField()


class PracticeCardTable(_Table):
    """How one skill stands with one person; `card` is the scheduler's JSON."""

    class Meta:
        """The table's name."""

        table_name = "practice_card"

    id = peewee.AutoField()
    person = peewee.TextField()
    kind = peewee.TextField()
    card = peewee.TextField()


class PracticeAnswerTable(_Table):
    """One answer in practice: to which item, how it was, how long it took."""

    class Meta:
        """The table's name."""

        table_name = "practice_answer"

    id = peewee.AutoField()
    person = peewee.TextField()
    kind = peewee.TextField()
    seed = peewee.IntegerField()
    at = peewee.TextField()
    verdict = peewee.TextField()
    seconds = peewee.FloatField()
    said = peewee.TextField()


class ShelfTireTable(_Table):
    """A tire on the shelf, or so many that are alike; `signs` and `facts` are JSON."""

    class Meta:
        """The table's name."""

        table_name = "shelf_tire"

    id = peewee.AutoField()
    code = peewee.TextField()
    week = peewee.IntegerField(null=True)
    year = peewee.IntegerField(null=True)
    added_on = peewee.TextField()
    pieces = peewee.IntegerField(default=1)
    make = peewee.TextField(default="")
    whose = peewee.TextField(default="")
    place = peewee.TextField(default="")
    price = peewee.TextField(default="")
    photo = peewee.TextField(default="")
    tread_mm = peewee.FloatField(null=True)
    km = peewee.FloatField(null=True)
    signs = peewee.TextField(default="[]")
    facts = peewee.TextField(default="{}")
    external_id = peewee.TextField(default="")
    tire_id = peewee.IntegerField(null=True)
    job = peewee.ForeignKeyField(JobTable, null=True)


class WheelTable(_Table):
    """A wheel; `parts` is JSON, its figures while it is off: on a machine they are the set-up's."""

    id = peewee.AutoField()
    machine = peewee.ForeignKeyField(MachineTable, null=True)
    name = peewee.TextField()
    kept = peewee.TextField()
    wheel = peewee.TextField()
    parts = peewee.TextField()
    added_on = peewee.TextField()
    binned_at = peewee.TextField(null=True)
    place = peewee.TextField(default="")
    price = peewee.TextField(default="")
    photo = peewee.TextField(default="")
    job = peewee.ForeignKeyField(JobTable, null=True)


class WheelSetTable(_Table):
    """A named pair of wheels of a machine."""

    class Meta:
        """The table's name."""

        table_name = "wheel_set"

    id = peewee.AutoField()
    machine = peewee.ForeignKeyField(MachineTable)
    name = peewee.TextField()
    front_wheel = peewee.ForeignKeyField(WheelTable, null=True)
    rear_wheel = peewee.ForeignKeyField(WheelTable, null=True)


class JobDocumentTable(_Table):
    """What a job was, sealed on the day it was done, or what was offered; `document` is JSON."""

    class Meta:
        """The table's name."""

        table_name = "job_document"

    id = peewee.AutoField()
    job = peewee.ForeignKeyField(JobTable)
    made_at = peewee.TextField()
    by = peewee.TextField()
    document = peewee.TextField()
    kind = peewee.TextField(default="job")


class CorrectionTable(_Table):
    """What was found to be otherwise of a job that is done."""

    id = peewee.AutoField()
    job = peewee.ForeignKeyField(JobTable)
    at = peewee.TextField()
    by = peewee.TextField()
    text = peewee.TextField()


class SpeedPairTable(_Table):
    """A true speed and what the instrument of a machine showed."""

    class Meta:
        """The table's name."""

        table_name = "speed_pair"

    id = peewee.AutoField()
    machine = peewee.ForeignKeyField(MachineTable)
    true_kmh = peewee.FloatField()
    shown_kmh = peewee.FloatField()
    taken_on = peewee.TextField()
    wheel = peewee.ForeignKeyField(WheelTable, null=True)
    simulated = peewee.IntegerField(default=0)


class InspectionTable(_Table):
    """A look at one tire of a machine; `tread` and `signs` are JSON."""

    id = peewee.AutoField()
    machine = peewee.ForeignKeyField(MachineTable)
    wheel = peewee.TextField()
    look = peewee.TextField()
    taken_on = peewee.TextField()
    tire = peewee.TextField()
    tread = peewee.TextField(null=True)
    signs = peewee.TextField()
    pressure_kpa = peewee.FloatField(null=True)
    made = peewee.TextField(null=True)
    km = peewee.FloatField(null=True)
    by = peewee.TextField()
    note = peewee.TextField()
    tire_id = peewee.IntegerField(null=True)
    simulated = peewee.IntegerField(default=0)


class OdometerTable(_Table):
    """What stood on a machine's odometer."""

    id = peewee.AutoField()
    machine = peewee.ForeignKeyField(MachineTable)
    taken_on = peewee.TextField()
    km = peewee.FloatField()
    swapped = peewee.BooleanField(default=False)


class OdometerCheckTable(_Table):
    """What an odometer counted over a known distance."""

    class Meta:
        """The table's name."""

        table_name = "odometer_check"

    id = peewee.AutoField()
    machine = peewee.ForeignKeyField(MachineTable)
    taken_on = peewee.TextField()
    counted_km = peewee.FloatField()
    true_km = peewee.FloatField()


class FittingTable(_Table):
    """What was fitted to a machine, and how the wheel that feeds its instrument changed."""

    id = peewee.AutoField()
    machine = peewee.ForeignKeyField(MachineTable)
    job = peewee.ForeignKeyField(JobTable, null=True)
    taken_on = peewee.TextField()
    summary = peewee.TextField()
    front_tire = peewee.TextField(null=True)
    rear_tire = peewee.TextField(null=True)
    sensed_ratio = peewee.FloatField(default=1.0)
    by = peewee.TextField()


class ConfrontedTable(_Table):
    """A figure measured after fitting, beside what the plan said."""

    id = peewee.AutoField()
    job = peewee.ForeignKeyField(JobTable)
    key = peewee.TextField()
    label = peewee.TextField()
    unit = peewee.TextField()
    predicted = peewee.FloatField()
    plus_minus = peewee.FloatField()
    measured = peewee.FloatField()
    tire = peewee.TextField()
    taken_on = peewee.TextField()
    by = peewee.TextField()


class CostEntryTable(_Table):
    """One thing someone wrote on a job's order list."""

    class Meta:
        """The table's name."""

        table_name = "cost_entry"

    id = peewee.AutoField()
    job = peewee.ForeignKeyField(JobTable)
    key = peewee.TextField()
    value = peewee.TextField()


class RideTable(_Table):
    """A ride on one setup; `conditions` and `scores` are JSON."""

    id = peewee.AutoField()
    machine = peewee.ForeignKeyField(MachineTable)
    job = peewee.ForeignKeyField(JobTable, null=True)
    setup = peewee.ForeignKeyField(SetupTable)
    taken_on = peewee.TextField()
    conditions = peewee.TextField()
    scores = peewee.TextField()
    outcome = peewee.TextField()
    note = peewee.TextField()
    by = peewee.TextField()


class GaugeTable(_Table):
    """How a measuring tool of the shop lies in its drawer."""

    id = peewee.AutoField()
    tool = peewee.TextField()
    switched_on = peewee.BooleanField()
    zero_error = peewee.FloatField()
    battery_percent = peewee.FloatField()


class PunctureTable(_Table):
    """A puncture and what became of it."""

    id = peewee.AutoField()
    machine = peewee.ForeignKeyField(MachineTable)
    wheel = peewee.TextField()
    taken_on = peewee.TextField()
    what = peewee.TextField()
    done = peewee.TextField()
    by = peewee.TextField()


class PolicyTable(_Table):
    """One thing the shop set otherwise than common practice; `value` is JSON."""

    id = peewee.AutoField()
    key = peewee.TextField()
    value = peewee.TextField()
    set_on = peewee.TextField()


class OwnUnitTable(_Table):
    """A unit a person sees one quantity in, where it is not the shop's."""

    id = peewee.AutoField()
    person = peewee.TextField()  # the name at their screen, case folded
    quantity = peewee.TextField()
    unit = peewee.TextField()

    class Meta:
        """The table's name."""

        table_name = "own_unit"


class RideTrackTable(_Table):
    """Where a ride went: its GPX, thinned, with its length and the time it took."""

    id = peewee.AutoField()
    ride = peewee.ForeignKeyField(RideTable)
    km = peewee.FloatField()
    seconds = peewee.FloatField()
    gpx = peewee.TextField()

    class Meta:
        """The table's name."""

        table_name = "ride_track"


class PersonTable(_Table):
    """Someone who works here."""

    id = peewee.AutoField()
    name = peewee.TextField()
    name_key = peewee.TextField()  # the name, case folded
    initials = peewee.TextField()
    secret = peewee.TextField(null=True)
    hours_a_day = peewee.FloatField(null=True)
    external_id = peewee.TextField(default="")

    class Meta:
        """The table's name."""

        table_name = "person"


class ChangeTable(_Table):
    """A step of the journal; `entries` is JSON: table, id, row before, row after.

    `by` wrote it on `screen`, in one `visit` to a field.
    """

    id = peewee.AutoField()
    at = peewee.TextField()
    machine = peewee.ForeignKeyField(MachineTable, null=True)
    job = peewee.ForeignKeyField(JobTable, null=True)
    subject = peewee.TextField()
    label = peewee.TextField()
    entries = peewee.TextField()
    undone_at = peewee.TextField(null=True)
    by = peewee.TextField(default="")
    screen = peewee.TextField(default="")
    visit = peewee.TextField(default="")
    undone_by = peewee.TextField(default="")
    undone_on = peewee.TextField(default="")


TABLES = (
    MachineTable,
    JobTable,
    SetupTable,
    MeasurementTable,
    ClearanceTable,
    PointTable,
    PhotographTable,
    PracticeCardTable,
    PracticeAnswerTable,
    PositionTable,
    RoomLineTable,
    ApprovedPairTable,
    ProposalTable,
    CardTable,
    CardStepTable,
    TemplateTable,
    PhotoTable,
    ShelfTireTable,
    WheelTable,
    WheelSetTable,
    JobDocumentTable,
    CorrectionTable,
    SpeedPairTable,
    InspectionTable,
    OdometerTable,
    OdometerCheckTable,
    FittingTable,
    PunctureTable,
    ConfrontedTable,
    CostEntryTable,
    RideTable,
    GaugeTable,
    PolicyTable,
    OwnUnitTable,
    RideTrackTable,
    PersonTable,
    ChangeTable,
)
