"""What a description of the cooling says."""

COLD = (
    "nitrogen",
    "ln2",
    "dry ice",
    "chilled",
    "chiller",
    "phase change",
    "phase",
    "helium",
    "sub-ambient",
    "subambient",
)


def is_cold(cooling: str, goal: str = "") -> bool:
    """Whether the part is cooled below the room: by what is typed of the cooling, or because the goal is a record."""
    return goal == "record" or any(word in cooling.lower() for word in COLD)
