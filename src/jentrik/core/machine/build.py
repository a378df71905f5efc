"""How a machine is built and driven: what turns its rear wheel, and on how many wheels it stands.

Unknown stays unknown: a brake or a drive that no one asked about is never taken for another.
"""

from dataclasses import dataclass
from typing import Annotated, Literal

from jentrik.core.machine.declared import BICYCLE, About, Declared, End, Kind

Brake = Literal["rim", "disc", "drum", "coaster", "none"]
BRAKES: dict[Kind, tuple[str, ...]] = {
    "bicycle": ("rim", "disc", "drum", "coaster", "none"),
    "motorcycle": ("disc", "drum", "none"),
}
Drive = Literal["chain", "belt", "shaft", "variator"]
DRIVES: dict[Kind, tuple[str, ...]] = {
    "bicycle": ("chain", "belt", "shaft"),
    "motorcycle": ("chain", "belt", "shaft", "variator"),
}
Gears = Literal["derailleur", "hub", "crank", "single"]
Layout = Literal["solo", "sidecar", "tadpole", "delta", "tandem", "recumbent"]
UPRIGHT: tuple[Layout, ...] = ("sidecar", "tadpole", "delta")  # these do not lean in a bend
BRAKE_AND_DRIVE = "Brake and drive"


@dataclass(frozen=True, slots=True)
class Build(Declared, path="", group=BRAKE_AND_DRIVE):
    """What drives the rear wheel, how its gears are changed, its wheels and their layout."""

    drive: Annotated[
        Drive | None, About("Driven by", None, "what is set once the rear wheel is in")
    ] = None
    gears: Annotated[
        Gears | None, About("Gears", None, "what is set once the rear wheel is in", kinds=BICYCLE)
    ] = None
    wheel_count: Annotated[Literal[2, 3], About(key="wheels")] = 2
    layout: Layout = "solo"

    @property
    def toes_meet_wheel(self) -> bool:
        """Whether the feet turn behind the front wheel: not where the cranks lie ahead of it."""
        return self.layout in ("solo", "sidecar", "tandem")

    @property
    def twin_end(self) -> End | None:
        """The end with two wheels beside each other; None where there is none."""
        if self.layout == "delta":
            return "rear"
        in_front = self.layout == "tadpole" or (self.layout == "solo" and self.wheel_count == 3)
        return "front" if in_front else None


AS_USUAL = Build()
