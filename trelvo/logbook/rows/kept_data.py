"""Campaigns' data kept from one answer to the next, for as long as the database says that nothing of it has changed.

What was worked out from it stays with it. Where something has changed, it is made anew, but of the runs only those that changed
are read again. The oldest goes first once there are too many runs.
"""

import threading
from collections import OrderedDict
from collections.abc import Sequence
from dataclasses import dataclass

from trelvo.logbook.models import Campaign
from trelvo.logbook.rows.campaign_data import CampaignData, Loader
from trelvo.logbook.rows.run_rows import RunRows
from trelvo.logbook.rows.stamps import Place, read_stamps

# So many runs are kept in memory, with what was read of them: at eight figures a run, about 2 kB each.
MOST_RUNS = 150_000


@dataclass(frozen=True)
class _Kept:
    """stamps: what the database said when it was read; place: up to which notes its runs are known"""

    stamps: tuple[int, int, int]
    place: Place
    data: CampaignData

    @property
    def rows(self) -> RunRows | None:
        """Its runs, where they were read yet."""
        return self.data.loader.rows.get(self.data.id) if self.data.loader.has_rows else None


class _Shelf:
    """What is kept, newest used last. Every change swaps whole entries, so that readers on other threads see old or new."""

    def __init__(self) -> None:
        self._kept: OrderedDict[int, _Kept] = OrderedDict()
        self._lock = threading.Lock()

    def all_of(self, campaigns: Sequence[Campaign]) -> dict[int, _Kept]:
        with self._lock:
            return {one.pk: self._kept[one.pk] for one in campaigns if one.pk in self._kept}

    def put(self, entries: Sequence[_Kept]) -> list[_Kept]:
        """Keeps the entries; answers for each the one to use: where another thread has put the same meanwhile, that one."""
        found = []
        with self._lock:
            for entry in entries:
                there = self._kept.get(entry.data.id)
                found.append(there if there is not None and there.stamps == entry.stamps else entry)
                self._kept[entry.data.id] = found[-1]
                self._kept.move_to_end(entry.data.id)
            runs = sum(len(entry.rows.runs) for entry in self._kept.values() if entry.rows)
            while runs > MOST_RUNS and len(self._kept) > 1:
                _, gone = self._kept.popitem(last=False)
                runs -= len(gone.rows.runs) if gone.rows else 0
        return found


_shelf = _Shelf()


def at_hand(campaigns: Sequence[Campaign]) -> set[int]:
    """Those whose runs are kept in memory: what has not changed of them need not be read."""
    return {pk for pk, entry in _shelf.all_of(campaigns).items() if entry.rows is not None}


def data_of(campaign: Campaign) -> CampaignData:
    """The data of one campaign."""
    return data_of_many([campaign])[0]


def data_of_many(campaigns: Sequence[Campaign]) -> list[CampaignData]:
    """The data of several campaigns; what has to be read is read together."""
    if not campaigns:
        return []
    kept = _shelf.all_of(campaigns)
    rig_ids = {one.rig_id for one in campaigns}
    stamps = read_stamps([one.pk for one in campaigns], rig_ids, {pk: entry.place for pk, entry in kept.items()})
    now = {one.pk: stamps.of(one.pk, one.rig_id) for one in campaigns}
    same = {pk: entry for pk, entry in kept.items() if entry.stamps == now[pk]}
    others = [one for one in campaigns if one.pk not in same]
    known = {
        one.pk: (rows, stamps.changed[one.pk])
        for one in others
        if one.pk in kept and one.pk in stamps.changed and (rows := kept[one.pk].rows) is not None
    }
    loader = Loader(others, known)
    made = {one.pk: CampaignData(one, loader) for one in others}
    entries = [_Kept(mark, stamps.place, made[pk]) for pk in made if (mark := now[pk]) is not None]
    found = made | {entry.data.id: entry.data for entry in _shelf.put([*same.values(), *entries])}
    return [found[one.pk] for one in campaigns]
