"""What every route works with: the shop's database, the clock, and a checked form."""

from collections.abc import Callable
from contextlib import AbstractContextManager
from dataclasses import dataclass
from datetime import date, datetime
from typing import Annotated, Any

import peewee
from fastapi import Depends, Request
from starlette.datastructures import FormData
from starlette.formparsers import MultiPartException

from jentrik.core.errors import DocumentError
from jentrik.store import journal
from jentrik.web.guard import TOKEN_FIELD, TOKEN_HEADER, token_holds

MOST_FIELDS = 400


@dataclass(frozen=True, slots=True)
class Shop:
    """One shop: its database and its clock."""

    database: peewee.SqliteDatabase
    now: Callable[[], datetime]

    @property
    def today(self) -> date:
        """The day on the wall."""
        return self.now().date()

    def ready(self) -> None:
        """Open this thread's connection if it is not open; it stays open for the next request."""
        self.database.connect(reuse_if_open=True)

    def step(self, label: str, subject: str, **scope: Any) -> AbstractContextManager[journal.Step]:
        """Open one change in the journal."""
        return journal.step(self.database, now=self.now(), label=label, subject=subject, **scope)


class ForgedFormError(DocumentError):
    """A form without the token of one of our pages."""


def opened_shop(request: Request) -> Shop:
    """Return the shop, its database open for this request's thread."""
    shop: Shop = request.app.state.shop
    shop.ready()
    return shop


async def checked_form(request: Request) -> FormData:
    """Return the form of a write; refuses one that does not come from a page of ours."""
    try:
        form = await request.form(max_files=0, max_fields=MOST_FIELDS)
    except MultiPartException:
        raise DocumentError(
            "This form cannot be read; it has too many fields or a file.",
            expected="a form of one of our pages",
        ) from None
    given = request.headers.get(TOKEN_HEADER) or str(form.get(TOKEN_FIELD, ""))
    if not token_holds(request, given):
        raise ForgedFormError(
            "This page was open too long or came from elsewhere: load it again, then repeat.",
            expected="a form of one of our pages",
        )
    return form


AShop = Annotated[Shop, Depends(opened_shop)]
AForm = Annotated[FormData, Depends(checked_form)]
