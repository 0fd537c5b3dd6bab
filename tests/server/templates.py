"""Databases made once and copied: migrating an empty one takes longer than most tests.

Lanes of one test run share them through TRELVO_TEST_TEMPLATES; whoever needs one first makes it, the others wait for it.
"""

import fcntl
import os
import shutil
import subprocess
import sys
import tempfile
from collections.abc import Callable
from functools import cache
from pathlib import Path

ROOT = Path(__file__).resolve().parents[2]


@cache
def _shelf() -> Path:
    return Path(os.environ.get("TRELVO_TEST_TEMPLATES") or tempfile.mkdtemp(prefix="trelvo-templates-"))


def fill(folder: Path, demo: bool = False) -> None:
    """Puts a database as this version makes it into a data folder that has none; with the demo data where asked."""
    if (folder / "trelvo.sqlite3").exists():
        return
    folder.mkdir(parents=True, exist_ok=True)
    shutil.copy(_made("demo" if demo else "empty"), folder / "trelvo.sqlite3")


def made_once(name: str, make: Callable[[Path], None]) -> Path:
    """A folder that one of the lanes fills; the others wait until it has, however long that takes, or has failed."""
    home = _shelf() / name
    done = home / "done"
    home.mkdir(parents=True, exist_ok=True)
    with (home / "lock").open("w") as lock:
        # given back with the process that holds it, too
        fcntl.flock(lock, fcntl.LOCK_EX)
        if not done.exists():
            make(home)
            done.touch()
    return home


def started(words: list[str], folder: Path) -> str:
    """Starts the program by a command on a data folder and ends it once it is ready; what it said until then."""
    environment = os.environ | {"TRELVO_DATA": str(folder)}
    call = [sys.executable, *words, "--port", "0", "--no-browser"]
    process = subprocess.Popen(call, cwd=ROOT, stdout=subprocess.PIPE, text=True, env=environment)
    assert process.stdout is not None
    said = []
    try:
        for line in process.stdout:
            said.append(line)
            if "Trelvo is ready at http" in line:
                break
    finally:
        process.terminate()
        process.wait(300)
        process.stdout.close()
    return "".join(said)


def demo_command_said() -> str:
    """What `./run.py demo` says on an empty folder: the demo that tests look at is made by it."""
    return (_made("demo").parent / "said").read_text()


def _made(name: str) -> Path:
    def make(home: Path) -> None:
        environment = os.environ | {"TRELVO_DATA": str(home), "DJANGO_SETTINGS_MODULE": "trelvo.server.settings"}
        if name == "demo":
            (home / "said").write_text(started(["run.py", "demo"], home))
        else:
            call = [sys.executable, "-m", "trelvo.server", "migrate", "-v0"]
            subprocess.run(call, cwd=ROOT, env=environment, check=True, capture_output=True, timeout=300)
        whole = "import sqlite3,sys; f=sqlite3.connect(sys.argv[1]); f.execute('PRAGMA wal_checkpoint(TRUNCATE)'); f.close()"
        subprocess.run([sys.executable, "-c", whole, str(home / "trelvo.sqlite3")], check=True, timeout=300)

    return made_once(name, make) / "trelvo.sqlite3"
