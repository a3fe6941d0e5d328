"""Station 2, Loads: what each room needs, and why."""

from __future__ import annotations

from dataclasses import dataclass
from dataclasses import replace as replace_card

import numpy as np
from numpy.typing import NDArray

from murvan.app.document import Wanted
from murvan.app.latest import Latest
from murvan.app.plan import sun_layers
from murvan.app.plan.lens import Legend, Lens
from murvan.app.stations.base import (
    Arith,
    BarRow,
    Bars,
    Button,
    Buttons,
    Canvas,
    Card,
    Cell,
    Headline,
    Ledger,
    List_,
    ListRow,
    Section,
    Station,
    Strip,
    View,
    room_index,
)
from murvan.app.stations.common import (
    COOL_STEPS,
    HEAT_STEPS,
    on_storey,
    room_mark,
    step_fill,
    step_legend,
    zone_words,
)
from murvan.app.stations.loads import climate as loads_climate
from murvan.app.stations.loads import fields as loads_fields
from murvan.app.stations.loads import gains as loads_gains
from murvan.app.stations.loads import whatif as loads_whatif
from murvan.app.stations.loads.day import day_strip, methods, peaks
from murvan.app.stations.loads.winter import winter_strip
from murvan.app.stations.told import Rooms, Told, named, rooms_table, state
from murvan.design.ducts import explain_room
from murvan.design.explain import (
    MONTH_WORDS,
    explain_at,
    explain_factors,
    explain_heating,
    explain_heating_part,
    keeps_low,
    room_apart,
)
from murvan.design.loads import COMPONENT_WORDS, COMPONENTS, FloorSun, sun_on_openings

DAY_LENS, CLIMATE_LENS, WHAT_IF_LENS = 2, 3, 4


