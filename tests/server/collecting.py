"""What each `./run.py bench ...` finds, all in one process: python -m tests.server.collecting COMMAND ..., told as JSON.

Each command goes through run.py itself; only that it would start pytest again, and measure, is left out.
"""

import json
import shlex
import sys
from contextlib import redirect_stdout

import pytest

import run


class Found:
    """Takes down what was collected."""

    def __init__(self):
        self.files = []

    def pytest_collection_finish(self, session):
        self.files = sorted({item.location[0] for item in session.items})


def files_of(command):
    """The files whose measurements a command would take, and how it would end."""
    found = Found()
    sys.argv = [*shlex.split(command), "--collect-only"]
    run.run = lambda call: int(pytest.main(call[3:], plugins=[found]))
    # what is collected needs no screens
    run.build_web = lambda: None
    with redirect_stdout(sys.stderr):
        code = run.main()
    return {"code": code, "files": found.files}


if __name__ == "__main__":
    print(json.dumps({command: files_of(command) for command in sys.argv[1:]}))
