"""Every problem has its words, every wording its problem, and both the same params; all of it can be read in problems.txt."""

import ast
import json
import math
import os
import re
from pathlib import Path

import pytest

import trelvo
from trelvo.core.problems import Problem, Refused
from trelvo.exchange.field_problems import CODES, LEFT_EMPTY
from trelvo.messages.problems import SUBJECTS, WORDINGS, problem_text, problems_body, refusal_text
from trelvo.messages.wording import fields_of, fill

PACKAGE = Path(trelvo.__file__).parent
CODE = re.compile(r"[a-z]+(_[a-z0-9]+)+|zeros")
READ = Path(__file__).with_name("problems.txt")


def named_problems():
    """Each `Problem(where, code, {params})` with a literal code: place, code, and names of the params where they are literal."""
    for path in sorted(PACKAGE.rglob("*.py")):
        for node in ast.walk(ast.parse(path.read_text(encoding="utf-8"))):
            if not (isinstance(node, ast.Call) and isinstance(node.func, ast.Name) and node.func.id == "Problem"):
                continue
            constants = [one.value for one in ast.walk(node.args[1]) if isinstance(one, ast.Constant)]
            codes = [code for code in constants if isinstance(code, str) and CODE.fullmatch(code)]
            params = node.args[2] if len(node.args) > 2 else ast.Dict([], [])
            literal = isinstance(params, ast.Dict) and None not in params.keys
            names = {key.value for key in params.keys} if literal else None
            for code in codes:
                yield f"{path.relative_to(PACKAGE)}:{node.lineno}", code, names


def literals():
    """Every text that stands by itself in the package, the words of problems left out."""
    for path in PACKAGE.rglob("*.py"):
        if path.parent.name != "problems":
            for node in ast.walk(ast.parse(path.read_text(encoding="utf-8"))):
                if isinstance(node, ast.Constant) and isinstance(node.value, str):
                    yield node.value


def test_each_problem_that_is_raised_has_its_words_and_all_that_they_need():
    found = [(place, code, names) for place, code, names in named_problems() if code in WORDINGS]
    assert len(found) > 300
    lacking = [
        (place, code, fields_of(WORDINGS[code]) - names)
        for place, code, names in found
        if names is not None and not fields_of(WORDINGS[code]) <= names
    ]
    assert lacking == []


def test_no_wording_is_left_without_a_problem():
    used = set(literals()) | {f"{code}_empty" for code in LEFT_EMPTY}
    assert sorted(set(WORDINGS) - used) == []


def test_each_code_of_a_call_is_worded():
    assert sorted({(place, code) for place, code, _ in named_problems() if code not in WORDINGS}) == []


def test_every_wording_says_what_to_do():
    assert [code for code, wording in WORDINGS.items() if not wording.todo.strip()] == []


def test_no_two_subjects_use_one_code():
    assert sum(len(subject.WORDINGS) for subject in SUBJECTS) == len(WORDINGS)


def test_what_pydantic_finds_is_worded():
    assert {code for code in CODES.values() if code not in WORDINGS} == set()
    assert {f"{code}_empty" for code in LEFT_EMPTY} <= set(WORDINGS)


@pytest.mark.parametrize(
    ("form", "value", "written"),
    [
        ("span", 30.0, "30 s"),
        ("span", 600.0, "10.0 min"),
        ("span", 9000.0, "2.5 h"),
        ("behind", "W", " W"),
        ("behind", "", ""),
        ("ahead", "", ""),
        (
            "changes",
            (("largest_step", None, 2.0), ("name", "a", "b")),
            "largest step was empty, now 2; name was “a”, now “b”",
        ),
        ("ceilings", (("Voltage", 50.0, "mV"),), "Voltage stands above its ceiling of 50 mV"),
    ],
)
def test_params_are_written_in_their_form(form, value, written):
    assert fill(f"{{it:{form}}}", {"it": value}) == written


def test_a_list_of_choices_has_commas():
    assert fill("One of: {known}.", {"known": ("a", "b")}) == "One of: a, b."


def test_a_problem_in_words():
    problem = Problem("rig_id", "no_such_rig", {"rig": 7})
    text = problem_text(problem.within("rigs.2"))
    assert (text.where, text.what, text.todo) == ("rigs.2.rig_id", "There is no rig 7.", "Choose one of the rigs.")
    assert refusal_text(Refused(problem, Problem("name", "rig_name_missing"))).startswith("There is no rig 7. Choose")


def test_all_of_it_can_be_read_in_one_place():
    lines = [f"{code}\n    {one.what}\n    {one.todo}".rstrip() for code, one in sorted(WORDINGS.items())]
    text = "\n".join(lines) + "\n"
    if os.environ.get("WRITE_TEXTS"):
        READ.write_text(text, encoding="utf-8")
    assert READ.read_text(encoding="utf-8") == text


def test_params_are_sent_as_json_can_have_them():
    problem = Problem(
        "file", "not_a_database", {"file": Path("a/b.csv"), "some": (1, Path("c"), math.nan), "none": None}
    )
    sent = json.loads(json.dumps(problems_body(problem), allow_nan=False))["problems"][0]
    assert sent["params"] == {"file": "a/b.csv", "some": [1, "c", "nan"], "none": None}
    assert sent["what"] == "a/b.csv is no database."
