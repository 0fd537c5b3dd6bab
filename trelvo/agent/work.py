"""One run from opening to its end. Everything goes through the spool; a sender takes it from there when the line is up."""

import math
import sys
import threading
import time
import uuid
from dataclasses import asdict, dataclass, field
from typing import Any

from trelvo.agent.line import Away, Line, Refusal
from trelvo.agent.sensors import Channel, Source
from trelvo.agent.spool import Spool

# how long readings gather before they go off; how soon a line that is down is tried again; how often to speak at least
BATCH_S = 1.0
AGAIN_S = 2.0
HEARTBEAT_S = 1.0


@dataclass(frozen=True)
class Plan:
    """What is about to run. setting: knob keys to values; every_s: seconds between readings."""

    bench: str
    campaign_id: int
    workload: str
    setting: dict[str, float] = field(default_factory=dict)
    minutes: float | None = None
    every_s: float = 1.0
    outcome: str = "completed"
    value: float | None = None
    room_c: float | None = None
    confirmation: str = ""


class Sender(threading.Thread):
    """Sends what the spool holds, in order, again and again until the server has it."""

    def __init__(self, spool: Spool, line: Line, run_id: int | None, sent: int) -> None:
        super().__init__(daemon=True)
        self.spool, self.line, self.run_id, self.sent = spool, line, run_id, sent
        self._spoke_s = 0.0
        self.stop_reason = ""
        self.refusal: Refusal | None = None
        self.news = threading.Event()
        self.finishing = threading.Event()

    def run(self) -> None:
        while True:
            try:
                self.send_waiting()
                if self.finishing.is_set():
                    return
                if time.monotonic() - self._spoke_s >= HEARTBEAT_S:
                    self._say("heartbeat", {})
            except Away:
                # when the run is over, what is left stays in the spool for the next start
                if self.finishing.wait(AGAIN_S):
                    return
                continue
            except Refusal as trouble:
                self.refusal = trouble
                return
            self.news.wait(HEARTBEAT_S)
            self.news.clear()

    def send_waiting(self) -> None:
        """Sends all that is not there yet; raises when the line is down or the server refuses."""
        for number, message in self.spool.messages(self.sent):
            self._send(message)
            self.sent = number + 1
            self.spool.mark_sent(self.sent)

    def _send(self, message: dict[str, Any]) -> None:
        kind, body = message["kind"], message["body"]
        if kind == "open" or self.run_id is None:
            # after a kill the opening is marked as sent, but its run is not known here; asking again gives the same run
            opening = body if kind == "open" else next(self.spool.messages())[1]["body"]
            self.run_id = self.line.post("/api/bench/runs", opening)["run_id"]
        if kind != "open":
            self._say(kind, body)

    def _say(self, kind: str, body: dict[str, Any]) -> None:
        answer = self.line.post(f"/api/bench/runs/{self.run_id}/{kind}", body)
        self._spoke_s = time.monotonic()
        if kind != "finish" and answer["stop"]:
            self.stop_reason = answer["stop"]


