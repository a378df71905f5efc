"""Undo and redo of a page: the button names one change, and a press takes back that one."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Literal

from starlette.datastructures import FormData

from jentrik.core.errors import Refusal, StoreError
from jentrik.core.machine.fields import missing_of
from jentrik.core.machine.machine_of import machine_of
from jentrik.core.plan.plan import as_measured
from jentrik.core.text import counted
from jentrik.core.work.display_units import METRIC, DisplayUnits
from jentrik.store import machines
from jentrik.store.past import FieldMoved
from jentrik.store.undo import ChangedSince, Scope, Undoable, last_and_undone, undo
from jentrik.web.live.command import Command
from jentrik.web.shop import Shop


@dataclass(frozen=True, slots=True)
class Offer:
    """A change that cannot simply be taken back: both values, and the mark to insist with."""

    change_id: int
    act: str
    moved: tuple[FieldMoved, ...]
    insist: str


@dataclass(frozen=True, slots=True)
class UndoView:
    """What undo and redo would do on a page, and what the last press did."""

    undo: Undoable | None
    redo: Undoable | None
    done: str = ""
    offer: Offer | None = None
    moved: bool = False  # whether the last press took something back, or did it again

    @property
    def outcome(self) -> dict[str, str]:
        """What a press did, for a program; refuses one that did nothing."""
        if not self.moved:
            raise StoreError(self.done, field="change", expected="a change that can be taken back")
        return {"done": self.done}

    @property
    def whose(self) -> str:
        """Whose change it is, where it is another person's."""
        return self.undo.by if self.undo and not self.undo.mine else ""


NOTHING_TO_UNDO = UndoView(None, None)


def undo_view(
    shop: Shop, scope: Scope, *, done: str = "", offer: Offer | None = None, moved: bool = False
) -> UndoView:
    """Return what undo and redo would do here for who is at this screen."""
    last, again = last_and_undone(scope, shop.author)
    return UndoView(last, again, done, offer, moved)


class Undoing(Command):
    """One change to take back, or to do again; without one the last."""

    change: int | None = None
    act: Literal["undo", "redo", "keep"] = "undo"
    insist: str = ""

    @classmethod
    def of(cls, form: FormData, units: DisplayUnits = METRIC) -> "Undoing":
        """Return what a button asks for; one that names no change means the last."""
        said = {name: str(form.get(name, "")) for name in ("change", "act", "insist")}
        act = said["act"] if said["act"] in ("redo", "keep") else "undo"
        return cls.model_validate(
            {"change": counted(said["change"]), "act": act, "insist": said["insist"]}
        )


def take_back(
    shop: Shop, asked: Undoing, scope: Scope, *, check: Callable[[], None] = lambda: None
) -> UndoView:
    """Take back the change that is named, or do it again; return what the page shows then.

    Without one it is the one `undo_view` would name.
    """
    if asked.act == "keep":
        return undo_view(shop, scope, done="Kept as it is now.", moved=True)
    try:
        done = undo(
            shop.database,
            asked.change,
            scope,
            shop.author,
            now=shop.now(),
            again=asked.act == "redo",
            insist=asked.insist,
            check=check,
        )
    except ChangedSince as since:
        known = asked.change is not None
        offer = Offer(asked.change or 0, asked.act, since.offers, since.insist) if known else None
        return undo_view(shop, scope, done=since.message, offer=offer)
    except Refusal as refusal:
        return undo_view(shop, scope, done=f"Not taken back: {refusal.message}")
    if done is None:
        return undo_view(shop, scope, done="That was taken back already, or nothing is left.")
    words = "Done again" if asked.act == "redo" else "Taken back"
    return undo_view(shop, scope, done=f"{words}: {done.label}", moved=True)


def must_stand(machine_id: int) -> Callable[[], None]:
    """Return a check that refuses where a machine could not stand any more."""

    def check() -> None:
        sheet = machines.sheet(machine_id)
        if not missing_of(sheet):
            as_measured(machine_of(sheet))

    return check