class LoadsStation(Station):
    number, name = 2, "Loads"
    lenses = ("Cooling", "Heating", "Hour", "Climate", "What if")
    lenses_early = True
    tools = (("loads.weather", "climate"), ("loads.report", "report"))

    def reached(self, view: View) -> bool:
        return bool(view.job.rooms)

    def __init__(self) -> None:
        super().__init__()
        self.month: int | None = None
        self._glass: Latest[np.ndarray] = Latest()
        self._floors: Latest[FloorSun] = Latest()

    def missing(self, view: View) -> str:
        return "" if self.lens_index == CLIMATE_LENS else super().missing(view)

    def missing_card(self, view: View, missing: str) -> Card:
        """The weather can be set before the first room is drawn."""

        def climate() -> None:
            self.lens_index = CLIMATE_LENS
            view.act.set_hour(view.hour)

        button = Button("climate", "Set the weather meanwhile", "", climate, True)
        return replace_card(super().missing_card(view, missing), sections=(Buttons((button,)),))

    def canvas(self, view: View) -> Canvas | None:
        if self.lens_index == CLIMATE_LENS:
            return loads_climate.page(view, self.month_index(view), self.take_month)
        return loads_whatif.page(view) if self.lens_index == WHAT_IF_LENS else None

    @property
    def wants(self) -> Wanted:
        return "study" if self.lens_index == WHAT_IF_LENS else ""

    def knows(self, view: View, kind: str, item: str) -> bool:
        if self.lens_index == WHAT_IF_LENS:
            return loads_whatif.knows(view, kind, item)
        if kind == "appliance":
            return any(x.id == item for x in view.job.appliances)
        return kind == "month" and self.lens_index == CLIMATE_LENS

    def shown(self) -> tuple[object, ...]:
        return (self.month,)

    def month_index(self, view: View) -> int:
        """Index of the day shown: the one picked, or that of the house's peak."""
        ld = view.r.loads
        picked = view.selected("month")
        month = int(picked) if picked else self.month
        return ld.at(month if month in ld.months else ld.house.month)

    def take_month(self, view: View, month: int) -> None:
        self.month = month
        view.act.set_hour(view.hour)

    def headline(self, view: View) -> Headline:
        ld = view.r.loads
        return Headline(
            self.mark(view),
            view.num("kpower", ld.house_cooling_w),
            f"{view.unit('kpower')} cool",
            f"{view.num('kpower', ld.house_heating_w)} heat at {view.text('temperature', view.job.climate.winter_c, 0)}",
        )

    def lens(self, view: View) -> Lens:
        ld, g, c = view.r.loads, view.r.geometry, view.r.conditions
        heat = self.lens_index == 1
        values = ld.heating_w if heat else ld.cooling_w
        month = self.month_index(view)
        day = c.days[month]
        if self.lens_index == DAY_LENS:
            values = np.maximum(ld.rooms_by_hour_w[month, :, view.hour - 1], 0)
        steps, family = (HEAT_STEPS, "heat") if heat else (COOL_STEPS, "load")
        out = Lens(self.lenses[self.lens_index])
        for i, r in on_storey(view):
            density = float(values[i]) / g.area_m2[i]
            out.fills[r.id] = step_fill(view.theme, density, steps, family)
            out.room_text[r.id] = [
                (r.name, "", 13, 600, ""),
                (view.num("power", float(values[i])), "", 27, 700, ""),
                (f"{view.num('flux', density)} /{view.unit('area')}", "", 12, 500, ""),
            ]
        sums = {
            s.id: sum(float(values[i]) for i, r in enumerate(view.job.rooms) if r.storey == s.id)
            for s in view.job.storeys
        }
        out.storey_figures = {k: view.num("kpower", v) for k, v in sums.items()}
        how = {DAY_LENS: f" at {view.hour}:00", 0: ", room peaks"}.get(self.lens_index, "")
        out.storey_unit = view.unit("kpower") + how
        out.legend_title = f"{'Heating' if heat else 'At the hour' if self.lens_index == DAY_LENS else 'Cooling'}  {view.unit('flux')}"
        out.legend = step_legend(view, steps, family)
        if not heat:
            out.legend = (*out.legend, Legend("wall", "sun", "sun on glass"))
            sun = self._sun_of(view, month)[view.hour - 1]
            out.sun = {
                o.id: float(sun[k]) / 900
                for k, o in enumerate(view.job.openings)
                if o.kind == "window" and sun[k] > 30
            }
        if self.lens_index == DAY_LENS:
            lit = self._floor_sun(view, month).at(view.hour)
            out.overlay = (
                lambda p, v: sun_layers.lit_floor(p, v, lit),
                lambda p, v: sun_layers.sun_path(p, v, c.days, month, view.hour),
            )
            out.legend = (*out.legend[:-1], Legend("wall", "sun", "sunlit"))
            out.keep_free = sun_layers.compass_box
            out.plates = frozenset(x.room for x in lit)
        if heat:
            out.note = (
                "Winter design",
                f"{view.text('temperature', view.job.climate.winter_c)} outside",
                "no sun, no gains",
            )
        else:
            out.note = (
                f"21 {MONTH_WORDS[day.month - 1]}, {view.hour}:00",
                f"{view.text('temperature', float(day.outdoor_c[view.hour - 1]))} outside",
                _sun_words(float(day.sun_altitude_deg[view.hour - 1]), float(day.sun_azimuth_deg[view.hour - 1])),
            )
        return out

    def _sun_of(self, view: View, month: int) -> np.ndarray:
        """Sun on the openings by hour, kept while the hour is moved."""
        day, g = view.r.conditions.days[month], view.r.geometry
        return self._glass.of((day, g, view.job.openings), lambda: sun_on_openings(view.job, g, day))

    def _floor_sun(self, view: View, month: int) -> FloorSun:
        """Sun through the storey's windows, kept while the hour is moved."""
        day, job = view.r.conditions.days[month], view.job
        return self._floors.of((day, job, view.storey), lambda: FloorSun(job, view.r.geometry, day, view.storey))

    def strip(self, view: View) -> Strip:
        if self.lens_index == 1:
            return winter_strip(view)
        return day_strip(view, self.month_index(view), self.take_month)

    def ledger(self, view: View) -> Ledger:
        if self.lens_index == CLIMATE_LENS:
            return loads_climate.ledger(view)
        if self.lens_index == WHAT_IF_LENS:
            return loads_whatif.ledger(view)
        house = view.r.loads.house
        return rooms_table(view, _table(view), f"House at {house.hour}:00" if view.job.rooms else "House")

    def card(self, view: View) -> Card:
        if self.lens_index == CLIMATE_LENS:
            return loads_climate.card(view)
        if self.lens_index == WHAT_IF_LENS:
            return loads_whatif.card(view)
        if not view.job.rooms:
            return Card("Loads", "No rooms yet", hero_note="Loads needs rooms: press 1")
        thing = view.selected("appliance")
        if thing and any(x.id == thing for x in view.job.appliances):
            return loads_gains.card(view, thing)
        return _room_card(view, self._shown(view, room_index(view)))

    def _shown(self, view: View, i: int) -> _Shown:
        """Which hour of a room the card tells: its own peak, or the hour in hand where the day is looked at."""
        ld, heat = view.r.loads, self.lens_index == 1
        month, hour = ld.at(int(ld.peak_month[i])), int(ld.peak_hour[i])
        if self.lens_index == DAY_LENS:
            month, hour = self.month_index(view), view.hour
        sensible, latent = ld.parts_by_hour_w[month, i, :, hour - 1], ld.latent_by_hour_w[i, :, hour - 1]
        parts = ld.heating_parts[i] if heat else sensible + latent
        order = tuple(int(k) for k in np.argsort(-parts) if abs(parts[k]) > 0.5)
        chosen = (view.selected("component") or "").removeprefix(f"{view.job.rooms[i].id}:")
        wanted = chosen if chosen in COMPONENTS else COMPONENTS[order[0] if order else 0]
        return _Shown(i, heat, self.lens_index == DAY_LENS, month, hour, parts, sensible, latent, order, wanted)


