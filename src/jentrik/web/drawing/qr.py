"""A QR code that opens an address on a phone; segno does the encoding."""

import segno
from markupsafe import Markup, escape


def qr_code(address: str, title: str) -> Markup:
    """Return the code of an address as SVG, black on white with the quiet zone it needs."""
    code = segno.make(address, error="m", micro=False)
    drawn = code.svg_inline(scale=1, border=4, omitsize=True, dark="#000", light="#fff")
    label = f'<svg role="img" aria-label="{escape(title)}" class="qr-code" '
    return Markup(drawn.replace("<svg ", label, 1).replace('class="segno"', ""))
