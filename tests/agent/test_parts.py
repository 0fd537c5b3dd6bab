"""The agent's parts: what waits on disk, what another program writes, what this machine reads."""

import json
import resource
import signal

import pytest

from trelvo.agent.__main__ import setting_of
from trelvo.agent.line import Away, Refusal
from trelvo.agent.plain import PlainReadings
from trelvo.agent.sensors import Channel, MachineSensors
from trelvo.agent.spool import Spool, waiting_spools
from trelvo.agent.tail import CsvTail, column_map
from trelvo.agent.work import Plan, Sender, Work, send_left_over


def messages(spool, first=0):
    return [message["body"] for _, message in spool.messages(first)]


def test_the_spool_keeps_order_and_remembers_what_was_sent(tmp_path):
    spool = Spool.new(tmp_path)
    for body in range(5):
        spool.add({"kind": "batches", "body": body})
    assert messages(spool) == [0, 1, 2, 3, 4]
    assert messages(spool, 3) == [3, 4]
    assert messages(spool, 1) == [1, 2, 3, 4]
    spool.mark_sent(3)
    spool.close()
    again = Spool(spool.path)
    assert (again.sent, messages(again, again.sent)) == (3, [3, 4])
    again.drop()
    assert waiting_spools(tmp_path) == []


@pytest.mark.parametrize("torn", [b'{"kind": "bat', b"\xff\xfe", b'{"kind": "batches", "body": 9}'])
def test_a_line_that_a_crash_cut_off_is_no_message_and_harms_none(tmp_path, torn):
    spool = Spool.new(tmp_path)
    spool.add({"kind": "open", "body": 0})
    spool.close()
    with spool.path.open("ab") as file:
        file.write(torn)
    again = Spool(spool.path)
    again.add({"kind": "batches", "body": 1})
    whole = [9] if torn.endswith(b"}") else []
    assert messages(again) == [0, *whole, 1]
    again.close()


def test_what_a_full_disk_does_not_take_waits_in_its_place(tmp_path):
    """The disk is full for real: no file may grow beyond a limit that the operating system keeps."""
    spool = Spool.new(tmp_path)
    spool.add({"n": 0})
    before = resource.getrlimit(resource.RLIMIT_FSIZE)
    handled = signal.signal(signal.SIGXFSZ, signal.SIG_IGN)
    try:
        resource.setrlimit(resource.RLIMIT_FSIZE, (spool.path.stat().st_size + 12, before[1]))
        for n in (1, 2, 3):
            spool.add({"n": n, "long": "x" * 40})
        spool.mark_sent(1)
        assert spool.unwritten == 3
        # nothing half-written, and all of it can be sent meanwhile
        assert spool.path.read_bytes() == b'{"n": 0}\n'
        assert [(number, one["n"]) for number, one in spool.messages()] == [(0, 0), (1, 1), (2, 2), (3, 3)]
        assert [one["n"] for _, one in spool.messages(2)] == [2, 3]
    finally:
        resource.setrlimit(resource.RLIMIT_FSIZE, before)
        signal.signal(signal.SIGXFSZ, handled)
    spool.add({"n": 4})
    assert spool.unwritten == 0
    spool.close()
    again = Spool(spool.path)
    assert [one["n"] for _, one in again.messages()] == [0, 1, 2, 3, 4]
    again.close()


def test_what_was_held_is_kept_too_where_the_server_refuses(tmp_path):
    """The disk was full, there is room again, and only then the server says no."""
    spool = Spool.new(tmp_path)
    spool.add({"n": 0})
    before = resource.getrlimit(resource.RLIMIT_FSIZE)
    handled = signal.signal(signal.SIGXFSZ, signal.SIG_IGN)
    try:
        resource.setrlimit(resource.RLIMIT_FSIZE, (spool.path.stat().st_size + 4, before[1]))
        spool.add({"n": 1})
        assert spool.unwritten == 1
    finally:
        resource.setrlimit(resource.RLIMIT_FSIZE, before)
        signal.signal(signal.SIGXFSZ, handled)
    kept = spool.keep_refused()
    assert spool.unwritten == 0
    assert kept.read_bytes() == b'{"n": 0}\n{"n": 1}\n'


