"""Practice items: every answer by another path, fair over ten thousand seeds, none typed in."""

import math
import random
import re
from datetime import date, timedelta
from typing import Any

import pint
import pytest
from scipy.optimize import fsolve

from jentrik.core.errors import OutOfRange
from jentrik.core.practice import machines
from jentrik.core.practice.item import Item, Verdict, judged
from jentrik.core.practice.make import is_fair, item_of, items
from jentrik.core.practice.skills import SKILL, SKILLS
from jentrik.core.tire.tables.load_index import LOAD_KG
from jentrik.core.tire.tables.speed_symbol import SPEED_KMH

KINDS = [one.kind for one in SKILLS]


def words(pattern: str, one: Item) -> tuple[str, ...]:
    found = re.search(pattern, one.question)
    assert found, one.question
    return found.groups()


def some(kind: str, count: int = 60) -> list[Item]:
    return [item_of(kind, seed) for seed in range(count)]


def test_ten_thousand_seeds_give_fair_items_only() -> None:
    per_kind = 10_000 // len(KINDS) + 1
    for kind in KINDS:
        seen = set()
        for seed in range(per_kind):
            one = item_of(kind, seed)
            assert is_fair(one), one
            assert one.why
            assert one.source
            seen.add((one.question, one.drawing, one.choices))
            if one.choices is not None:
                assert [choice for choice in one.choices if choice == one.answer] == [one.answer]
                assert judged(one, str(one.answer))[0] is Verdict.RIGHT
                shown = f"{one.question} {re.sub('<[^>]+>', ' ', one.drawing or '')}"
                apart = " ".join(word.strip(".,?:“”") for word in shown.split())
                assert f" {one.answer} ".lower() not in f" {apart} ".lower(), one
            else:
                assert judged(one, f"{one.answer:g}")[0] is Verdict.RIGHT
                text = f"{one.question} {re.sub('<[^>]+>', ' ', one.drawing or '')}"
                assert not re.search(rf"(?<![\d.]){float(one.answer):g}(?![\d.])", text), one
        assert len(seen) >= 12, kind


def test_a_seed_gives_the_same_items_and_another_gives_others() -> None:
    assert items(7, 40) == items(7, 40)
    assert [item.question for item in items(7, 40)] != [item.question for item in items(8, 40)]
    questions = [(item.question, item.drawing, item.choices) for item in items(11, 60)]
    assert len(set(questions)) == len(questions)
    assert {item.kind for item in items(3, len(KINDS))} == set(KINDS)


@pytest.mark.parametrize(("count", "kind"), [(0, ""), (201, ""), (5, "flying")])
def test_what_cannot_be_made_is_refused(count: int, kind: str) -> None:
    with pytest.raises(OutOfRange):
        items(1, count, [kind] if kind else ())


# Each kind by a path of its own.


def test_parts_of_codes_by_hand_from_the_printed_code() -> None:
    for one in some("code-part"):
        width, aspect, rim = map(int, words(r"(\d+)/(\d+)\D+(\d+) M", one))
        seat, height = round(rim * 25.4), width * aspect / 100
        answer = {"section": height, "bead": seat, "tall": seat + 2 * height}
        key = next(word for word in answer if word in one.question)
        assert one.answer == pytest.approx(answer[key], abs=0.06)


def test_rims_by_the_published_names() -> None:
    named = {"700 x 38C": 622, "27.5 x 2.10": 584, "26 x 1.75": 559, "26 x 1 1/2": 584}
    named |= {"26 x 1 3/4": 571, "28 x 1 1/2": 635, "28 x 1 3/8": 642, "27 x 1 1/4": 630}
    named |= {"28 x 1 5/8 x 1 3/8": 622, "20 x 1.75": 406, "24 x 1.75": 507, "16 x 1.75": 305}
    named |= {"650 x 38B": 584, "650 x 38A": 590, "650 x 28C": 571, "29 x 2.25": 622}
    named |= {"700 x 38B": 635}
    for one in some("which-rim"):
        code = re.search(r"says (.+)\. On", one.question)[1]
        assert one.answer == str(named[code])
    for one in some("same-rim"):
        first, second = re.search(
            r"Does a (.+) tire go on the rim of a (.+) tire", one.question
        ).groups()
        assert one.answer == ("yes" if named[first] == named[second] else "no")


