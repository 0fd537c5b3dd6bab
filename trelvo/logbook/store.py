"""The latest snapshot of each campaign, kept for as long as its tokens are the same."""

import threading
from collections import OrderedDict
from collections.abc import Collection, Mapping, Sequence

from trelvo.core.campaign import CampaignSnapshot
from trelvo.logbook.models import Campaign
from trelvo.logbook.snapshot import load_snapshots
from trelvo.logbook.tokens import read_tokens

# So many runs are kept in memory: at eight figures a run, about 2 kB each.
MOST_RUNS = 150_000
# How often a campaign that changes while it is being loaded is loaded again before it is given as it is.
MOST_LOADS = 3


class _Store:
    """Snapshots by campaign, the one used last at the end. Eight workers share it."""

    def __init__(self) -> None:
        self._kept: OrderedDict[int, CampaignSnapshot] = OrderedDict()
        self._lock = threading.Lock()

    def get(self, tokens: Mapping[int, tuple[str, str, str]]) -> dict[int, CampaignSnapshot]:
        """By campaign, those that are as the tokens say."""
        with self._lock:
            found = {pk: one for pk in tokens if (one := self._kept.get(pk)) and one.token == tokens[pk]}
            for pk in found:
                self._kept.move_to_end(pk)
            return found

    def put(self, snapshots: Collection[CampaignSnapshot]) -> dict[int, CampaignSnapshot]:
        """Keep snapshots; return the ones to use: where another thread has kept an equal one meanwhile, that one."""
        found = {}
        with self._lock:
            for snapshot in snapshots:
                there = self._kept.get(snapshot.id)
                found[snapshot.id] = there if there is not None and there.token == snapshot.token else snapshot
                self._kept[snapshot.id] = found[snapshot.id]
                self._kept.move_to_end(snapshot.id)
            runs = sum(len(one.runs) for one in self._kept.values())
            while runs > MOST_RUNS and len(self._kept) > 1:
                runs -= len(self._kept.popitem(last=False)[1].runs)
        return found

    def clear(self) -> None:
        with self._lock:
            self._kept.clear()


_store = _Store()


def empty_store() -> None:
    """Forget every snapshot: another database has been put in this one's place."""
    _store.clear()


def latest(campaign: Campaign) -> CampaignSnapshot:
    """The snapshot of one campaign as it is now."""
    return latest_of([campaign])[0]


def latest_of(campaigns: Sequence[Campaign]) -> list[CampaignSnapshot]:
    """The snapshots of several campaigns as they are now; those that have to be loaded are loaded together."""
    if not campaigns:
        return []
    pairs = [(campaign.pk, campaign.rig_id) for campaign in campaigns]
    tokens = read_tokens(pairs)
    found = _store.get(tokens)
    for left in reversed(range(MOST_LOADS)):
        missing = {campaign.pk for campaign in campaigns if campaign.pk not in found}
        if not missing:
            break
        loaded = load_snapshots(missing, tokens)
        now = read_tokens(pairs)
        # a campaign that changed while it was being loaded may be half old and half new
        whole = [one for one in loaded if one.token == now[one.id]]
        found |= _store.put(whole)
        if not left:
            found = {one.id: one for one in loaded} | found
        tokens = now
    return [found[campaign.pk] for campaign in campaigns]


def in_store(campaigns: Sequence[Campaign]) -> set[int]:
    """The ids of those whose latest snapshot is kept."""
    return set(_store.get(read_tokens((campaign.pk, campaign.rig_id) for campaign in campaigns)))
