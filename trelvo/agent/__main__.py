"""python -m trelvo.agent: one run, from the machine under test. See docs/formats.md for the protocol."""

import argparse
import os
import sys
from collections.abc import Sequence
from pathlib import Path

from trelvo.agent.domains import PowerDomains
from trelvo.agent.line import Line, Refusal
from trelvo.agent.sensors import MachineSensors, Source
from trelvo.agent.spool import Spool, waiting_spools
from trelvo.agent.tail import CsvTail, column_map
from trelvo.agent.work import Plan, Work, send_left_over

OUTCOMES = ("completed", "artifacts", "program crash", "system crash", "no start", "stopped by hand")


def main(words: Sequence[str] | None = None) -> int:
    arguments = parsed(words)
    token = os.environ.get("TRELVO_TOKEN", "")
    if not token:
        return stop("There is no token. Make one on the Prepare page and put it into TRELVO_TOKEN.")
    line = Line(arguments.server, token, insecure=arguments.unchecked_certificate)
    folder = Path(arguments.spool).expanduser()
    try:
        if arguments.list:
            return show_campaigns(line)
        for left in waiting_spools(folder):
            print(f"Sending what an earlier run left behind: {left.name}")
            send_left_over(Spool(left), line)
        if arguments.send_only:
            return 0
        if not (arguments.campaign and arguments.workload):
            return stop("Say which --campaign (number) and --workload; --list shows them.")
        # the file first: what is named by hand feeds the run's figures, the machine's own sensors come after
        tuned = arguments.tuning == "processor"
        power = PowerDomains(tuned)
        if power.locked:
            print("The processor's energy counters are not open to this user; run as root to have its watts.")
        sources: list[Source] = [MachineSensors(tuned), power]
        if arguments.csv:
            sources.insert(0, CsvTail(Path(arguments.csv), column_map(arguments.column)))
        plan = Plan(
            bench=arguments.name,
            campaign_id=arguments.campaign,
            workload=arguments.workload,
            setting=setting_of(arguments.set),
            minutes=arguments.minutes,
            every_s=arguments.every,
            outcome=arguments.outcome,
            value=arguments.value,
            room_c=arguments.room,
            confirmation=arguments.confirm,
        )
        return Work(plan, sources, Spool.new(folder), line).run()
    except (Refusal, ValueError) as trouble:
        return stop(str(trouble))


def parsed(words: Sequence[str] | None) -> argparse.Namespace:
    parser = argparse.ArgumentParser(prog="python -m trelvo.agent", description=__doc__)
    parser.add_argument(
        "--server", default="http://127.0.0.1:8737", help="where Trelvo is served (default: %(default)s)"
    )
    parser.add_argument("--list", action="store_true", help="show campaigns, workloads and knobs that a run can name")
    parser.add_argument("--campaign", type=int, help="number of the campaign")
    parser.add_argument("--workload", help="name of the workload that is about to run")
    parser.add_argument(
        "--set", action="append", default=[], metavar="KNOB=VALUE", help="what is set; stock where left out"
    )
    parser.add_argument("--minutes", type=float, help="how long; the workload's own length where left out")
    parser.add_argument(
        "--every", type=float, default=1.0, metavar="SECONDS", help="between readings (default: %(default)s)"
    )
    parser.add_argument(
        "--tuning", choices=("processor", "other"), default="processor",
        help="whether the processor, which is what is read here, is what is being tuned (default: %(default)s)",
    )  # fmt: skip
    parser.add_argument("--csv", help="a CSV file that another program is writing; only lines from now on are read")
    parser.add_argument(
        "--column", action="append", default=[], metavar="HEADER=QUANTITY[:UNIT][@INSTRUMENT]",
        help='a column of that file, such as "Hot spot=temperature:°C" or "Meter=power:W@Meter at the wall"',
    )  # fmt: skip
    parser.add_argument("--outcome", choices=OUTCOMES, default="completed", help="what to say when the time is over")
    parser.add_argument("--value", type=float, help="what the workload showed, where it is known beforehand")
    parser.add_argument("--room", type=float, help="room temperature, °C")
    parser.add_argument("--confirm", default="", help="the words for a setting beyond a voltage ceiling")
    parser.add_argument(
        "--name", default=os.uname().nodename if hasattr(os, "uname") else "bench", help="of this machine"
    )
    parser.add_argument("--spool", default="~/.trelvo-agent", help="where readings wait while the server is away")
    parser.add_argument("--send-only", action="store_true", help="send what waits in the spool, and end")
    parser.add_argument("--unchecked-certificate", action="store_true", help="accept a certificate nobody vouches for")
    return parser.parse_args(words)


def setting_of(words: list[str]) -> dict[str, float]:
    """KNOB=VALUE words as a setting. Raises ValueError saying which word is wrong."""
    setting = {}
    for word in words:
        key, sign, number = word.partition("=")
        try:
            setting[key.strip()] = float(number.replace(",", "."))
        except ValueError:
            sign = ""
        if not sign:
            raise ValueError(f"--set {word}: say KNOB=VALUE, such as core=135.")
    return setting


def show_campaigns(line: Line) -> int:
    for campaign in line.get("/api/bench/campaigns"):
        print(f"{campaign['id']}: {campaign['name']}")
        for workload in campaign["workloads"]:
            print(f"    workload {workload['name']!r}, {workload['minutes']:g} min, in {workload['unit']}")
        for knob in campaign["knobs"]:
            print(
                f"    knob {knob['key']} ({knob['name']}), stock {knob['stock']:g} {knob['unit']}, step {knob['step']:g}"
            )
        for instrument in campaign.get("instruments", []):
            print(f"    instrument {instrument['name']!r} reads {instrument['quantity']}")
    return 0


def stop(message: str) -> int:
    print(f"trelvo.agent: {message}", file=sys.stderr)
    return 2


if __name__ == "__main__":
    sys.exit(main())