def test_loads_and_speeds_by_the_tables() -> None:
    for one in some("load-index"):
        index = re.search(r"index (\d+) carry", one.question)
        if index:
            assert one.answer == f"{LOAD_KG[int(index[1])]:g} kg"
            continue
        wanted = float(re.search(r"weighs ([\d.]+)", one.question)[1])
        enough = [choice for choice in one.choices or () if LOAD_KG[int(choice)] >= wanted]
        assert enough == [one.answer]
    for one in some("speed-symbol"):
        symbol = re.search(r"symbol (\w) made", one.question)[1]
        assert one.answer == f"{SPEED_KMH[symbol]} km/h"


def _first_sunday_week(week: int, year: int) -> date:
    """Count Sundays from New Year's Day: week 01 is the first full one."""
    day = date(year, 1, 1)
    while day.weekday() != 6:
        day += timedelta(days=1)
    return day + timedelta(days=7 * (week - 1))


def test_dates_by_counting_sundays() -> None:
    for one in some("date-mark"):
        week, year = (int(part) for part in words(r"in (\d\d)(\d\d)\.", one))
        day = _first_sunday_week(week, 2000 + year)
        assert one.answer == f"{day.day} {day:%B %Y}"
    for one in some("tire-age"):
        week, year = (int(part) for part in words(r"says (\d\d)(\d\d)", one))
        said = words(r"on (\d+) (\w+) (\d+)\?", one)
        months = [date(2000, month, 1).strftime("%B") for month in range(1, 13)]
        on = date(int(said[2]), months.index(said[1]) + 1, int(said[0]))
        days = (on - _first_sunday_week(week, 2000 + year)).days
        assert one.answer == pytest.approx(days / 365.2425, abs=0.051)


def test_units_by_pint() -> None:
    registry: Any = pint.UnitRegistry()
    names = {"pounds": "pound", "km/h": "kph", "mph": "mph", "kg": "kg", "psi": "psi", "bar": "bar"}
    for one in some("units", 120):
        into, amount, start = words(r"how many (\S+) are (\d+) (\S+)\?", one)
        value = registry.Quantity(int(amount), names[start]).to(names[into]).magnitude
        assert float(one.answer) == pytest.approx(value, abs=0.51 if into != "bar" else 0.051)


def _settled(
    bike: dict[str, Any], front: float, rear: float, fork: tuple[float, float] = (0.0, 0.0)
) -> tuple[float, float, float]:
    """Return head angle, trail and bracket height by solving for two wheels on the ground.

    Unknown: the chassis's turn, and how far its rear axle came up; no closed form is used.
    """
    head = math.radians(bike.get("head_angle_deg", 90 - bike.get("rake_deg", 0.0)))
    old_front, old_rear = bike["front_radius"], bike["rear_radius"]
    rear_axle = (0.0, old_rear)
    longer, offset = fork  # the axle goes down along the steering axis, and forward square to it
    front_axle = (
        bike["wheelbase_mm"] + longer * math.cos(head) + offset * math.sin(head),
        old_front - longer * math.sin(head) + offset * math.cos(head),
    )

    def placed(point: tuple[float, float], turn: float, up: float) -> tuple[float, float]:
        x, y = point[0] - rear_axle[0], point[1] - rear_axle[1]
        return (
            x * math.cos(turn) - y * math.sin(turn),
            rear_axle[1] + up + x * math.sin(turn) + y * math.cos(turn),
        )

    def off(unknown: Any) -> list[float]:
        turn, up = unknown
        return [placed(rear_axle, turn, up)[1] - rear, placed(front_axle, turn, up)[1] - front]

    turn, up = fsolve(off, [0.0, 0.0], xtol=1e-12)
    angle = head - turn
    trail = (front * math.cos(angle) - bike["fork"]["offset_mm"]) / math.sin(angle)
    bracket = math.nan
    if "bb_height_mm" in bike:
        drop = old_rear - bike["bb_height_mm"]
        ahead = math.sqrt(bike["chainstay_mm"] ** 2 - drop**2)
        bracket = placed((ahead, bike["bb_height_mm"]), turn, up)[1]
    return math.degrees(angle), trail, bracket


@pytest.fixture(name="made")
def _made(monkeypatch: pytest.MonkeyPatch) -> list[dict[str, Any]]:
    """Return the machines as they are made up; an item's is the last one."""
    made: list[dict[str, Any]] = []
    for name in ("a_bicycle", "a_motorcycle"):
        build = getattr(machines, name)

        def noted(chance: random.Random, build: Any = build) -> dict[str, Any]:
            values: dict[str, Any] = build(chance)
            made.append(values)
            return values

        monkeypatch.setattr(machines, name, noted)
    return made


