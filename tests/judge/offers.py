"""What is wrong with a proposal once it is taken up, by rules of the trade apart from the punch list: each unit against the loads
of its rooms as they are with it, every lived-in room with something that heats and cools it."""

from __future__ import annotations

from collections.abc import Iterator

from murvan.design import Results
from tests.judge.rules import LIVED_IN

LEAST, LARGEST = 0.89, 4.2
"""Of the cooling load: what a unit has to carry, and more than any head turns down from."""


def capacity(r: Results) -> Iterator[str]:
    """Cooling of every unit, and its heat with what is beside it, against the loads of its rooms."""
    for s in r.systems.values():
        x, u = s.equipment.chosen, s.design.indoor
        if x is None:
            yield f"{u.tag} has no unit"
            continue
        cooling, heating = s.loads.house_cooling_w, s.loads.house_heating_w * u.heat_share
        if cooling > 0 and x.total_w < LEAST * cooling:
            yield f"{u.tag} cools {x.total_w / cooling * 100:.0f} %"
        if cooling > 300 and x.total_w > LARGEST * cooling:
            yield f"{u.tag} cools {x.total_w / cooling * 100:.0f} %"
        have = x.heating_w + (u.heater_kw * 1000 if x.unit.heater_kw else 0) + u.room_heat_w
        if have < 0.99 * heating:
            yield f"{u.tag} heats {have / heating * 100:.0f} %"


def rooms(r: Results) -> Iterator[str]:
    """Rooms that are lived in, need more than a hand's warmth and belong to no unit and no remedy."""
    served = {i for s in r.systems.values() for i in s.design.serves}
    for k, room in enumerate(r.job.rooms):
        wet = room.use in ("bath", "powder")
        if room.use in LIVED_IN and not wet and room.id not in served and r.loads.heating_w[k] > 300:
            yield f"{room.name} belongs to no unit"


OFFER_RULES = {"capacity": capacity, "room without": rooms}


def offer_judged(r: Results) -> dict[str, list[str]]:
    """By rule what is wrong."""
    found = {name: list(rule(r)) for name, rule in OFFER_RULES.items()}
    return {k: v for k, v in found.items() if v}
