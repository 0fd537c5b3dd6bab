"""Connections whose request head does not come: closed after a while, so that half-sent ones hold nothing."""

import asyncio

import h11
from uvicorn.protocols.http.h11_impl import H11Protocol

# So long the head of a request may take, from the connection or from its first byte on.
HEAD_S = 10.0


class PromptHeaders(H11Protocol):
    """uvicorn's own protocol with a limit on the time that a head takes; each byte does not begin it again."""

    head_timer: asyncio.TimerHandle | None = None

    def connection_made(self, transport: asyncio.Transport) -> None:  # type: ignore[override]
        super().connection_made(transport)
        self._watch_head()

    def data_received(self, data: bytes) -> None:
        super().data_received(data)
        self._watch_head()

    def connection_lost(self, exc: Exception | None) -> None:
        self._head_is_there()
        super().connection_lost(exc)

    def _watch_head(self) -> None:
        """Begin to wait for a head where none is complete, and end it where one is."""
        if self.conn.their_state is not h11.IDLE:
            self._head_is_there()
        elif self.head_timer is None:
            self.head_timer = self.loop.call_later(HEAD_S, self._close_without_head)

    def _head_is_there(self) -> None:
        if self.head_timer is not None:
            self.head_timer.cancel()
            self.head_timer = None

    def _close_without_head(self) -> None:
        self.head_timer = None
        answering = self.cycle is not None and not self.cycle.response_complete
        if self.conn.their_state is h11.IDLE and not answering and not self.transport.is_closing():
            self.transport.close()
