"""Drives the simulator's runs in real time or faster, through the same services as a real bench; and watches for silence."""

import logging
import threading
import time
from dataclasses import dataclass

from django.db import OperationalError, close_old_connections, connection
from django.utils import timezone

from trelvo.bench.clock import ClockWatch
from trelvo.bench.queue import begin_next, settle_items
from trelvo.bench.runs import as_it_is, bench_of
from trelvo.core.problems import Refused
from trelvo.logbook.commands.live import Batch, add_mark, clock_moved, finish, lose_silent, take_batch
from trelvo.logbook.disk import without_waiting_for_the_disk
from trelvo.logbook.models import LiveRun, Mark, Queue, QueueItem, Rig
from trelvo.simulator.bench import Bench, Ending, Stretch

TICK_S = 0.1
# how often readings are sent on; what is lost when the server is killed is at most this
SEND_EVERY_S = 0.4
# more bench time than this in one go would make the others wait
MOST_STEPS = 1800
WARM_UP_S = 120.0
# how these end a machine cannot tell by itself
SILENT = ("system crash", "no start")

log = logging.getLogger(__name__)


@dataclass
class Session:
    """A run that is being driven. owed_s: bench time that has not been stepped yet.

    waiting: what the bench has measured and could not be stored yet; it is sent again before anything else
    """

    live_id: int
    run_id: int
    rig_id: int
    speed: float
    queued: bool
    frames: bool
    owed_s: float = 0.0
    unsent_s: float = 0.0
    sequence: int = 0
    waiting: Stretch | None = None


def written_so_far() -> tuple[int, int, int]:
    """Moves on with whatever is written to the database, by this connection or by another; costs next to nothing."""
    connection.ensure_connection()
    file = connection.connection
    return id(file), file.execute("PRAGMA data_version").fetchone()[0], file.total_changes