def test_what_the_server_refuses_is_kept(tmp_path):
    spool = Spool.new(tmp_path)
    spool.add({"kind": "open", "body": 0})
    kept = spool.keep_refused()
    assert json.loads(kept.read_text())["body"] == 0
    assert waiting_spools(tmp_path) == []


def test_the_newest_whole_line_of_a_growing_file(tmp_path):
    file = tmp_path / "log.csv"
    file.write_bytes("\ufefftime,Hot spot,board\n1,50,100\n".encode())
    tail = CsvTail(file, column_map(["Hot spot=temperature", "board=power:mW@Meter at the wall"]))
    meter = Channel("board", "power", "mW", instrument="Meter at the wall")
    assert tail.channels() == [Channel("Hot spot", "temperature", "°C"), meter]
    assert tail.read() == {}
    with file.open("a") as more:
        more.write("2,51,101\n3,52,102\n4,5")
    assert tail.read() == {"Hot spot": 52, "board": 102}
    assert tail.read() == {}
    with file.open("a") as more:
        more.write("3,n/a\n")
    assert tail.read() == {"Hot spot": 53}
    # begun again by the other program
    file.write_text("time,Hot spot,board\n1,40,90\n")
    assert tail.read() == {"Hot spot": 40, "board": 90}
    file.unlink()
    assert tail.read() == {}


def test_columns_that_are_not_there_or_not_understood(tmp_path):
    file = tmp_path / "log.csv"
    file.write_text("time;a;b\n")
    with pytest.raises(ValueError, match=r"has no column c\. It has: time, a, b"):
        CsvTail(file, column_map(["c=power"]))
    with pytest.raises(ValueError, match="say HEADER=QUANTITY"):
        column_map(["a=warmth"])
    with pytest.raises(ValueError, match="cannot be read"):
        CsvTail(tmp_path / "none.csv", column_map(["a=power"]))


def test_settings_as_typed():
    assert setting_of(["core=135", "voltage=-12,5"]) == {"core": 135, "voltage": -12.5}
    for word in ("core", "core=fast"):
        with pytest.raises(ValueError, match="KNOB=VALUE"):
            setting_of([word])


@pytest.mark.parametrize("tuned", [True, False])
def test_this_machines_own_readings(tuned):
    sensors = MachineSensors(tuned)
    declared = {channel.name: channel.quantity for channel in sensors.channels()}
    assert declared["processor load"] == ("load" if tuned else "other")
    assert set(sensors.read()) <= set(declared)
    assert 0 <= sensors.read()["processor load"] <= 100


class FakeLine:
    """A server that answers as told: a list of exceptions to raise first, then yes to all."""

    def __init__(self, *troubles):
        self.troubles, self.got = list(troubles), []

    def post(self, path, body):
        if self.troubles:
            raise self.troubles.pop(0)
        self.got.append((path.rsplit("/", 1)[1], body))
        return {"run_id": 7, "stop": "", "planned_s": 0.5, "unwatched": [], "possible": {"temperature": [-200, 150]}}


class Two:
    def __init__(self):
        self.turn = 0

    def channels(self):
        return [Channel("die", "temperature", "°C"), Channel("odd", "other", "")]

    def read(self):
        self.turn += 1
        return {"die": 60.0 if self.turn % 3 else 65535.0, "odd": float("nan") if self.turn == 1 else 1.0}


def test_a_whole_run_in_step_without_what_cannot_be(tmp_path, capsys):
    line = FakeLine()
    plan = Plan("desk", 3, "Kiln", every_s=0.05, outcome="completed", value=12.0)
    assert Work(plan, [Two()], Spool.new(tmp_path), line).run() == 0
    kinds = [kind for kind, _ in line.got]
    assert (kinds[0], kinds[-1]) == ("runs", "finish")
    batches = [body for kind, body in line.got if kind == "batches"]
    assert [body["sequence"] for body in batches] == list(range(1, len(batches) + 1))
    readings = [value for body in batches for value in body["values"]["die"]]
    assert set(readings) == {60.0, None}
    assert line.got[-1][1]["value"] == 12.0
    assert "left out" in line.got[-1][1]["note"]
    assert list(tmp_path.iterdir()) == []


