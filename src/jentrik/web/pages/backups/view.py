"""Backups as the Shop page shows them."""

from dataclasses import dataclass
from datetime import datetime, timedelta
from pathlib import Path

from jentrik.core.amounts import THIN
from jentrik.store.backups import Kept
from jentrik.store.chain import ChainState, verify
from jentrik.store.practised import Practised, last_practised
from jentrik.web.figures import fixed
from jentrik.web.shop import Shop

OLD = timedelta(days=2)  # no backup for longer is worth a word
_KINDS = {
    "jentrik": "by itself",
    "made": "made by hand",
    "brought": "brought as a file",
    "before": "before a restore",
}


@dataclass(frozen=True, slots=True)
class BackupRow:
    """One backup: its file, when it was made, why, and its size."""

    name: str
    made: str
    kind: str
    size: str


@dataclass(frozen=True, slots=True)
class BackupsView:
    """When the last backup was made, whether that is long ago, and those that are kept."""

    last: str
    old: bool
    rows: list[BackupRow]
    days: int
    weeks: int
    trouble: str
    folder: str
    chain: ChainState
    practised: Practised | None
    second: str
    growth: str


def backups_view(
    shop: Shop, kept: list[Kept], trouble: str = "", second: Path | None = None
) -> BackupsView:
    """Return the backups of a shop, the newest first."""
    policy = shop.policy.backups
    return BackupsView(
        last=last_in_words(kept, shop.now()),
        old=not kept or shop.now() - kept[0].made_at > OLD,
        rows=[_row(one) for one in kept],
        days=int(policy.days),
        weeks=int(policy.weeks),
        trouble=trouble,
        folder=str(shop.folder / "backups"),
        chain=verify(shop.database, at=shop.now()),
        practised=last_practised(),
        second=str(second or ""),
        growth=_growth(kept),
    )


def _growth(kept: list[Kept]) -> str:
    """Return how the daily backups grew since the oldest that is kept; "" with fewer than two."""
    daily = [one for one in kept if one.name.startswith("jentrik-")]
    if len(daily) < 2:
        return ""
    newest, oldest = daily[0], daily[-1]
    by = (newest.size_bytes - oldest.size_bytes) / 1e6
    return f"{by:+.1f}{THIN}MB since {oldest.made_at:%d %b %Y}".replace("-", "−")


def last_in_words(kept: list[Kept], now: datetime) -> str:
    """Return when the last backup was made."""
    if not kept:
        return "No backup yet"
    made = kept[0].made_at
    day = "today" if made.date() == now.date() else f"{made:%d %b %Y}"
    return f"Last backup {day} at {made:%H:%M}"


def _row(one: Kept) -> BackupRow:
    kind = _KINDS.get(one.name.partition("-")[0], "")
    size = fixed(one.size_bytes / 1e6, 1) if one.size_bytes > 1e5 else "0.1"
    return BackupRow(one.name, f"{one.made_at:%d %b %Y %H:%M}", kind, f"{size}{THIN}MB")
