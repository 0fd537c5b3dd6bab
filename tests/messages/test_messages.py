"""Every message has its template, every template its message, and both the same params; all can be read in messages.txt."""

import ast
import inspect
import os
import re
from pathlib import Path
from string import Formatter

import pytest

import trelvo
from tests.messages.samples import sample
from trelvo.core.message import Message, message
from trelvo.messages.texts import SUBJECTS, TEMPLATES, rendered, text_of

PACKAGE = Path(trelvo.__file__).parent
READ = Path(__file__).with_name("messages.txt")


# Params of templates that hand what they are given on.
_SURVIVED = {"approach", "minutes", "fewer_than", "passed"}
_USED = {"failures", "one_in_h", "sure"}
EXTRA = {"proof_passed": _SURVIVED, "proof_not_complete": _SURVIVED, "used_a_day": _USED, "used_in_all": _USED}


def calls():
    """Each `message(code, ...)` in the package: place, the codes that it may have, names of its params where all are named."""
    for path in sorted(PACKAGE.rglob("*.py")):
        for node in ast.walk(ast.parse(path.read_text(encoding="utf-8"))):
            if (
                isinstance(node, ast.Call)
                and isinstance(node.func, ast.Name)
                and node.func.id == "message"
                and node.args
            ):
                named = None not in [keyword.arg for keyword in node.keywords]
                names = {keyword.arg for keyword in node.keywords} if named else None
                yield f"{path.relative_to(PACKAGE)}:{node.lineno}", list(codes_in(node.args[0])), names


def codes_in(node):
    """The codes that an expression can be: a text, or either side of a choice; none where it is made up as the program runs."""
    if isinstance(node, ast.Constant):
        yield node.value
    elif isinstance(node, ast.IfExp):
        yield from codes_in(node.body)
        yield from codes_in(node.orelse)


def params_of(template):
    """Names of the params that a template needs, and whether it takes others as well."""
    if not callable(template):
        return {name for _, name, _, _ in Formatter().parse(template) if name}, False
    params = inspect.signature(template).parameters.values()
    return {param.name for param in params if param.kind is not param.VAR_KEYWORD}, any(
        param.kind is param.VAR_KEYWORD for param in params
    )


def literals():
    """Every text in the package besides the templates."""
    for path in PACKAGE.rglob("*.py"):
        if "messages" not in path.parts[len(PACKAGE.parts) : -1]:
            tree = ast.parse(path.read_text(encoding="utf-8"))
            yield from (
                one.value for one in ast.walk(tree) if isinstance(one, ast.Constant) and isinstance(one.value, str)
            )


def test_each_message_has_a_template_and_all_that_it_needs():
    found = list(calls())
    assert len(found) > 250
    missing = [(place, code) for place, codes, _ in found for code in codes if code not in TEMPLATES]
    assert missing == []
    wrong = []
    for place, codes, names in found:
        for code in codes if names is not None else ():
            needed, more = params_of(TEMPLATES[code])
            # a template written as text may leave a param unused, a function takes exactly its own
            if not needed <= names or (callable(TEMPLATES[code]) and not more and names != needed):
                wrong.append((place, code, sorted(needed ^ names)))
    assert wrong == []


def test_no_template_is_left_without_a_message():
    used = set(literals())
    # codes made of the name of something: an aspect, a part, a test, a group of knobs, a low or an average
    made_up = re.compile("aspect_|the_|probe_|tried_|.*_comes_then|(no_)?(low|average)_(fps|yet)")
    assert sorted(code for code in TEMPLATES if code not in used and not made_up.match(code)) == []


def test_no_two_subjects_use_one_code():
    assert sum(len(subject.TEMPLATES) for subject in SUBJECTS) == len(TEMPLATES)


def test_a_message_is_rendered_with_what_follows_it():
    said = message("condition_not_shown", condition=message("one_failure_in", hours=50.0)).then(
        None, message("sure", chance=0.497), message("watts", watts=-12.4)
    )
    assert text_of(said) == "Not shown yet: at most one failure in 50 h. 49 % sure. −12 W."


def test_a_message_does_not_stand_in_a_text_by_itself():
    with pytest.raises(TypeError, match="is rendered by"):
        f"{message('met')}"


def test_plain_data_is_rendered_deeply():
    assert rendered({"goal": message("met"), "runs": [1, (message("met"),)]}) == {"goal": "Met.", "runs": [1, ["Met."]]}


def test_a_code_that_nobody_has_worded_is_an_error():
    with pytest.raises(KeyError):
        text_of(Message("nobody_has_worded_this"))


def test_all_of_it_can_be_read_in_one_place():
    """Each as it is read with usual params, and with those from the far end of what there can be."""
    lines = []
    for code, template in sorted(TEMPLATES.items()):
        names = params_of(template)[0] | EXTRA.get(code, set())
        usual, extreme = (text_of(Message(code, sample(code, names, which))) for which in (0, 1))
        lines += [code, f"    {usual}", *([f"    {extreme}"] if extreme != usual else [])]
    text = "\n".join(lines) + "\n"
    if os.environ.get("WRITE_TEXTS"):
        READ.write_text(text, encoding="utf-8")
    assert READ.read_text(encoding="utf-8") == text