def test_refused_or_away_at_the_start_nothing_is_begun(tmp_path, capsys):
    for trouble in (Refusal(422, [{"what": "No such workload.", "todo": "Choose."}]), Away("down")):
        assert Work(Plan("desk", 3, "x"), [Two()], Spool.new(tmp_path), FakeLine(trouble)).run() == 1
    assert "Not started: No such workload. Choose." in capsys.readouterr().out
    assert list(tmp_path.iterdir()) == []


def test_a_refusal_on_the_way_keeps_the_readings(tmp_path, capsys):
    line = FakeLine()
    work = Work(Plan("desk", 3, "Kiln", every_s=0.05), [Two()], Spool.new(tmp_path), line)
    real = line.post

    def refusing(path, body):
        if path.endswith("batches"):
            raise Refusal(422, [{"what": "This run has ended.", "todo": ""}])
        return real(path, body)

    line.post = refusing
    assert work.run() == 1
    assert "This run has ended." in capsys.readouterr().out
    assert len(list(tmp_path.glob("*.refused"))) == 1


def test_a_line_that_is_down_is_tried_again_from_where_it_stopped(tmp_path):
    spool = Spool.new(tmp_path)
    for number in range(3):
        spool.add({"kind": "open" if number == 0 else "batches", "body": {"sequence": number}})
    line = FakeLine()
    sender = Sender(spool, line, None, 0)
    line.troubles = []
    sender.send_waiting()
    spool.add({"kind": "batches", "body": {"sequence": 3}})
    line.troubles = [Away("down")]
    with pytest.raises(Away):
        sender.send_waiting()
    sender.send_waiting()
    spool.close()
    assert [body["sequence"] for kind, body in line.got if kind == "batches"] == [1, 2, 3]


def test_left_overs_stay_while_the_server_is_away(tmp_path, capsys):
    spool = Spool.new(tmp_path)
    spool.add({"kind": "open", "body": {}})
    spool.add({"kind": "batches", "body": {"sequence": 1}})
    spool.mark_sent(1)
    send_left_over(spool, FakeLine(Away("down")))
    (left,) = waiting_spools(tmp_path)
    line = FakeLine()
    send_left_over(Spool(left), line)
    assert [kind for kind, _ in line.got] == ["runs", "batches"]
    assert waiting_spools(tmp_path) == []


def test_a_machine_without_psutil_is_read_from_its_own_files(tmp_path):
    def write(name, text):
        (tmp_path / name).parent.mkdir(parents=True, exist_ok=True)
        (tmp_path / name).write_text(text, encoding="ascii")

    write("proc/stat", "cpu  100 0 100 700 100 0 0 0 0 0\ncpu0 1 1 1 1\n")
    write("proc/meminfo", "MemTotal:       1000 kB\nMemFree:         100 kB\nMemAvailable:    250 kB\n")
    write("sys/devices/system/cpu/cpu0/cpufreq/scaling_cur_freq", "4100000\n")
    write("sys/class/hwmon/hwmon0/name", "ridge\n")
    write("sys/class/hwmon/hwmon0/temp1_input", "61500\n")
    write("sys/class/hwmon/hwmon0/temp1_label", "package\n")
    write("sys/class/hwmon/hwmon0/fan1_input", "1210\n")
    write("sys/class/hwmon/hwmon0/fan2_input", "\n")
    readings = PlainReadings(tmp_path)
    # of 100 further ticks 50 were busy
    write("proc/stat", "cpu  200 0 150 740 110 0 0 0 0 0\n")
    assert readings.read() == pytest.approx(
        {
            "processor load": 75,
            "memory used": 75,
            "processor clock": 4100,
            "temp ridge package": 61.5,
            "fan ridge 0": 1210,
        }
    )
    sensors = MachineSensors(tuned=False, readings=PlainReadings(tmp_path))
    declared = {channel.name: (channel.quantity, channel.unit) for channel in sensors.channels()}
    assert declared["temp ridge package"] == ("temperature", "°C")
    assert declared["processor clock"] == ("other", "MHz")


def test_files_that_are_not_there_are_no_readings(tmp_path):
    assert PlainReadings(tmp_path).read() == {}
