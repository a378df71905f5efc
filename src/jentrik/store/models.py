"""The tables as peewee sees them; the schema itself is the migrations'.

Rows never leave the store: queries return core values.
"""

import peewee


class Machine(peewee.Model):
    """A bicycle or motorcycle."""

    id = peewee.AutoField()
    name = peewee.TextField()
    kind = peewee.TextField()
    drawn_as = peewee.TextField()
    created_at = peewee.TextField()


class Measurement(peewee.Model):
    """One figure of a machine; `value` and `readings` are JSON."""

    id = peewee.AutoField()
    machine = peewee.ForeignKeyField(Machine)
    key = peewee.TextField()
    value = peewee.TextField()
    provenance = peewee.TextField()
    taken_on = peewee.TextField()
    plus_minus = peewee.FloatField(null=True)
    readings = peewee.TextField(default="[]")


class Place(peewee.Model):
    """A gap at a named place of a machine."""

    id = peewee.AutoField()
    machine = peewee.ForeignKeyField(Machine)
    name = peewee.TextField()
    wheel = peewee.TextField()
    direction = peewee.TextField()
    part = peewee.TextField()
    gap_mm = peewee.FloatField()
    minimum_mm = peewee.FloatField(null=True)
    provenance = peewee.TextField()
    taken_on = peewee.TextField()


class Point(peewee.Model):
    """A named point of a machine's chassis."""

    id = peewee.AutoField()
    machine = peewee.ForeignKeyField(Machine)
    name = peewee.TextField()
    x_mm = peewee.FloatField()
    height_mm = peewee.FloatField()
    provenance = peewee.TextField()
    taken_on = peewee.TextField()


class Position(peewee.Model):
    """A named position of the rear axle."""

    id = peewee.AutoField()
    machine = peewee.ForeignKeyField(Machine)
    name = peewee.TextField()
    x_mm = peewee.FloatField()
    y_mm = peewee.FloatField()
    bead_seat_diameter_mm = peewee.FloatField(null=True)
    provenance = peewee.TextField()
    taken_on = peewee.TextField()


class Job(peewee.Model):
    """A job on the bench; `tag` is the number that hangs on the machine."""

    id = peewee.AutoField()
    tag = peewee.IntegerField()
    machine = peewee.ForeignKeyField(Machine)
    wanted = peewee.TextField()
    due_on = peewee.TextField(null=True)
    created_at = peewee.TextField()


class Proposal(peewee.Model):
    """A proposal of a job; `changes` is JSON, a plan document's proposal without its name."""

    id = peewee.AutoField()
    job = peewee.ForeignKeyField(Job)
    name = peewee.TextField()
    changes = peewee.TextField()


class ShelfTire(peewee.Model):
    """A tire on the shelf."""

    class Meta:
        """The table's name."""

        table_name = "shelf_tire"

    id = peewee.AutoField()
    code = peewee.TextField()
    week = peewee.IntegerField(null=True)
    year = peewee.IntegerField(null=True)
    added_on = peewee.TextField()


class Change(peewee.Model):
    """A step of the journal; `entries` is JSON: table, id, row before, row after."""

    id = peewee.AutoField()
    at = peewee.TextField()
    machine = peewee.ForeignKeyField(Machine, null=True)
    job = peewee.ForeignKeyField(Job, null=True)
    subject = peewee.TextField()
    label = peewee.TextField()
    entries = peewee.TextField()
    undone_at = peewee.TextField(null=True)


TABLES = (Machine, Measurement, Place, Point, Position, Job, Proposal, ShelfTire, Change)
