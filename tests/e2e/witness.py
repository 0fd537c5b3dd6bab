"""What a failed browser test leaves behind: the words on the page, what was asked of the server and when it answered."""

import time

from playwright.sync_api import Error

KEPT = 40
WORDS, WORDS_WAIT_MS = 1500, 10_000


class Witness:
    """Listens to one page from its first moment."""

    def __init__(self, page):
        self.page, self.began_s, self.asked = page, time.monotonic(), {}
        self.complaints: list[str] = []
        self._ears = {
            "pageerror": lambda error: self.complaints.append(str(error)),
            "console": lambda said: self.complaints.append(said.text) if said.type == "error" else None,
            "request": self._asked,
            "response": lambda answer: self._heard(answer.request, f"{answer.status}"),
            "requestfinished": lambda request: self._heard(request, "whole"),
            "requestfailed": lambda request: self._heard(request, f"failed: {request.failure}"),
        }
        for event, ear in self._ears.items():
            page.on(event, ear)

    def leave(self):
        """Listens no longer."""
        for event, ear in self._ears.items():
            self.page.remove_listener(event, ear)

    def _now(self):
        return f"{time.monotonic() - self.began_s:.2f}"

    def _asked(self, request):
        if "/api/" in request.url:
            self.asked[request] = [f"{self._now()} s {request.method} {request.url}"]

    def _heard(self, request, what):
        if request in self.asked:
            self.asked[request].append(f"{what} at {self._now()}")

    def report(self):
        lines = [
            f"url {self.page.url}, {self._now()} s after the page was made",
            *self.complaints,
            "asked of the server:",
        ]
        lines += ["  " + ", ".join(heard) for heard in list(self.asked.values())[-KEPT:]]
        return "\n".join([*lines, "on the page:", self._words()])

    def _words(self):
        try:
            return self.page.locator("body").inner_text(timeout=WORDS_WAIT_MS)[:WORDS]
        except Error as trouble:
            # a page that no longer answers is worth knowing; it must not take the other tests with it
            return f"it does not say: {trouble}"
