"""The commands that README and docs name, run as they stand there.

Not here: `test`, which is what runs this; `check`, its first step; `serve --host`, which tests/server/test_network.py tries.
"""

import json
import os
import re
import shlex
import subprocess
import sys

import pytest

from tests.server.process import ROOT
from tests.server.templates import demo_command_said, fill, started

TEXTS = [ROOT / "README.md", *sorted((ROOT / "docs").glob("*.md")), *ROOT.glob("CONTRIBUTING.md")]


def named(word):
    """The commands that begin with this word, as they are written, without the remark behind them."""
    found = set()
    for text in TEXTS:
        for line in re.findall(rf"{word} [^`\n#]*", text.read_text()):
            command = re.split(r"\s{2,}", line)[0].rstrip(" .,;:)")
            found.add(command)
    return sorted(found)


OWN = named(r"\./run\.py")


def own(*verbs):
    return [command for command in OWN if command.split()[1] in verbs]


def test_no_command_is_left_out():
    tried = {"demo", "serve", "test", "check", "client", "bench", "shots", "account", "wheel", "backup", "restore"}
    assert {command.split()[1] for command in OWN} <= tried
    assert own("bench")


@pytest.mark.parametrize("command", own("backup"))
def test_a_copy_is_made_and_put_back_by_the_commands_that_the_docs_give(command, tmp_path):
    fill(tmp_path, demo=False)
    environment = os.environ | {"TRELVO_DATA": str(tmp_path)}
    copy = str(tmp_path / "my copy.sqlite3")

    def told(words):
        call = [
            sys.executable,
            str(ROOT / "run.py"),
            *(copy if word == "FILE" else word for word in shlex.split(words)[1:]),
        ]
        return subprocess.run(call, cwd=tmp_path, capture_output=True, text=True, timeout=300, env=environment)

    made = told(command)
    assert (made.returncode, "checked in full" in made.stdout) == (0, True), made.stderr
    for back in own("restore"):
        ended = told(f"{back} --yes")
        assert ended.returncode == 0, ended.stderr
        assert "What was there is kept" in ended.stdout


@pytest.fixture(scope="module")
def found():
    """What each command for a measurement finds."""
    call = [sys.executable, "-m", "tests.server.collecting", *own("bench")]
    ended = subprocess.run(call, cwd=ROOT, capture_output=True, text=True, timeout=300)
    assert ended.returncode == 0, ended.stderr[-2000:]
    return json.loads(ended.stdout)


@pytest.mark.parametrize("command", own("bench"))
def test_measurements_are_found_under_the_name_that_the_docs_give(found, command):
    assert found[command]["code"] == 0
    assert found[command]["files"]
    assert all(re.fullmatch(r"studies/test_\w+\.py", one) for one in found[command]["files"])


@pytest.mark.parametrize("command", [command for command in own("serve") if "--host" not in command])
def test_the_program_starts_by_the_command_that_the_docs_give(command, tmp_path):
    assert "Trelvo is ready at http" in started(shlex.split(command), tmp_path)


def test_the_demo_starts_by_the_command_that_the_docs_give():
    assert own("demo") == ["./run.py demo"]
    assert "Trelvo is ready at http" in demo_command_said()


@pytest.mark.parametrize("command", own("client"))
def test_the_client_is_written_anew_without_a_change(command):
    client = ROOT / "web" / "src" / "api" / "schema.d.ts"
    before = client.read_bytes()
    call = [sys.executable, *shlex.split(command)]
    subprocess.run(call, cwd=ROOT, check=True, timeout=300, capture_output=True)
    assert client.read_bytes() == before


def test_the_climbs_in_the_docs_are_those_that_the_program_gives():
    ended = subprocess.run(
        [sys.executable, "scripts/climb_sequences.py"],
        cwd=ROOT, env={**os.environ, "PYTHONPATH": str(ROOT)}, capture_output=True, text=True, check=True,
    )  # fmt: skip
    told = ended.stdout.strip()
    assert told.count("\n") == 4
    assert told in (ROOT / "docs" / "methods.md").read_text()
