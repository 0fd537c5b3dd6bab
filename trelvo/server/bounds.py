"""Upload limits, kept before anything is read into memory or onto the disk."""

import json
from collections.abc import Awaitable, Callable, Mapping
from typing import Any

from trelvo.exchange.limits import ARCHIVE_BYTES, FORM_BYTES, LOG_BYTES, in_words

Scope = dict[str, Any]
Message = Mapping[str, Any]
Receive = Callable[[], Awaitable[Message]]
Send = Callable[[Message], Awaitable[None]]
Application = Callable[[Scope, Receive, Send], Awaitable[None]]

# What multipart adds around a file: boundaries, names, and the small fields sent beside it.
ENVELOPE_BYTES = 64 * 1024


class TooLarge(Exception):
    """The body went on past the limit although no length, or a smaller one, had been announced."""


def limit_for(path: str) -> int:
    if path == "/api/campaigns/import":
        return ARCHIVE_BYTES
    if path.startswith("/api/logs") or path.endswith("/logs"):
        return LOG_BYTES
    return FORM_BYTES


class BoundedBodies:
    """ASGI wrapper that answers 413 to a body over the limit: at once when its length is announced, else on the way."""

    def __init__(self, application: Application) -> None:
        self.application = application

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] != "http":
            await self.application(scope, receive, send)
            return
        limit = limit_for(scope["path"])
        announced = next((value for name, value in scope["headers"] if name == b"content-length"), b"0")
        if announced.isdigit() and int(announced) > limit + ENVELOPE_BYTES:
            await refuse(send, limit, int(announced))
            return
        taken = 0

        async def counted() -> Message:
            nonlocal taken
            message = await receive()
            taken += len(message.get("body", b""))
            if taken > limit + ENVELOPE_BYTES:
                raise TooLarge
            return message

        try:
            await self.application(scope, counted, send)
        except TooLarge:
            await refuse(send, limit, taken)


async def refuse(send: Send, limit: int, size: int) -> None:
    problem = {
        "where": "file",
        "what": f"This is {in_words(size)}; the most that is taken here is {in_words(limit)}.",
        "todo": "Cut the log to the part that belongs to this run, or log less often. Nothing was stored.",
    }
    body = json.dumps({"problems": [problem]}).encode()
    headers = [(b"content-type", b"application/json"), (b"connection", b"close")]
    await send({"type": "http.response.start", "status": 413, "headers": headers})
    await send({"type": "http.response.body", "body": body})
