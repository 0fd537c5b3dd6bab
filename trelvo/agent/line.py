"""The server, as seen from the bench: JSON over HTTP, with a token. Knows refusals from a line that is down."""

import json
import ssl
import urllib.error
import urllib.request
from typing import Any

TIMEOUT_S = 10.0


class Refusal(Exception):
    """The server answered, and said no: sending the same again would be refused again."""

    def __init__(self, status: int, problems: list[dict[str, str]]) -> None:
        self.status, self.problems = status, problems
        words = " ".join(f"{one.get('what', '')} {one.get('todo', '')}".strip() for one in problems)
        super().__init__(words or f"The server refused ({status}).")


class Away(Exception):
    """The server did not answer, or is in trouble itself: worth another try later."""


class Line:
    """One server and one token. `insecure` accepts any certificate."""

    def __init__(self, server: str, token: str, insecure: bool = False) -> None:
        self.server, self.token = server.rstrip("/"), token
        self._context = ssl.create_default_context() if self.server.startswith("https:") else None
        if self._context and insecure:
            self._context.check_hostname = False
            self._context.verify_mode = ssl.CERT_NONE

    def get(self, path: str) -> Any:
        return self._ask("GET", path, None)

    def post(self, path: str, body: dict[str, Any]) -> Any:
        return self._ask("POST", path, json.dumps(body, allow_nan=False).encode())

    def _ask(self, method: str, path: str, body: bytes | None) -> Any:
        headers = {"Authorization": f"Bearer {self.token}", "Content-Type": "application/json"}
        request = urllib.request.Request(self.server + path, body, headers, method=method)
        try:
            with urllib.request.urlopen(request, timeout=TIMEOUT_S, context=self._context) as answer:
                return json.loads(answer.read() or b"null")
        except urllib.error.HTTPError as trouble:
            with trouble:
                text = trouble.read()
            if trouble.code >= 500 or trouble.code in (408, 429):
                raise Away(f"The server is in trouble ({trouble.code}).") from trouble
            raise Refusal(trouble.code, _problems(text)) from trouble
        except (OSError, ValueError) as trouble:
            raise Away(f"The server does not answer: {trouble}") from trouble


def _problems(text: bytes) -> list[dict[str, str]]:
    try:
        found = json.loads(text).get("problems", [])
    except (ValueError, AttributeError):
        return []
    return [one for one in found if isinstance(one, dict)]
