"""Writes requirements/*.hashed.txt again after a pin has changed: every pin with the checksums of its files.

.venv/bin/python scripts/hashes.py

The files are those that the package index names, asked through pip itself, so that whatever index is set up here is used.
"""

import re
import sys
from collections.abc import Iterable
from pathlib import Path

from pip._internal.commands.install import InstallCommand
from pip._internal.index.collector import parse_links
from pip._internal.models.link import Link

FOLDER = Path(__file__).resolve().parents[1] / "requirements"
# Files for these are named: other machines build from source.
PYTHONS = re.compile(r"-(cp31[1-9]-(cp31[1-9]|abi3)|cp3\d+-abi3|(py2\.)?py3-none|py3\d*-none)-")
ELSEWHERE = re.compile(r"musllinux|win32|i686|ppc64|s390x|armv7|riscv|loongarch|ios|android|wasm|emscripten")


def pins_of(name: str) -> list[tuple[str, str]]:
    """Names with versions, those of a file that is named in it first."""
    found = []
    for line in (FOLDER / name).read_text().splitlines():
        if line.startswith("-r "):
            found += pins_of(line[3:].strip())
        elif "==" in line:
            package, version = line.strip().split("==")
            found.append((package, version))
    return found


def checksums(links: Iterable[Link], package: str, version: str) -> list[str]:
    plain = re.sub(r"[-_.]+", "-", package).lower()
    found = set()
    for link in links:
        file = link.filename
        stem = re.match(r"(.+?)-(\d[^-]*?)(-.*\.whl|\.tar\.gz|\.zip)$", file)
        if not stem or re.sub(r"[-_.]+", "-", stem[1]).lower() != plain or stem[2] != version:
            continue
        if file.endswith(".whl") and (not PYTHONS.search(file) or ELSEWHERE.search(file)):
            continue
        if link.hash_name == "sha256" and link.hash:
            found.add(link.hash)
    return sorted(found)


def main() -> None:
    command = InstallCommand("install", "")
    options, _ = command.parse_args([])
    pins = dict.fromkeys(pins_of("run.txt") + pins_of("test.txt"))
    lines: dict[tuple[str, str], str] = {}
    with command.main_context():
        collector = command._build_package_finder(options, command.get_default_session(options))._link_collector
        for package, version in pins:
            links: list[Link] = []
            for source in collector.collect_sources(package, candidates_from_page=lambda link: []).index_urls:
                page = collector.fetch_response(source.link) if source is not None and source.link else None
                links += list(parse_links(page)) if page is not None else []
            hashes = checksums(links, package, version)
            if not hashes:
                sys.exit(f"The index names no file of {package} {version}.")
            lines[package, version] = " \\\n".join(
                [f"{package}=={version}", *(f"    --hash=sha256:{one}" for one in hashes)]
            )
    for name in ("run", "test"):
        text = "\n".join(lines[pin] for pin in dict.fromkeys(pins_of(f"{name}.txt")))
        (FOLDER / f"{name}.hashed.txt").write_text(f"# made by scripts/hashes.py from {name}.txt\n{text}\n")


if __name__ == "__main__":
    main()
