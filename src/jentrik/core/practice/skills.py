"""The skills, what each item trains, and what has to sit before what; the reasons stand beside.

Source: common practice.
"""

import random
from collections.abc import Callable
from dataclasses import dataclass

from jentrik.core.practice import codes, machines, may_go, sidewall, workshop
from jentrik.core.practice.item import Item

Maker = Callable[[random.Random, str], Item]


@dataclass(frozen=True, slots=True)
class Skill:
    """Something that can be learned: its items' maker, and the skills it stands on, and why."""

    kind: str
    title: str
    make: Maker
    level: int
    needs: tuple[str, ...] = ()
    reason: str = ""


SKILLS: tuple[Skill, ...] = (
    Skill("misbelief", "What is said at the bench", workshop.misbelief, 1),
    Skill("units", "Pounds, miles, bars in the head", workshop.units, 1),
    Skill("find-mark", "Where a mark stands", sidewall.find_mark, 1),
    Skill("code-part", "Parts of a code", codes.part_of_code, 1),
    Skill("speed-symbol", "Speed symbols", codes.speed_of_symbol, 1),
    Skill("load-index", "Load indices", codes.load_of_index, 2),
    Skill(
        "which-rim",
        "Which rim is it",
        codes.which_rim,
        2,
        ("code-part",),
        "A nickname is read after the plain mark.",
    ),
    Skill(
        "sidewall",
        "A whole sidewall",
        sidewall.sidewall,
        2,
        ("find-mark", "code-part", "load-index", "speed-symbol"),
        "The whole is read part by part, once its marks are found.",
    ),
    Skill("tire-age", "How old is it", codes.how_old, 2),
    Skill("arrow", "Which way it turns", workshop.arrow, 2),
    Skill("wear", "What the wear says", workshop.wear, 2),
    Skill(
        "which-way",
        "Which way a figure goes",
        machines.which_way,
        2,
        ("code-part",),
        "How tall a tire is comes before what it does.",
    ),
    Skill(
        "same-rim",
        "Does it go on that rim",
        codes.same_rim,
        3,
        ("which-rim",),
        "Two rims are compared once each can be named.",
    ),
    Skill(
        "date-mark",
        "The first day of its week",
        codes.first_day,
        3,
        ("tire-age",),
        "The day is asked once week and year are read.",
    ),
    Skill(
        "may-it-go",
        "May it go on that machine",
        may_go.may_go,
        3,
        ("load-index", "speed-symbol"),
        "What is asked and what is there are compared index by index.",
    ),
    Skill(
        "speed-shown",
        "What the speedometer shows",
        machines.what_is_shown,
        3,
        ("code-part",),
        "It follows from two diameters.",
    ),
    Skill(
        "side-stand",
        "How it stands then",
        machines.the_stand,
        3,
        ("which-way",),
        "The stand follows the chassis.",
    ),
    Skill(
        "card-fault",
        "The thing wrong on a card",
        workshop.card_fault,
        3,
        ("date-mark", "which-rim"),
        "A fault is seen by who knows it right.",
    ),
    Skill(
        "how-much",
        "How far a figure goes",
        machines.how_much,
        4,
        ("which-way",),
        "The sign first, then the size.",
    ),
    Skill(
        "the-way-back",
        "What brings it back",
        machines.the_remedy,
        4,
        ("how-much",),
        "A remedy is chosen by its size.",
    ),
)
SKILL = {one.kind: one for one in SKILLS}
