"""A drawing of a page as a file of its own: SVG that carries its style and letters, or PNG.

On a page a drawing takes its colours and line widths from the style sheets.  A file has none: each
element is given the declarations that apply to it, in the colours of the light set, and a width
that does not scale on the screen is worked out for the width of the file.  cssselect2 says which
rule applies, resvg makes the pixels.
"""

import base64
import re
from collections.abc import Iterator
from dataclasses import dataclass
from functools import lru_cache
from pathlib import Path
from typing import Any
from xml.etree import ElementTree as ET

import cssselect2
import resvg_py
import tinycss2

from jentrik.core.errors import DocumentError

STATIC, FONTS = Path(__file__).parents[1] / "static", Path(__file__).parent / "fonts"
WIDTH_PX = 1600  # of a file
SCREEN_PX = 900  # of a drawing on the screen that line widths are made for
LARGEST_DRAWING = 2_000_000
SVG = "http://www.w3.org/2000/svg"
_ONE = re.compile(r"<svg\b[^>]*\bviewBox=[^>]*>.*?</svg>", re.DOTALL)
_TAKEN = re.compile(
    r"fill|stroke|font|text-anchor|opacity|paint-order|display|visibility|dominant-baseline|letter"
)
_TRANSFORM = re.compile(r"(\w+)\(([^)]*)\)")
_DROPPED = re.compile(r"hx-|data-|on|aria-(?!label)|tabindex|href|xlink")
_INHERITED_TEXT = "font-family: Barlow Semi Condensed, Arial Narrow, sans-serif; font-weight: 400"
FACES = (
    ("Barlow Semi Condensed", 400, "barlow-semi-condensed-latin-400-normal"),
    ("Barlow Semi Condensed", 600, "barlow-semi-condensed-latin-600-normal"),
    ("Barlow Condensed", 600, "barlow-condensed-latin-600-normal"),
)


@dataclass(frozen=True, slots=True)
class Drawing:
    """A drawing of a page: what it shows, in words, and its text as it stands there."""

    title: str
    text: str


def drawings_in(page: str) -> list[Drawing]:
    """Return the drawings of a page in order; marks beside words are none."""
    found = []
    for text in _ONE.findall(page):
        head = text[: text.index(">")]
        label = re.search(r'aria-label="([^"]*)"', head)
        if label and 'class="qr-code' not in head:
            found.append(Drawing(_plain(label[1]), text))
    return found


def _plain(escaped: str) -> str:
    return str(ET.fromstring(f"<t>{escaped}</t>").text or "")  # noqa: S314  # our own page


@lru_cache(maxsize=1)
def _rules() -> tuple[Any, dict[str, str]]:
    """Return a matcher of every rule that can style a drawing, and the colours by name."""
    matcher, names = cssselect2.Matcher(), {}
    for sheet in ("theme.css", "drawing.css", "parts.css", "ways.css", "card.css", "bench.css"):
        css = (STATIC / "css" / sheet).read_text()
        for rule in tinycss2.parse_stylesheet(css, skip_comments=True, skip_whitespace=True):
            if rule.type != "qualified-rule":
                continue  # what holds for a screen's width, or for the dark, is no file's
            said = [
                (one.lower_name, tinycss2.serialize(one.value).strip(), one.important)
                for one in tinycss2.parse_declaration_list(rule.content)
                if one.type == "declaration"
            ]
            names.update({name: value for name, value, _ in said if name.startswith("--")})
            taken = [one for one in said if _TAKEN.match(one[0]) or one[0] == "vector-effect"]
            if taken:
                _add(matcher, rule, taken)
    return matcher, names


def _add(matcher: Any, rule: Any, said: list[tuple[str, str, bool]]) -> None:
    try:
        selectors = cssselect2.compile_selector_list(rule.prelude)
    except cssselect2.SelectorError:
        return  # of a part a drawing has not
    for selector in selectors:
        if selector.pseudo_element is None:
            matcher.add_selector(selector, said)


def _value(value: str, names: dict[str, str]) -> str:
    """Return a value with the names of colours and fonts replaced by what they stand for."""
    for _ in range(4):
        value = re.sub(r"var\((--[\w-]+)\)", lambda name: names.get(name[1], ""), value)
    return value.replace('"', "").strip()


