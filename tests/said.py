"""What a result states, as codes: its own, and those of what follows it or is part of it."""

from trelvo.core.message import Message


def codes(said):
    """Every code in a statement, in the order in which it is read; of None none."""
    if said is None:
        return []
    parts = [one for value in said.params.values() for one in (value if isinstance(value, tuple) else (value,))]
    within = [part for part in parts if isinstance(part, Message)]
    return [said.code, *(code for one in (*within, *said.more) for code in codes(one))]
