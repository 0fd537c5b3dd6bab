"""Guessing a password is slowed down by address and by name, without letting a stranger lock an owner out."""

import threading
import time
from collections import defaultdict, deque

# So many wrong passwords from one address, or under one name from addresses that never got in, and they wait so long.
FROM_ADDRESS, UNDER_NAME, WAIT_S = 5, 20, 60.0
# Addresses that have signed in under a name before, the latest of them.
KNOWN = 200


class Guard:
    """Remembers wrong tries of the last minute and who has got in; nothing of it outlives the server."""

    def __init__(self) -> None:
        self._lock = threading.Lock()
        self._by_address: dict[str, deque[float]] = defaultdict(deque)
        self._by_name: dict[str, deque[float]] = defaultdict(deque)
        self._known: deque[tuple[str, str]] = deque(maxlen=KNOWN)

    def begin(self, address: str, name: str) -> float:
        """Count a try before its password is looked at; or how many seconds this address has to wait, where it may not try.

        Tries that come side by side count like tries one after the other.
        """
        now, name = time.monotonic(), name.casefold()
        with self._lock:
            if len(self._by_address) > 10_000:
                self._by_address.clear()
                self._by_name.clear()
            tries = [(self._by_address[address], FROM_ADDRESS)]
            if (address, name) not in self._known:
                tries.append((self._by_name[name], UNDER_NAME))
            waits = []
            for times, most in tries:
                while times and now - times[0] > WAIT_S:
                    times.popleft()
                if len(times) >= most:
                    waits.append(WAIT_S - (now - times[0]))
            if not waits:
                self._by_address[address].append(now)
                self._by_name[name].append(now)
        return max(waits, default=0.0)

    def right(self, address: str, name: str) -> None:
        """Note that somebody got in: their tries no longer count."""
        name = name.casefold()
        with self._lock:
            self._by_address.pop(address, None)
            if self._by_name[name]:
                self._by_name[name].pop()
            self._known.append((address, name))

    def forget(self) -> None:
        """As after a start."""
        with self._lock:
            self._by_address.clear()
            self._by_name.clear()
            self._known.clear()
