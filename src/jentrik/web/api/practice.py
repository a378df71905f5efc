"""Practice for programs: answers judged and kept, how a person stands, an item on the bench."""

from fastapi import APIRouter
from pydantic import Field
from starlette.responses import Response

from jentrik.core.practice.skills import SKILLS
from jentrik.store import practice
from jentrik.store.undo import Scope
from jentrik.web.api import documents as documented
from jentrik.web.api.listed import KNOWN_ONLY
from jentrik.web.api.program import AProgram, as_text, marked
from jentrik.web.live.command import Body
from jentrik.web.live.undoing import Undoing, take_back
from jentrik.web.pages.practice import route as pages

router = APIRouter(prefix="/api/practice", tags=["practice"], dependencies=[KNOWN_ONLY])


class Answer(Body):
    """An answer to the item of a kind and a seed: the words of a choice, or a figure."""

    kind: str = Field(examples=["load-index"])
    seed: int = Field(ge=0, le=2**53)
    answer: str | float = Field(examples=["236 kg"])


class AnItem(Body):
    """An item by its kind and seed."""

    kind: str = Field(examples=["which-way"])
    seed: int = Field(ge=0, le=2**53)


@router.post("/answers", status_code=201)
def answer(program: AProgram, body: Answer) -> Response:
    """Judge an answer, keep it for who gives it, and return what is right and why."""
    item = pages.item_asked(program.shop, body.kind, body.seed)
    return program.write(
        lambda: pages.answer_of(program.shop, item, body.seed, as_text(body.answer)),
        lambda given: {
            "verdict": given[0].value,
            "said": given[1],
            "answer": item.answer,
            "why": item.why,
            "source": item.source,
        },
        sent=body,
        status=201,
        now=None,
    )


@router.get("/progress")
def progress(person: str = "") -> Response:
    """Return how every skill stands with a person: when it is due, how its last answers were."""
    known = practice.practised(person)
    return marked(
        {
            "person": person,
            "skills": [
                {
                    "kind": one.kind,
                    "title": one.title,
                    "level": one.level,
                    "needs": list(one.needs),
                    "due": known[one.kind].due.isoformat() if one.kind in known else None,
                    "verdicts": list(known[one.kind].verdicts) if one.kind in known else [],
                }
                for one in SKILLS
            ],
        }
    )


@router.post("/jobs", status_code=201)
def on_bench(program: AProgram, body: AnItem) -> Response:
    """Open an item's machine on the bench as a job of its own."""
    item = pages.item_asked(program.shop, body.kind, body.seed)
    return program.write(
        lambda: pages.job_of(program.shop, item),
        lambda job_id: documented.job_document(program.shop, job_id),
        sent=body,
        status=201,
        now=None,
    )


@router.post("/undo")
def undo(program: AProgram, body: Undoing) -> Response:
    """Take the last answer back, or give it again."""
    return program.write(
        lambda: take_back(program.shop, body, Scope(subject=practice.SUBJECT)),
        lambda undone: undone.outcome,
        sent=body,
        now=None,
    )
