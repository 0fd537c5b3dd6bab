#!/usr/bin/env python3
"""Trelvo's one entrance: installs what is missing, then does what is asked. Standard library only.

  ./run.py demo    the application with the demo data          ./run.py test    all checks and all tests
  ./run.py serve   the application with your own data          ./run.py check   types, style, layers, generated client
  ./run.py test core   one part of the tests: core, logbook, server, web, browser-...
  ./run.py bench   studies: speed, scale, error rates            ./run.py client  writes the web client again from the API
  ./run.py shots   takes the pictures in docs/screenshots again
  ./run.py wheel   a package with the screens inside, in dist/
  ./run.py backup FILE    a whole copy of your data, also while Trelvo runs
  ./run.py restore FILE   puts a copy back; what was there is kept
  ./run.py account NAME   an account, needed before other machines are let in (serve --host)

demo and serve take --port N (0 picks a free one), --no-browser, and --host, --name, --cert, --key, --plain-http, --proxy to
let other machines in. TRELVO_DATA moves the data folder.
"""

import argparse
import atexit
import hashlib
import os
import shutil
import subprocess
import sys
import tempfile
import time
import venv
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor, as_completed
from pathlib import Path

ROOT = Path(__file__).resolve().parent
WEB = ROOT / "web"
VENV = ROOT / ".venv"
STAMPS = ROOT / ".stamps"
BIN = VENV / ("Scripts" if os.name == "nt" else "bin")
PYTHON = BIN / ("python.exe" if os.name == "nt" else "python")
NPM = "npm.cmd" if os.name == "nt" else "npm"
CLIENT = WEB / "src" / "api" / "schema.d.ts"
WEB_SOURCES = ("src", "index.html", "package.json", "package-lock.json", "vite.config.ts", "tsconfig.json", "public")


def main() -> int:
    parser = argparse.ArgumentParser(description=__doc__, formatter_class=argparse.RawDescriptionHelpFormatter)
    commands = parser.add_subparsers(dest="command", required=True)
    for name in ("demo", "serve"):
        command = commands.add_parser(name)
        command.add_argument("--port", type=int, default=8737, help="0 picks a free one (default: %(default)s)")
        command.add_argument("--no-browser", action="store_true", help="do not open a browser")
        command.add_argument("--host", default="127.0.0.1", help="address to listen on (default: this machine alone)")
        command.add_argument("--name", action="append", default=[], help="another name that this machine is called by")
        command.add_argument("--cert", default="", help="certificate file for https")
        command.add_argument("--key", default="", help="its private key")
        command.add_argument("--plain-http", action="store_true", help="no https, although others can listen in")
        command.add_argument(
            "--proxy",
            action="append",
            default=[],
            help="address of a proxy in front, whose X-Forwarded-For is believed",
        )
    for name in ("test", "bench"):
        commands.add_parser(name, help="further words go to pytest; a bare word is taken for its -k")
    account = commands.add_parser("account")
    account.add_argument("name")
    account.add_argument("--bench", action="store_true", help="may log runs, may not delete or replace anything")
    commands.add_parser("backup").add_argument("file")
    restore = commands.add_parser("restore")
    restore.add_argument("file")
    restore.add_argument("--yes", action="store_true", help="do not ask")
    commands.add_parser("check")
    commands.add_parser("client")
    commands.add_parser("shots")
    commands.add_parser("wheel")
    arguments, more = parser.parse_known_args()
    if more and arguments.command not in ("test", "bench"):
        parser.error(f"{arguments.command} does not know {' '.join(more)}")
    arguments.pytest = for_pytest(more)
    if sys.version_info < (3, 11):  # noqa: UP036  a stranger may start it with an older one
        stop(f"Trelvo needs Python 3.11 or newer; this is {sys.version.split()[0]}. Start run.py with a newer one.")

    if arguments.command in ("demo", "serve"):
        install_python("run.txt")
        build_web()
        serve(arguments)
    if arguments.command == "account":
        install_python("run.txt")
        return subprocess.call(
            [str(PYTHON), "-m", "trelvo", "account", arguments.name, *(["--bench"] if arguments.bench else [])],
            cwd=ROOT,
        )
    if arguments.command in ("backup", "restore"):
        install_python("run.txt")
        sure = ["--yes"] if arguments.command == "restore" and arguments.yes else []
        # the file is named from where the user stands
        file = str(Path(arguments.file).expanduser().resolve())
        return subprocess.call([str(PYTHON), "-m", "trelvo", arguments.command, file, *sure], cwd=ROOT)
    if arguments.command == "wheel":
        install_python("run.txt")
        build_web()
        return build_wheel()
    at_once(
        lambda: install_python("test.txt"),
        install_web,
        *([] if arguments.command in ("client", "check") else [install_debian]),
    )
    if arguments.command == "client":
        return write_client()
    if arguments.command == "check":
        return side_by_side(checks(), {})
    if arguments.command == "test" and not more:
        return test_all()
    if arguments.command == "test" and len(more) == 1 and more[0] in (parts := parts_of_tests()):
        return side_by_side({}, {more[0]: parts[more[0]]}, build_web)
    build_web()
    if arguments.command == "shots":
        return run([PYTHON, "-m", "scripts.screenshots"])
    if arguments.command == "bench":
        # -s: the measurements print their own lines
        return run([PYTHON, "-m", "pytest", "studies", "--benchmark-only", "-o", "addopts=-q -s", *arguments.pytest])
    if failed := side_by_side(checks(), {}):
        return failed
    announce("pytest")
    return subprocess.call([PYTHON, "-m", "pytest", *arguments.pytest], cwd=ROOT, env={**os.environ, **scratch()})


