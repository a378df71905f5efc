"""Write the part of Bulma that our pages use: what the first view need not carry is left out.

A rule is kept where each class of one of its selectors stands in a template, a script or the list
below; a custom property where something kept uses it.  The whole of Bulma stays in the tree, and a
test makes the part anew and compares.
"""

import re
from pathlib import Path

WEB = Path(__file__).parent.parent / "src" / "jentrik" / "web"
WHOLE = WEB / "static" / "vendor" / "bulma-no-dark-mode.min.css"
PART = WEB / "static" / "css" / "bulma-part.css"
_COMMENT = re.compile(r"/\*.*?\*/", re.DOTALL)
_CHOICE = re.compile(r":(?:not|is|where)\((?:[^()]|\([^()]*\))*\)")
_CLASS = re.compile(r"\.(-?[_a-zA-Z][\w-]*)")
_USED = re.compile(r"var\((--[\w-]+)")
_SET = re.compile(r"(--[\w-]+):[^;{}]*(?:;|(?=\}))")
Block = tuple[str, str]  # what stands before the braces, and what inside


def blocks(css: str) -> list[Block]:
    """Return the top blocks of a style sheet; what stands without braces is left out."""
    found, start, depth, head = [], 0, 0, ""
    for place, letter in enumerate(css):
        if letter == "{":
            if depth == 0:
                head = css[start:place].rpartition(";")[2].strip()
                start = place + 1
            depth += 1
        elif letter == "}":
            depth -= 1
            if depth == 0:
                found.append((head, css[start:place]))
                start = place + 1
    return found


def words_of_pages() -> set[str]:
    """Return every word of templates, scripts and views that could be a class."""
    files = [*WEB.rglob("templates/**/*.html"), *WEB.rglob("static/js/*.js"), *WEB.rglob("*.py")]
    return set(re.findall(r"[a-zA-Z_][\w-]*", " ".join(file.read_text() for file in files)))


def kept(css: str, words: set[str]) -> list[Block]:
    """Return the blocks of a style sheet that the words can use, selector by selector."""
    left: list[Block] = []
    for head, body in blocks(css):
        if head.startswith(("@media", "@supports")):
            inner = kept(body, words)
            if inner:
                left.append((head, "".join(f"{one}{{{what}}}" for one, what in inner)))
        elif head.startswith("@"):
            left.append((head, body))
        else:
            used = [
                one
                for one in _selectors(head)
                if set(_CLASS.findall(_CHOICE.sub("", one))) <= words
            ]
            if used:
                left.append((",".join(used), body))
    return left


def _selectors(head: str) -> list[str]:
    """Return the selectors of a rule; a comma inside brackets parts none."""
    found, depth, start = [], 0, 0
    for place, letter in enumerate(head):
        depth += (letter in "([") - (letter in ")]")
        if letter == "," and depth == 0:
            found.append(head[start:place])
            start = place + 1
    return [*found, head[start:]]


def _without_unused(css: str, used: set[str]) -> str:
    """Return a style sheet without the custom properties nothing uses, nor rules left empty."""
    lean = _SET.sub(lambda found: found[0] if found[1] in used else "", css)
    return re.sub(r"[^{}\n]+\{\}\n?", "", lean)


def trimmed() -> str:
    """Return the part of Bulma that the pages use."""
    whole = _COMMENT.sub("", WHOLE.read_text())
    text = "".join(f"{head}{{{body}}}\n" for head, body in kept(whole, words_of_pages()))
    sheets = sorted(file for file in PART.parent.glob("*.css") if file != PART)
    own = "".join(file.read_text() for file in sheets)
    while True:
        lean = _without_unused(text, set(_USED.findall(text + own)))
        if lean == text:
            note = WHOLE.read_text().partition("*/")[0]
            return f"{note}, the part that is used */\n{lean}"
        text = lean


if __name__ == "__main__":
    PART.write_text(trimmed())
