"""What the API answers with, as named models: each operation's answer and the one form of refusal.

The answers are made of core values elsewhere; a model of one takes its fields from that value's
own class and says only what the answer has otherwise.  A value that is not
known is null, a day is a date, a moment has its offset, an amount of money is text in hundredths.
"""

from typing import Any

from pydantic import BaseModel

from jentrik.exchange.plan_parts import PlanDocument
from jentrik.web.api.answers.base import Document, Done, Error, Health
from jentrik.web.api.answers.documents import DOCUMENT_ANSWERS, PracticeItems
from jentrik.web.api.answers.jobs import (
    Advice,
    BeforeFitted,
    Card,
    Compared,
    Job,
    JobList,
    JobWithProposal,
    MeasuredAfter,
    Offer,
    Order,
    OutcomeOfRide,
    Photos,
    Ways,
)
from jentrik.web.api.answers.machines import (
    History,
    Log,
    Logs,
    Machine,
    MachineList,
    Rides,
    SpeedPairs,
    Wheel,
)
from jentrik.web.api.answers.shelf import ShelfList, TireOnShelf, TiresAdded, Where
from jentrik.web.api.answers.shop import (
    Backups,
    Binned,
    Changes,
    DueList,
    Gauges,
    KeyMade,
    Keys,
    Lines,
    People,
    PersonAdded,
    PersonWithUnits,
    Policy,
    Restore,
    Rules,
    Sessions,
    Templates,
    Verified,
    WebhookMade,
    Webhooks,
    Words,
)
from jentrik.web.plain_json import REFUSED_HEADER

_JOB, _M = "/api/jobs/{job_id}", "/api/machines/{machine_id}"