def standalone(drawing: str, *, width_px: int = WIDTH_PX) -> str:
    """Return a drawing as an SVG file that needs nothing beside it."""
    if len(drawing) > LARGEST_DRAWING:
        raise DocumentError("That drawing is too large for a file.")
    root = ET.fromstring(drawing.replace(f' xmlns="{SVG}"', "", 1))  # noqa: S314  # our own page
    matcher, names = _rules()
    left, top, width, height = (float(one) for one in root.attrib["viewBox"].split())
    shrunk = width / SCREEN_PX if width > SCREEN_PX / 2 else 1.0  # units of the drawing a pixel
    for element in cssselect2.ElementWrapper.from_xml_root(root).iter_subtree():
        _style(element, matcher, names, shrunk / _scale(element))
    _clean(root)
    root.attrib |= {
        "xmlns": SVG,
        "width": str(width_px),
        "height": f"{width_px * height / width:.0f}",
        "style": _INHERITED_TEXT,
    }
    used = ET.tostring(root, encoding="unicode")
    back = ET.Element("rect", x=f"{left:g}", y=f"{top:g}", width=f"{width:g}", height=f"{height:g}")
    back.set("style", f"fill: {_value('var(--sheet)', names)}; stroke: none")
    root.insert(0, back)
    faces = ET.Element("style")
    faces.text = "".join(_faces(used))
    root.insert(0, faces)
    return ET.tostring(root, encoding="unicode")


def _scale(element: Any) -> float:
    """Return how many units of the drawing one unit of an element is."""
    scale = 1.0
    for one in (element, *element.ancestors):
        for name, said in _TRANSFORM.findall(one.etree_element.attrib.get("transform", "")):
            figures = [float(figure) for figure in re.split(r"[ ,]+", said.strip())]
            if name == "matrix":
                a, b, c, d = figures[:4]
                scale *= abs(a * d - b * c) ** 0.5
            elif name == "scale":
                scale *= abs(figures[0])
    return scale


def _style(element: Any, matcher: Any, names: dict[str, str], shrunk: float) -> None:
    """Write onto an element what the style sheets say of it, the strongest last."""
    style: dict[str, str] = {}
    strong: dict[str, str] = {}
    for _, _, _, said in sorted(matcher.match(element), key=lambda one: one[:2]):
        for name, value, important in said:
            (strong if important else style)[name] = _value(value, names)
    style |= strong
    if style.pop("vector-effect", "") == "non-scaling-stroke":
        for name in ("stroke-width", "stroke-dasharray"):
            if name in style:
                style[name] = re.sub(
                    r"[\d.]+", lambda one: f"{float(one[0]) * shrunk:.2f}", style[name]
                )
    own = element.etree_element.attrib.get("style", "")
    said = "; ".join(f"{name}: {value}" for name, value in style.items())
    if said or own:
        element.etree_element.set("style", "; ".join(one for one in (said, own) if one))


def _clean(root: ET.Element) -> None:
    """Take off what is of the page: classes, what a script reads, where a link leads."""
    for element in root.iter():
        for name in list(element.attrib):
            if name == "class" or _DROPPED.match(name):
                del element.attrib[name]


def _faces(used: str) -> Iterator[str]:
    """Give the letters a drawing is written in."""
    if "<text" not in used:
        return
    for family, weight, file in FACES:
        if (family == "Barlow Condensed" and family + "," not in used) or (
            weight == 600 and "font-weight: 600" not in used
        ):
            continue
        raw = base64.b64encode((STATIC / "fonts" / f"{file}.woff2").read_bytes()).decode()
        yield (
            f"@font-face {{ font-family: '{family}'; font-weight: {weight}; "
            f"src: url('data:font/woff2;base64,{raw}') format('woff2'); }}"
        )


def as_png(drawing: str, *, width_px: int = WIDTH_PX) -> bytes:
    """Return a drawing as pixels, in the letters we ship."""
    svg = re.sub(r"<style>.*?</style>", "", standalone(drawing, width_px=width_px), count=1)
    svg = svg.replace("→", "to")  # the letters we ship have no arrow
    return bytes(
        resvg_py.svg_to_bytes(
            svg_string=svg,
            skip_system_fonts=True,
            font_files=[str(FONTS / f"{file}.ttf") for _, _, file in FACES],
            sans_serif_family="Barlow Semi Condensed",
            width=width_px,
        )
    )
