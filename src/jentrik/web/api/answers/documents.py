"""What the API answers to documents: readings, plans, finds, photographs, imports, practice."""

from typing import Literal

from pydantic import BaseModel, ConfigDict, RootModel

from jentrik.core.figures.clearance import Take
from jentrik.core.plan.groups import Group
from jentrik.web.api.answers.base import Figures


class TokenRead(BaseModel):
    """A piece of a code: from where to where, and what it means."""

    start: int
    end: int
    text: str
    means: str


class Reading(BaseModel):
    """A tire code, or a whole sidewall, as it reads; a mark of another family has other figures."""

    model_config = ConfigDict(extra="allow")

    text: str
    family: str | None
    vehicle: str | None
    tokens: list[TokenRead]
    notes: list[str]
    width_mm: float | None = None
    aspect_percent: float | None = None
    bead_seat_diameter_mm: float | None = None
    overall_diameter_mm: float | None = None
    circumference_mm: float | None = None
    load_index: int | None = None
    load_kg: float | None = None
    speed_symbol: str | None = None
    speed_kmh: float | None = None


class FindingOfPlan(BaseModel):
    """One thing to know before ordering."""

    rule: str
    severity: Literal["stop", "caution", "note"]
    where: str
    message: str
    source: str
    headline: str


class ClearanceAfter(BaseModel):
    """A gap as it was measured and as it is predicted, at rest and on the road."""

    name: str
    wheel: Literal["front", "rear"]
    direction: str
    on: str
    gap_mm: float
    predicted_gap_mm: float | None
    minimum_mm: float | None
    ok: bool | None
    note: str | None
    least_gap_mm: float | None
    worst_case_gap_mm: float | None
    takes: list[Take]
    not_counted: list[str]


class PlanBaseline(BaseModel):
    """The machine as found."""

    geometry: Figures
    contact: Figures
    speed: Figures
    room: list[Figures]
    widest: list[Figures]


class PlanProposal(PlanBaseline):
    """A proposal worked out; `answer` stands where advice was asked for."""

    name: str
    delta: Figures
    stand: Figures
    clearances: list[ClearanceAfter]
    findings: list[FindingOfPlan]
    answer: Figures | None = None


class PlanAnswer(BaseModel):
    """The answer to a plan document, unrounded."""

    baseline: PlanBaseline
    proposals: list[PlanProposal]


class LeftOut(BaseModel):
    """How many pairs were left after a rule."""

    rule: str
    after: int


class PairFound(BaseModel):
    """A pair that could go on, with what it moves."""

    front: str | None
    rear: str | None
    position: str | None
    fork_longer_mm: float | None
    score: float
    worst: str
    head_angle_delta_deg: float | None
    trail_delta_mm: float | None
    bb_delta_mm: float | None
    indicated_at_100_kmh: float | None
    least_gap_mm: float | None
    sizes_like_it: int


class FindAnswer(BaseModel):
    """What can be put on a machine, the best first."""

    tried: int
    left: list[LeftOut]
    one_mm_more: int
    pairs: list[PairFound]
    groups: list[Group]


class FigureByPhoto(BaseModel):
    """A figure and its ±."""

    value: float
    plus_minus: float


class PointByPhoto(BaseModel):
    """A named point and its ±."""

    name: str
    x_mm: float
    height_mm: float
    plus_minus: float


class PhotoAnswer(BaseModel):
    """Figures of a machine from marks on a photograph."""

    figures: dict[str, FigureByPhoto]
    points: list[PointByPhoto]
    residual_px: float
    notes: list[str]


class MeasuredPhoto(BaseModel):
    """A picture of a machine with its marks, and what they tell."""

    id: int
    file: str
    width_px: int
    height_px: int
    focal_px: float | None
    added_at: str
    by: str
    marks: Figures
    measured: PhotoAnswer | None
    trouble: str


class MeasuredPhotos(BaseModel):
    """The pictures of a machine, and what they tell together."""

    photographs: list[MeasuredPhoto]
    together: PhotoAnswer | None


class Imported(BaseModel):
    """What a document added, changed and left, list by list."""

    dry_run: bool
    shop: str
    exported_at: str
    added: dict[str, int]
    changed: dict[str, int]
    left: dict[str, int]
    sealed: dict[str, int]
    photos: int


class Judged(BaseModel):
    """How an answer was judged, and what is right."""

    verdict: str
    said: str
    answer: str | float
    why: str
    source: str


class Skill(BaseModel):
    """How a skill stands with a person."""

    kind: str
    title: str
    level: int | str
    needs: list[str]
    due: str | None
    verdicts: list[str]


class Progress(BaseModel):
    """How every skill stands with a person."""

    person: str
    skills: list[Skill]


class PracticeItem(BaseModel):
    """A practice item with its answer."""

    id: str
    kind: str
    question: str
    drawing: str | None
    choices: list[str] | None
    answer: str | float
    tolerance: float | None
    unit: str | None
    why: str
    source: str
    level: int | str


class PracticeItems(RootModel[list[PracticeItem]]):
    """Practice items with their computed answers."""


_PHOTOGRAPHS = "/api/machines/{machine_id}/photographs"
DOCUMENT_ANSWERS: dict[str, type[BaseModel]] = {
    "GET /api/read": Reading,
    "POST /api/plan": PlanAnswer,
    "POST /api/find": FindAnswer,
    "POST /api/photo": PhotoAnswer,
    "POST /api/import": Imported,
    "POST /api/practice/answers": Judged,
    "GET /api/practice/progress": Progress,
    f"GET {_PHOTOGRAPHS}": MeasuredPhotos,
    f"POST {_PHOTOGRAPHS}": MeasuredPhoto,
    f"GET {_PHOTOGRAPHS}/{{photograph_id}}": MeasuredPhoto,
    f"PATCH {_PHOTOGRAPHS}/{{photograph_id}}": MeasuredPhoto,
}
