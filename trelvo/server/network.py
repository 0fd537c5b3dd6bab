"""Who can reach Trelvo: this machine alone, unless accounts and an encrypted line, or an explicit word, allow more."""

import contextlib
import ipaddress
import socket
import ssl
from dataclasses import dataclass
from pathlib import Path

from django.conf import settings
from django.contrib.auth import get_user_model
from django.core.management.base import CommandError

HSTS_S = 30 * 86_400


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
    if reach.cert:
        _try_certificate(reach)
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
    accounts = get_user_model().objects
    if not accounts.filter(is_staff=True, is_active=True).exists():
        # made before there were roles: they could do everything, and still can
        accounts.filter(is_active=True).update(is_staff=True)
    settings.ACCOUNTS = True
    settings.SESSION_COOKIE_SECURE = bool(reach.cert)
    # browsers that have seen it once never try without again
    settings.SECURE_HSTS_SECONDS = HSTS_S if reach.cert else 0
    settings.ALLOWED_HOSTS = [*settings.ALLOWED_HOSTS, *_names(reach)]
    lines = [f"Other machines can reach Trelvo on {reach.host}; they have to sign in."]
    if not reach.cert:
        lines.append("The line is not encrypted: anyone on that network can read along (--plain-http).")
    return lines


def _try_certificate(reach: Reach) -> None:
    """Raises CommandError where certificate and key cannot be used together."""
    try:
        ssl.SSLContext(ssl.PROTOCOL_TLS_SERVER).load_cert_chain(reach.cert, reach.key, password=_no_password)
    except (ssl.SSLError, OSError, ValueError) as trouble:
        raise CommandError(
            f"{reach.cert} and {reach.key} cannot be used for https ({trouble}). Give a certificate in PEM form and the "
            "private key that belongs to it, without a password."
        ) from None


def _no_password() -> str:
    raise ValueError("the key asks for a password")


def _names(reach: Reach) -> list[str]:
    """Names and addresses by which this machine may be called."""
    names = {*reach.names, socket.gethostname(), socket.getfqdn()}
    if reach.host in ("0.0.0.0", "::"):
        with contextlib.suppress(OSError):
            names |= {str(info[4][0]) for info in socket.getaddrinfo(socket.gethostname(), None)}
    else:
        names.add(reach.host)
    return sorted(names)
