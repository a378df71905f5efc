"""Fit for programs: the card and its steps, photographs, closing, what was measured after."""

import hashlib
from collections.abc import Callable

from fastapi import APIRouter
from pydantic import Field
from starlette.responses import Response

from jentrik.core.errors import DocumentError
from jentrik.core.work.template import MOST_STEPS
from jentrik.web.api import documents as documented
from jentrik.web.api.jobs import write_of_job
from jentrik.web.api.listed import KNOWN_ONLY
from jentrik.web.api.program import APicture, AProgram, Program, marked
from jentrik.web.live.command import Body
from jentrik.web.pages.after_fitting.commands import Measured, put_on_sheet
from jentrik.web.pages.card import commands as card
from jentrik.web.pages.card.commands import (
    Closing,
    Correction,
    NewCard,
    NewStep,
    StepOfMany,
    StepsWritten,
    StepWritten,
    step_of,
)

router = APIRouter(prefix="/api/jobs", tags=["jobs"], dependencies=[KNOWN_ONLY])


class StepsOnCard(Body):
    """A step of the shop's own to add, or steps that are there to be written together."""

    text: str | None = Field(
        default=None, examples=["Spin the wheel | reading: rim runout, mm | at most: 1"]
    )
    after: int | None = Field(default=None, description="The step an added one comes after")
    steps: list[StepOfMany] = Field(default_factory=list, max_length=MOST_STEPS)

    @property
    def asked(self) -> NewStep | StepsWritten:
        """The write that is asked for; refuses a body that names none, or both."""
        if (self.text is None) == (not self.steps):
            raise DocumentError(
                "Send the text of a step to add, or the steps to write.",
                field="steps",
                expected="“text” or “steps”",
            )
        if self.text is None:
            return StepsWritten(steps=self.steps)
        return NewStep(text=self.text, after=self.after)


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
        lambda: body.carry_out(program.shop, job_id),
        lambda _: documented.card_document(job_id),
        sent=body,
        status=201,
        now=lambda: documented.job_document(program.shop, job_id),
    )


@router.post("/{job_id}/card/steps", status_code=201)
def add_step(program: AProgram, job_id: int, body: StepsOnCard) -> Response:
    """Add a step of the shop's own, or write several that are there: all of them or none."""
    return _on_card(
        program, job_id, lambda: body.asked.carry_out(program.shop, job_id), body, status=201
    )


@router.post("/{job_id}/card/steps/{step_id}")
def write_step(program: AProgram, job_id: int, step_id: int, body: StepWritten) -> Response:
    """Write down what was done in a step."""

    def act() -> None:
        known = step_of(job_id, step_id)
        body.over(known).carry_out(program.shop, job_id, known)

    return _on_card(program, job_id, act, body)


@router.post("/{job_id}/photos", status_code=201)
def add_photo(program: AProgram, job_id: int, photo: APicture, caption: str = "") -> Response:
    """Keep a photograph of a job, written anew without what the camera noted in it."""
    return program.write(
        lambda: card.add_photo(program.shop, job_id, photo, caption),
        lambda _: documented.photos_document(job_id),
        sent=[caption, hashlib.sha256(photo).hexdigest()],
        status=201,
        now=lambda: documented.photos_document(job_id),
    )


@router.delete("/{job_id}/photos/{photo_id}")
def drop_photo(program: AProgram, job_id: int, photo_id: int) -> Response:
    """Take a photograph off; undo brings it back."""
    return program.write(
        lambda: card.drop_photo(program.shop, job_id, photo_id),
        lambda _: documented.photos_document(job_id),
        now=lambda: documented.photos_document(job_id),
    )


@router.post("/{job_id}/close")
def close(program: AProgram, job_id: int, body: Closing) -> Response:
    """Close a job, what was done fitted and sealed; what is open needs a reason."""
    return write_of_job(program, job_id, lambda: body.carry_out(program.shop, job_id), body)


@router.post("/{job_id}/open")
def open_again(program: AProgram, job_id: int) -> Response:
    """Open a closed job again."""
    return write_of_job(program, job_id, lambda: card.open_again(program.shop, job_id))


@router.post("/{job_id}/corrections", status_code=201)
def correct(program: AProgram, job_id: int, body: Correction) -> Response:
    """Write a correction beside the document of a job that is done."""
    return write_of_job(
        program, job_id, lambda: body.carry_out(program.shop, job_id), body, status=201
    )


@router.post("/{job_id}/fitted")
def fitted(program: AProgram, job_id: int) -> Response:
    """Let what was fitted follow what was found, and note the fitting in the logbook."""
    return write_of_job(program, job_id, lambda: put_on_sheet(program.shop, job_id))


@router.get("/{job_id}/measured")
def measured(job_id: int) -> Response:
    """Return what was measured after fitting."""
    return marked(documented.measured_document(job_id))


@router.post("/{job_id}/measured")
def measure(program: AProgram, job_id: int, body: Measured) -> Response:
    """Save measurements after fitting, all of them or none."""
    return write_of_job(
        program,
        job_id,
        lambda: body.carry_out(program.shop, job_id),
        body,
        lambda: documented.measured_document(job_id),
    )
