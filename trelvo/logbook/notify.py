"""Tells those who watch a run that something has come in. In this process only: whoever misses a call reads the rows."""

import asyncio
import threading
from collections import defaultdict

_lock = threading.Lock()
_waiting: dict[int, set[tuple[asyncio.AbstractEventLoop, asyncio.Event]]] = defaultdict(set)


def announce(run_id: int) -> None:
    """Wakes everyone who waits for this run."""
    with _lock:
        woken = list(_waiting.get(run_id, ()))
    for loop, event in woken:
        # a loop that has closed meanwhile has nobody left to wake
        if not loop.is_closed():
            loop.call_soon_threadsafe(event.set)


class Watch:
    """Waits for news of one run, inside an event loop."""

    def __init__(self, run_id: int) -> None:
        self.run_id = run_id
        self.event = asyncio.Event()
        self._entry = (asyncio.get_running_loop(), self.event)

    def __enter__(self) -> "Watch":
        with _lock:
            _waiting[self.run_id].add(self._entry)
        return self

    def __exit__(self, *trouble: object) -> None:
        with _lock:
            _waiting[self.run_id].discard(self._entry)
            if not _waiting[self.run_id]:
                del _waiting[self.run_id]

    async def news(self, at_most_s: float) -> bool:
        """True once something has come in, False when nothing has for so long."""
        try:
            await asyncio.wait_for(self.event.wait(), at_most_s)
        except TimeoutError:
            return False
        self.event.clear()
        return True
