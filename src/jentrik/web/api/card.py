"""Fit for programs: the card and its steps, photographs, closing, what was measured after."""

import hashlib
from collections.abc import Callable
from io import BytesIO
from typing import Annotated, Literal

from fastapi import APIRouter
from fastapi import Body as BodyOf
from pydantic import Field
from starlette.datastructures import FormData, UploadFile
from starlette.responses import Response

from jentrik.core.errors import StoreError
from jentrik.web.api import documents as documented
from jentrik.web.api.jobs import write_of_job
from jentrik.web.api.program import AProgram, Program, form_of, marked
from jentrik.web.live.command import Body
from jentrik.web.pages.after_fitting import route as after_fitting
from jentrik.web.pages.card import route as card
from jentrik.web.pages.card.view import TORQUE_SOURCES

router = APIRouter(prefix="/api/jobs", tags=["jobs"])
LARGEST_PHOTO_BYTES = 12_000_000


class NewCard(Body):
    """The card of a job: of which proposal, and from which template."""

    proposal: str = Field(examples=["A"])
    template: str = Field(default="", description="Empty: made from what changes")


class NewStep(Body):
    """A step of the shop's own, as a template writes it."""

    text: str = Field(examples=["Spin the wheel | reading: rim runout, mm | at most: 1"])
    after: int | None = Field(default=None, description="The step it comes after")


class StepWritten(Body):
    """What is done with a step: written, ticked, waived, opened, moved, split, read by gauge."""

    act: Literal["keep", "tick", "waive", "open", "gauge", "up", "down", "split"] = "tick"
    version: int | None = Field(default=None, description="As read; another one is refused")
    reading: str | float | None = None
    torque_nm: float | None = Field(default=None, description="From the maker or the part")
    torque_source: str | None = Field(default=None, examples=list(TORQUE_SOURCES))
    why: str | None = Field(default=None, description="Why a reading outside its limits stands")
    reason: str | None = Field(default=None, description="Why a step is waived")
    first: str | None = None
    second: str | None = None


class Closing(Body):
    """How a job is closed, and the reason where something is open."""

    act: Literal["fitted", "unfitted"] = "fitted"
    why: str = ""


class Correction(Body):
    """What is written beside the document of a job that is done."""

    correction: str


class Measured(Body):
    """What was measured after fitting, by key; null clears."""

    measured: dict[str, float | None] = Field(examples=[{"wheelbase_mm": 1048}])


@router.get("/{job_id}/card")
def job_card(job_id: int) -> Response:
    """Return the card of a job, with its steps and photographs."""
    return marked(documented.card_document(job_id))


def _on_card(
    program: Program, job_id: int, act: Callable[[], object], sent: object, *, status: int = 200
) -> Response:
    return program.write(
        act,
        lambda _: documented.card_document(job_id),
        sent=sent,
        now=lambda: documented.card_document(job_id),
        status=status,
    )


@router.post("/{job_id}/card", status_code=201)
def make_card(program: AProgram, job_id: int, body: NewCard) -> Response:
    """Make the card of a job."""
    return program.write(
        lambda: card.make_card(program.request, job_id, program.shop, form_of(body)),
        lambda _: documented.card_document(job_id),
        sent=body,
        status=201,
        now=lambda: documented.job_document(program.shop, job_id),
    )


@router.post("/{job_id}/card/steps", status_code=201)
def add_step(program: AProgram, job_id: int, body: NewStep) -> Response:
    """Add a step of the shop's own to the card."""

    def act() -> object:
        return card.add_step(program.request, job_id, program.shop, form_of(body))

    return _on_card(program, job_id, act, body, status=201)


@router.post("/{job_id}/card/steps/{step_id}")
def write_step(program: AProgram, job_id: int, step_id: int, body: StepWritten) -> Response:
    """Write down what was done in a step."""

    def act() -> object:
        known = documented.card_document(job_id)["steps"]
        there = next((one for one in known if one["id"] == step_id), None)
        if there is None:
            raise StoreError("That step is not on the card any more.")
        more = {} if body.version is not None else {"version": str(there["version"])}
        kept = {
            key: str(there[key])
            for key in ("torque_nm", "torque_source", "reading")
            if getattr(body, key) is None and there[key] is not None
        }
        form = form_of(body, **more, **kept)
        return card.write_step(program.request, job_id, step_id, program.shop, form)

    return _on_card(program, job_id, act, body)


@router.post("/{job_id}/photos", status_code=201)
def add_photo(
    program: AProgram,
    job_id: int,
    photo: Annotated[bytes, BodyOf(media_type="image/jpeg", max_length=LARGEST_PHOTO_BYTES)],
    caption: str = "",
) -> Response:
    """Keep a photograph of a job, written anew without what the camera noted in it."""
    form = FormData({"caption": caption, "photo": UploadFile(BytesIO(photo))})

    def act() -> object:
        return card.add_photo(program.request, job_id, program.shop, form)

    return program.write(
        act,
        lambda _: documented.photos_document(job_id),
        sent=[caption, hashlib.sha256(photo).hexdigest()],
        status=201,
        now=lambda: documented.photos_document(job_id),
    )


@router.delete("/{job_id}/photos/{photo_id}")
def drop_photo(program: AProgram, job_id: int, photo_id: int) -> Response:
    """Take a photograph off; undo brings it back."""
    form = FormData({"photo": str(photo_id)})
    return program.write(
        lambda: card.drop_photo(program.request, job_id, program.shop, form),
        lambda _: documented.photos_document(job_id),
        now=lambda: documented.photos_document(job_id),
    )


@router.post("/{job_id}/close")
def close(program: AProgram, job_id: int, body: Closing) -> Response:
    """Close a job, what was done fitted and sealed; what is open needs a reason."""

    def act() -> object:
        return card.close_job(program.request, job_id, program.shop, form_of(body))

    return write_of_job(program, job_id, act, body)


@router.post("/{job_id}/open")
def open_again(program: AProgram, job_id: int) -> Response:
    """Open a closed job again."""

    def act() -> object:
        return card.open_job(program.request, job_id, program.shop, FormData())

    return write_of_job(program, job_id, act)


@router.post("/{job_id}/corrections", status_code=201)
def correct(program: AProgram, job_id: int, body: Correction) -> Response:
    """Write a correction beside the document of a job that is done."""

    def act() -> object:
        return card.correct_job(program.request, job_id, program.shop, form_of(body))

    return write_of_job(program, job_id, act, body, status=201)


@router.post("/{job_id}/fitted")
def fitted(program: AProgram, job_id: int) -> Response:
    """Let what was fitted follow what was found, and note the fitting in the logbook."""

    def act() -> object:
        return after_fitting.put_on_sheet(program.request, job_id, program.shop, FormData())

    return write_of_job(program, job_id, act)


@router.get("/{job_id}/measured")
def measured(job_id: int) -> Response:
    """Return what was measured after fitting."""
    return marked(documented.measured_document(job_id))


@router.post("/{job_id}/measured")
def measure(program: AProgram, job_id: int, body: Measured) -> Response:
    """Save measurements after fitting, all of them or none."""
    form = FormData(
        {f"measured:{key}": "" if v is None else f"{v:.15g}" for key, v in body.measured.items()}
    )
    return write_of_job(
        program,
        job_id,
        lambda: after_fitting.measure_after_fitting(program.request, job_id, program.shop, form),
        body,
        lambda: documented.measured_document(job_id),
    )
