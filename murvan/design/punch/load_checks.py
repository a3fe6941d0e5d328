"""Judgements on the loads: methods that disagree, rooms that one thermostat can't follow, moisture out of range."""

from __future__ import annotations

from collections.abc import Iterator
from functools import partial

from murvan.design import limits
from murvan.design.arithmetic import Quantity
from murvan.design.explain.day import day_words
from murvan.design.explain.second_opinion import house_apart
from murvan.design.finding import Hit, rule
from murvan.design.loads.components import COMPONENT_WORDS
from murvan.design.results import Results
from murvan.design.weather import fits
from murvan.model.edit import changed
from murvan.model.job import Climate, Job
from murvan.model.record import Ref


@rule("methods-apart", 2, "look", Quantity("percent", limits.METHODS_ALIKE))
def methods_apart(results: Results, alike: float) -> Iterator[Hit]:
    """Two methods disagree.

    Basis: {0}, common practice
    Why: One of them takes something for granted that this house does not do.
    Remedy: See the reason, and check what was entered there.

    The house's two methods differ by more than `alike`.
    """
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


WEATHER = Ref("house", "weather")


@rule("weather-outside", 2, "look", Quantity("percent", fits.MOST_OUTSIDE))
def weather_outside(results: Results, most: float) -> Iterator[Hit]:
    """Many hours beyond the design weather.

    Basis: {0} of the year, common practice; the local code's table goes first
    Why: The unit and its backup are worked out for weather that is milder than the place's.
    Remedy: Type the place's own 99 and 1 % values, read its weather file, or take the climate that fits (Loads,
        Climate).

    More hours of the year than `most` of them lie beyond a design value.
    """
    c = results.job.climate
    ends = ((c.winter_c, "colder than the winter"), (c.summer_c, "hotter than the summer"))
    for share, (value, words) in zip(fits.hours_outside(c), ends, strict=True):
        if share > most:
            have, limit = Quantity("percent", share), Quantity("percent", most)
            text = f"{{0}} of the hours are {words} design, {{1}}"
            yield Hit(WEATHER, c.name or "The weather", text, (have, Quantity("temperature", value)), have, limit)


@rule("weather-wet-bulb", 2, "look")
def weather_wet_bulb(results: Results) -> Iterator[Hit]:
    """Wet bulb of another place.

    Basis: the climate the design values began from
    Why: Moisture loads and the unit's capacity go by it.
    Remedy: Type the mean coincident wet bulb that belongs to the dry bulb (Loads, Climate).
    """
    c = results.job.climate
    if fits.wet_bulb_kept(c):
        wet, dry = Quantity("temperature", c.summer_wet_bulb_c), Quantity("temperature", c.summer_c)
        yield Hit(WEATHER, c.name or "The weather", "gave the wet bulb, {0}; the dry bulb was typed, {1}", (wet, dry))


@rule("weather-stretched", 2, "look", Quantity("percent", fits.STRETCHED))
def weather_stretched(results: Results, most: float) -> Iterator[Hit]:
    """Hours stretched from another climate.

    Basis: {0}, Murvan default
    Why: Backup hours, costs and the ground follow the hours: they may be half or twice as many.
    Remedy: Take the climate whose winter and summer lie as far apart, or read the place's weather file.

    Hours spread or pressed by more than `most` to typed design values while another place's fit as they are.
    """
    c = results.job.climate
    found = fits.better(c, most)
    if found is None:
        return
    have, best = Quantity("percent", abs(fits.stretch(c))), Quantity("percent", abs(fits.stretch(found)))
    yield Hit(
        WEATHER,
        c.name or "The weather",
        f"has hours {'spread' if fits.stretch(c) > 0 else 'pressed'} by {{0}} to the typed values; those of {found.name} by {{1}}",
        (have, best),
        have,
        Quantity("percent", most),
        partial(_taken, found),
        f"Take the hours of {found.name}",
    )


def _taken(climate: Climate, job: Job) -> Job:
    return changed(job, job.name, climate=climate)


@rule("room-swings", 2, "look", Quantity("percent", 0.7), Quantity("power", 290.0))
def rooms_swing(results: Results, share: float, worth_w: float) -> Iterator[Hit]:
    """Room peaks at another hour than its zone.

    Basis: {0} of its own peak, loads under {1} left out; common practice
    Why: One thermostat can't hold it: too warm in its own hours, or too cold in the others.
    Remedy: A zone of its own, blinds or an overhang, or air by its own damper.
    """
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
