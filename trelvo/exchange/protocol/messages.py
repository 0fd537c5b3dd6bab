"""The run protocol as it arrives: channels and batches checked in full, in the channels' own units, before anything is stored."""

from collections.abc import Mapping, Sequence
from typing import Any, cast, get_args

import numpy as np

from trelvo.core.base.figures import PARTS
from trelvo.core.base.instruments import Instrument, Point
from trelvo.core.problems import Problem, Refused
from trelvo.core.registry.quantities import FRAME_TIME, QUANTITIES, Quantity
from trelvo.exchange.limits import BATCH_ROWS, LIVE_CHANNELS
from trelvo.logbook.commands.live import Batch
from trelvo.logbook.rows.series_bytes import TIME_COLUMN, Numbers

MOST_SECONDS = 30 * 86_400.0


def declared_channels(
    channels: Sequence[Mapping[str, str]], instruments: Sequence[Instrument] = ()
) -> list[dict[str, Any]]:
    """Channels as a bench declares them (name, quantity, unit, point, part, instrument), with the factor and offset to their own
    unit. instruments: the rig's, one of which a channel may name"""
    problems: list[Problem] = []
    declared: list[dict[str, Any]] = []
    seen: set[str] = set()
    if len(channels) > LIVE_CHANNELS:
        raise Refused(Problem("channels", "too_many_channels", {"count": len(channels), "most": LIVE_CHANNELS}))
    for index, channel in enumerate(channels):
        where, name, quantity = f"channels.{index}", channel["name"].strip(), channel["quantity"]
        if not name or name == TIME_COLUMN or name.casefold() in seen:
            problems.append(Problem(f"{where}.name", "channel_name_taken", {"name": name}))
        seen.add(name.casefold())
        kind = QUANTITIES.get(cast(Quantity, quantity))
        if kind is None:
            known = ", ".join(QUANTITIES)
            problems.append(
                Problem(f"{where}.quantity", "unknown_channel_quantity", {"quantity": quantity, "known": known})
            )
            continue
        units = kind.units()
        unit = channel.get("unit") or kind.unit
        if quantity == "other":
            units = {unit: (1.0, 0.0)}
        if unit not in units:
            problems.append(
                Problem(
                    f"{where}.unit",
                    "unit_not_of_quantity",
                    {"channel": name, "quantity": quantity, "unit": unit, "known": tuple(units)},
                )
            )
            continue
        point = channel.get("point", "")
        if point and (quantity != "power" or point not in get_args(Point)):
            problems.append(
                Problem(
                    f"{where}.point",
                    "unknown_point",
                    {"channel": name, "point": point, "known": tuple(get_args(Point))},
                )
            )
        part = channel.get("part", "")
        if part and part not in PARTS:
            problems.append(
                Problem(f"{where}.part", "unknown_channel_part", {"channel": name, "part": part, "known": tuple(PARTS)})
            )
        named = channel.get("instrument", "").strip()
        reader = next(
            (
                instrument
                for instrument in instruments
                if (instrument.name.casefold(), instrument.quantity) == (named.casefold(), quantity)
            ),
            None,
        )
        if named and reader is None:
            others = tuple(instrument.name for instrument in instruments if instrument.quantity == quantity)
            params = {"channel": name, "instrument": named, "quantity": quantity, "known": others}
            code = "other_instruments_there" if others else "no_instrument_reads_it"
            problems.append(Problem(f"{where}.instrument", code, params))
        factor, offset = units[unit]
        own = unit if quantity == "other" else kind.unit
        declared.append(
            {
                "name": name,
                "quantity": quantity,
                "unit": own,
                "point": "" if reader else point,
                "part": part or (reader.part if reader else ""),
                "instrument_id": reader.id if reader else None,
                "factor": factor,
                "offset": offset,
            }
        )
    if problems:
        raise Refused(*problems)
    return declared


def read_batch(
    channels: Sequence[Mapping[str, Any]],
    sequence: int,
    time_s: Sequence[float],
    values: Mapping[str, Sequence[float | None]],
    frames_ms: Sequence[float],
) -> Batch:
    """A batch in the channels' own units, or Refused naming channel and reading. All numbers are finite already.

    values: by channel name, as many as times, None where a reading is missing; a channel that is left out has none
    """
    t = np.asarray(time_s, dtype=np.float64)
    if t.size > BATCH_ROWS:
        raise Refused(Problem("time_s", "batch_too_long", {"count": t.size, "most": BATCH_ROWS}))
    if t.size and (t.min() < 0 or t.max() > MOST_SECONDS or (np.diff(t) < 0).any()):
        raise Refused(Problem("time_s", "times_out_of_order"))
    names = [channel["name"] for channel in channels]
    problems = [
        Problem(f"values.{name}", "no_such_channel", {"channel": name, "known": tuple(names)})
        for name in values
        if name not in names
    ]
    table = np.full((t.size, len(channels)), np.nan)
    for column, channel in enumerate(channels):
        given = values.get(channel["name"])
        if given is None:
            continue
        if len(given) != t.size:
            problems.append(
                Problem(
                    f"values.{channel['name']}", "readings_differ_in_number", {"count": len(given), "times": t.size}
                )
            )
            continue
        readings = np.array(given, dtype=np.float64) * channel["factor"] + channel["offset"]
        problems += _impossible(channel, readings)
        table[:, column] = readings
    frames = np.asarray(frames_ms, dtype=np.float64)
    if frames.size and (frames.min() <= FRAME_TIME.low or frames.max() > FRAME_TIME.high):
        problems.append(Problem("frames_ms", "frame_ms_impossible"))
    if problems:
        raise Refused(*problems[:20])
    return Batch(sequence, t, table, frames)


def _impossible(channel: Mapping[str, Any], readings: Numbers) -> list[Problem]:
    kind = QUANTITIES[cast(Quantity, channel["quantity"])]
    wrong = np.flatnonzero((readings < kind.low) | (readings > kind.high))
    if not wrong.size:
        return []
    first = int(wrong[0])
    return [
        Problem(
            f"values.{channel['name']}.{first}",
            "reading_impossible",
            {
                "position": first + 1,
                "channel": channel["name"],
                "reading": readings[first],
                "unit": kind.unit,
                "low": kind.low,
                "high": kind.high,
            },
        )
    ]
