"""What other screens do, while it happens: one watch over the shop's file for all who listen.

The watch asks SQLite whether another connection has written, ten times a second and only while
someone listens; what was written comes from the journal, so that a change by the command line or
another process is seen as well.
"""

import asyncio
import re
from collections.abc import AsyncIterator
from contextlib import suppress
from dataclasses import dataclass
from datetime import datetime, timedelta

import peewee

from jentrik.core.errors import Refusal
from jentrik.store.happenings import MOST, Happened, happened_since, last_happened
from jentrik.store.rows import rows
from jentrik.web.shop import Shop

LOOK_EVERY_S, STAYS_FOR = 0.1, timedelta(minutes=10)
MOST_SCREENS = 500  # remembered before those that are gone are forgotten
ANYWAY_EVERY = 10  # looks: what this very connection wrote shows in no version

_NO_PAGES = ("/api/", "/static/", "/photos/")
_WHERE = {"customer": "offer", "order": "order list", "suppliers": "order list"}
_OF_JOB = re.compile(r"/jobs/(\d{1,9})(?:/([a-z-]+))?$")


@dataclass(frozen=True, slots=True)
class Presence:
    """Who was last seen on a job, at which screen, where, and when."""

    who: str
    where: str
    at: datetime


class Feed:
    """The watch, those who listen to it, and who is on which job."""

    def __init__(self, shop: Shop) -> None:
        self._shop = shop
        self.listening: set[asyncio.Queue[Happened | int | None]] = set()
        self._watch: asyncio.Task[None] | None = None
        self._loop: asyncio.AbstractEventLoop | None = None
        self._here: dict[str, tuple[int, Presence]] = {}  # by screen: the job, and who is there
        self._stopped = False

    async def follow(self, since: int | None = None) -> AsyncIterator[Happened | int]:
        """Yield what happens from now on, or after a place in the order, until the program stops.

        A number is a job that a screen opened or left.
        """
        self._loop, self._stopped = asyncio.get_running_loop(), False
        queue: asyncio.Queue[Happened | int | None] = asyncio.Queue()
        self.listening.add(queue)
        if self._watch is None or self._watch.done():
            self._watch = asyncio.create_task(self._run())
        try:
            while since is not None:  # a page at a time
                page = await asyncio.to_thread(self._since, since)
                for one in page:
                    since = one.n
                    yield one
                if len(page) < MOST:
                    break
            while not self._stopped:
                seen = await queue.get()
                if seen is None:
                    return
                if isinstance(seen, Happened) and since is not None and seen.n <= since:
                    continue
                yield seen
        finally:
            self.listening.discard(queue)

    def stop(self) -> None:
        """End every listening, so that the program can stop; from any thread or a signal."""
        self._stopped = True
        if self._loop is not None:
            with suppress(RuntimeError):  # the loop has ended already
                self._loop.call_soon_threadsafe(self._tell, None)

    def note(self, screen: str, who: str, path: str, station: str) -> None:
        """Note which job a screen shows, from the address of a page of ours it asks for."""
        of_job = _OF_JOB.search(path)
        if path.startswith(_NO_PAGES) or (of_job and of_job.group(2) in ("here", "advice")):
            return
        part = (of_job.group(2) or station or "bench")[:20] if of_job else ""
        job_id = int(of_job.group(1)) if of_job else None
        self.seen(screen, who, job_id, _WHERE.get(part, part))

    def seen(self, screen: str, who: str, job_id: int | None, where: str) -> None:
        """Note that a screen shows a job, or None that it shows another page."""
        before = self._here.get(screen)
        now = self._shop.now()
        if len(self._here) > MOST_SCREENS:
            since = now - STAYS_FOR
            self._here = {
                other: one for other, one in list(self._here.items()) if one[1].at >= since
            }
        if job_id is None:
            self._here.pop(screen, None)
        else:
            self._here[screen] = job_id, Presence(who, where, now)
        after = self._here.get(screen)
        moved = {one[0] for one in (before, after) if one is not None}
        same = before and after and (before[0], before[1].where) == (after[0], after[1].where)
        if not same and self._loop is not None and self.listening:
            for one in moved:
                with suppress(RuntimeError):
                    self._loop.call_soon_threadsafe(self._tell, one)

    def others(self, job_id: int, screen: str) -> list[Presence]:
        """Return who else was seen on a job within the last minutes."""
        since = self._shop.now() - STAYS_FOR
        return [
            presence
            for other, (job, presence) in list(self._here.items())
            if other != screen and job == job_id and presence.at >= since
        ]

    def _tell(self, seen: Happened | int | None) -> None:
        for queue in self.listening:
            queue.put_nowait(seen)

    async def _run(self) -> None:
        """Look as long as someone listens."""
        last, version, looked = await asyncio.to_thread(self._last), -1, 0
        while self.listening and not self._stopped:
            await asyncio.sleep(LOOK_EVERY_S)
            looked += 1
            try:
                now = self._version()
                if now == version and looked % ANYWAY_EVERY:
                    continue
                page = self._since(last)
                version = now if len(page) < MOST else -1  # more is there: looked at again at once
                for one in page:
                    last = one.n
                    self._tell(one)
            except (peewee.DatabaseError, OSError, Refusal):  # being restored; looked at again
                version = -1

    def _version(self) -> int:
        """Return what changes whenever another connection has written."""
        self._shop.ready()
        return int(rows("PRAGMA data_version")[0]["data_version"])

    def _last(self) -> int:
        self._shop.ready()
        return last_happened()

    def _since(self, n: int) -> list[Happened]:
        self._shop.ready()
        return happened_since(n)
