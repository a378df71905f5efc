"""What each figure of a wheel size argues for, what of it is noticed, and where riders disagree.

Source: common practice.  `NOTICED_MM` is in the figure's own unit, `NOTICED_SHARE` a share of it.
"""

ARGUES: dict[str, str] = {
    "standover_mm": "More room: small riders, rough ground.",
    "seat_above_mm": "Zero or less: the feet stand flat.",
    "steep_mm": "Small riders on steep ground gain from a small rear wheel.",
    "toe_mm": "Small frames and long cranks gain from a small front wheel.",
    "head_angle_deg": "Steeper answers sooner, slacker holds its line.",
    "trail_mm": "More holds straight, less turns lighter.",
    "bb_height_mm": "Lower is more stable, higher clears more.",
    "attack_deg": "Less is easier over: rough and fast ground gains from a big wheel.",
    "push_ratio": "Less is easier from a stand.",
    "pressure_kpa": "By load and width, or as it is on: the same in each column of a rider.",
    "patch_length_mm": "Longer grips and rolls better in loose ground.",
    "patch_mm2": "At one pressure it is the load's, whatever the wheel.",
    "rotating_mass_kg": "Less is quicker up a hill.",
    "inertia_kgm2": "Less speeds up and brakes quicker: tight ground.",
    "momentum_nms": "More steadies at speed, less tips in quicker.",
    "turn_percent": "A smaller rear wheel gears down and pulls better, a bigger one gears up.",
    "choice": "Many sizes to choose from are worth something in themselves.",
}
NOTICED: dict[str, float] = {
    "standover_mm": 10.0,
    "seat_above_mm": 10.0,
    "steep_mm": 15.0,
    "toe_mm": 5.0,
    "head_angle_deg": 0.3,
    "trail_mm": 4.0,
    "bb_height_mm": 5.0,
    "turn_percent": 2.0,
}
NOTICED_SHARE: dict[str, float] = {
    "attack_deg": 0.03,
    "push_ratio": 0.04,
    "patch_length_mm": 0.03,
    "patch_mm2": 0.05,
    "rotating_mass_kg": 0.05,
    "inertia_kgm2": 0.08,
    "momentum_nms": 0.08,
}
SCHOOLS: tuple[tuple[str, str], ...] = (
    (
        "Big wheels",
        "They roll over what stops a small one and carry speed; on fast and rough ground the line "
        "is easier to hold. Tall riders lose nothing by them.",
    ),
    (
        "Small wheels",
        "They turn in, speed up and stop quicker, leave room to move behind the saddle, and suit "
        "small riders and tight ground. Strong wheels are easier to build.",
    ),
    (
        "Mixed, big in front",
        "The front rolls over, the rear turns and leaves room. Against it: two sizes of tire and "
        "tube, and a frame that was made for one needs its geometry brought back.",
    ),
)