class Driver:
    """Steps everything by `step`; `serve` does so in a thread of its own until `stop`."""

    def __init__(self) -> None:
        self.sessions: dict[int, Session] = {}
        self.benches: dict[int, Bench] = {}
        self._stop = threading.Event()
        self._swept_s = 0.0
        self._clock = ClockWatch()
        self._idle_since: tuple[int, int, int] | None = None
        # runs whose machine went down: they stay silent until Trelvo asks, and are not taken up again
        self._fallen: set[int] = set()

    def serve(self) -> None:
        """Runs until stopped; a fault in one run is logged and costs that run only."""
        last = time.monotonic()
        while not self._stop.wait(TICK_S):
            now = time.monotonic()
            try:
                close_old_connections()
                self.step(now - last)
            except Exception:
                log.exception("The simulator's driver stumbled; it goes on.")
            last = now

    def stop(self) -> None:
        self._stop.set()

    def step(self, seconds: float) -> None:
        """Everything that is due after so many seconds of real time."""
        self._swept_s += seconds
        if self._swept_s >= 1.0:
            self._swept_s = 0.0
            if moved_s := self._clock.moved_s():
                clock_moved(moved_s, timezone.now())
            lose_silent(timezone.now())
        written = written_so_far()
        if not self.sessions and written == self._idle_since:
            # ten times a second, beside somebody's measurement: what cannot have changed is not asked again
            return
        self._work_queues()
        self._adopt()
        # only now: what could not be taken up, since the database was locked, is tried again at the next step
        self._idle_since = written
        for session in list(self.sessions.values()):
            self._drive(session, seconds)

    def _work_queues(self) -> None:
        busy = (QueueItem.State.WAITING, QueueItem.State.RUNNING)
        for queue in Queue.objects.filter(items__state__in=busy).distinct().select_related("campaign__rig"):
            settle_items(queue)
            begin_next(queue, timezone.now())

    def _adopt(self) -> None:
        """Takes up runs that were opened on the simulator since the last step."""
        waiting = LiveRun.objects.filter(simulator=True, state=LiveRun.State.OPEN).exclude(
            pk__in=[*self.sessions, *self._fallen]
        )
        for live in waiting.select_related("run__campaign__rig", "run__variant__workload", "run__setting"):
            run, rig = live.run, live.run.campaign.rig
            # the run before may have been ended by hand since the last step
            for before in [session for session in self.sessions.values() if session.rig_id == rig.pk]:
                self._leave(before, rest_s=30.0)
            bench = self._bench(rig)
            queued = QueueItem.objects.filter(run=run).exists()
            if queued and bench.is_cold(run.variant.name):
                self._warm_up(bench, live, run.variant.name)
            bench.start(run.setting.values, run.variant.name, live.planned_s / 60)
            frames = run.variant.measure == "frame rate"
            self.sessions[live.pk] = Session(live.pk, run.pk, rig.pk, live.speed, queued, frames)
            add_mark(live.pk, Mark.Kind.PHASE, "running", timezone.now(), 0.0)

    def _warm_up(self, bench: Bench, live: LiveRun, load: str) -> None:
        """Whoever works a list lets each workload run once at stock before it counts; nothing of it is logged."""
        bench.start({}, load, WARM_UP_S / 60)
        bench.advance(WARM_UP_S)
        note = f"Warmed up at stock for {WARM_UP_S:.0f} s of bench time before this run; not logged."
        add_mark(live.pk, Mark.Kind.NOTE, note, timezone.now(), 0.0)

    def _bench(self, rig: Rig) -> Bench:
        if rig.pk not in self.benches:
            self.benches[rig.pk] = bench_of(rig)
        return as_it_is(self.benches[rig.pk], rig)

    def _drive(self, session: Session, seconds: float) -> None:
        bench = self.benches[session.rig_id]
        if session.waiting is not None:
            # the bench stands still until its readings are stored: none is lost to a full or locked disk
            self._deliver(session, session.waiting)
            return
        session.owed_s += seconds * session.speed
        session.unsent_s += seconds
        due = int(session.owed_s / bench.step_s)
        if session.unsent_s < SEND_EVERY_S and due < MOST_STEPS and session.sequence:
            return
        steps = min(due, MOST_STEPS)
        # bench time that cannot be kept up with is let go: the run then takes longer, and loses nothing
        session.owed_s = min(session.owed_s - steps * bench.step_s, bench.step_s * MOST_STEPS)
        session.unsent_s = 0.0
        stretch = bench.advance(steps * bench.step_s)
        # numbers count batches that are sent: one that is left out would be waited for
        session.sequence += bool(stretch.time_s.size)
        self._deliver(session, stretch)

    def _deliver(self, session: Session, stretch: Stretch) -> None:
        """Stores a stretch and what it ended with; keeps it where nothing can be written now."""
        try:
            if stretch.time_s.size and not self._send(session, stretch):
                self._leave(session, rest_s=30.0)
            elif stretch.ending:
                self._ended(session, stretch.ending)
        except OperationalError:
            session.waiting = stretch
            log.warning("Nothing can be written; the simulator waits with its readings.", exc_info=True)
        else:
            session.waiting = None

    def _send(self, session: Session, stretch: Stretch) -> bool:
        """Sends the readings on; False when the run has ended meanwhile, by a safety limit or by hand."""
        batch = Batch(session.sequence, stretch.time_s, stretch.values, stretch.frames_ms)
        try:
            with without_waiting_for_the_disk():
                return not take_batch(session.live_id, batch, timezone.now()).stop
        except Refused:
            return False

    def _ended(self, session: Session, ending: Ending) -> None:
        silent = ending.outcome in SILENT
        if not silent or session.queued:
            value = None if session.frames else ending.value
            note = f"after {ending.after_s:.1f} s" if ending.outcome != "completed" else ""
            finish(session.live_id, ending.outcome, value, note, timezone.now())
        else:
            # it falls silent, as a machine does that goes down: contact is lost, and Trelvo asks
            self._fallen.add(session.live_id)
        self._leave(session, rest_s=20.0, restart=silent)

    def _leave(self, session: Session, rest_s: float, restart: bool = False) -> None:
        bench = self.benches[session.rig_id]
        if restart:
            bench.restart()
        else:
            bench.rest(rest_s)
        del self.sessions[session.live_id]
