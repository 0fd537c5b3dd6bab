"""The tower's rigs as they are put together, their knobs, workloads and safety limits. No maker or part here exists."""

from trelvo.bench.rigs import knobs_for, workloads_for
from trelvo.core.watch.safety_limits import SafetyLimit
from trelvo.logbook.commands.rigs import BuildDraft, PartDraft

DOME_PARTS = (
    PartDraft("Graphics card", "Corvane Tessel 640, 12 GB", "bought used, sticker T-0417"),
    PartDraft("Processor", "Brindel Octant 8", "lid never lifted"),
    PartDraft("Memory", "2 × 16 GB Sorrel Plain, 6000 MT/s"),
    PartDraft("Board", "Anvik Ledger B"),
    PartDraft("Supply", "Tarnwold 750, Gold"),
)
DOME_BUILD = BuildDraft(
    parts=DOME_PARTS,
    cooling="Two-fan air cooler on the card, tower cooler on the processor",
    enclosure="Case under the projection desk, side panel on",
    driver="41.2",
    firmware="Card 1.18, board 0.92",
    system="Fennel 12",
)
DOME_BUILD_NEXT = BuildDraft(
    parts=DOME_PARTS,
    cooling="Two-fan air cooler on the card (cleaned), tower cooler on the processor",
    enclosure="Case under the projection desk, side panel on",
    driver="41.5",
    firmware="Card 1.18, board 0.92",
    system="Fennel 12",
    note="New driver for the dome warp; dust taken out of the card.",
)
LOFT_BUILD = BuildDraft(
    parts=(
        PartDraft("Processor and graphics", "Brindel Pair 6", "one chip, one power budget"),
        PartDraft("Memory", "16 GB soldered"),
        PartDraft("Supply", "90 W brick"),
    ),
    cooling="One blower, paste renewed",
    enclosure="Closed box on the loft shelf",
    driver="41.5",
    firmware="2.07",
    system="Fennel 12",
)
FOYER_BUILD = BuildDraft(
    parts=(
        PartDraft("Graphics card", "Corvane Tessel 640, 12 GB", "from the same crate as the dome's"),
        PartDraft("Processor", "Brindel Octant 8"),
        PartDraft("Memory", "2 × 16 GB Sorrel Plain, 6000 MT/s"),
        PartDraft("Supply", "Tarnwold 750, Gold"),
    ),
    cooling="Two-fan air cooler on the card",
    enclosure="Cupboard behind the wall, door with slots",
    driver="41.5",
    firmware="Card 1.18",
    system="Fennel 12",
)
DESK_BUILD = BuildDraft(
    parts=(
        PartDraft("Processor and graphics", "Brindel Pair 6", "the loft box's twin, another specimen"),
        PartDraft("Memory", "16 GB soldered"),
        PartDraft("Supply", "90 W brick"),
    ),
    cooling="One blower",
    enclosure="Under the counter, back to the wall",
    driver="41.2",
    firmware="2.05",
    system="Fennel 12",
)
LECTERN_BUILD = BuildDraft(
    parts=(
        PartDraft("Laptop", "Quillon Folio 14"),
        PartDraft("Processor", "Brindel Septet 7", "soldered"),
        PartDraft("Memory", "16 GB soldered"),
    ),
    cooling="One thin blower, closed shell",
    enclosure="On the lectern, cloth underneath",
    driver="41.5",
    firmware="3.11",
    system="Fennel 12",
)
RELIC_BUILD = BuildDraft(
    parts=(
        PartDraft("Processor", "Pelm 4, in a socket", "marked 33"),
        PartDraft("Board", "Dovetail with cache sockets"),
        PartDraft("Memory", "8 MB, rated 70 ns"),
        PartDraft("Cache", "256 KB, rated 20 ns"),
    ),
    cooling="Clip-on fan",
    enclosure="Glass case in the exhibition",
    firmware="Board 1.3",
    system="Slate 5",
)

DOME_KNOBS, LOFT_KNOBS, RELIC_KNOBS = (knobs_for(kind) for kind in ("dome", "loft", "relic"))
# no program sets the power cap on this one
DESK_KNOBS = LOFT_KNOBS[:1]
# the first four are what the dome is for; some of the others are what a setting is proved with
DOME_WORKLOADS = workloads_for("dome")[:4]
DOME_TEST_SUITE = [one for one in workloads_for("dome")[4:] if one.name not in ("Resting desk", "Sand mill")]
LOFT_WORKLOADS, RELIC_WORKLOADS = workloads_for("loft")[:2], workloads_for("relic")[:2]

DOME_SAFETY_LIMITS = (
    SafetyLimit("temperature", 86),
    SafetyLimit("power", 205),
    SafetyLimit("voltage", 1.12),
    SafetyLimit("current", 24, "cable current"),
    SafetyLimit("hours", 8),
    SafetyLimit("fan floor", 20),
    SafetyLimit("voltage ceiling", 0, "voltage"),
)
FOYER_SAFETY_LIMITS = (SafetyLimit("temperature", 84), SafetyLimit("hours", 8))
LECTERN_KNOBS, LECTERN_WORKLOADS = knobs_for("lectern"), workloads_for("lectern")
LECTERN_SAFETY_LIMITS = (SafetyLimit("temperature", 98), SafetyLimit("hours", 4))
LOFT_SAFETY_LIMITS = (SafetyLimit("temperature", 95), SafetyLimit("hours", 4))