@dataclass(frozen=True)
class _Shown:
    """What a room's card tells: winter, or an hour of a summer month; parts in W by component."""

    i: int
    heat: bool
    hourly: bool
    month: int
    hour: int
    parts: NDArray[np.float64]
    sensible: NDArray[np.float64]
    latent: NDArray[np.float64]
    order: tuple[int, ...]
    wanted: str


def _table(view: View) -> tuple[Told[Rooms], ...]:
    """Rooms by load. The house's cooling is that of its own peak hour, not the rooms' added up."""
    ld, g, air = view.r.loads, view.r.geometry, view.r.airflow.design_m3_s
    top_cool, top_heat = float(ld.cooling_w.max(initial=1)), float(ld.heating_w.max(initial=1))

    def cool(x: Rooms) -> float | None:
        return ld.house_cooling_w if x.whole else x.sum(ld.cooling_w)

    def peak(x: Rooms) -> str:
        if x.whole:
            return _when(ld.house.month, ld.house.hour)
        if x.of == "storey":
            return ""
        return _when(int(ld.peak_month[x.i]), int(ld.peak_hour[x.i])) if ld.sensible_w[x.i] > 1 else "–"

    return (
        named(112),
        Told("Floor", 70, lambda x: x.sum(g.area_m2) or 0.0, "area", decimals=0),
        Told("Cooling", 94, cool, "power", bold=True),
        Told("", 84, lambda x: Cell(bar=float(ld.cooling_w[x.i]) / top_cool), alone=True),
        Told(f"per {view.unit('area')}", 52, lambda x: (cool(x) or 0.0) / (x.sum(g.area_m2) or 0.1), "flux", unit=""),
        Told("Sensible", 68, lambda x: ld.house_sensible_w if x.whole else x.sum(ld.sensible_w), "power", unit=""),
        Told("Latent", 60, lambda x: ld.house_latent_w if x.whole else x.sum(ld.latent_w), "power", unit=""),
        Told("Peak hour", 76, peak),
        Told("Heating", 96, lambda x: x.sum(ld.heating_w) or 0.0, "power", bold=True),
        Told("", 74, lambda x: Cell(bar=float(ld.heating_w[x.i]) / top_heat, bar_color="heating"), alone=True),
        Told("Air", 62, lambda x: x.sum(air) or 0.0, "flow", bold=True),
        state(30, lambda x: room_mark(view, x.id, 2)),
    )


