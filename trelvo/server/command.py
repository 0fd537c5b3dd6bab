"""The command `trelvo`: what an installed Trelvo is started by.

  trelvo serve   the application with your own data        trelvo demo    the same with the demo data
  trelvo agent   a run on this machine, sent to a Trelvo   trelvo account NAME   an account for other machines' users
  trelvo backup FILE   a whole copy, also while it runs     trelvo restore FILE   puts a copy back; what was there is kept
  trelvo next CAMPAIGN   what to do next, in the words of the campaign's page (its number, or part of its name)

serve and demo take --port N (0 picks a free one), --no-browser, and --host, --name, --cert, --key, --plain-http, --proxy to let
other machines in. TRELVO_DATA moves the data folder.
"""

import gc
import os
import sys
from collections.abc import Sequence
from pathlib import Path


def user_data_folder() -> Path:
    """Where the system keeps a user's data of programs."""
    if os.name == "nt":
        return Path(os.environ.get("LOCALAPPDATA", Path.home() / "AppData" / "Local")) / "Trelvo"
    if sys.platform == "darwin":
        return Path.home() / "Library" / "Application Support" / "Trelvo"
    return Path(os.environ.get("XDG_DATA_HOME") or Path.home() / ".local" / "share") / "trelvo"


def main(words: Sequence[str] | None = None) -> int:
    """Does what the words say; the exit code."""
    command, *more = [*(sys.argv[1:] if words is None else words)] or ["--help"]
    if command == "agent":
        # the agent knows nothing of Django, and must not wait for it
        from trelvo.agent.__main__ import main as run_agent

        return run_agent(more)
    if command not in ("serve", "demo", "account", "next", "backup", "restore"):
        sys.stdout.write(__doc__ or "")
        return 0 if command in ("-h", "--help", "help") else 2
    folder = user_data_folder()
    os.environ.setdefault("TRELVO_DATA", str(folder / "demo" if command == "demo" else folder))
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "trelvo.server.settings")
    if command in ("serve", "demo"):
        # to look over what is being loaded, again and again, takes a sixth of the start; `serve` turns it on again
        gc.disable()
    from django.core.management import execute_from_command_line

    call = {"serve": ["serve"], "demo": ["serve", "--demo"], "account": ["add_account"], "next": ["next"]}.get(
        command, [command]
    )
    execute_from_command_line(["trelvo", *call, *more])
    return 0
