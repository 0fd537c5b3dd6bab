"""Twenty thousand calls made up from the API's document; run by ./run.py bench -k fuzz. Takes an hour or more."""

from tests.server.process import Served
from tests.server.test_fuzz import fuzz

CALLS, EXAMPLES = (20_000, 170)


def test_fuzz_twenty_thousand_calls(benchmark, tmp_path):
    with Served(tmp_path, "--demo") as server:
        args = (server.address, tmp_path, EXAMPLES)
        code, said, made = benchmark.pedantic(fuzz, args, {"timeout_s": 4 * 3600}, rounds=1)
        print(f"\nfuzz: {made} calls, exit status {code}")
        assert code == 0, said[-6000:]
        assert made >= CALLS
        assert server.integrity() == ([("ok",)], [])
