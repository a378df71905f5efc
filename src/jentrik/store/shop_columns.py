"""A column of a shop's document and of its table: one value, said for outside and kept here."""

import json
from collections.abc import Callable, Mapping
from typing import Any

from jentrik.core.days import kept_moment, with_offset
from jentrik.core.errors import DocumentError
from jentrik.exchange.shop_format import ENDS, Column, Listing
from jentrik.store.rows import Row
from jentrik.store.shop_ids import TIRES, OutsideIds

# A figure of a set-up that is the number of a wheel or a tire: the key's last word, and its list.
_NUMBERED = {"wheel": "wheels", "tire_id": TIRES}
_TAKES = {"setup": "setups", **dict.fromkeys(ENDS, "wheels")}  # what a proposal is made of
_AS_JSON = ("figures", "words", "object")
Find = Callable[[str, str], int]  # the number here of a name in a list; refuses one not known


def _list_of(key: str) -> str | None:
    """Return the list a set-up's figure is a number of; None where it is a figure."""
    return _NUMBERED.get(key.rpartition(".")[2]) if key.startswith("set.") else None


def said(listing: Listing, column: Column, row: Row, ids: OutsideIds) -> Any:
    """Return what a row holds in a column, for outside."""
    kept = row[column.kept]
    if kept is None:
        return None
    if column.kind == "ref":
        return ids.name(column.to, kept)
    if column.kind == "tire":
        return ids.name(TIRES, int(kept))
    if column.kind == "yes":
        return bool(kept)
    if column.kind in _AS_JSON:
        return json.loads(kept)
    if column.kind == "moment":
        return with_offset(kept)
    if column.kind == "value":
        value, numbered = json.loads(kept), _list_of(str(row["key"]))
        return value if numbered is None else ids.name(numbered, int(float(value)))
    if column.kind == "parts":
        return {key: _part_said(key, part, ids) for key, part in json.loads(kept).items()}
    if column.kind == "takes":
        return _takes_said(json.loads(kept), ids)
    return kept


def _part_said(key: str, part: Mapping[str, Any], ids: OutsideIds) -> dict[str, Any]:
    numbered = _list_of(key)
    if numbered is None:
        return dict(part)
    return {**part, "value": ids.name(numbered, int(float(part["value"])))}


def _takes_said(takes: dict[str, Any], ids: OutsideIds) -> dict[str, Any]:
    return {
        key: ids.name(_TAKES[key], value) if key in _TAKES and value is not None else value
        for key, value in takes.items()
    }


def kept(column: Column, values: Mapping[str, Any], find: Find) -> Any:
    """Return what stands in a column of the table for what a line says; refuses a name not known.

    `find` gives the number of a named line of a list.
    """
    value = values[column.name]
    if value is None:
        return None
    if column.kind == "ref":
        return find(column.to, value)
    if column.kind == "value":
        numbered = _list_of(str(values["key"]))
        return json.dumps(value if numbered is None else _number(numbered, value, find))
    return _KEPT[column.kind](value, find) if column.kind in _KEPT else value


def _parts_kept(parts: dict[str, Any], find: Find) -> str:
    there = {key: _part_kept(key, part, find) for key, part in parts.items()}
    return json.dumps(there, ensure_ascii=False)


def _takes_kept(takes: dict[str, Any], find: Find) -> str:
    there = {
        key: find(_TAKES[key], str(one)) if key in _TAKES and one is not None else one
        for key, one in takes.items()
    }
    return json.dumps(there, ensure_ascii=False)


_KEPT: dict[str, Callable[[Any, Find], Any]] = {
    "tire": lambda value, find: find(TIRES, value),
    "yes": lambda value, _: int(value),
    "moment": lambda value, _: kept_moment(value),
    "figure": lambda value, _: float(value),
    "object": lambda value, _: json.dumps(value, ensure_ascii=False),
    "figures": lambda value, _: json.dumps(value),
    "words": lambda value, _: json.dumps(value, ensure_ascii=False),
    "parts": _parts_kept,
    "takes": _takes_kept,
}


def _part_kept(key: str, part: Mapping[str, Any], find: Find) -> dict[str, Any]:
    numbered = _list_of(key)
    return (
        dict(part)
        if numbered is None
        else {**part, "value": _number(numbered, part["value"], find)}
    )


def _number(of: str, name: object, find: Find) -> float:
    if not isinstance(name, str):
        raise DocumentError("A wheel or tire is named by its id.", expected="an id like 0a1b2c3d-7")
    return float(find(of, name))


def same(column: Column, there: Any, new: Any) -> bool:
    """Whether two kept values of a column are the same, however their JSON is spaced."""
    if there is None or new is None or column.kind in ("text", "day", "moment", "ref", "tire"):
        return bool(there == new)
    if column.kind in ("whole", "figure", "yes"):
        return float(there) == float(new)
    return bool(json.loads(there) == json.loads(new))
