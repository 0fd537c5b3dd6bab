"""The package: built by its command, installed into an environment of its own, and serving with the screens inside."""

import os
import re
import subprocess
import sys
import sysconfig
import urllib.request
import venv
from pathlib import Path

from tests.server.process import ROOT


def test_an_installed_package_serves_its_own_screens(tmp_path):
    built = subprocess.run(
        [sys.executable, "run.py", "wheel"], cwd=ROOT, capture_output=True, text=True, timeout=300, check=True
    )
    wheel = ROOT / re.search(r"built (\S+\.whl)", built.stdout)[1]
    home = tmp_path / "home"
    venv.create(home, with_pip=False)
    python = home / "bin" / "python"
    # what it depends on lies here already; without an index, a package it names and we do not install is missed
    there = sysconfig.get_path("purelib", vars={"base": str(home), "platbase": str(home)})
    (Path(there) / "here.pth").write_text(sysconfig.get_path("purelib"))
    pip = [sys.executable, "-m", "pip", "--python", python, "--disable-pip-version-check"]
    subprocess.run([*pip, "install", "--quiet", "--no-index", wheel], cwd=tmp_path, check=True, timeout=300)
    environment = {name: value for name, value in os.environ.items() if name != "DJANGO_SETTINGS_MODULE"}
    environment |= {"TRELVO_DATA": str(tmp_path / "data")}
    call = [home / "bin" / "trelvo", "serve", "--port", "0", "--no-browser"]
    process = subprocess.Popen(call, cwd=tmp_path, env=environment, stdout=subprocess.PIPE, text=True)
    try:
        address = next(found[1] for line in process.stdout if (found := re.search(r"ready at (\S+)", line)))
        with urllib.request.urlopen(address, timeout=300) as page:
            text = page.read().decode()
        assert "<title>Trelvo</title>" in text
        script = re.search(r'src="(/assets/[^"]+\.js)"', text)[1]
        with urllib.request.urlopen(address.rstrip("/") + script, timeout=300) as asset:
            assert len(asset.read()) > 10_000
    finally:
        process.terminate()
        process.wait(300)
        process.stdout.close()
    said = subprocess.run(
        [home / "bin" / "trelvo", "agent", "--help"],
        cwd=tmp_path,
        env=environment,
        capture_output=True,
        text=True,
        timeout=300,
    )
    assert said.returncode == 0
    assert "--campaign" in said.stdout
