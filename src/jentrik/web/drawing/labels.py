"""Words beside lines and marks, each where it covers no other."""

from collections.abc import Iterable

from jentrik.core.amounts import in_plain
from jentrik.web.drawing.svg import XY

Box = tuple[float, float, float, float]  # left, top, right, floor


class Labels:
    """The words placed so far on one drawing."""

    def __init__(self, paper: Box) -> None:
        self._paper = paper
        self._taken: list[Box] = []

    def keep_free(self, box: Box) -> None:
        """Let no word lie on a box."""
        self._taken.append(box)

    def place(
        self, words: str, size: float, candidates: Iterable[tuple[XY, str]]
    ) -> tuple[XY, str]:
        """Return the first place on the paper, with its anchor, where words cover nothing.

        `size` is that of the lettering; `candidates` are baseline points with "start" or "end",
        the best first, which is the answer where none is free.
        """
        offered = list(candidates)
        boxes = [_box(words, size, *one) for one in offered]
        free = (place for place, box in enumerate(boxes) if self._free(box))
        chosen = next(free, 0)
        self._taken.append(boxes[chosen])
        return offered[chosen]

    def _free(self, box: Box) -> bool:
        left, top, right, floor = self._paper
        inside = box[0] >= left and box[1] >= top and box[2] <= right and box[3] <= floor
        return inside and not any(
            box[0] < one[2] and one[0] < box[2] and box[1] < one[3] and one[1] < box[3]
            for one in self._taken
        )


def _box(words: str, size: float, at: XY, anchor: str) -> Box:
    wide = 0.5 * size * len(in_plain(words))
    left = at[0] - (wide if anchor == "end" else 0)
    return left, at[1] - 0.8 * size, left + wide, at[1] + 0.25 * size
