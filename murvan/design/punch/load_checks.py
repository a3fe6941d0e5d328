"""Judgements on the loads: methods that disagree, rooms that one thermostat can't follow, moisture out of range."""

from __future__ import annotations

from collections.abc import Iterator
from typing import TYPE_CHECKING

from murvan.design.arithmetic import Quantity
from murvan.design.loads.components import COMPONENT_WORDS
from murvan.design.loads.explain_day import day_words
from murvan.design.loads.second_opinion import house_apart
from murvan.design.punch.finding import Hit
from murvan.model.record import Ref

if TYPE_CHECKING:
    from murvan.design.results import Results


def methods_apart(results: Results, alike: float) -> Iterator[Hit]:
    """The house's two methods differ by more than `alike`."""
    found = house_apart(results)
    if found is None or abs(found.share) <= alike:
        return
    yield Hit(
        Ref("house", "loads"),
        "The house:",
        f"load factors lie {{0}} {found.side} the heat balance, {{1}} of it by {COMPONENT_WORDS[found.component].lower()}",
        (Quantity("percent", abs(found.share)), Quantity("power", abs(found.difference_w))),
        Quantity("percent", abs(found.share)),
        Quantity("percent", alike),
        why=found.why,
    )


def rooms_swing(results: Results, share: float, worth_w: float) -> Iterator[Hit]:
    """Rooms whose sun comes at another time than their zone's peak."""
    ld = results.loads
    zones = {i: p for z, p in zip(results.job.design.zones, ld.zones, strict=True) for i in z.rooms}
    for i, room in enumerate(results.job.rooms):
        own, peak = float(ld.sensible_w[i]), zones.get(room.id, ld.house)
        then = max(float(ld.rooms_by_hour_w[ld.at(peak.month), i, peak.hour - 1]), 0.0)
        if own < worth_w or then >= share * own:
            continue
        when = day_words(int(ld.peak_month[i]), int(ld.peak_hour[i]))
        yield Hit(
            Ref("room", room.id),
            room.name,
            f"needs {{0}} at {when}, but {{1}} when {'its zone' if room.id in zones else 'the house'} peaks at {peak.hour}:00",
            (Quantity("power", own), Quantity("power", then)),
            Quantity("percent", then / own),
            Quantity("percent", share),
        )