# the exit code and what was said
Part = Callable[[], tuple[int, str]]
TYPED_TESTS = [
    "tests/drafts.py",
    "tests/moment.py",
    "tests/server/process.py",
    "tests/server/templates.py",
    "tests/e2e/kept_page.py",
    "tests/e2e/witness.py",
]


def browser(*names: str) -> list[str]:
    return [f"tests/e2e/test_{name}.py" for name in names]


# Browser tests that begin with an empty logbook and play campaigns through; the others look at the demo.
PLAYED_THROUGH = ("undervolt", "one_voice", "climb_and_prove", "first_steps")
FROM_NOTHING = ("guide", "live", "logs", "data")
LOOKED_AT = ("screens", "lab", "judgement", "kept_page")
# What is tested by itself, the longest first. One more than there are cores go side by side: each waits now and then for a page
# or a clock, and so both cores are busy until nearly the end.
TESTED: dict[str, list[str]] = {
    "browser-campaigns": browser(*PLAYED_THROUGH),
    "browser-demo": [
        "tests/e2e",
        *(f"--ignore={file}" for file in browser(*PLAYED_THROUGH, *FROM_NOTHING, *LOOKED_AT)),
    ],
    "browser-empty": browser(*FROM_NOTHING),
    "browser-screens": browser(*LOOKED_AT),
    "server": ["tests/server"],
    "logbook": [f"tests/{name}" for name in ("logbook", "api", "agent", "guard")],
    "core": [f"tests/{name}" for name in ("core", "messages", "simulator", "exchange")],
}
SIDE_BY_SIDE = 3


def test_all() -> int:
    """All checks and all tests, the screens built beside them; how many of them failed."""
    return side_by_side(checks(), parts_of_tests(), build_web)


def parts_of_tests() -> dict[str, Part]:
    """Every part of the tests, by its name."""
    templates = tempfile.mkdtemp(prefix="trelvo-templates-")
    atexit.register(shutil.rmtree, templates, ignore_errors=True)
    environment = {**os.environ, **scratch(), "TRELVO_TEST_TEMPLATES": templates}
    tests: dict[str, Part] = {
        name: lambda words=words: said([PYTHON, "-m", "pytest", *words], environment) for name, words in TESTED.items()
    }
    tests["web"] = lambda: said([NPM, "run", "--silent", "test"], environment)
    return tests


def side_by_side(checks: dict[str, Part], tests: dict[str, Part], build: Callable[[], None] = lambda: None) -> int:
    """Runs all checks, then all tests once the screens are built; how many failed. What each said is shown whole at its end.

    No test is begun after a check has failed
    """
    failed: list[str] = []

    def timed(name: str, part: Part) -> tuple[str, str, float]:
        if name in tests and (built.result() or any(one in checks for one in failed)):
            return name, "not begun: a check has failed\n", 0.0
        began = time.monotonic()
        code, words = part()
        if code:
            failed.append(name)
        return name, words, time.monotonic() - began

    with ThreadPoolExecutor(SIDE_BY_SIDE) as pool:
        built = pool.submit(build)
        for ended in as_completed([pool.submit(timed, *part) for part in (checks | tests).items()]):
            name, words, took_s = ended.result()
            announce(f"{name}, {took_s:.0f} s")
            print(words, end="", flush=True)
    print(f"failed: {', '.join(failed)}" if failed else "all passed")
    return len(failed)


