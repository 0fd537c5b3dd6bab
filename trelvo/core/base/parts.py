"""Whose figures stand for what is tuned, where a run has figures of several parts."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from trelvo.core.base.figures import FigureKey, Part, Statistic
from trelvo.core.base.instruments import Counted
from trelvo.core.base.knobs import Knob
from trelvo.core.registry.quantities import Quantity

# Parts that are seen by themselves in a comparison, in this order.
SHOWN: tuple[Part, ...] = ("tuned part", "graphics", "processor", "memory", "whole machine")
# What is shown of each part: quantity and statistic.
SHOWN_OF_PART: tuple[tuple[Quantity, Statistic], ...] = (
    ("power", "mean"),
    ("temperature", "highest"),
    ("core clock", "mean"),
    ("memory clock", "mean"),
    ("voltage", "mean"),
    ("load", "mean"),
)


@dataclass(frozen=True)
class PartOrder:
    """Parts whose figures stand for what is tuned, the first with a reading counts.

    same: parts that are one and the same here, so that their readings are compared with each other
    """

    order: tuple[Part, ...]
    same: frozenset[Part]

    def named(self, part: Part) -> str:
        """How a reading says whose it is; empty where it is of the part that is tuned."""
        return "" if part in self.same else part


def part_order(knobs: Sequence[Knob], chosen: Part = "tuned part") -> PartOrder:
    """Whose figures count for a campaign.

    chosen: the part that its goal speaks of; "tuned part": of whatever is tuned
    Where all knobs belong to one part, figures of that part are those of the tuned part.
    """
    live = [knob for knob in knobs if not knob.retired] or list(knobs)
    named = list(dict.fromkeys(knob.part for knob in live if knob.part != "tuned part"))
    if not named and live and all(knob.facts.processor or knob.facts.group == "voltage" for knob in live):
        named = ["processor"] if any(knob.facts.processor for knob in live) else []
    sole: frozenset[Part] = frozenset({"tuned part", *named}) if len(named) == 1 else frozenset({"tuned part"})
    if chosen not in sole:
        return PartOrder((chosen,), frozenset({chosen}))
    rest = [part for part in SHOWN if part not in sole and part not in named]
    own: list[Part] = ["tuned part", *named] if chosen == "tuned part" else [chosen, "tuned part"]
    order = tuple(dict.fromkeys([*own, *rest])) if chosen == "tuned part" else tuple(dict.fromkeys(own))
    return PartOrder(order, sole)


def keys_for(key: FigureKey, order: PartOrder) -> tuple[FigureKey, ...]:
    """The figures that may stand for one of the tuned part, the first with a reading counts.

    The whole machine is in for watts only.
    """
    parts = [part for part in order.order if part != "whole machine" or key.quantity == "power"]
    return tuple(key._replace(part=part) for part in parts)


def standing_for(found: Mapping[FigureKey, Counted], keys: Sequence[FigureKey]) -> tuple[Part, Counted] | None:
    """The reading that stands for a figure of the tuned part, and whose it is; None where nothing was read.

    keys: the figures that may stand for it (`keys_for`)
    """
    for key in keys:
        if (reading := found.get(key)) is not None:
            return key.part, reading
    return None
