"""A live run as server-sent events: readings as they come, thinned, with how the run stands; resumes where it broke off."""

import asyncio
from collections.abc import AsyncIterator
from concurrent.futures import ThreadPoolExecutor
from typing import NamedTuple
from weakref import WeakSet

import orjson
from django.http import Http404, HttpRequest, StreamingHttpResponse
from ninja import Query, Router

from trelvo.api.errors import Problems
from trelvo.api.texts import as_sent
from trelvo.core.problems import Problem, Refused
from trelvo.logbook.answers.live_news import News, news_of
from trelvo.logbook.models import LiveRun
from trelvo.logbook.notify import Watch

router = Router(tags=["live"])

# Without news for so long, the run's standing is sent all the same: the reader sees that the line still holds.
QUIET_S = 1.0
# So many screens may follow runs at once; each costs the server a look a second.
MOST_STREAMS = 100
# Threads that read for all streams, each with one connection to the database.
READERS = 2


class Place:
    """One of the places that screens may take; free again when nobody holds it any longer."""


class Told(NamedTuple):
    """An event as it goes over the line. cursor: what to ask after next; ended: whether the run has"""

    event: bytes
    cursor: int
    ended: bool


_places: WeakSet[Place] = WeakSet()
_pool = ThreadPoolExecutor(READERS, "stream")
# readings that are under way: who watches the same run from the same place waits for the same one
_under_way: dict[tuple[int, int, int], asyncio.Future[Told]] = {}


@router.get("/runs/{int:run_id}/stream", response={200: None, 404: Problems, 422: Problems})
async def stream_live(request: HttpRequest, run_id: int, after: Query[int] = 0) -> StreamingHttpResponse:
    """Events `news` (see docs/formats.md) until the run has ended. Last-Event-ID, or `after`, says what is known already."""
    if len(_places) >= MOST_STREAMS:
        raise Refused(Problem("stream", "too_many_streams", {"most": MOST_STREAMS}))
    # taken before anything is waited for, so that a burst of newcomers is counted
    place = Place()
    _places.add(place)
    # by the readers' threads: a connection of its own for each stream would leave its files open as long as others read
    if not await asyncio.get_running_loop().run_in_executor(_pool, _is_there, run_id):
        raise Http404
    known = request.headers.get("Last-Event-ID", "")
    return StreamingHttpResponse(
        events(run_id, int(known) if known.isdigit() else after, place),
        content_type="text/event-stream",
        headers={"Cache-Control": "no-store", "X-Accel-Buffering": "no"},
    )


def _is_there(run_id: int) -> bool:
    return LiveRun.objects.filter(run_id=run_id).exists()


async def events(run_id: int, after: int, place: Place) -> AsyncIterator[bytes]:
    """One event at once, then one whenever something has come in. place: held as long as someone watches"""
    cursor = after
    with Watch(run_id) as watch:
        while True:
            told = await _read_once(run_id, cursor)
            cursor = told.cursor
            yield told.event
            if told.ended:
                return
            await watch.news(QUIET_S)


async def _read_once(run_id: int, cursor: int) -> Told:
    loop = asyncio.get_running_loop()
    key = id(loop), run_id, cursor
    reading = _under_way.get(key)
    if reading is None:
        reading = _under_way[key] = loop.run_in_executor(_pool, _read, run_id, cursor)
        reading.add_done_callback(lambda _: _under_way.pop(key, None))
    # one who leaves takes the reading from nobody else
    return await asyncio.shield(reading)


def _read(run_id: int, cursor: int) -> Told:
    news = news_of(run_id, cursor)
    return Told(written(news), news.cursor, news.standing.state == LiveRun.State.ENDED)


def written(news: News) -> bytes:
    """An event as it goes over the line: straight from the arrays, without a Python number for each reading."""
    return b"id: %d\nevent: news\ndata: %s\n\n" % (
        news.cursor,
        orjson.dumps(news, default=as_sent, option=orjson.OPT_SERIALIZE_NUMPY | orjson.OPT_PASSTHROUGH_DATACLASS),
    )
