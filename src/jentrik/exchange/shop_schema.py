"""The JSON Schema of a shop's document, made from its lists and columns."""

from jentrik.exchange.shop_format import FORMAT, LISTS, VERSION, Column, Kind, Listing


def json_schema() -> dict[str, object]:
    """Return the JSON Schema of a shop's document."""
    head: dict[str, object] = {
        "format": {"const": FORMAT},
        "version": {"const": VERSION},
        "exported_at": {"type": "string", "format": "date-time"},
        "shop": {
            "description": "A shop's mark, or the name of another program",
            "anyOf": [
                {"type": "string", "pattern": "^[0-9a-f]{8}$"},
                {
                    "type": "object",
                    "properties": {"name": {"type": "string", "minLength": 1, "maxLength": 100}},
                    "required": ["name"],
                    "additionalProperties": False,
                },
            ],
        },
        "program": {"type": "string"},
        "photo_files": {
            "type": "object",
            "additionalProperties": {"type": "string", "contentEncoding": "base64"},
        },
    }
    return {
        "$schema": "https://json-schema.org/draft/2020-12/schema",
        "title": "A workshop as jentrik exports and imports it",
        "type": "object",
        "properties": head | {one.name: _list_schema(one) for one in LISTS},
        "required": ["format", "version", "exported_at", "shop"],
        "additionalProperties": False,
    }


_ID: dict[str, object] = {"type": "string", "pattern": "^[0-9a-f]{8}-[0-9]{1,18}$"}
_FIGURES: dict[str, object] = {"type": "object", "additionalProperties": {"type": "object"}}
_SCHEMAS: dict[Kind, dict[str, object]] = {
    "text": {"type": "string"},
    "day": {"type": "string", "format": "date"},
    "moment": {"type": "string", "format": "date-time"},
    "whole": {"type": "integer"},
    "figure": {"type": "number"},
    "yes": {"type": "boolean"},
    "ref": _ID,
    "tire": _ID,
    "value": {"type": ["number", "string"]},
    "parts": _FIGURES,
    "takes": {"type": "object"},
    "figures": {"type": "array", "items": {"type": "number"}},
    "words": {"type": "array", "items": {"type": "string"}},
    "object": {"type": "object"},
}


def _list_schema(listing: Listing) -> dict[str, object]:
    names = ["id", *(column.name for column in listing.columns if not column.later)]
    columns = {column.name: _column_schema(column) for column in listing.columns}
    line = {
        "type": "object",
        "properties": {"id": _ID, **columns},
        "required": names,
        "additionalProperties": False,
    }
    return {"type": "array", "items": line}


def _column_schema(column: Column) -> dict[str, object]:
    schema: dict[str, object] = dict(_SCHEMAS[column.kind])
    if column.among:
        schema = {"enum": [*column.among, *([None] if column.optional else [])]}
    elif column.optional:
        schema = {"anyOf": [schema, {"type": "null"}]}
    return schema