def said(call: list[object], environment: dict[str, str]) -> tuple[int, str]:
    """The exit code of a call, and all that it said."""
    folder = WEB if call[0] == NPM else ROOT
    ended = subprocess.run(
        [str(word) for word in call], cwd=folder, env=environment, stdout=subprocess.PIPE, stderr=subprocess.STDOUT
    )
    return ended.returncode, ended.stdout.decode(errors="replace")


def at_once(*acts: Callable[[], None]) -> None:
    """Does several things at the same time; the first trouble stops the program."""
    with ThreadPoolExecutor() as pool:
        for begun in [pool.submit(act) for act in acts]:
            begun.result()


def for_pytest(words: list[str]) -> list[str]:
    """What is passed on to pytest: as it stands, but "climb" alone means the measurements with that word in their name."""
    plain = bool(words) and not words[0].startswith("-") and not Path(words[0]).exists()
    return ["-k", *words] if plain else words


def serve(arguments: argparse.Namespace) -> None:
    call = [str(PYTHON), "-m", "trelvo", arguments.command, "--port", str(arguments.port)]
    call += ["--no-browser"] if arguments.no_browser else []
    call += ["--host", arguments.host, "--cert", arguments.cert, "--key", arguments.key]
    call += [word for name in arguments.name for word in ("--name", name)]
    call += ["--plain-http"] if arguments.plain_http else []
    call += [word for address in arguments.proxy for word in ("--proxy", address)]
    if os.name == "nt":
        sys.exit(subprocess.call(call, cwd=ROOT))
    os.chdir(ROOT)
    os.execv(call[0], call)


def build_wheel() -> int:
    """A package with the built screens inside, in dist/: who installs it needs no Node.js."""
    with tempfile.TemporaryDirectory() as stage:
        there = Path(stage)
        shutil.copytree(ROOT / "trelvo", there / "trelvo", ignore=shutil.ignore_patterns("__pycache__"))
        shutil.copytree(WEB / "dist", there / "trelvo" / "screens")
        shutil.copytree(ROOT / "requirements", there / "requirements")
        for name in ("pyproject.toml", "README.md"):
            shutil.copy(ROOT / name, there / name)
        pip = [PYTHON, "-m", "pip", "wheel", "--quiet", "--disable-pip-version-check", "--no-deps"]
        if failed := run([*pip, "--wheel-dir", ROOT / "dist", there]):
            return failed
    made = max((ROOT / "dist").glob("trelvo-*.whl"), key=lambda file: file.stat().st_mtime)
    print(f"built {made.relative_to(ROOT)}; install it with: pip install {made.relative_to(ROOT)}")
    return 0


def checks() -> dict[str, Part]:
    """Every check, the longest first."""
    npx = [NPM, "run", "--silent"]
    calls: dict[str, list[object]] = {
        "vue-tsc": [*npx, "types"],
        "mypy": [PYTHON, "-m", "mypy", "trelvo", "scripts", *TYPED_TESTS],
        "prettier": [*npx, "formatted"],
        "eslint": [*npx, "lint"],
        "import-linter": [BIN / "lint-imports"],
        "migrations": [PYTHON, "-m", "trelvo.server", "makemigrations", "--check", "--dry-run"],
        "ruff": [PYTHON, "-m", "ruff", "check", "."],
        "ruff format": [PYTHON, "-m", "ruff", "format", "--check", "."],
    }
    parts: dict[str, Part] = {name: lambda call=call: said(call, dict(os.environ)) for name, call in calls.items()}
    return parts | {"generated client": client_is_current}


def announce(name: str) -> bool:
    print(f"-- {name}", flush=True)
    return True


def client_of_the_api(folder: Path) -> tuple[int, str]:
    """Makes the web client from the API as it is now, as `schema.d.ts` in a folder; the exit code, and what was said."""
    document = folder / "openapi.json"
    export = ["export_openapi_schema", "--api", "trelvo.api.api", "--output", document, "--sorted", "--indent", "1"]
    code, words = said([PYTHON, "-m", "trelvo.server", *export], dict(os.environ))
    if code:
        return code, words
    return said([NPM, "run", "--silent", "client", "--", document, "-o", folder / CLIENT.name], dict(os.environ))


def write_client() -> int:
    with tempfile.TemporaryDirectory() as folder:
        code, words = client_of_the_api(Path(folder))
        print(words, end="")
        if not code:
            # what reads it meanwhile finds the old one or the new one, whole
            shutil.copy(Path(folder) / CLIENT.name, CLIENT.with_suffix(".new"))
            CLIENT.with_suffix(".new").replace(CLIENT)
    return code


