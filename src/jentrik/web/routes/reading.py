"""Reading a code anywhere: a page of its own, with an address that can be handed on."""

from fastapi import APIRouter, Request
from fastapi.responses import HTMLResponse

from jentrik.core.errors import CodeError
from jentrik.core.tirecode.reading import read_code
from jentrik.web.templating import page, wants_fragment
from jentrik.web.views.fields import complaint_of, strip_of

router = APIRouter(include_in_schema=False)


@router.get("/read", name="read_page")
def read_page(request: Request, code: str = "") -> HTMLResponse:
    """Read the code in the address; without one, wait for it to be typed."""
    strip = complaint = None
    if code.strip():
        try:
            strip = strip_of(read_code(code), section=True)
        except CodeError as refusal:
            complaint = complaint_of(refusal, code)
    template = "reading/_reading.html" if wants_fragment(request) else "reading/page.html"
    status = 422 if complaint else 200
    return page(request, template, status=status, code=code[:400], strip=strip, complaint=complaint)
