"""What every answer of the API is made with: fields of our own classes, a refusal, a page."""

from dataclasses import fields
from datetime import datetime
from typing import Any, Literal, get_type_hints

from pydantic import BaseModel, Field, RootModel, create_model

Figures = dict[str, Any]  # keys as in a plan document, values with the unit in the key


Severity = Literal["stop", "caution", "note", ""]


def fields_of(of: type, *without: str) -> type[BaseModel]:
    """Return a model with the fields of a dataclass of ours, which its answer is made of."""
    hints = get_type_hints(of)
    named = {one.name: (hints[one.name], ...) for one in fields(of) if one.name not in without}
    model: type[BaseModel] = create_model(f"{of.__name__}Fields", **named)  # type: ignore[call-overload]
    return model


class Refused(BaseModel):
    """Why a request was refused: a sentence, the place in what was sent, what was expected."""

    message: str
    field: str | None
    position: int | None
    expected: str | None
    suggestions: list[str]


class Error(BaseModel):
    """A refusal."""

    error: Refused


class Health(BaseModel):
    """That the program runs, which version, its database, disk and last backup."""

    status: Literal["ok"]
    version: str
    database: Literal["ok"]
    disk_free_mb: int
    last_backup_at: datetime | None


class Listed(BaseModel):
    """A page of a list."""

    more: bool = Field(description="Whether there is another page")
    total: int = Field(description="How many there are on all pages")


class Document(RootModel[dict[str, Any]]):
    """A document of ours; its keys are described beside the documents that are sent."""


class Done(BaseModel):
    """What a press of undo did, in words."""

    done: str
