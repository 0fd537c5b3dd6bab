"""Results that several threads ask for at once, computed by one of them."""

from collections.abc import Callable, Hashable
from threading import Lock, RLock
from typing import TypeVar, cast

Result = TypeVar("Result")


class OneMaker:
    """One lock a name. Eight threads that each computed the same answer took ten seconds for what takes one alone.

    Results must not need each other in a circle: a thread that holds one name waits for the names its result needs.
    """

    def __init__(self) -> None:
        self._locks: dict[Hashable, RLock] = {}
        self._guard = Lock()

    def result(self, name: Hashable, kept: Callable[[], object | None], make: Callable[[], Result]) -> Result:
        """What `kept` has, else what `make` returns and stores there; made once however many threads ask. None: not made yet."""
        if (found := kept()) is None:
            with self._guard:
                lock = self._locks.setdefault(name, RLock())
            with lock:
                if (found := kept()) is None:
                    found = make()
        return cast(Result, found)
