"""How a program asks for a list: order, page and size, what changed since, by its own key."""

from collections.abc import Iterable
from dataclasses import replace
from typing import Annotated, Any

from fastapi import Depends, Query, Request
from fastapi.dependencies.utils import get_flat_params
from fastapi.params import Query as QueryParam

from jentrik.core.days import kept_moment
from jentrik.core.errors import OutOfRange, Refusal
from jentrik.core.text import LONGEST_KEY
from jentrik.store.listing import LAST_PAGE, MOST_A_PAGE, PAGE, Wanted


def _listed(
    page: Annotated[int, Query(ge=1, le=LAST_PAGE)] = 1,
    size: Annotated[int, Query(ge=1, le=MOST_A_PAGE)] = PAGE,
    changed_since: Annotated[
        str,
        Query(
            max_length=40,
            description="A day, or a moment with its offset",
            json_schema_extra={
                "anyOf": [{"format": "date-time"}, {"format": "date"}, {"maxLength": 0}]
            },
        ),
    ] = "",
    external_id: Annotated[
        str, Query(max_length=LONGEST_KEY, description="Another program's own key")
    ] = "",
) -> Wanted:
    since = ""
    if changed_since:
        # A plus in an address is a space: +01:00 comes as one.
        try:
            since = kept_moment(changed_since.replace(" ", "+"))
        except Refusal as refusal:
            refusal.field = "changed_since"
            raise
    return Wanted(page=page, size=size, changed_since=since, external_id=external_id, counted=True)


AList = Annotated[Wanted, Depends(_listed)]


def one_of(names: Iterable[str]) -> Any:
    """Return how the API's document names what can be asked; another is refused in words."""
    return Query(json_schema_extra={"enum": ["", *names]})


def sorted_by(wanted: Wanted, sort: str, sorts: dict[str, str]) -> Wanted:
    """Return what is asked in an order there is; refuses any other by name."""
    if sort and sort not in sorts:
        raise OutOfRange(
            f"“{sort[:20]}” is no order of this list.", field="sort", expected=", ".join(sorts)
        )
    return replace(wanted, sort=sort)


_asked_of: dict[int, frozenset[str]] = {}  # by route: the parameters it takes


_FREE = ("/api/machines/{machine_id}/sizes",)  # the columns that are asked are the address's own


def _known_parameters(request: Request) -> None:
    """Refuse what an address asks for that it does not know, by name."""
    route = request.scope["route"]
    if route.path in _FREE:
        return
    if id(route) not in _asked_of:
        fields = get_flat_params(route.dependant)
        _asked_of[id(route)] = frozenset(
            one.alias for one in fields if isinstance(one.field_info, QueryParam)
        )
    known = _asked_of[id(route)]
    for name in request.query_params:
        if name not in known:
            raise OutOfRange(
                f"“{name[:40]}” is not asked of this address.",
                field=name[:40],
                expected=", ".join(sorted(known)) or "no parameter",
            )


KNOWN_ONLY = Depends(_known_parameters)