def _changed(one: Item, bike: dict[str, Any]) -> tuple[dict[str, float], dict[str, float]]:
    """Return the wheels' radii before and after the change an item speaks of."""
    end, old, new = words(r"The (front|rear) tire goes from (\S+) to (\S+),", one)
    assert bike[end]["tire"] == old
    radii = {side: machines._tall(bike[side]["tire"]) / 2 for side in ("front", "rear")}
    bike |= {f"{side}_radius": radius for side, radius in radii.items()}
    return radii, radii | {end: machines._tall(new) / 2}


def test_predictions_by_a_root_finder(made: list[dict[str, Any]]) -> None:
    for kind in ("which-way", "how-much"):
        for seed in range(40):
            one = item_of(kind, seed)
            bike = made[-1]
            radii, then = _changed(one, bike)
            before, after = _settled(bike, **radii), _settled(bike, **then)
            key = ["the head angle", "the trail", "the bottom bracket"]
            place = next(i for i, words in enumerate(key) if words in one.question)
            moved = after[place] - before[place]
            if kind == "how-much":
                assert float(one.answer) == pytest.approx(abs(moved), abs=0.51 if place else 0.051)
            else:
                ups = ("steeper", "longer", "higher")
                assert (one.answer == ups[place]) == (moved > 0)


def test_a_remedy_is_the_nearest_by_a_root_finder(made: list[dict[str, Any]]) -> None:
    ways = {
        "a fork 15 mm longer": (15.0, 0.0),
        "a fork 15 mm shorter": (-15.0, 0.0),
        "the fork's offset 15 mm more": (0.0, 15.0),
    }
    for seed in range(40):
        one = item_of("the-way-back", seed)
        bike = made[-1]
        radii, then = _changed(one, bike)
        wanted = _settled(bike, **radii)[0]
        off = {
            way: abs(_settled(bike, **then, fork=fork)[0] - wanted) for way, fork in ways.items()
        }
        assert min(off, key=lambda way: off[way]) == one.answer


def test_what_lifts_a_machine_lets_it_lean_on_its_stand() -> None:
    for one in some("side-stand"):
        lifted = words(r"mm (taller|lower)\.", one)[0] == "taller"
        assert one.answer == ("leaning further" if lifted else "more upright")


def test_the_one_line_of_a_card_that_cannot_stand() -> None:
    for one in some("card-fault"):
        faults = []
        for line in one.choices or ():
            figures = [int(x) for x in re.findall(r"\d+", line)]
            if line.startswith("Tire date"):
                week, year = divmod(figures[0], 100)
                wrong = _first_sunday_week(week, 2000 + year).year > 2000 + year
            elif line.startswith("Inflated"):
                wrong = figures[0] > figures[1]
            elif line.startswith("Tire"):
                wrong = figures[1] != figures[2]
            else:
                wrong = "maker's figure" not in line
            if wrong:
                faults.append(line)
        assert faults == [one.answer]


def test_what_is_shown_by_the_ratio_of_circumferences() -> None:
    for one in some("speed-shown"):
        over, old, new = re.search(
            r"reads (\S+) % high with (\S+)\. With (\S+) on", one.question
        ).groups()

        def tall(code: str) -> float:
            width, aspect, rim = map(int, re.match(r"(\d+)/(\d+)-(\d+)", code).groups())
            return round(rim * 25.4) + 2 * width * aspect / 100

        shown = 100 * (1 + float(over) / 100) * tall(old) / tall(new)
        assert float(one.answer) == pytest.approx(shown, abs=0.051)


def test_an_arrow_turns_as_the_wheel_does() -> None:
    places = {"top": (0, 1), "bottom": (0, -1), "front edge": (1, 0), "rear edge": (-1, 0)}
    ways = {"right": (1, 0), "left": (-1, 0), "up": (0, 1), "down": (0, -1)}
    for one in some("arrow"):
        if "lies before you" in one.question:
            edge, points = words(r"At the (\w+) edge .* points (\w+)\.", one)
            # Seen from the machine's right, ahead is to the right and the top moves ahead.
            seen_from_right = (edge, points) in {("top", "right"), ("bottom", "left")}
            assert one.answer == f"its {'right' if seen_from_right else 'left'} side"
            continue
        faces, over, points = words(r"faces (\w+)\. At the (.+) of the .* points (\w+)\.", one)
        goes = 1 if faces == "right" else -1
        out = places[over][0] * goes, places[over][1]
        # Rolling to the right turns clockwise: velocity is the place turned a quarter clockwise.
        moves = (out[1] * goes, -out[0] * goes)
        assert (one.answer == "yes") == (moves == ways[points])


