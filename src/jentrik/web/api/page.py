"""The API's description as a page: what is sent, what each field means, an example to copy."""

import json
from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import Any

TAGS = ("jobs", "machines", "shop", "tire codes", "plans", "exchange", "tables", "health")


@dataclass(frozen=True, slots=True)
class SentField:
    """One thing a program sends: its name, what it holds, whether it is needed, what it means."""

    name: str
    where: str
    holds: str
    needed: bool
    about: str


@dataclass(frozen=True, slots=True)
class OperationView:
    """One thing a program can ask: method, address, words, what is sent, an example of a body."""

    method: str
    path: str
    about: str
    fields: tuple[SentField, ...]
    body_about: str
    example: str
    writes: bool

    @property
    def id(self) -> str:
        """Where it stands on the page."""
        letters = (one if one.isalnum() else "-" for one in f"{self.method}{self.path}".lower())
        return "".join(letters).strip("-")


def operations_by_tag(described: Mapping[str, Any]) -> dict[str, list[OperationView]]:
    """Return every operation under `/api/` of an OpenAPI description, by its tag."""
    schemas = described["components"]["schemas"]
    found: dict[str, list[OperationView]] = {tag: [] for tag in TAGS}
    for path, methods in described["paths"].items():
        for method, about in methods.items():
            if path.startswith("/api/"):
                one = _operation(path, method, about, schemas)
                found.setdefault(about.get("tags", ["other"])[0], []).append(one)
    return {tag: those for tag, those in found.items() if those}


_OF_EVERY_WRITE = ("idempotency-key", "if-match", "jentrik-person")


def _operation(
    path: str, method: str, about: Mapping[str, Any], schemas: Mapping[str, Any]
) -> OperationView:
    parameters = about.get("parameters", [])
    fields = [
        SentField(
            parameter["name"],
            parameter["in"],
            _holds(parameter.get("schema", {})),
            bool(parameter.get("required")),
            parameter.get("description", ""),
        )
        for parameter in parameters
        if parameter["name"].lower() not in _OF_EVERY_WRITE
    ]
    content: dict[str, Any] = about.get("requestBody", {}).get("content", {})
    kind = next(iter(content), "")
    body = content.get(kind, {})
    schema = _resolved(body.get("schema", {}), schemas)
    fields += _body_fields(schema, schemas)
    example = _example(schema) if kind == "application/json" and schema.get("properties") else None
    return OperationView(
        method.upper(),
        path,
        about.get("description") or about.get("summary", ""),
        tuple(fields),
        schema.get("description", "") if kind == "application/json" else kind,
        json.dumps(example, indent=2, ensure_ascii=False) if example else "",
        any(parameter["name"].lower() in _OF_EVERY_WRITE for parameter in parameters),
    )


def _resolved(schema: Mapping[str, Any], schemas: Mapping[str, Any]) -> Mapping[str, Any]:
    name = schema.get("$ref", "").rpartition("/")[2]
    there: Mapping[str, Any] = schemas.get(name, schema)
    return there


def _body_fields(schema: Mapping[str, Any], schemas: Mapping[str, Any]) -> Iterator[SentField]:
    needed = schema.get("required", ())
    for name, of in schema.get("properties", {}).items():
        yield SentField(
            name,
            "body",
            _holds(of),
            name in needed,
            of.get("description") or _resolved(of, schemas).get("description", ""),
        )


_WORDS = {"number": "figure", "string": "text", "integer": "whole number", "boolean": "yes or no"}


def _holds(of: Mapping[str, Any]) -> str:
    """Return in words what a value may be."""
    if "enum" in of:
        return ", ".join(str(one) for one in of["enum"])
    if "const" in of:
        return str(of["const"])
    if "anyOf" in of:
        return " or ".join(dict.fromkeys(_holds(one) for one in of["anyOf"]))
    if "$ref" in of:
        return str(of["$ref"]).rpartition("/")[2]
    if of.get("type") == "array":
        return f"list of {_holds(of.get('items', {}))}"
    if of.get("format") in ("date", "binary"):
        return str(of["format"])
    words = {
        "number": "figure",
        "string": "text",
        "integer": "whole number",
        "boolean": "yes or no",
    }
    return words.get(str(of.get("type")), str(of.get("type", "object")))


def _example(schema: Mapping[str, Any]) -> dict[str, Any]:
    """Return a body made of the examples of its fields, and of what has to be there."""
    needed = schema.get("required", ())
    body: dict[str, Any] = {}
    for name, of in schema.get("properties", {}).items():
        if of.get("examples"):
            body[name] = of["examples"][0]
        elif name in needed:
            body[name] = of["enum"][0] if "enum" in of else _plain_example(of)
    return body


def _plain_example(of: Mapping[str, Any]) -> Any:
    examples = {"number": 1.0, "integer": 1, "boolean": True, "array": [], "object": {}}
    return examples.get(str(of.get("type")), "…")
