"""Results that live on a snapshot: computed once, however many ask, and gone with it."""

import gc
import threading
import time
import weakref
from dataclasses import dataclass, field, replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from trelvo.core.memo import Memo, asked_last, on_snapshot


@dataclass(frozen=True)
class Subject:
    name: str = "one"
    memo: Memo = field(default_factory=Memo, init=False, compare=False)
    memo_key: None = None


@pytest.fixture
def calls():
    return []


@given(st.lists(st.integers(0, 3), max_size=30))
def test_fresh_equals_remembered(asked):
    calls = []

    @on_snapshot
    def square(subject, number):
        calls.append(number)
        return number * number

    subject = Subject()
    assert [square(subject, one) for one in asked] == [one * one for one in asked]
    assert sorted(calls) == sorted(set(asked))


def test_another_snapshot_begins_anew(calls):
    @on_snapshot
    def length(subject):
        calls.append(subject.name)
        return len(subject.name)

    first = Subject("one")
    assert (length(first), length(first), length(replace(first)), length(replace(first, name="three"))) == (3, 3, 3, 5)
    assert calls == ["one", "one", "three"]


def test_results_of_two_functions_stay_apart():
    @on_snapshot
    def one(subject, number):
        return number + 1

    @on_snapshot
    def two(subject, number):
        return number + 2

    subject = Subject()
    assert (one(subject, 1), two(subject, 1), one(subject, number=1)) == (2, 3, 2)


def test_only_what_was_asked_last_is_kept(calls):
    @asked_last
    def square(subject, number):
        calls.append(number)
        return number * number

    subject = Subject()
    assert [square(subject, one) for one in (2, 2, 3, 3, 2)] == [4, 4, 9, 9, 4]
    assert calls == [2, 3, 2]


@pytest.mark.parametrize("decorator", [on_snapshot, asked_last])
def test_of_eight_threads_one_computes_and_the_others_wait(calls, decorator):
    @decorator
    def slow(subject):
        calls.append(threading.get_ident())
        time.sleep(0.02)
        return object()

    subject, found, begin = Subject(), [], threading.Barrier(8)

    def ask():
        begin.wait(10)
        found.append(slow(subject))

    threads = [threading.Thread(target=ask) for _ in range(8)]
    for one in threads:
        one.start()
    for one in threads:
        one.join(10)
    assert len(calls) == 1
    assert len({id(one) for one in found}) == 1
    assert len(found) == 8


def test_what_fails_is_computed_again(calls):
    @on_snapshot
    def sometimes(subject):
        calls.append(1)
        if len(calls) == 1:
            raise OverflowError("math range error")
        return "whole"

    subject = Subject()
    with pytest.raises(OverflowError):
        sometimes(subject)
    assert sometimes(subject) == "whole"


def test_a_snapshot_goes_with_its_last_user():
    @on_snapshot
    def length(subject):
        return len(subject.name)

    subject = Subject()
    length(subject)
    gone = weakref.ref(subject)
    gc.disable()
    try:
        del subject
        assert gone() is None
    finally:
        gc.enable()
