"""A result that several threads ask for at once is computed by one of them."""

import threading
from concurrent.futures import ThreadPoolExecutor

import pytest

from trelvo.logbook.rows.one_maker import OneMaker

ASKERS = 6


def asked_at_once(maker, kept, make):
    start = threading.Barrier(ASKERS)

    def ask(_):
        start.wait()
        return maker.result("noise", lambda: kept.get("noise"), make)

    with ThreadPoolExecutor(ASKERS) as pool:
        return list(pool.map(ask, range(ASKERS)))


def test_several_threads_wait_for_the_one_that_computes():
    kept, made = {}, []

    def make():
        made.append(threading.get_ident())
        threading.Event().wait(0.05)
        kept["noise"] = 0.4
        return kept["noise"]

    assert asked_at_once(OneMaker(), kept, make) == [0.4] * ASKERS
    assert len(made) == 1


def test_after_a_failure_the_next_thread_computes_it():
    maker, kept = OneMaker(), {}

    def fail():
        raise ZeroDivisionError

    with pytest.raises(ZeroDivisionError):
        maker.result("noise", lambda: kept.get("noise"), fail)
    assert asked_at_once(maker, kept, lambda: kept.setdefault("noise", 0.4)) == [0.4] * ASKERS


def test_a_result_may_need_another_and_itself_under_the_same_name():
    maker = OneMaker()

    def outer():
        return 1 + maker.result("line", lambda: None, lambda: maker.result("goal", lambda: None, lambda: 2))

    assert maker.result("goal", lambda: None, outer) == 3
