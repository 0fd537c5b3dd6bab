"""A page that goes from test to test: a new one loads and compiles everything again, which is half of what it costs."""

import threading
from collections.abc import Iterator
from contextlib import contextmanager
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer

from playwright.sync_api import BrowserContext, Page, ViewportSize

VIEWPORT: ViewportSize = {"width": 1280, "height": 800}


class KeptPage:
    """What a test did to it that nobody can take back (a script before each page, a failure, an end) brings a new one."""

    def __init__(self, context: BrowserContext, waiting_room: str) -> None:
        self.context, self.waiting_room = context, waiting_room
        self._page: Page | None = None
        self.spoilt = False

    def page(self) -> Page:
        """A page of a visitor who has seen nothing yet."""
        if self._page is None or self._page.is_closed():
            self._page = self._new()
        return self._page

    def _new(self) -> Page:
        page = self.context.new_page()
        add = page.add_init_script

        def spoil(script: str) -> None:
            self.spoilt = True
            add(script)

        page.add_init_script = spoil  # type: ignore[method-assign, assignment]
        return page

    def leave(self) -> None:
        """Nothing of this visitor is left to the next."""
        page, spoilt = self._page, self.spoilt
        self.spoilt = False
        self.context.clear_cookies()
        if page is None or page.is_closed():
            return
        if spoilt:
            page.close()
            return
        page.unroute_all(behavior="ignoreErrors")
        page.goto(self.waiting_room)
        page.evaluate("window.name = ''")
        page.emulate_media(media="null", color_scheme="null", reduced_motion="null")
        page.set_viewport_size(VIEWPORT)


@contextmanager
def waiting_room() -> Iterator[str]:
    """An empty page at the servers' own site: anywhere else the browser would begin a new process, which knows nothing."""

    class Empty(BaseHTTPRequestHandler):
        def do_GET(self) -> None:
            self.send_response(200)
            self.send_header("Content-Type", "text/html")
            self.end_headers()

        def log_message(self, *words: object) -> None:
            pass

    with ThreadingHTTPServer(("127.0.0.1", 0), Empty) as server:
        threading.Thread(target=server.serve_forever, daemon=True).start()
        yield f"http://127.0.0.1:{server.server_port}/"
        server.shutdown()
