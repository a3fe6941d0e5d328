"""The heat balance against the load factors: how far apart, by which component, and why."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from murvan.arrays import Array
from murvan.design.loads.components import COMPONENTS
from murvan.design.results import Results

THUMB_M2_PER_W = 600 * 0.3048**2 / 3516.85
"""600 ft2 of floor a ton, common practice; shown to tell how far it is off, never used."""


@dataclass(frozen=True)
class Apart:
    """How far the load factors lie from the balance."""

    share: float
    """Factors over balance, less 1: negative when the factors lie below."""
    component: str
    """What differs most in the direction of the whole."""
    difference_w: float
    why: str

    @property
    def side(self) -> str:
        """'below' or 'above' the heat balance."""
        return "below" if self.share < 0 else "above"


def room_apart(results: Results, room: int) -> Apart | None:
    """One room at its own peak; None without a load."""
    x = results.loads
    late = int(x.peak_month[room]) != x.months[0]
    return _apart(x.sensible_parts[room], results.factors.sensible_parts[room], late)


def house_apart(results: Results) -> Apart | None:
    """The house at its peak."""
    late = results.loads.house.month != results.loads.months[0]
    return _apart(results.loads.house.parts_w, results.factors.sensible_parts.sum(axis=0), late)


def thumb_w(results: Results) -> float:
    """Cooling by the rule of thumb, the third opinion."""
    return results.geometry.total_area_m2 / THUMB_M2_PER_W


def _apart(balance: Array, factors: Array, late: bool) -> Apart | None:
    ours, theirs = float(balance.sum()), float(factors.sum())
    if ours <= 1 or theirs <= 1:
        return None
    each = balance - factors
    k = int(np.argmax(each * np.sign(ours - theirs)))
    return Apart(theirs / ours - 1, COMPONENTS[k], float(each[k]), _why(COMPONENTS[k], ours > theirs, late))


def _why(component: str, above: bool, late: bool) -> str:
    if late and component.startswith("glass") and above:
        return "Its glass catches most sun after the design month, which is all that load factors know."
    if component.startswith("glass"):
        return (
            "Load factors let the room swing about 3 °F; the balance holds it still, so more of the sun counts at once."
            if above
            else "Mass, shade at the hour and other faces spread its sun over the day; a factor knows only the peak."
        )
    if component == "ceiling":
        heat = "hotter" if above else "cooler"
        return f"The attic or roof of this day is {heat} than the factor takes it for, by its colour and air changes."
    if component == "floor":
        return (
            "Factors credit a floor on or near the ground with its coolness; here the ground stores the day's heat and takes "
            "none away unless that is chosen."
            if above
            else "The balance gives this floor more of the ground, or of the cool space under it, than the factor does."
        )
    if component in ("walls", "doors", "garage"):
        if above:
            return (
                "Sun on these faces at the hour and what they have stored come to more than the factor's mean face."
            )
        return "Mass in the layers holds the heat back until after the peak; factors take a light wood frame."
    if component in ("leakage", "fresh_air"):
        return "Outdoor air counts at the hour of the peak, factors take the hottest hour of the day."
    return "Gains count by the hour and partly as radiation stored in floor and walls; factors take them whole."
