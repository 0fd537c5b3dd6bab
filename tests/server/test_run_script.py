"""run.py's own small mechanisms: stamps, digests, data folders. What it installs is tried in a fresh clone by CI."""

import importlib.util
import re
import subprocess
import sys
import threading
import time
from types import SimpleNamespace as Usage

import pytest

from tests.server.process import ROOT
from trelvo.server import command


@pytest.fixture
def script(tmp_path, monkeypatch):
    spec = importlib.util.spec_from_file_location("run_script", ROOT / "run.py")
    module = importlib.util.module_from_spec(spec)
    spec.loader.exec_module(module)
    monkeypatch.setattr(module, "STAMPS", tmp_path / "stamps")
    monkeypatch.setattr(module, "ROOT", tmp_path)
    return module


def test_a_stamp_holds_until_the_wanted_state_changes(script):
    assert not script.stamped("web", "a")
    script.stamp("web", "a")
    assert script.stamped("web", "a")
    assert not script.stamped("web", "b")


@pytest.mark.parametrize("name", ["run", "test"])
def test_what_is_installed_is_pinned_with_checksums_and_as_listed(name):
    folder = ROOT / "requirements"
    listed = {line for file in {"run", name} for line in (folder / f"{file}.txt").read_text().split() if "==" in line}
    hashed = re.findall(
        r"^(\S+==\S+)((?: \\\n    --hash=sha256:[0-9a-f]{64})+)$", (folder / f"{name}.hashed.txt").read_text(), re.M
    )
    assert {pin for pin, _ in hashed} == listed
    assert len(hashed) == len(listed)


def test_an_environment_that_was_made_anew_is_filled_whatever_was_installed_before(script, tmp_path, monkeypatch):
    (tmp_path / "requirements").mkdir()
    file = tmp_path / "requirements" / "run.hashed.txt"
    file.write_text("some==1")
    calls = []
    monkeypatch.setattr(script, "PYTHON", tmp_path / "python")
    monkeypatch.setattr(script.venv, "create", lambda *_, **__: (tmp_path / "python").touch())
    monkeypatch.setattr(script, "must", lambda call, *_: calls.append(call))
    script.stamp("python-run.txt", script.digest([file]))
    script.install_python("run.txt")
    assert len(calls) == 1
    script.install_python("run.txt")
    assert len(calls) == 1


def test_a_digest_sees_content_and_name(script, tmp_path):
    one, two = tmp_path / "one", tmp_path / "two"
    one.write_text("x")
    two.write_text("x")
    first = script.digest([one])
    assert first != script.digest([two])
    one.write_text("y")
    assert first != script.digest([one])


@pytest.mark.parametrize(
    ("platform", "variable", "ending"),
    [("linux", "XDG_DATA_HOME", "trelvo"), ("darwin", "HOME", "Library/Application Support/Trelvo")],
)
def test_data_lies_where_the_system_keeps_it(monkeypatch, tmp_path, platform, variable, ending):
    monkeypatch.setattr(command.sys, "platform", platform)
    monkeypatch.setenv(variable, str(tmp_path))
    assert command.user_data_folder() == tmp_path / ending


def test_a_word_that_the_command_does_not_know_is_answered_with_those_it_does(capsys):
    assert command.main(["fly"]) == 2
    assert "trelvo serve" in capsys.readouterr().out
    assert command.main(["--help"]) == 0


def test_tests_write_to_memory_where_there_is_enough(script, monkeypatch, tmp_path):
    monkeypatch.delenv("TMPDIR", raising=False)
    monkeypatch.setattr(script.shutil, "disk_usage", lambda folder: Usage(free=5 * 2**30))
    folder = script.scratch(tmp_path)["TMPDIR"]
    assert folder.startswith(f"{tmp_path}/trelvo-tests-")
    assert script.scratch(tmp_path / "missing") == {}
    monkeypatch.setattr(script.shutil, "disk_usage", lambda folder: Usage(free=2**26))
    assert script.scratch(tmp_path) == {}
    monkeypatch.setenv("TMPDIR", "/chosen")
    assert script.scratch(tmp_path) == {}


def test_parts_go_side_by_side_and_all_that_failed_are_counted(script, capsys):
    done, meet = [], threading.Barrier(2, timeout=300)

    def part(name, code=0):
        meet.wait()
        done.append(name)
        return code, f"{name} was here\n"

    parts = {name: lambda name=name, code=code: part(name, code) for name, code in (("one", 0), ("two", 1))}
    assert script.side_by_side(parts, {}) == 1
    assert sorted(done) == ["one", "two"]
    told = capsys.readouterr().out
    assert "one was here" in told
    assert told.endswith("failed: two\n")


def test_no_test_is_begun_before_the_screens_are_built_nor_after_a_check_has_failed(script, capsys):
    done = []
    tests = {"test": lambda: (done.append("test"), (0, ""))[1]}

    def build():
        time.sleep(0.05)
        done.append("built")

    assert script.side_by_side({"check": lambda: (0, "")}, tests, build) == 0
    assert done == ["built", "test"]

    def failing():
        return 1, "wrong\n"

    assert script.side_by_side(dict.fromkeys(["one", "two", "three"], failing), tests) == 3
    assert done == ["built", "test"]
    assert "not begun" in capsys.readouterr().out
    # a test that fails holds up no other
    assert script.side_by_side({}, dict.fromkeys(["one", "two", "three", "four"], failing)) == 4

    def no_build():
        script.stop("no Node.js here")

    with pytest.raises(SystemExit, match="Node"):
        script.side_by_side({}, tests, no_build)


def test_an_unknown_command_is_refused_with_the_list():
    ended = subprocess.run([sys.executable, ROOT / "run.py", "fly"], capture_output=True, text=True, timeout=300)
    assert ended.returncode == 2
    assert "'demo'" in ended.stderr


def test_no_file_names_a_registry():
    names = subprocess.check_output(["git", "ls-files"], cwd=ROOT, text=True).split()
    hosts = ("registry." + "npmjs", "pypi." + "org", "files.python" + "hosted")
    found = [name for name in names if name.endswith((".json", ".txt", ".toml", ".py", ".npmrc", ".md"))
             and any(host in (ROOT / name).read_text(errors="replace") for host in hosts)]  # fmt: skip
    assert found == []


def test_every_part_of_the_tests_can_be_named_alone(script, monkeypatch):
    asked = {}
    monkeypatch.setattr(script, "said", lambda call, environment: (asked.setdefault(call[-1], call), (0, ""))[1])
    parts = script.parts_of_tests()
    said = ROOT.joinpath("README.md").read_text()
    named = re.search(r"\./run\.py test core .*one part of the tests: (.*)", said)[1].split(", ")
    assert sorted(named) == sorted(parts)
    assert parts["core"]() == (0, "")
    assert asked["tests/exchange"][1:3] == ["-m", "pytest"]


def test_every_test_belongs_to_one_part(script):
    files = {str(file.relative_to(ROOT)) for file in (ROOT / "tests").rglob("test_*.py")}
    covered = set()
    for words in script.TESTED.values():
        folders = [word for word in words if word.startswith("tests/")]
        left_out = [word.removeprefix("--ignore=") for word in words if word.startswith("--ignore=")]
        covered |= {
            one for one in files if one.startswith(tuple(folders)) and not one.startswith(tuple(left_out or ["-"]))
        }
    assert files - covered == set()