def test_wear_by_eye() -> None:
    for one in some("wear"):
        treads = [float(x) for x in words(r"of ([\d.]+), ([\d.]+) and ([\d.]+) mm", one)]
        left, middle, right = treads
        low = min(treads)
        expected = "even" if max(treads) - low < 0.5 else ""
        expected = expected or (
            "middle"
            if low == middle
            else "both edges"
            if abs(left - right) < 0.3
            else "left edge"
            if low == left
            else "right edge"
        )
        blamed = {"middle": "too much air", "both edges": "too little air"}
        said = blamed.get(expected, "out of line") if "say?" in one.question else expected
        assert str(one.answer).endswith(said if said != "even" else "evenly")


def test_what_speaks_against_a_tire_by_its_printed_figures() -> None:
    # The table as it is printed, typed in again.
    printed = {13: (18, 25), 15: (23, 32), 17: (25, 50), 19: (28, 62), 21: (35, 64), 23: (40, 64)}
    code = re.compile(r"(\d+/\d+)( R |-)(\d+) (\d+)([A-Z])")
    for one in some("may-it-go", 120):
        if one.question.startswith("A trekking"):
            crown, width, seat = words(r"sits (\d+) mm .* a (\d+)-(\d+) leave", one)
            room = int(crown) - int(seat) / 2 - int(width)
            assert one.answer == ("yes" if room >= 6 else "no")
            continue
        if one.question.startswith("A 622 rim"):
            low, high = printed[int(words(r"is (\d+) mm", one)[0])]
            within = [c for c in one.choices or () if low <= int(c.partition("-")[0]) <= high]
            assert within == [one.answer]
            continue
        asked, there = (match.groups() for match in code.finditer(one.question))
        against = {
            "the load index": LOAD_KG[int(there[3])] < LOAD_KG[int(asked[3])],
            "the speed symbol": SPEED_KMH[there[4]] < SPEED_KMH[asked[4]],
            "the construction": there[1] != asked[1],
        }
        against["nothing in the code"] = not any(against.values())
        assert [words for words, holds in against.items() if holds] == [one.answer]


def test_a_mark_is_found_where_it_is_touched() -> None:
    """Pair places and letters by their angle about the axle, from the drawing alone."""
    tells = {
        "size": r"^\d+/\d+",
        "carries": "^MAX LOAD",
        "casing": "PLIES|NYLON",
        "old": "^DOT",
        "turns": "^ROTATION",
    }
    for one in some("find-mark"):
        drawing = one.drawing or ""
        angles = {}
        for key, x, y, to_x, to_y in re.findall(
            r'id="([\w-]+)" d="M([\d.]+) ([\d.]+)A.*? 0 0 \d ([\d.]+) ([\d.]+)"', drawing
        ):
            text = re.search(rf'href="#{key}"[^>]*>([^<]+)<', drawing)
            assert text
            middle = ((float(x) + float(to_x)) / 2 - 160, (float(y) + float(to_y)) / 2 - 160)
            angles[text[1]] = math.atan2(*middle)
        wanted = next(tells[key] for key in tells if key in one.question)
        at = next(angle for text, angle in angles.items() if re.search(wanted, text))
        x, y = one.places[(one.choices or ()).index(str(one.answer))]
        assert math.atan2(x - 0.5, y - 0.5) == pytest.approx(at, abs=0.02)


def test_how_an_answer_is_judged() -> None:
    number = Item("x", "units", "?", 100.0, "", "", 1, tolerance=4.0, unit="km/h")
    assert judged(number, "103")[0] is Verdict.RIGHT
    assert judged(number, "110 km/h")[0] is Verdict.NEAR
    assert judged(number, "62 mph")[0] is Verdict.RIGHT
    assert judged(number, "180")[0] is Verdict.WRONG
    chosen = Item("x", "arrow", "?", "no", "", "", 1, choices=("yes", "no"))
    assert judged(chosen, "2") == (Verdict.RIGHT, "no")
    assert judged(chosen, "Yes")[0] is Verdict.WRONG
    for text in ("", "3", "perhaps"):
        with pytest.raises(OutOfRange):
            judged(chosen, text)
    with pytest.raises(OutOfRange, match="no figure"):
        judged(number, "fast")


def test_the_skills_stand_on_one_another_without_a_circle() -> None:
    order: list[str] = []
    for one in SKILLS:
        assert set(one.needs) <= SKILL.keys()
        assert bool(one.needs) == bool(one.reason)
        assert all(SKILL[need].level <= one.level for need in one.needs)
        order.append(one.kind)
    done: set[str] = set()
    while len(done) < len(SKILLS):
        ready = [one.kind for one in SKILLS if one.kind not in done and set(one.needs) <= done]
        assert ready
        done |= set(ready)
