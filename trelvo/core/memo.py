"""Results that live on a campaign's snapshot: computed once, and gone with it."""

from collections.abc import Callable, Hashable
from functools import wraps
from threading import Lock, RLock
from typing import Any, Concatenate, ParamSpec, Protocol, TypeVar, cast

Arguments = ParamSpec("Arguments")
Result = TypeVar("Result")


class Memo:
    """Results by key. One thread computes each, however many ask at once: the others wait for it.

    Results must not need each other in a circle, since a thread that computes one waits for those it needs.
    """

    def __init__(self) -> None:
        self._results: dict[Hashable, object] = {}
        self._last: dict[Hashable, tuple[Hashable, object]] = {}
        self._locks: dict[Hashable, RLock] = {}
        self._guard = Lock()

    def result(self, key: Hashable, compute: Callable[[], Result]) -> Result:
        """Return what was computed under this key, computing it first if need be."""
        if key not in self._results:
            with self._guard:
                lock = self._locks.setdefault(key, RLock())
            with lock:
                if key not in self._results:
                    self._results[key] = compute()
            self._locks.pop(key, None)
        return cast(Result, self._results[key])

    def last_result(self, name: Hashable, key: Hashable, compute: Callable[[], Result]) -> Result:
        """The same, but of the results under a name only the one that was asked for last is kept."""
        there = self._last.get(name)
        if there is None or there[0] != key:
            with self._guard:
                lock = self._locks.setdefault(("last", name), RLock())
            with lock:
                there = self._last.get(name)
                if there is None or there[0] != key:
                    there = self._last[name] = key, compute()
        return cast(Result, there[1])


class Remembers(Protocol):
    """Something with results of its own: a snapshot, or a campaign as it is judged."""

    @property
    def memo(self) -> Memo: ...

    @property
    def memo_key(self) -> Hashable:
        """What sets it apart from others with the same memo; never the snapshot, which would keep itself alive."""


Subject = TypeVar("Subject", bound=Remembers)


def on_snapshot(
    function: Callable[Concatenate[Subject, Arguments], Result],
) -> Callable[Concatenate[Subject, Arguments], Result]:
    """Keep a function's results on the snapshot that is its first argument, by its other arguments, compared by value."""

    @wraps(function)
    def remembered(subject: Subject, *args: Arguments.args, **kwargs: Arguments.kwargs) -> Result:
        key: tuple[Any, ...] = (function, subject.memo_key, args, tuple(kwargs.items()))
        return subject.memo.result(key, lambda: function(subject, *args, **kwargs))

    return cast("Callable[Concatenate[Subject, Arguments], Result]", remembered)


def asked_last(
    function: Callable[Concatenate[Subject, Arguments], Result],
) -> Callable[Concatenate[Subject, Arguments], Result]:
    """Keep only the result that was asked for last, where the arguments are what a user types: pages ask again and again."""

    @wraps(function)
    def remembered(subject: Subject, *args: Arguments.args, **kwargs: Arguments.kwargs) -> Result:
        key: tuple[Any, ...] = (subject.memo_key, args, tuple(kwargs.items()))
        return subject.memo.last_result(function, key, lambda: function(subject, *args, **kwargs))

    return cast("Callable[Concatenate[Subject, Arguments], Result]", remembered)
