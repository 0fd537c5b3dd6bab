"""Servers that are told to stop before they have begun."""

import signal

import pytest
import uvicorn

from trelvo.server.management.commands.serve import end_on_sigterm


@pytest.fixture
def handler_kept():
    before = signal.getsignal(signal.SIGTERM)
    yield
    signal.signal(signal.SIGTERM, before)


def test_a_signal_before_the_server_listens_to_it_is_not_lost(handler_kept):
    server = uvicorn.Server(uvicorn.Config("nowhere:nothing"))
    end_on_sigterm(server)
    signal.raise_signal(signal.SIGTERM)
    assert server.should_exit
