"""The fields of a picture that is measured on: marks as pixels in a text, rulers, its side.

photo:rear.edge_px      812,1990 840,1890 ...
photo:point.crown seat  2610,1190          photo:line.steering axis   two marks or more
"""

import copy
import re
from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Any

from jentrik.core.errors import OutOfRange
from jentrik.core.machine.declared import ENDS
from jentrik.core.photo.marked import LINES, POINTS, RULERS
from jentrik.core.photo.marks import MOST_MARKS
from jentrik.core.units import read_figure
from jentrik.store import photographs
from jentrik.store.photographs import Photograph
from jentrik.web.figures import plain
from jentrik.web.live.fields import Write

_PAIR = re.compile(r"(-?\d+(?:\.\d+)?)\s*,\s*(-?\d+(?:\.\d+)?)")
_RANGES = {
    "diameter_mm": (80.0, 2000.0, "mm"),
    "diameter_within_mm": (0.0, 100.0, "mm"),
    "nearer_mm": (-300.0, 300.0, "mm"),
    "length_mm": (20.0, 5000.0, "mm"),
    "click_px": (0.05, 50.0, "px"),
    "focal_px": (100.0, 900_000.0, "px"),
}
# A field beside a mark: the list it is of, and what it is kept as.
_EXTRA = {"length": ("lines", "length_mm"), "nearer": ("points", "nearer_mm")}
LONGEST_POINT_NAME, MOST_OWN = 40, 30


def pixels_of(text: str, size: tuple[int, int], *, most: int) -> list[list[float]]:
    """Return the marks a text holds; refuses what is none, and one outside the picture."""
    left = _PAIR.sub("", text).replace(";", "").strip()
    found = [[float(x), float(y)] for x, y in _PAIR.findall(text)]
    if left or len(found) > most:
        raise OutOfRange(
            f"Marks are pairs of pixels like 812,1990 with spaces between, at most {most}."
            if left or most > 1
            else "One mark stands here, a pair of pixels like 812,1990.",
            expected="812,1990",
        )
    if any(not (0 <= x <= size[0] and 0 <= y <= size[1]) for x, y in found):
        raise OutOfRange(
            f"A mark lies outside the picture of {size[0]} by {size[1]} pixels.",
            expected="marks in the picture",
        )
    return found


def text_of(pixels: Any) -> str:
    """Return marks as their field shows them."""
    return " ".join(f"{plain(round(x, 1))},{plain(round(y, 1))}" for x, y in pixels or ())


