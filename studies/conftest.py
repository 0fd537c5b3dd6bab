"""Studies begin from the same small campaign as the tests."""

from tests.conftest import campaign, client, empty_snapshot_store, gorge, now, stock

__all__ = ["campaign", "client", "empty_snapshot_store", "gorge", "now", "stock"]