def _room_card(view: View, x: _Shown) -> Card:
    ld, r = view.r.loads, view.job.rooms[x.i]
    value = float(ld.heating_w[x.i]) if x.heat else float(x.parts.sum())
    other = float(ld.cooling_w[x.i] if x.heat else ld.heating_w[x.i])
    return Card(
        f"Room · {view.storey_name(r.storey)} · {zone_words(view, r.id)}",
        r.name,
        room_mark(view, r.id, 2),
        "",
        ((view.num("power", value), f"{view.unit('power')} {'heat' if x.heat else 'cool'}", "ink"),),
        _share_of_rooms(view, x, value),
        (
            (view.num("power", other), "cool" if x.heat else "heat", "cooling" if x.heat else "heating"),
            (view.num("flow", float(view.r.room_m3_s[x.i])), view.unit("flow"), "ink"),
        ),
        (
            _what_makes_it(view, x, value),
            *_low(view),
            *(() if x.heat else (peaks(view, x.i),)),
            *loads_fields.sections(view, x.i),
            *_worked(view, x),
            Arith(explain_room(view.r.serving(x.i).airflow, ld, x.i), False),
        ),
    )


def _low(view: View) -> tuple[List_, ...]:
    """What keeps the house's load low without anyone having looked."""
    found = keeps_low(view.r)
    rows = tuple(
        ListRow(x.label, f"+{view.text(x.result.kind, x.result.value)}", mark="look", second=x.worked(view.units))
        for x in found
        if x.result is not None
    )
    return (List_("What keeps it low", "house, sensible", rows),) if rows else ()


def _share_of_rooms(view: View, x: _Shown, value: float) -> str:
    """When the room peaks, and its share of all rooms."""
    ld = view.r.loads
    whole = ld.house_heating_w if x.heat else float(ld.cooling_w.sum())
    when = "" if x.heat else _when(view.r.conditions.days[x.month].month, x.hour)
    share = f"{value / whole * 100:.0f} % of the rooms" if whole and not x.hourly else ""
    return ", ".join(said for said in (when, share) if said)


def _what_makes_it(view: View, x: _Shown, value: float) -> Bars:
    """The components of a room's load, the largest first; the small ones together."""
    top = max(float(x.parts.max(initial=1.0)), 1.0)
    rows = [
        BarRow(
            ("component", f"{view.job.rooms[x.i].id}:{COMPONENTS[k]}"),
            COMPONENT_WORDS[COMPONENTS[k]],
            max(float(x.parts[k] if x.heat else x.sensible[k]), 0) / top,
            0.0 if x.heat else max(float(x.latent[k]), 0) / top,
            view.num("power", float(x.parts[k])),
            COMPONENTS[k] == x.wanted,
            "heating" if x.heat else "cooling",
        )
        for k in x.order[:8]
    ]
    rest = float(sum(x.parts[k] for k in x.order[8:]))
    if rest:
        rows.append(BarRow(None, "The rest", max(rest, 0) / top, 0, view.num("power", rest)))
    sensible, latent = view.num("power", float(x.sensible.sum())), view.num("power", float(x.latent.sum()))
    split = "" if x.heat else f"{sensible} sens + {latent} lat"
    total = (view.job.rooms[x.i].name, split, view.num("power", value))
    return Bars("What makes it", view.unit("power"), tuple(rows), total)


def _worked(view: View, x: _Shown) -> tuple[Section, ...]:
    """The arithmetic of the component in hand, and of the room."""
    if x.heat:
        part = explain_heating_part(view.r, x.i, x.wanted)
        return Arith(part), Arith(explain_heating(view.job, view.r.loads, x.i), False)
    return (
        Arith(explain_at(view.r, x.i, x.wanted, x.month, x.hour)),
        loads_gains.listed(view, x.i),
        methods(view),
        Arith(explain_factors(view.r, x.i, x.wanted, room_apart(view.r, x.i)), False),
    )


def _when(month: int, hour: int) -> str:
    """'15:00 Aug'."""
    return f"{hour}:00 {MONTH_WORDS[month - 1][:3]}"


def _sun_words(altitude: float, azimuth: float) -> str:
    if altitude <= 0:
        return "sun is down"
    names = ("north", "north-east", "east", "south-east", "south", "south-west", "west", "north-west")
    return f"sun in the {names[int(azimuth / 45 + 0.5) % 8]}"
