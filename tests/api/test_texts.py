"""Answers get the texts of what is said by code, wherever it stands in them; all else stays as it is."""

from dataclasses import dataclass, fields, is_dataclass
from typing import Literal, get_type_hints

from trelvo.api.texts import TEXTS, add_texts, with_texts
from trelvo.core.base.problems import Problem


@dataclass(frozen=True)
class Plain:
    kind: Literal["a", "b"]
    numbers: list[float]


@dataclass(frozen=True)
class Inner:
    why: tuple[Problem, ...]
    first: Problem | None
    plain: Plain


@dataclass(frozen=True)
class Outer:
    rows: list[Inner]
    by_name: dict[str, Inner]
    plain: Plain


PLAIN = Plain("a", [1.0])
GONE = Problem("rig_id", "no_such_rig", {"rig": 7})


def test_texts_stand_beside_the_code_wherever_it_is():
    said = add_texts(Outer([Inner((GONE,), None, PLAIN)], {"x": Inner((), GONE, PLAIN)}, PLAIN))
    (why,) = said.rows[0].why
    assert (why.code, why.params, why.what) == ("no_such_rig", {"rig": 7}, "There is no rig 7.")
    assert (said.rows[0].first, said.by_name["x"].first.todo) == (None, "Choose one of the rigs.")
    assert said.plain is PLAIN


def test_a_shape_without_codes_stays_the_same():
    assert with_texts(Plain) is Plain
    assert with_texts(list[Plain] | None) == list[Plain] | None
    assert add_texts(PLAIN) is PLAIN


def test_the_shape_of_an_answer_has_its_texts_and_keeps_its_name():
    shape = with_texts(Outer)
    assert shape.__name__ == "Outer"
    (inner,) = get_type_hints(shape)["rows"].__args__
    (why, _) = get_type_hints(inner)["why"].__args__
    assert {one.name for one in fields(why)} == {"where", "code", "params", "what", "todo"}
    assert all(is_dataclass(kind) for kind in TEXTS)
