"""Photographs that are measured on, for programs: their marks, what they tell, onto the sheet."""

import hashlib
from io import BytesIO
from typing import Any, Literal

from fastapi import APIRouter
from pydantic import Field
from starlette.datastructures import FormData, UploadFile
from starlette.responses import Response

from jentrik.core.machine.sheet import Sheet
from jentrik.core.photo.together import merged
from jentrik.exchange.photo_marks import photo_document
from jentrik.store import machines, photographs
from jentrik.store.photographs import Photograph
from jentrik.web.api import documents as documented
from jentrik.web.api.field_changes import change_fields
from jentrik.web.api.program import AProgram, as_text, form_of, marked
from jentrik.web.api.shelf import Photo
from jentrik.web.live.command import Body
from jentrik.web.live.fields import Sent
from jentrik.web.pages.photographs import route as pages
from jentrik.web.pages.photographs.answers import PhotoAnswers
from jentrik.web.pages.photographs.view import understood

router = APIRouter(prefix="/api/machines/{machine_id}/photographs", tags=["machines"])


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


class OwnMark(Body):
    """A point or line of the shop's own."""

    name: str = Field(examples=["peg"])
    kind: Literal["point", "line"] = "point"


class OntoSheet(Body):
    """Figures that go onto the sheet: of one picture, or of all together by their weights."""

    figure: list[str] = Field(examples=[["wheelbase_mm", "bb_height_mm"]])
    photograph: int | None = None


def _document(sheet: Sheet, one: Photograph) -> dict[str, Any]:
    known = understood(sheet, one)
    return {
        "id": one.id,
        "file": one.file,
        "width_px": one.size[0],
        "height_px": one.size[1],
        "focal_px": one.focal_px,
        "added_at": one.added_at.isoformat(),
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
def add_photograph(program: AProgram, machine_id: int, photo: Photo) -> Response:
    """Keep a picture to measure on, written anew; its focal length is taken from the file."""
    form = FormData({"photo": UploadFile(BytesIO(photo))})

    def newest(_: object) -> dict[str, Any]:
        return _of(machine_id, photographs.photographs(machine_id)[-1].id)

    return program.write(
        lambda: pages.add_photograph(program.request, machine_id, program.shop, form),
        newest,
        sent=hashlib.sha256(photo).hexdigest(),
        status=201,
        now=None,
    )


@router.get("/{photograph_id}")
def one_photograph(machine_id: int, photograph_id: int) -> Response:
    """Return a picture with its marks and what it tells."""
    return marked(_of(machine_id, photograph_id))


@router.patch("/{photograph_id}")
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


@router.post("/{photograph_id}/name", status_code=201)
def name_mark(program: AProgram, machine_id: int, photograph_id: int, body: OwnMark) -> Response:
    """Add a point or line of the shop's own to mark."""
    return program.write(
        lambda: pages.name_photo_mark(
            program.request, machine_id, photograph_id, program.shop, form_of(body)
        ),
        lambda _: _of(machine_id, photograph_id),
        sent=body,
        status=201,
        now=lambda: _of(machine_id, photograph_id),
    )


@router.delete("/{photograph_id}")
def drop_photograph(program: AProgram, machine_id: int, photograph_id: int) -> Response:
    """Take a picture away; undo brings it back."""

    def act() -> dict[str, Any]:
        document = _of(machine_id, photograph_id)
        pages.drop_photograph(program.request, machine_id, photograph_id, program.shop, FormData())
        return document

    return program.write(act, lambda document: document, now=lambda: _of(machine_id, photograph_id))


@router.post("/sheet")
def onto_sheet(program: AProgram, machine_id: int, body: OntoSheet) -> Response:
    """Write figures of pictures on the sheet, each as by photograph with its ±."""
    return program.write(
        lambda: pages.onto_sheet(program.request, machine_id, program.shop, form_of(body)),
        lambda _: {"figures": body.figure},
        sent=body,
        now=lambda: documented.machine_document(machine_id),
    )
