"""Who can reach Trelvo: this machine alone, unless accounts and an encrypted line, or an explicit word, allow more."""

import contextlib
import ipaddress
import socket
from dataclasses import dataclass
from pathlib import Path

from django.conf import settings
from django.contrib.auth import get_user_model
from django.core.management.base import CommandError


@dataclass(frozen=True)
class Reach:
    """Where to listen and how. cert, key: files for https; plain: no https although other machines can listen in."""

    host: str = "127.0.0.1"
    cert: str = ""
    key: str = ""
    plain: bool = False
    names: tuple[str, ...] = ()

    @property
    def scheme(self) -> str:
        return "https" if self.cert else "http"


def is_loopback(host: str) -> bool:
    if host == "localhost":
        return True
    try:
        return ipaddress.ip_address(host).is_loopback
    except ValueError:
        return False


def allow(reach: Reach) -> list[str]:
    """Sets what the server answers to; lines to tell the user. Raises CommandError, saying what is missing."""
    if bool(reach.cert) != bool(reach.key):
        raise CommandError("https needs both --cert and --key.")
    for file in filter(None, (reach.cert, reach.key)):
        if not Path(file).is_file():
            raise CommandError(f"There is no file {file}.")
    if is_loopback(reach.host):
        return []
    if not get_user_model().objects.filter(is_active=True).exists():
        raise CommandError(
            f"On {reach.host} other machines can reach Trelvo, so it needs an account first: ./run.py account NAME"
        )
    if not reach.cert and not reach.plain:
        raise CommandError(
            f"On {reach.host} passwords and readings would cross the network for anyone to read. "
            "Give --cert FILE and --key FILE for https, or say --plain-http if you trust everyone on that network."
        )
    settings.ACCOUNTS = True
    settings.SESSION_COOKIE_SECURE = bool(reach.cert)
    settings.ALLOWED_HOSTS = [*settings.ALLOWED_HOSTS, *_names(reach)]
    lines = [f"Other machines can reach Trelvo on {reach.host}; they have to sign in."]
    if not reach.cert:
        lines.append("The line is not encrypted: anyone on that network can read along (--plain-http).")
    return lines


def _names(reach: Reach) -> list[str]:
    """Names and addresses by which this machine may be called."""
    names = {*reach.names, socket.gethostname(), socket.getfqdn()}
    if reach.host in ("0.0.0.0", "::"):
        with contextlib.suppress(OSError):
            names |= {str(info[4][0]) for info in socket.getaddrinfo(socket.gethostname(), None)}
    else:
        names.add(reach.host)
    return sorted(names)