ANSWERS: dict[str, type[BaseModel]] = {
    **DOCUMENT_ANSWERS,
    "DELETE /api/shelf/{tire_id}": TireOnShelf,
    "GET /api/health": Health,
    "GET /api/jobs": JobList,
    "POST /api/jobs": Job,
    f"GET {_JOB}": Job,
    f"PATCH {_JOB}": Job,
    f"DELETE {_JOB}": Binned,
    f"GET {_JOB}/answer": Advice,
    f"GET {_JOB}/offer": Offer,
    f"POST {_JOB}/agreed": Offer,
    f"POST {_JOB}/arrived": Order,
    f"GET {_JOB}/order": Order,
    f"PATCH {_JOB}/order": Order,
    f"POST {_JOB}/day": Job,
    f"GET {_JOB}/card": Card,
    f"POST {_JOB}/card": Card,
    f"POST {_JOB}/card/steps": Card,
    f"POST {_JOB}/card/steps/{{step_id}}": Card,
    f"POST {_JOB}/close": Job,
    f"POST {_JOB}/open": Job,
    f"POST {_JOB}/corrections": Job,
    f"POST {_JOB}/fitted": Job,
    f"GET {_JOB}/measured": MeasuredAfter,
    f"POST {_JOB}/measured": MeasuredAfter,
    f"POST {_JOB}/outcome": OutcomeOfRide,
    f"POST {_JOB}/photos": Photos,
    f"DELETE {_JOB}/photos/{{photo_id}}": Photos,
    f"POST {_JOB}/proposals": JobWithProposal,
    f"PATCH {_JOB}/proposals/{{name}}": Job,
    f"DELETE {_JOB}/proposals/{{name}}": Job,
    f"GET {_JOB}/proposals/{{name}}/ways": Ways,
    f"POST {_JOB}/proposals/{{name}}/ways": Job,
    f"POST {_JOB}/rides": Rides,
    f"POST {_JOB}/setups": Machine,
    f"POST {_JOB}/undo": Done,
    "GET /api/machines": MachineList,
    "POST /api/machines": Machine,
    f"GET {_M}": Machine,
    f"PATCH {_M}": Machine,
    f"DELETE {_M}": Binned,
    f"POST {_M}/copy": Machine,
    f"POST {_M}/gauge": Machine,
    f"POST {_M}/go-back": Job,
    f"POST {_M}/put-on": Job,
    f"GET {_M}/history": History,
    f"DELETE {_M}/lines/{{kind}}/{{line}}": Machine,
    f"POST {_M}/lines/{{which}}": Machine,
    f"GET {_M}/log": Log,
    f"POST {_M}/log/inspections": Log,
    f"POST {_M}/log/odometer": Log,
    f"POST {_M}/log/odometer-checks": Log,
    f"POST {_M}/log/punctures": Log,
    f"POST {_M}/log/standing": Log,
    f"POST {_M}/photo": Machine,
    f"GET {_M}/rides": Rides,
    f"PUT {_M}/rides/{{ride_id}}/track": Rides,
    f"POST {_M}/sets": Machine,
    f"PATCH {_M}/setups/{{setup_id}}": Machine,
    f"GET {_M}/speed": SpeedPairs,
    f"POST {_M}/speed/drop": SpeedPairs,
    f"POST {_M}/speed/pairs": SpeedPairs,
    f"POST {_M}/speed/track": SpeedPairs,
    f"POST {_M}/tires/{{number}}/shelf": Machine,
    f"POST {_M}/undo": Done,
    f"POST {_M}/wheels/{{wheel_id}}": Machine,
    "GET /api/shelf": ShelfList,
    "POST /api/shelf": TireOnShelf,
    "GET /api/shelf/{tire_id}": TireOnShelf,
    "PATCH /api/shelf/{tire_id}": TireOnShelf,
    "POST /api/shelf/{tire_id}/look": TireOnShelf,
    "POST /api/shelf/{tire_id}/photo": TireOnShelf,
    "POST /api/shelf/{tire_id}/reserve": TireOnShelf,
    "GET /api/shelf/{tire_id}/where": Where,
    "POST /api/shelf/undo": Done,
    "GET /api/wheels/{wheel_id}": Wheel,
    "PATCH /api/wheels/{wheel_id}": Wheel,
    "POST /api/wheels/{wheel_id}/photo": Wheel,
    "POST /api/wheels/{wheel_id}/reserve": Wheel,
    "GET /api/wheels/{wheel_id}/where": Where,
    "GET /api/people": People,
    "POST /api/people": PersonAdded,
    "GET /api/policy": Policy,
    "PATCH /api/policy": Policy,
    "POST /api/policy/undo": Done,
    "GET /api/templates": Templates,
    "PUT /api/templates/{name}": Templates,
    "GET /api/gauges": Gauges,
    "POST /api/gauges/{tool}": Gauges,
    "GET /api/due": DueList,
    "GET /api/bin": Binned,
    "POST /api/bin/restore": Binned,
    "GET /api/backups": Backups,
    "POST /api/backups": Backups,
    "POST /api/backups/{name}/verify": Verified,
    "POST /api/backups/{name}/restore": Restore,
    "POST /api/tables": Lines,
    "POST /api/shelf/lines": TiresAdded,
    "POST /api/log": Logs,
    "GET /api/people/{person_id}": PersonWithUnits,
    "PATCH /api/people/{person_id}": PersonWithUnits,
    "DELETE /api/people/{person_id}": People,
    "GET /api/keys": Keys,
    "POST /api/keys": KeyMade,
    "DELETE /api/keys/{key_id}": Keys,
    "GET /api/webhooks": Webhooks,
    "POST /api/webhooks": WebhookMade,
    "DELETE /api/webhooks/{webhook_id}": Webhooks,
    "GET /api/sessions": Sessions,
    "DELETE /api/sessions/{session_id}": Sessions,
    "GET /api/rules": Rules,
    "GET /api/words": Words,
    f"GET {_JOB}/compare": Compared,
    f"GET {_JOB}/before-fitted": BeforeFitted,
    "GET /api/changes": Changes,
    "GET /api/practice": PracticeItems,
    "POST /api/practice/jobs": Job,
    "POST /api/practice/undo": Done,
}


