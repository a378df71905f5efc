"""A machine of the shop, and what is proposed for it, written as a plan document."""

from collections.abc import Iterable, Mapping
from typing import Any, get_args

from pydantic import BaseModel

from jentrik.core.machine.sheet import Sheet
from jentrik.core.work.job import KeptProposal
from jentrik.exchange.plan_parts import PlanDocument


def plan_of(sheet: Sheet, proposals: Iterable[KeptProposal] = ()) -> dict[str, Any]:
    """Return the document that `plan` takes of a machine and its proposals.

    What a sheet holds beside the document's keys (who sits where, how it is ridden) stays out.
    """
    document = {
        "format": "jentrik-plan",
        "version": 1,
        "bike": sheet.bike_values(),
        "proposals": [kept.values() for kept in proposals],
    }
    written: dict[str, Any] = _of(document, PlanDocument)
    return written


def _of(value: Any, model: type[BaseModel] | None) -> Any:
    """Return a value with the keys alone that its part of the document has."""
    if isinstance(value, list | tuple):
        return [_of(one, model) for one in value]
    if model is None or not isinstance(value, Mapping):
        return value
    parts = {field.alias or name: field.annotation for name, field in model.model_fields.items()}
    return {
        key: _of(one, _model_in(parts[key]))
        for key, one in value.items()
        if key in parts and one is not None
    }


def _model_in(annotation: Any) -> type[BaseModel] | None:
    """Return the part of a document that a field's annotation names, if any."""
    if isinstance(annotation, type) and issubclass(annotation, BaseModel):
        return annotation
    return next((found for one in get_args(annotation) if (found := _model_in(one))), None)
