"""What an archive has that differs from this logbook."""

from collections.abc import Callable, Mapping


def _table(table: str, only_here: int, only_there: int, changed: int) -> str:
    counts = [(only_there, "only in the archive"), (only_here, "only here"), (changed, "different")]
    said = ", ".join(f"{number} {words}" for number, words in counts if number)
    return f"{table}: {said or 'in another order'}"


TEMPLATES: Mapping[str, str | Callable[..., str]] = {
    "campaign_itself_differs": "name, goal or thresholds",
    "table_differs": _table,
}