FILES: dict[str, tuple[str, ...]] = {  # what is no JSON document, by the end of its address
    ".csv": ("text/csv",),
    ".vcf": ("text/vcard",),
    "GET /drawing": ("image/svg+xml", "image/png"),
    "GET /track": ("application/gpx+xml",),
    "/photos/{file}": ("image/jpeg",),
    "/backups/{name}": ("application/zip",),
}


STATUSES = {
    "401": "A key, a session or the passphrase is needed.",
    "403": "It must come from this shop's own pages, or a key does not open this.",
    "404": "What it names is not there.",
    "412": "It has changed since it was read.",
    "413": "It is larger than is taken.",
    "415": "It is no JSON.",
    "422": "What was sent, or what stands there, does not allow it.",
    "429": "Too many wrong keys or passphrases at once.",
    "503": "The shop takes no request for a moment.",
}


_REFUSED = {
    "description": "What the refusal is about: what was sent, or how things stand in the shop",
    "schema": {"type": "string", "enum": ["code", "range", "document", "state"]},
}


_READS = ("401", "403", "404", "422", "429", "503")


def with_answers(described: dict[str, Any]) -> None:
    """Put the model of its answer and every refusal into each operation of a description."""
    schemas = described["components"]["schemas"]
    for name in ("HTTPValidationError", "ValidationError"):
        schemas.pop(name, None)
    sent = set(schemas)
    models: set[type[BaseModel]] = {*ANSWERS.values(), Error, Document}
    for model in models:
        schema = model.model_json_schema(
            ref_template="#/components/schemas/{model}", mode="serialization"
        )
        named = {**schema.pop("$defs", {}), model.__name__: schema}
        twice = {one for one in named.keys() & sent if named[one] != schemas[one]}
        assert not twice, f"{twice} name what is sent and what is answered"
        schemas.update(named)
    described["components"]["responses"] = {
        f"Refused{status}": {
            "description": words,
            "content": _content(Error),
            "headers": {REFUSED_HEADER: _REFUSED},
        }
        for status, words in STATUSES.items()
    }
    described["components"]["securitySchemes"] = {"key": {"type": "http", "scheme": "bearer"}}
    described["security"] = [{}, {"key": []}]
    for path, methods in described["paths"].items():
        for method, operation in methods.items():
            _describe(f"{method.upper()} {path}", operation)


def _describe(name: str, operation: dict[str, Any]) -> None:
    called = operation["operationId"].partition("_api_")[0]
    operation["operationId"] = f"{operation['tags'][0].replace(' ', '_')}_{called}"
    answers = operation["responses"]
    for status, answer in answers.items():
        if status.startswith("2"):
            answer["content"] = _content_of(name, answer.get("content", {}))
    method = name.partition(" ")[0]
    if method == "GET":
        answers["304"] = {"description": "It is what the tag in If-None-Match names."}
    for status in _READS if method == "GET" else STATUSES:
        answers[status] = {"$ref": f"#/components/responses/Refused{status}"}


def _content_of(name: str, given: dict[str, Any]) -> dict[str, Any]:
    model = ANSWERS.get(name)
    if model is not None:
        return _content(model)
    if name.endswith("/plan"):
        return _content(PlanDocument)
    if "text/event-stream" in given:
        return given
    method, _, path = name.partition(" ")
    for ends, kinds in FILES.items():
        if name.endswith(ends) or f"{method} /{path.rpartition('/')[2]}" == ends:
            return {one: {"schema": {"type": "string"}} for one in kinds}
    return _content(Document)


def _content(model: type[BaseModel]) -> dict[str, Any]:
    return {"application/json": {"schema": {"$ref": f"#/components/schemas/{model.__name__}"}}}
