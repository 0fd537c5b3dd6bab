"""Mutations of a document: each field of it, one at a time, with values that a broken or hostile file may hold."""

import copy
import csv
import io
import random
import zipfile
from collections.abc import Iterator
from typing import Any

VALUES: tuple[Any, ...] = (
    None, "", "x", 0, -5, 1, 5.0, 1e308, -1e308, 1e-300, True, False, [], {}, [None], {"x": 1}, "2024-05-01T18:00:00Z",
    "0001-01-01T00:00:00+00:00", "9999-12-31T23:59:59Z", "00000000-0000-4000-8000-000000000000", "\u202e", "=1+1", "a" * 5000,
    2**63, 0.5, "tuned part", "completed",
)  # fmt: skip
Path = tuple[str | int, ...]


def places_of(node: Any, path: Path = ()) -> Iterator[Path]:
    """Paths of all fields, of lists the first and the last entry."""
    if isinstance(node, dict):
        for key, value in node.items():
            yield (*path, key)
            yield from places_of(value, (*path, key))
    elif isinstance(node, list):
        for index in sorted({0, len(node) - 1} if node else set()):
            yield (*path, index)
            yield from places_of(node[index], (*path, index))


def mutated(document: dict[str, Any], count: int, seed: int) -> Iterator[tuple[Path, str, dict[str, Any]]]:
    """`count` copies of the document with one change each: where, what, and the copy. The same for the same seed."""
    rng = random.Random(seed)
    places = [path for path in places_of(document) if path[-1] != "parquet_base64"]
    # every place once before any comes twice
    order: list[Path] = []
    while len(order) < count:
        rng.shuffle(places)
        order += places
    for path in order[:count]:
        changed = copy.deepcopy(document)
        parent: Any = changed
        for step in path[:-1]:
            parent = parent[step]
        act = rng.choices(("set", "delete", "double", "add"), (8, 1, 1, 1))[0]
        if act == "delete":
            del parent[path[-1]]
            yield path, "deleted", changed
        elif act == "double" and isinstance(parent, list):
            parent.append(copy.deepcopy(parent[path[-1]]))
            yield path, "twice", changed
        elif act == "add" and isinstance(parent[path[-1]], dict):
            parent[path[-1]]["hours"] = rng.choice(VALUES)
            yield path, "one field more", changed
        else:
            value = rng.choice(VALUES)
            if (
                isinstance(parent[path[-1]], int | float)
                and not isinstance(parent[path[-1]], bool)
                and rng.random() < 0.5
            ):
                value = rng.choice((0, -1, parent[path[-1]] * -1, parent[path[-1]] * 1e9, 1e-12, 0.999, 3))
            parent[path[-1]] = value
            yield path, repr(value)[:40], changed


def mutated_packages(package: bytes, count: int, seed: int) -> Iterator[tuple[str, bytes]]:
    """`count` copies of a package with one cell, row or column of its tables changed: where and how, and the copy."""
    rng = random.Random(seed)
    with zipfile.ZipFile(io.BytesIO(package)) as there:
        members = {name: there.read(name) for name in there.namelist()}
    tables = {name: list(csv.reader(io.StringIO(members[name].decode()))) for name in members if name.endswith(".csv")}
    cells = [
        (name, row, column)
        for name, rows in tables.items()
        for row in sorted({0, 1, len(rows) - 1} & set(range(len(rows))))
        for column in range(len(rows[row]))
    ]
    order: list[tuple[str, int, int]] = []
    while len(order) < count:
        rng.shuffle(cells)
        order += cells
    for name, row, column in order[:count]:
        rows = [list(one) for one in tables[name]]
        act = rng.choices(("set", "delete", "double"), (8, 1, 1))[0]
        if act == "delete":
            del rows[row]
        elif act == "double":
            rows.append(rows[row])
        else:
            act = rows[row][column] = str(rng.choice((*VALUES, "nan", "inf", "1e400", "a\x00b", "-1", "0.000001")))
        text = io.StringIO()
        csv.writer(text).writerows(rows)
        into = io.BytesIO()
        with zipfile.ZipFile(into, "w", zipfile.ZIP_DEFLATED) as made:
            for other, content in members.items():
                made.writestr(other, text.getvalue().encode() if other == name else content)
        yield f"{name} row {row} column {column}: {act[:40]}", into.getvalue()