@dataclass(slots=True)
class PhotoAnswers:
    """Reads what is typed or marked on one picture; `marks` are as the answers leave them."""

    picture: Photograph
    subject: str = ""
    marks: dict[str, Any] = field(default_factory=dict)

    @classmethod
    def of(cls, machine_id: int, photograph_id: int) -> "PhotoAnswers":
        """Return the reader of a picture; refuses one that is gone."""
        picture = photographs.photograph(machine_id, photograph_id)
        subject = f"machine {machine_id} photograph {photograph_id}"
        return cls(picture, subject, copy.deepcopy(picture.marks))

    def texts(self) -> dict[str, str]:
        """Return what every field shows."""
        focal = self.picture.focal_px
        texts = {
            "faces": self.marks["faces"],
            "click_px": plain(self.marks["click_px"]),
            "focal_px": "" if focal is None else plain(round(focal)),
        }
        for end in ENDS:
            wheel = self.marks["wheels"][end]
            texts[f"{end}.edge_px"] = text_of(wheel["edge_px"])
            axle = wheel.get("axle_px")
            texts[f"{end}.axle_px"] = text_of([axle] if axle else ())
            texts[f"{end}.mark"] = wheel["mark"]
            for key in ("diameter_mm", "diameter_within_mm", "nearer_mm"):
                texts[f"{end}.{key}"] = plain(wheel[key]) if key in wheel else ""
        own = [mark["name"] for mark in self.marks["points"]]
        for name in dict.fromkeys((*POINTS, *own)):
            known = _named(self.marks["points"], name)
            texts[f"point.{name}"] = text_of([known["px"]] if known and known.get("px") else ())
            if known:
                texts[f"nearer.{name}"] = plain(known["nearer_mm"]) if "nearer_mm" in known else ""
        for name in dict.fromkeys((*LINES, *(mark["name"] for mark in self.marks["lines"]))):
            known = _named(self.marks["lines"], name)
            texts[f"line.{name}"] = text_of(known["px"] if known else ())
            if known and name not in LINES:
                length = known.get("length_mm")
                texts[f"length.{name}"] = "" if length is None else plain(length)
        return texts

    def stored(self, name: str) -> str | None:
        """Return the text a field shows now; None where there is no such field."""
        return self.texts().get(name.partition(":")[2])

    def unit(self, name: str) -> str:  # pixels and mm, whoever looks
        """Return the unit a field's figure is kept in: marks have none of a person's choosing."""
        return ""

    def read(self, name: str, text: str) -> list[Write]:
        """Return the write of one field; refuses what it cannot hold."""
        key = name.partition(":")[2]
        text = " ".join(text.split())
        if key == "focal_px":
            return self._focal(text)
        before = copy.deepcopy(self.marks)
        words = self._changed(key, text)
        if self.marks == before:
            return []
        marks, number = copy.deepcopy(self.marks), self.picture.id
        return [
            Write(
                f"photograph: {words}",
                lambda step: photographs.set_marks(step, number, marks),
                {"machine_id": self.picture.machine_id},
            )
        ]

    def _focal(self, text: str) -> list[Write]:
        value = _figure("focal_px", text) if text else None
        number, scope = self.picture.id, {"machine_id": self.picture.machine_id}
        act = lambda step: photographs.set_focal(step, number, value)  # noqa: E731
        return [Write(f"photograph: focal length {text} px", act, scope)]

    def _changed(self, key: str, text: str) -> str:
        """Change the marks by one field and return it in words."""
        kind, _, rest = key.partition(".")
        if key == "faces":
            if text not in ("right", "left"):
                raise OutOfRange("Choose right or left.", expected="right or left")
            self.marks["faces"] = text
            return f"faces {text}"
        if key == "click_px":
            self.marks["click_px"] = _figure("click_px", text)
            return f"a mark within {text} px"
        if kind in ENDS:
            return self._wheel(kind, rest, text)
        if kind == "point" and rest:
            px = pixels_of(text, self.picture.size, most=1)
            _put(self.marks["points"], rest, px[0] if px else None, keep=rest not in POINTS)
            return rest
        if kind == "line" and rest:
            px = pixels_of(text, self.picture.size, most=MOST_MARKS)
            _put(self.marks["lines"], rest, px, keep=rest not in LINES)
            return rest
        listed, known_as = _EXTRA.get(kind, ("points", ""))
        known = next((mark for mark in self.marks[listed] if mark["name"] == rest), None)
        if known_as and known is not None:
            known.pop(known_as, None)
            if text:
                known[known_as] = _figure(known_as, text)
            return f"{rest}, {kind} {text} mm"
        raise OutOfRange("There is no such field here.", expected="a field of the photograph")

    def _wheel(self, end: str, key: str, text: str) -> str:
        wheel = self.marks["wheels"][end]
        if key == "edge_px":
            wheel["edge_px"] = pixels_of(text, self.picture.size, most=MOST_MARKS)
        elif key == "axle_px":
            px = pixels_of(text, self.picture.size, most=1)
            wheel.pop("axle_px", None)
            if px:
                wheel["axle_px"] = px[0]
        elif key == "mark":
            if text not in RULERS:
                raise OutOfRange(f"Choose one of {', '.join(RULERS)}.", expected=", ".join(RULERS))
            wheel["mark"] = text
        elif key in _RANGES:
            wheel.pop(key, None)
            if text:
                wheel[key] = _figure(key, text)
        else:
            raise OutOfRange("There is no such field here.", expected="a field of the photograph")
        return f"{end} wheel"

    def add_named(self, kind: str, name: str) -> None:
        """Add a point or line of the shop's own; refuses a name that is taken, and too many."""
        name = " ".join(name.split())[:LONGEST_POINT_NAME]
        those = self.marks["points" if kind == "point" else "lines"]
        known = (*POINTS, *LINES, *(one["name"] for one in those))
        if not name or any(char in name for char in ".:;"):
            raise OutOfRange("Give it a name in plain words.", field="name", expected="a name")
        if name.casefold() in [one.casefold() for one in known] or len(those) >= MOST_OWN:
            raise OutOfRange(f"“{name}” is marked here already.", field="name", expected="a name")
        those.append({"name": name, "px": None if kind == "point" else []})


def _named(those: list[dict[str, Any]], name: str) -> Mapping[str, Any] | None:
    return next((one for one in those if one["name"] == name), None)


def _put(those: list[dict[str, Any]], name: str, px: Any, *, keep: bool = False) -> None:
    for place, one in enumerate(those):
        if one["name"] == name:
            if px or keep:
                those[place] = {**one, "px": px}
            else:
                del those[place]
            return
    if px:
        those.append({"name": name, "px": px})


def _figure(key: str, text: str) -> float:
    least, most, unit = _RANGES[key]
    value = read_figure(text, unit=unit)
    if not least <= value <= most:
        raise OutOfRange(f"From {least:g} to {most:g} {unit}.", expected=f"{least:g} to {most:g}")
    return value
