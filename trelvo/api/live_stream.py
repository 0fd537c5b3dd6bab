"""A live run as server-sent events: readings as they come, thinned, with how the run stands; resumes where it broke off."""

from collections.abc import AsyncIterator

import orjson
from asgiref.sync import sync_to_async
from django.db import connections
from django.http import HttpRequest, StreamingHttpResponse
from django.shortcuts import get_object_or_404
from ninja import Query, Router

from trelvo.api.errors import Problems
from trelvo.core.base.problems import Problem, Refused
from trelvo.logbook.answers.live_news import News, news_of
from trelvo.logbook.models import LiveRun
from trelvo.logbook.notify import Watch

router = Router(tags=["live"])

# Without news for so long, the run's standing is told all the same: the reader sees that the line still holds.
QUIET_S = 1.0
# So many screens may follow runs at once; each costs the server a look a second.
MOST_STREAMS = 100
_open: set[object] = set()


@router.get("/runs/{int:run_id}/stream", response={200: None, 404: Problems, 422: Problems})
async def stream_live(request: HttpRequest, run_id: int, after: Query[int] = 0) -> StreamingHttpResponse:
    """Events `news` (see docs/formats.md) until the run has ended. Last-Event-ID, or `after`, says what is known already."""
    await sync_to_async(get_object_or_404)(LiveRun, run_id=run_id)
    if len(_open) >= MOST_STREAMS:
        what = f"{MOST_STREAMS} screens follow runs already."
        raise Refused(Problem("stream", what, "Close one of them; this page tries again by itself."))
    known = request.headers.get("Last-Event-ID", "")
    return StreamingHttpResponse(
        events(run_id, int(known) if known.isdigit() else after),
        content_type="text/event-stream",
        headers={"Cache-Control": "no-store", "X-Accel-Buffering": "no"},
    )


async def events(run_id: int, after: int) -> AsyncIterator[bytes]:
    """One event at once, then one whenever something has come in."""
    cursor, me = after, object()
    _open.add(me)
    with Watch(run_id) as watch:
        try:
            while True:
                news = await sync_to_async(news_of)(run_id, cursor)
                cursor = news.cursor
                yield written(news)
                if news.standing.state == LiveRun.State.ENDED:
                    return
                await watch.news(QUIET_S)
        finally:
            _open.discard(me)
            await sync_to_async(connections.close_all)()


def written(news: News) -> bytes:
    """An event as it goes over the line: straight from the arrays, without a Python number for each reading."""
    return b"id: %d\nevent: news\ndata: %s\n\n" % (news.cursor, orjson.dumps(news, option=orjson.OPT_SERIALIZE_NUMPY))
