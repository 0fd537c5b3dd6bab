"""Starting and stopping the real server."""

import json
import re
import socket
import stat
import subprocess
import sys
import urllib.error
import urllib.request

import pytest

from tests.server.process import ROOT, serving
from trelvo.server.log_file import log_settings
from trelvo.server.secret import kept_secret


def get(url, **headers):
    request = urllib.request.Request(url, headers=headers)
    try:
        with urllib.request.urlopen(request, timeout=300) as answer:
            return answer.status, answer.read(), answer.headers
    except urllib.error.HTTPError as refusal:
        return refusal.code, refusal.read(), refusal.headers


def test_a_second_start_keeps_all_data(tmp_path):
    body = {"name": "Kept", "build": {}}
    with serving(tmp_path) as address:
        assert json.loads(get(f"{address}/api/health")[1])["status"] == "ready"
        request = urllib.request.Request(
            f"{address}/api/rigs", json.dumps(body).encode(), {"Content-Type": "application/json"}, method="POST"
        )
        with urllib.request.urlopen(request, timeout=300) as answer:
            assert answer.status == 201
    with serving(tmp_path) as address:
        assert [rig["name"] for rig in json.loads(get(f"{address}/api/rigs")[1])] == ["Kept"]


def test_pages_files_and_the_network_side(tmp_path):
    with serving(tmp_path) as address:
        status, page, headers = get(f"{address}/campaigns/7/climb")
        assert (status, b'<div id="app">' in page) == (200, True)
        script = page.split(b'src="')[1].split(b'"')[0].decode()
        kept = get(address + script)[2]
        assert kept["Content-Type"].startswith("text/javascript")
        # a file whose name changes with its content is never asked for twice, the page that names it always
        assert "immutable" in kept["Cache-Control"]
        assert headers["Cache-Control"] == "no-cache"
        assert get(f"{address}/api/nothing")[0] == 404
        assert get(f"{address}/api/health", Host="elsewhere.invalid")[0] == 400
        assert headers["X-Content-Type-Options"] == "nosniff"
        assert headers["X-Frame-Options"] == "DENY"
        policy = headers["Content-Security-Policy"]
        assert "script-src 'self';" in policy
        assert "frame-ancestors 'none'" in policy
        # the page itself holds to it: no script is in it
        assert re.findall(rb"<script(?![^>]*src=)", page) == []
        port = int(address.rsplit(":", 1)[1])
        # loopback only: the machine's other addresses do not answer
        outside = socket.gethostbyname(socket.gethostname())
        if not outside.startswith("127."):
            with pytest.raises(OSError, match=r"refused|timed out|unreachable"):
                socket.create_connection((outside, port), timeout=2)


def test_a_port_in_use_is_said(tmp_path):
    with socket.socket() as taken:
        taken.bind(("127.0.0.1", 0))
        taken.listen()
        port = str(taken.getsockname()[1])
        call = [sys.executable, "-m", "trelvo.server", "serve", "--port", port, "--no-browser"]
        ended = subprocess.run(
            call, cwd=ROOT, env={"TRELVO_DATA": str(tmp_path), "PATH": ""}, capture_output=True, text=True, timeout=300
        )
    assert ended.returncode != 0
    assert f"Port {port} cannot be used" in ended.stderr
    assert "--port N" in ended.stderr


def test_300_mb_are_refused_by_the_running_server(tmp_path):
    with serving(tmp_path) as address:
        host, port = address.removeprefix("http://").split(":")
        with socket.create_connection((host, int(port)), timeout=300) as line:
            line.sendall(
                b"POST /api/runs/1/logs HTTP/1.1\r\nHost: 127.0.0.1\r\nContent-Type: multipart/form-data; boundary=x\r\n"
                b"Content-Length: 314572800\r\n\r\n"
            )
            answer = b"".join(iter(lambda: line.recv(65536), b"")).decode()
    assert answer.startswith("HTTP/1.1 413")
    assert "300 MiB" in answer


def test_the_secret_is_made_once_and_kept_from_others(tmp_path):
    first = kept_secret(tmp_path / "data")
    assert kept_secret(tmp_path / "data") == first
    assert len(first) > 40
    assert stat.S_IMODE((tmp_path / "data" / "secret.key").stat().st_mode) == 0o600


def test_the_log_is_for_whoever_runs_trelvo(tmp_path):
    log_settings(tmp_path / "log" / "trelvo.log")
    assert stat.S_IMODE((tmp_path / "log").stat().st_mode) == 0o700
