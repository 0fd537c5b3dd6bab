"""Limits on what is sent in, kept before anything of it reaches a worker: how large, and how slowly.

A body is taken in full in the event loop first; a worker is asked only then. So a sender that stalls holds no worker.
"""

import asyncio
import json
import tempfile
from collections.abc import Awaitable, Callable, Mapping
from typing import IO, Any

from trelvo.core.problems import Problem
from trelvo.exchange.limits import ARCHIVE_BYTES, FORM_BYTES, LOG_BYTES, in_words
from trelvo.messages.problems import problems_body
from trelvo.server.refusing import Refusal

Scope = dict[str, Any]
Message = Mapping[str, Any]
Receive = Callable[[], Awaitable[Message]]
Send = Callable[[Message], Awaitable[None]]
Application = Callable[[Scope, Receive, Send], Awaitable[None]]

# What multipart adds around a file: boundaries, names, and the small fields sent beside it.
ENVELOPE_BYTES = 64 * 1024


# A sender that is silent for so long, or is not done after so long, is told so. Both in seconds.
SILENT_S, LONGEST_S = 15.0, 300.0
IN_MEMORY_BYTES = 1024 * 1024
CHUNK_BYTES = 256 * 1024


class TooLarge(Exception):
    """The body went on past the limit although no length, or a smaller one, had been announced."""


class TooSlow(Exception):
    """Nothing came for too long, or it takes too long altogether."""


class Gone(Exception):
    """Whoever was sending has hung up."""


def limit_for(path: str) -> int:
    if path in ("/api/archive/plan", "/api/archive/import", "/api/copies/restore-file"):
        return ARCHIVE_BYTES
    if path.startswith("/api/logs") or path.endswith("/logs"):
        return LOG_BYTES
    return FORM_BYTES


class BoundedBodies:
    """ASGI wrapper that takes the body in full before it asks the application: 413 to one over the limit (at once when its
    length is announced), 408 to one that stalls.

    admit: asked before anything of the body is read; why it is not taken, or None
    """

    def __init__(
        self,
        application: Application,
        silent_s: float = SILENT_S,
        longest_s: float = LONGEST_S,
        admit: Callable[[Scope], Awaitable[Refusal | None]] | None = None,
    ) -> None:
        self.application, self.silent_s, self.longest_s, self.admit = application, silent_s, longest_s, admit

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        headers = dict(scope.get("headers", ()))
        if scope["type"] != "http" or not ({b"content-length", b"transfer-encoding"} & headers.keys()):
            await self.application(scope, receive, send)
            return
        limit = limit_for(scope["path"])
        announced = headers.get(b"content-length", b"0")
        if announced.isdigit() and int(announced) > limit + ENVELOPE_BYTES:
            await refuse(send, 413, too_large(limit, int(announced)))
            return
        if self.admit is not None and (refused := await self.admit(scope)):
            await refuse(send, refused.status, refused.problem)
            return
        with tempfile.SpooledTemporaryFile(IN_MEMORY_BYTES) as body:
            try:
                taken = await self._take(receive, body, limit)
            except TooLarge:
                await refuse(send, 413, too_large(limit, body.tell()))
            except TooSlow:
                await refuse(send, 408, Problem("file", "upload_stopped"))
            except Gone:
                return
            else:
                body.seek(0)
                await self.application(scope, _again(body, taken, receive), send)

    async def _take(self, receive: Receive, body: IO[bytes], limit: int) -> int:
        """Reads the whole body; its size in bytes."""
        until = asyncio.get_running_loop().time() + self.longest_s
        taken = 0
        while True:
            wait_s = min(self.silent_s, until - asyncio.get_running_loop().time())
            try:
                message = await asyncio.wait_for(receive(), max(wait_s, 0.0))
            except TimeoutError:
                raise TooSlow from None
            if message["type"] == "http.disconnect":
                raise Gone
            piece = message.get("body", b"")
            taken += len(piece)
            body.write(piece)
            if taken > limit + ENVELOPE_BYTES:
                raise TooLarge
            if not message.get("more_body"):
                return taken


def _again(body: IO[bytes], size: int, receive: Receive) -> Receive:
    """What was taken, piece by piece; after its end whatever else comes, such as that the sender hangs up."""
    ended = False

    async def replay() -> Message:
        nonlocal ended
        if ended:
            return await receive()
        piece = body.read(CHUNK_BYTES)
        ended = body.tell() >= size
        return {"type": "http.request", "body": piece, "more_body": not ended}

    return replay


def too_large(limit: int, size: int) -> Problem:
    return Problem("file", "body_too_large", {"size": in_words(size), "most": in_words(limit)})


async def refuse(send: Send, status: int, problem: Problem) -> None:
    body = json.dumps(problems_body(problem)).encode()
    headers = [(b"content-type", b"application/json"), (b"connection", b"close")]
    await send({"type": "http.response.start", "status": status, "headers": headers})
    await send({"type": "http.response.body", "body": body})
