"""Every answer of the API holds to its own description: its status, and its model."""

import re
import tempfile
from functools import cache, lru_cache
from pathlib import Path
from typing import Any

from httpx2 import Response
from jsonschema import Draft202012Validator, FormatChecker

from jentrik.web.app import create_app


@lru_cache(maxsize=1)
def described() -> dict[str, Any]:
    """Return the description; made before the application of a test, whose shop is the last."""
    with tempfile.TemporaryDirectory() as folder:
        app = create_app(Path(folder))
        described: dict[str, Any] = app.openapi()
        app.state.shop.database.close()
        return described


@lru_cache(maxsize=1)
def _paths() -> list[tuple[re.Pattern[str], str]]:
    """Return each address of the description as a pattern, those without parameters first."""
    paths = sorted(described()["paths"], key=lambda path: path.count("{"))
    return [(re.compile(re.sub(r"{\w+}", "[^/]+", path)), path) for path in paths]


@cache
def _validator(name: str) -> Draft202012Validator:
    schema = {"$ref": f"#/components/schemas/{name}", "components": described()["components"]}
    return Draft202012Validator(schema, format_checker=FormatChecker())


def must_conform(response: Response) -> None:
    """Fail where an answer of the API is not as its description says."""
    path, method = response.request.url.path, response.request.method.lower()
    known = next((one for pattern, one in _paths() if pattern.fullmatch(path)), None)
    operation = described()["paths"].get(known, {}).get(method)
    if operation is None or response.status_code in (405, 500):
        return
    said = operation["responses"].get(str(response.status_code))
    assert said is not None, (method, known, response.status_code, response.read()[:200])
    if "$ref" in said:
        name = "Error"
    else:
        schema = said.get("content", {}).get("application/json", {}).get("schema", {})
        name = schema.get("$ref", "").rpartition("/")[2]
    if name and "json" in response.headers.get("content-type", ""):
        response.read()
        fault = next(_validator(name).iter_errors(response.json()), None)
        assert fault is None, (method, known, name, fault.json_path, fault.message[:300])
