"""The handbook inside the program.

GET  /handbook              its chapters, and what is looked for in them
GET  /handbook/{chapter}    one chapter, to read and to print
"""

from functools import lru_cache

from fastapi import APIRouter, Request
from fastapi.responses import HTMLResponse

from jentrik.core.errors import StoreError
from jentrik.web.pages.handbook.view import CHAPTER, CHAPTERS, Passage, passages, searched, tables
from jentrik.web.parts.paging import LONGEST_FIND
from jentrik.web.templating import page, wants_fragment

router = APIRouter(include_in_schema=False, prefix="/handbook")


@router.get("", name="handbook")
def handbook(request: Request, find: str = "") -> HTMLResponse:
    """Show the chapters, or the parts with the words looked for."""
    find = " ".join(find.split())[:LONGEST_FIND]
    found: list[Passage] = []
    if find:
        parts = [part for chapter in CHAPTERS for part in _parts(request, chapter.id)]
        found = searched(parts, find)
    template = "handbook/_found.html" if wants_fragment(request) else "handbook/index.html"
    return page(request, template, chapters=CHAPTERS, find=find, found=found)


@lru_cache(maxsize=len(CHAPTERS))
def _kept_parts(chapter: str, html: str) -> tuple[Passage, ...]:
    return tuple(passages(CHAPTER[chapter], html))


def _parts(request: Request, chapter: str) -> tuple[Passage, ...]:
    html = bytes(_chapter(request, chapter).body).decode()
    return _kept_parts(chapter, html[html.index('<article class="handbook') :])


@router.get("/{chapter}", name="handbook_chapter")
def handbook_chapter(request: Request, chapter: str) -> HTMLResponse:
    """Show one chapter."""
    return _chapter(request, chapter)


def _chapter(request: Request, chapter: str) -> HTMLResponse:
    known = CHAPTER.get(chapter)
    if known is None:
        raise StoreError("The handbook has no such chapter.")
    place = CHAPTERS.index(known)
    return page(
        request,
        f"handbook/{known.id}.html",
        chapter=known,
        chapters=CHAPTERS,
        before=CHAPTERS[place - 1] if place else None,
        after=CHAPTERS[place + 1] if place + 1 < len(CHAPTERS) else None,
        of=tables(),
    )
