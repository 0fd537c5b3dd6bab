"""What a failed browser test leaves behind: the words on the page, what the page asked of the server and when it was answered."""

import time

from playwright.sync_api import Error

KEPT = 40
WORDS, WAIT_MS = 1500, 10_000
# Kept by the page itself: heard from outside, a page's requests cost as much as a tenth of the page.
LISTEN = """(() => {
    const fetched = window.fetch, asked = window.asked = []
    const now = () => `${(performance.now() / 1000).toFixed(2)} s`
    window.fetch = async (input, init) => {
        const one = {what: `${input.method ?? init?.method ?? 'GET'} ${input.url ?? input}`, at: now(), then: 'no answer yet'}
        asked.push(one)
        try {
            const answer = await fetched(input, init)
            one.then = `${answer.status} at ${now()}`
            return answer
        } catch (trouble) {
            one.then = `${trouble} at ${now()}`
            throw trouble
        }
    }
})()"""
HEARD = "(window.asked ?? []).map(one => `${one.at} ${one.what}: ${one.then}`)"


class Witness:
    """Listens to one page from its first moment."""

    def __init__(self, page):
        self.page, self.began_s = page, time.monotonic()
        self.complaints: list[str] = []
        self._ears = {
            "pageerror": lambda error: self.complaints.append(str(error)),
            "console": lambda said: self.complaints.append(said.text) if said.type == "error" else None,
        }
        for event, ear in self._ears.items():
            page.on(event, ear)

    def leave(self):
        """Listens no longer."""
        for event, ear in self._ears.items():
            self.page.remove_listener(event, ear)

    def report(self):
        lines = [
            f"url {self.page.url}, {time.monotonic() - self.began_s:.2f} s after the test began",
            *self.complaints,
            "what this page asked of the server, seconds since it was opened:",
        ]
        try:
            # a page that no longer answers is worth knowing; it must not take the other tests with it
            body = self.page.locator("body").inner_text(timeout=WAIT_MS)
            lines += ["  " + one for one in self.page.evaluate(HEARD)[-KEPT:]]
        except Error as trouble:
            body = f"it does not say: {trouble}"
        return "\n".join([*lines, "on the page:", body[:WORDS]])