class Work:
    """Opens a run, reads every source in step, and ends it when the time is over, a safety limit breaks, or someone stops it."""

    def __init__(self, plan: Plan, sources: list[Source], spool: Spool, line: Line) -> None:
        self.plan, self.sources, self.spool, self.line = plan, sources, spool, line
        self.channels: list[Channel] = [channel for source in sources for channel in source.channels()]
        self.left_out = 0

    def run(self) -> int:
        """0 when the run has ended as planned and the server has all of it; else what went wrong is printed."""
        opening = {
            "uid": str(uuid.uuid4()),
            "bench": self.plan.bench,
            "campaign_id": self.plan.campaign_id,
            "workload": self.plan.workload,
            "setting": self.plan.setting,
            "minutes": self.plan.minutes,
            "channels": [asdict(channel) for channel in self.channels],
            "room_c": self.plan.room_c,
            "confirmation": self.plan.confirmation,
        }
        try:
            # the run is not begun before it is written down
            opened = self.line.post("/api/bench/runs", opening)
        except (Refusal, Away) as trouble:
            self.spool.drop()
            print(f"Not started: {trouble}")
            return 1
        self.spool.add({"kind": "open", "body": opening})
        self.spool.mark_sent(1)
        print(
            f"Run {opened['run_id']} is open for {opened['planned_s']:.0f} s. Start the workload now. Ctrl+C stops it."
        )
        for limit in opened["unwatched"]:
            print(
                f"This machine reads nothing for the safety limit {limit['kind']} {limit['limit']:g}: watch it yourself."
            )
        sender = Sender(self.spool, self.line, opened["run_id"], 1)
        sender.start()
        outcome, note = self._read_until_over(opened, sender)
        if outcome:
            value = self._value() if outcome == "completed" else None
            self.spool.add({"kind": "finish", "body": {"outcome": outcome, "value": value, "note": note}})
        sender.finishing.set()
        sender.news.set()
        sender.join()
        return self._report(sender, note)

    def _value(self) -> float | None:
        """What the workload showed: as said beforehand, or typed now where someone sits at the machine."""
        while self.plan.value is None and sys.stdin.isatty():
            typed = input("What did the workload show? (Enter for nothing) ").strip().replace(",", ".")
            if not typed:
                return None
            try:
                return float(typed)
            except ValueError:
                print("That is not a number.")
        return self.plan.value

    def _read_until_over(self, opened: dict[str, Any], sender: Sender) -> tuple[str, str]:
        """Outcome and note to finish with; an empty outcome when the server has ended the run already."""
        started, sequence = time.monotonic(), 0
        rows: list[tuple[float, dict[str, float]]] = []
        sent_at = 0.0
        try:
            while (now := time.monotonic() - started) < opened["planned_s"]:
                if sender.stop_reason or sender.refusal:
                    return "", sender.stop_reason or str(sender.refusal)
                reading: dict[str, float] = {}
                for source in self.sources:
                    reading |= source.read()
                rows.append((now, self._possible(reading, opened["possible"])))
                if now - sent_at >= BATCH_S or self.plan.every_s >= BATCH_S:
                    sequence, sent_at = sequence + 1, now
                    self._spool_batch(sequence, rows)
                    rows = []
                    sender.news.set()
                # in step with the clock, so that readings do not drift
                step = self.plan.every_s
                time.sleep(
                    max(
                        0.0, (math.floor((time.monotonic() - started) / step) + 1) * step - (time.monotonic() - started)
                    )
                )
        except KeyboardInterrupt:
            outcome, note = "stopped by hand", "Stopped by hand at the machine."
        else:
            outcome, note = self.plan.outcome, ""
        if rows:
            self._spool_batch(sequence + 1, rows)
        if self.left_out:
            note = f"{note} {self.left_out} readings that cannot be were left out.".strip()
        return outcome, note

    def _possible(self, reading: dict[str, float], possible: dict[str, list[float]]) -> dict[str, float]:
        """Readings that can be: a broken sensor must not cost the others their place."""
        kept = {}
        for channel in self.channels:
            value = reading.get(channel.name)
            if value is None:
                continue
            low, high = possible.get(channel.quantity, [-math.inf, math.inf])
            own = channel.unit in ("MHz", "V", "W", "A", "°C", "%", "rpm", "fps", "")
            if not math.isfinite(value) or (own and not low <= value <= high):
                self.left_out += 1
                continue
            kept[channel.name] = value
        return kept

    def _spool_batch(self, sequence: int, rows: list[tuple[float, dict[str, float]]]) -> None:
        body = {
            "sequence": sequence,
            "time_s": [round(at, 3) for at, _ in rows],
            "values": {channel.name: [reading.get(channel.name) for _, reading in rows] for channel in self.channels},
        }
        self.spool.add({"kind": "batches", "body": body})

    def _say_lost(self) -> None:
        if self.spool.unwritten:
            lost = f"{self.spool.unwritten} of them could not be written and are lost"
            print(f"The disk is full: {lost}. Make room before the next run.")

    def _report(self, sender: Sender, note: str) -> int:
        if sender.refusal:
            kept = self.spool.keep_refused()
            print(f"The server took no more: {sender.refusal} What it did not take lies in {kept}.")
            self._say_lost()
            return 1
        waiting = sum(1 for _ in self.spool.messages()) - sender.sent
        if waiting > 0:
            print(f"The server is away; {waiting} messages wait in {self.spool.path}. The next start sends them.")
            self._say_lost()
            self.spool.close()
            return 1
        self.spool.drop()
        print(f"The run has ended. {note}".strip())
        return 1 if sender.stop_reason else 0


def send_left_over(spool: Spool, line: Line) -> None:
    """Sends what an earlier agent could not; the run itself stays as it is, and Trelvo asks what happened."""
    sender = Sender(spool, line, None, spool.sent)
    try:
        sender.send_waiting()
    except Away as trouble:
        spool.close()
        print(f"  {trouble} It stays where it is.")
    except Refusal as trouble:
        print(f"  {trouble} Kept as {spool.keep_refused()}.")
    else:
        spool.drop()
