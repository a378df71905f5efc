"""A command: one write, decoded alike from a page's form and from a program's JSON.

Each is a small class beside its page: its fields say what can be sent and make the API's document;
its `carry_out` writes within one step and returns what was written.  Neither a page nor the API
asks the other's handler.
"""

from collections.abc import Iterator
from datetime import date
from typing import Annotated, Any, Self, get_args, get_origin

from pydantic import (
    AfterValidator,
    BaseModel,
    BeforeValidator,
    ConfigDict,
    Field,
    ValidationError,
    ValidationInfo,
    model_validator,
)
from pydantic.fields import FieldInfo
from starlette.datastructures import FormData, UploadFile

from jentrik.core.days import read_day
from jentrik.core.errors import DocumentError, OutOfRange, Refusal
from jentrik.core.machine.declared import without_none
from jentrik.core.text import LONGEST_KEY, refuse_unseen
from jentrik.core.tire.tokens import LONGEST_CODE
from jentrik.core.units import read_figure
from jentrik.core.work.display_units import METRIC, DisplayUnits
from jentrik.web.live.typed_values import LONGEST_NAME, LONGEST_NOTE, LONGEST_WORDS, words


class Body(BaseModel):
    """What a program sends: only known keys, no guessing of types."""

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False, str_max_length=2_000_000)

    @model_validator(mode="before")
    @classmethod
    def _plain(cls, values: Any) -> Any:
        """Refuse unseen characters, and true or false where a figure or a text stands."""
        refuse_unseen(values)
        for name, value in values.items() if isinstance(values, dict) else ():
            field = cls.model_fields.get(name)
            if field is not None and not _takes_boolean(field.annotation):
                _refuse_boolean(value, name)
            elif field is not None and field.annotation is bool and type(value) in (int, float):
                raise DocumentError(
                    f"“{name}” is {value}, which is neither true nor false.",
                    field=name,
                    expected="true or false",
                )
        return values


def _takes_boolean(annotation: Any) -> bool:
    """Whether true or false may stand somewhere in a field; a body within looks for itself."""
    known = annotation is bool or (isinstance(annotation, type) and issubclass(annotation, Body))
    return known or any(_takes_boolean(part) for part in get_args(annotation))


def _refuse_boolean(value: object, at: str) -> None:
    """Refuse true and false, however deep: neither is a figure, a price or a count."""
    if isinstance(value, bool):
        raise DocumentError(
            f"“{at}” is {str(value).lower()}, which is no figure and no text.",
            field=at,
            expected="a figure or a text",
        )
    if isinstance(value, dict):
        for key, part in value.items():
            _refuse_boolean(part, f"{at}.{key}")
    elif isinstance(value, list):
        for place, part in enumerate(value):
            _refuse_boolean(part, f"{at}[{place}]")


class Command(Body):
    """One write, as a form or a document asks for it."""

    @classmethod
    def of(cls, form: FormData, units: DisplayUnits = METRIC) -> Self:
        """Return what a form asks for, figures without a unit read in those a person sees.

        Refuses what a field cannot hold, naming it.
        """
        try:
            return cls.model_validate(dict(_said(cls, form)), context=units)
        except ValidationError as error:
            first = error.errors(include_url=False)[0]
            name = ".".join(str(step) for step in first["loc"])
            refusal = first.get("ctx", {}).get("error")
            if isinstance(refusal, Refusal):
                raise refusal.under(name) from None
            choices = str(first.get("ctx", {}).get("expected", "")).replace("'", "")
            if first["type"] == "missing":
                said = f"“{name}” is missing."
            elif choices:
                said = f"“{str(first['input'])[:30]}” is not one of {choices}."
            else:
                said = f"“{str(first['input'])[:30]}” cannot stand there."
            expected = choices or first["msg"][:1].lower() + first["msg"][1:]
            raise OutOfRange(said, field=name or None, expected=expected) from None


def _said(of: type[Command], form: FormData) -> Iterator[tuple[str, Any]]:
    """Yield what a form says of the fields of a command; a blank one says nothing."""
    for name, field in of.model_fields.items():
        kind = without_none(field.annotation)
        if get_origin(kind) is list:
            yield name, [str(value) for value in form.getlist(name)]
        elif get_origin(kind) is dict:
            pairs = ((key.partition(":"), value) for key, value in form.multi_items())
            yield (
                name,
                {key: value for (head, _, key), value in pairs if head == name and str(value)},
            )
        elif name in form:
            text = str(form[name]).strip()
            if text or (kind is str and field.annotation is str):
                yield name, text


def sent_bytes(part: object) -> bytes:
    """Return what a form brings as a file; nothing where none was chosen."""
    return part.file.read() if isinstance(part, UploadFile) else b""


def _typed(unit: str) -> BeforeValidator:
    def read(value: Any, info: ValidationInfo) -> Any:
        if not isinstance(value, str):
            return value
        return read_figure((info.context or METRIC).in_kept(value.strip(), unit), unit=unit)

    return BeforeValidator(read)


def _day(value: Any) -> Any:
    if isinstance(value, int | float):
        raise OutOfRange("A day is written out, not a number.", expected="a day like 2026-12-01")
    return read_day(value) if isinstance(value, str) else value


def _within(longest: int, *, blank: bool = True) -> FieldInfo:
    """Return the bounds that the API's document states; what is outside is refused in words."""
    asked: dict[str, Any] = {} if blank else {"minLength": 1, "pattern": r"\S"}
    return Field(json_schema_extra={"maxLength": longest, **asked})  # type: ignore[no-any-return]


def _at_most(longest: int) -> AfterValidator:
    return AfterValidator(lambda text: words(text, most=longest))


Name = Annotated[str, _within(LONGEST_NAME, blank=False)]
Words = Annotated[str, _within(LONGEST_NAME), _at_most(LONGEST_NAME)]
FewWords = Annotated[str, _within(LONGEST_WORDS), _at_most(LONGEST_WORDS)]
Note = Annotated[str, _within(LONGEST_NOTE), _at_most(LONGEST_NOTE)]
Code = Annotated[str, _within(LONGEST_CODE, blank=False)]
MaybeCode = Annotated[str, _within(LONGEST_CODE), _at_most(LONGEST_CODE)]
ExternalId = Annotated[str, _within(LONGEST_KEY), _at_most(LONGEST_KEY)]

# Figures as a person types them, in the units they see, or as a document states them.
Mm = Annotated[float, _typed("mm")]
Km = Annotated[float, _typed("km")]
Kpa = Annotated[float, _typed("kPa")]
Kmh = Annotated[float, _typed("km/h")]
Day = Annotated[date, BeforeValidator(_day)]
