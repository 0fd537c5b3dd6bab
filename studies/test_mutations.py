"""Two thousand campaign files and packages with one field changed, by ./run.py bench -k changed; a quarter of an hour."""

from tests.exchange.test_mutated_files import document, package, package_troubles, troubles

__all__ = ["document", "package"]
COUNT = 2000


def test_changed_files(benchmark, client, document):
    found, taken = benchmark.pedantic(troubles, (client, document, COUNT, 2), rounds=1)
    print(f"\n{COUNT} campaign files with one field changed: {taken} taken in, {len(found)} with trouble")
    assert found == []


def test_changed_packages(benchmark, client, package):
    found, taken = benchmark.pedantic(package_troubles, (client, package, COUNT, 2), rounds=1)
    print(f"\n{COUNT} packages with one cell changed: {taken} taken in, {len(found)} with trouble")
    assert found == []