def client_is_current() -> tuple[int, str]:
    with tempfile.TemporaryDirectory() as folder:
        code, words = client_of_the_api(Path(folder))
        if code:
            return code, words
        if CLIENT.exists() and (Path(folder) / CLIENT.name).read_bytes() == CLIENT.read_bytes():
            return 0, ""
    return 1, f"The committed client differs from the API. Run ./run.py client and commit {CLIENT.relative_to(ROOT)}.\n"


def install_python(requirements: str) -> None:
    empty = not PYTHON.exists()
    if empty:
        announce("making .venv")
        try:
            venv.create(VENV, with_pip=True)
        except (subprocess.CalledProcessError, OSError, ImportError) as trouble:
            shutil.rmtree(VENV, ignore_errors=True)
            stop(f"Python cannot make a virtual environment ({trouble}). On Debian: apt-get install python3-venv.")
    # the pins with the checksums of their files: nothing is installed that is not what was tried
    file = ROOT / "requirements" / requirements.replace(".txt", ".hashed.txt")
    wanted = digest([file])
    if not empty and stamped(f"python-{requirements}", wanted):
        return
    announce(f"installing requirements/{file.name}")
    quiet = ["--quiet", "--disable-pip-version-check", "--require-hashes"]
    must([PYTHON, "-m", "pip", "install", *quiet, "-r", file])
    stamp(f"python-{requirements}", wanted)


def install_web() -> None:
    if not shutil.which(NPM):
        stop("Node.js 20.19 or newer with npm is needed to build the screens. On Debian: apt-get install nodejs npm")
    wanted = digest([WEB / "package.json", WEB / "package-lock.json"])
    if stamped("npm", wanted) and (WEB / "node_modules").exists():
        return
    announce("installing web/node_modules")
    must([NPM, "ci", "--no-audit", "--no-fund", "--silent"], WEB)
    stamp("npm", wanted)


def build_web() -> None:
    wanted = digest(sorted(p for name in WEB_SOURCES for p in [WEB / name, *(WEB / name).rglob("*")] if p.is_file()))
    if stamped("web", wanted) and (WEB / "dist" / "index.html").exists():
        return
    install_web()
    announce("building the screens")
    must([NPM, "run", "--silent", "build"], WEB)
    stamp("web", wanted)


# Debian packages that the tests need: the browser, and strace to check that commits reach the disk.
DEBIAN = {"chromium": Path("/usr/bin/chromium"), "strace": Path("/usr/bin/strace")}


def install_debian() -> None:
    missing = [name for name, place in DEBIAN.items() if not place.exists()]
    if not missing:
        return
    names = " ".join(missing)
    install = ["apt-get", "install", "--yes", "--quiet", *missing]
    update = ["apt-get", "update", "--quiet"]
    if not shutil.which("apt-get"):
        stop(f"The tests need {names} in /usr/bin, and this system has no apt-get. Install them there.")
    prefix = [] if os.geteuid() == 0 else ["sudo", "--non-interactive"]
    announce(f"installing {names} from Debian")
    if (prefix and not shutil.which("sudo")) or run([*prefix, *update]) != 0 or run([*prefix, *install]) != 0:
        stop(f"{names} could not be installed without your help. Run as root: apt-get install {names}")


def scratch(memory: Path = Path("/dev/shm")) -> dict[str, str]:
    """Where tests put what they throw away: in memory, where they do not wait for a disk that others use too."""
    if "TMPDIR" in os.environ or not os.access(memory, os.W_OK) or shutil.disk_usage(memory).free < 4 * 2**30:
        return {}
    folder = tempfile.mkdtemp(prefix="trelvo-tests-", dir=memory)
    atexit.register(shutil.rmtree, folder, ignore_errors=True)
    return {"TMPDIR": folder}


def digest(files: list[Path]) -> str:
    total = hashlib.sha256()
    for file in files:
        total.update(str(file.relative_to(ROOT)).encode() + b"\0" + file.read_bytes() + b"\0")
    return total.hexdigest()


def stamped(name: str, wanted: str) -> bool:
    file = STAMPS / name
    return file.exists() and file.read_text() == wanted


def stamp(name: str, value: str) -> None:
    STAMPS.mkdir(exist_ok=True)
    (STAMPS / name).write_text(value)


def run(call: list[object], folder: Path = ROOT) -> int:
    return subprocess.call([str(word) for word in call], cwd=folder)


def must(call: list[object], folder: Path = ROOT) -> None:
    if code := run(call, folder):
        stop(f"This failed with exit code {code}: {' '.join(str(word) for word in call)}")


def stop(message: str) -> None:
    sys.exit(f"\nrun.py: {message}")


if __name__ == "__main__":
    sys.exit(main())
