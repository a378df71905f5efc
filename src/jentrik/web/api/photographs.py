"""Photographs that are measured on, for programs: their marks, what they tell, onto the sheet."""

import hashlib
from typing import Any

from fastapi import APIRouter
from pydantic import Field
from starlette.responses import Response

from jentrik.core.days import with_offset
from jentrik.core.machine.sheet import Sheet
from jentrik.core.photo.together import merged
from jentrik.exchange.photo_marks import photo_document
from jentrik.store import machines, photographs
from jentrik.store.photographs import Photograph
from jentrik.web.api import documents as documented
from jentrik.web.api.field_changes import change_fields
from jentrik.web.api.listed import KNOWN_ONLY
from jentrik.web.api.program import APicture, AProgram, as_text, marked
from jentrik.web.live.command import Body
from jentrik.web.live.fields import Sent
from jentrik.web.pages.photographs.answers import PhotoAnswers
from jentrik.web.pages.photographs.commands import (
    OntoSheet,
    OwnMark,
    add_photograph,
    drop_photograph,
)
from jentrik.web.pages.photographs.view import understood

router = APIRouter(
    prefix="/api/machines/{machine_id}/photographs", tags=["machines"], dependencies=[KNOWN_ONLY]
)


class PhotoChange(Body):
    """Fields of a picture: marks as pixels in a text, rulers in mm; an empty text clears."""

    fields: dict[str, float | str | None] = Field(
        examples=[
            {
                "faces": "right",
                "rear.edge_px": "812,1990 840,1890 930,1800 1040,1780 1150,1830",
                "point.bottom bracket": "1650,2140",
                "line.steering axis": "2610,1190 2680,1420",
                "rear.diameter_mm": 640,
            }
        ]
    )


def _document(sheet: Sheet, one: Photograph) -> dict[str, Any]:
    known = understood(sheet, one)
    return {
        "id": one.id,
        "file": one.file,
        "width_px": one.size[0],
        "height_px": one.size[1],
        "focal_px": one.focal_px,
        "added_at": with_offset(one.added_at),
        "by": one.by,
        "marks": one.marks,
        "measured": None if known.measured is None else photo_document(known.measured),
        "trouble": known.trouble,
    }


def _of(machine_id: int, number: int) -> dict[str, Any]:
    return _document(machines.sheet(machine_id), photographs.photograph(machine_id, number))


@router.get("")
def all_photographs(machine_id: int) -> Response:
    """Return the pictures of a machine with their marks, and what they tell together."""
    sheet, those = machines.sheet(machine_id), photographs.photographs(machine_id)
    measured = merged([one for one in (understood(sheet, each).measured for each in those) if one])
    return marked(
        {
            "photographs": [_document(sheet, one) for one in those],
            "together": None if measured is None else photo_document(measured),
        }
    )


@router.post("", status_code=201)
def one_more(program: AProgram, machine_id: int, photo: APicture) -> Response:
    """Keep a picture to measure on, written anew; its focal length is taken from the file."""
    return program.write(
        lambda: add_photograph(program.shop, machine_id, photo),
        lambda number: _of(machine_id, number),
        sent=hashlib.sha256(photo).hexdigest(),
        status=201,
        now=None,
    )


@router.get("/{photograph_id:int}")
def one_photograph(machine_id: int, photograph_id: int) -> Response:
    """Return a picture with its marks and what it tells."""
    return marked(_of(machine_id, photograph_id))


@router.patch("/{photograph_id:int}")
def mark_photograph(
    program: AProgram, machine_id: int, photograph_id: int, body: PhotoChange
) -> Response:
    """Write marks and rulers, all of them or none."""
    sent = [Sent(f"photo:{name}", as_text(value)) for name, value in body.fields.items()]
    return program.write(
        lambda: change_fields(
            program.shop, sent, lambda: PhotoAnswers.of(machine_id, photograph_id)
        ),
        lambda _: _of(machine_id, photograph_id),
        sent=body,
        now=lambda: _of(machine_id, photograph_id),
    )


@router.post("/{photograph_id:int}/name", status_code=201)
def name_mark(program: AProgram, machine_id: int, photograph_id: int, body: OwnMark) -> Response:
    """Add a point or line of the shop's own to mark."""
    return program.write(
        lambda: body.carry_out(program.shop, machine_id, photograph_id),
        lambda _: _of(machine_id, photograph_id),
        sent=body,
        status=201,
        now=lambda: _of(machine_id, photograph_id),
    )


@router.delete("/{photograph_id:int}")
def one_less(program: AProgram, machine_id: int, photograph_id: int) -> Response:
    """Take a picture away; undo brings it back."""

    def act() -> dict[str, Any]:
        document = _of(machine_id, photograph_id)
        drop_photograph(program.shop, machine_id, photograph_id)
        return document

    return program.write(act, lambda document: document, now=lambda: _of(machine_id, photograph_id))


@router.post("/sheet")
def onto_sheet(program: AProgram, machine_id: int, body: OntoSheet) -> Response:
    """Write figures of pictures on the sheet, each as by photograph with its ±."""
    return program.write(
        lambda: body.carry_out(program.shop, machine_id),
        lambda _: {"figures": body.figure},
        sent=body,
        now=lambda: documented.machine_document(machine_id),
    )
