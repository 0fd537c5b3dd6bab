"""The command that writes the checksums of what is installed again gives the same."""

import re
import shutil
import subprocess
import sys

from tests.server.process import ROOT

PINNED = ROOT / "requirements"


def hashed(folder, name):
    """By pin, its checksums as the file has them."""
    entries = re.split(r"^(?=\w)", (folder / f"{name}.hashed.txt").read_text(), flags=re.MULTILINE)[1:]
    return {entry.split()[0]: set(re.findall(r"sha256:([0-9a-f]{64})", entry)) for entry in entries}


def test_the_command_of_the_docs_writes_them_anew(tmp_path):
    command = ".venv/bin/python scripts/hashes.py"
    assert command in (ROOT / "CONTRIBUTING.md").read_text()
    (tmp_path / "scripts").mkdir()
    shutil.copy(ROOT / "scripts" / "hashes.py", tmp_path / "scripts")
    folder = tmp_path / "requirements"
    folder.mkdir()
    every = hashed(PINNED, "test")
    few = [pin for pin in every if pin.split("==")[0] in ("sqlparse", "numpy", "iniconfig")]
    (folder / "run.txt").write_text("\n".join(few[:2]) + "\n")
    (folder / "test.txt").write_text(f"-r run.txt\n{few[2]}\n")
    subprocess.run([sys.executable, *command.split()[1:]], cwd=tmp_path, check=True, capture_output=True)
    # an index may have been given further files of a version since; those named here stay
    made = hashed(folder, "test")
    assert set(made) == set(few)
    assert all(every[pin] <= made[pin] for pin in few)
    assert set(hashed(folder, "run")) == set(few[:2])
