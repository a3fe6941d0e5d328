"""Station 3, Equipment: capacity against load, balance point, size limits, candidates."""

from __future__ import annotations

from collections.abc import Iterator
from functools import partial
from types import MappingProxyType

from PyQt6.QtCore import QPointF, QRectF
from PyQt6.QtGui import QPainter, QPen

from murvan.app import paint
from murvan.app.later import Later
from murvan.app.latest import Latest
from murvan.app.plan.lens import Lens
from murvan.app.stations.base import (
    ELSEWHERE,
    Arith,
    Button,
    Buttons,
    Canvas,
    Card,
    Cell,
    Field_,
    Fields,
    Headline,
    Ledger,
    List_,
    ListRow,
    Section,
    Station,
    Strip,
    View,
)
from murvan.app.stations.equipment import chart as equipment_chart
from murvan.app.stations.equipment import house as equipment_house
from murvan.app.stations.equipment import moist as equipment_moist
from murvan.app.stations.equipment import rooms as equipment_rooms
from murvan.app.stations.equipment import sure as equipment_sure
from murvan.app.stations.fields import of, of_part, of_sub
from murvan.app.stations.told import Told, headings, row, said
from murvan.catalog import limit_sets
from murvan.design.ducts import filter_velocity_m_s
from murvan.design.limits import FACE_LIMIT, carries, exceeds, near
from murvan.design.propose import Surely, side_by_side
from murvan.design.units import (
    USUAL_EFFICIENCY,
    Candidate,
    CoilAir,
    Curves,
    backup_stages,
    beyond_table,
    coil_air,
    curves,
    explain_balance,
    explain_capacity,
    explain_cost,
    explain_leaving,
    explain_power,
    pick_unit,
)
from murvan.model import Job
from murvan.model.design_edit import with_line
from murvan.model.edit import changed
from murvan.model.equipment import IN_ROOM, KIND_WORDS, STAGE_WORDS
from murvan.model.linesets import SOURCE_WORDS

COIL_LENS, ROOMS_LENS, SURE_LENS = 1, 2, 3
TOOLS = ("head", "serve", "outdoor")
KIND_SHORT = {**KIND_WORDS, "furnace_coil": "furnace", "air_conditioner": "cooling"}
SAYS = {"fits": "fits", "small": "too small", "big": "too big", "latent": "latent short", "heat": "heat short"}
MARK = {"fits": "good", "small": "fails", "big": "fails", "latent": "look", "heat": "look"}


class EquipmentStation(Station):
    number, name = 3, "Equipment"
    lenses = ("Capacity", "Coil air", "Rooms", equipment_sure.NAME)
    picks_units = True
    picks_designs = "several"
    kinds = ("unit",)
    tools = (("equipment.propose", "compare"), ("equipment.own", "indoor-unit"))
    lens_tools = MappingProxyType({ROOMS_LENS: equipment_rooms.TOOLS})
    elsewhere = ELSEWHERE

    def __init__(self) -> None:
        super().__init__()
        self._curves: Latest[Curves] = Latest()
        self._coil: Latest[CoilAir] = Latest()
        self._sure: Later[tuple[Surely, ...]] = Later("murvan-sure", rest_ms=150)
        self.laters = (self._sure,)

    def shown(self) -> tuple[object, ...]:
        return (self._sure.answers, self._sure.busy)

    def surely(self, view: View) -> equipment_sure.Found:
        """The designs of the job side by side; None while they are worked out."""
        return self._sure.of((view.r,), lambda: side_by_side(view.job, view.r))

    def curves_of(self, view: View, x: Candidate) -> Curves:
        """What a unit can do over the outdoor temperature, kept while it is looked at."""
        e, c, ld = view.s.equipment, view.r.conditions, view.s.loads
        return self._curves.of((x, e, c, ld), lambda: curves(x, e.no_load_c, c, ld))

    def reached(self, view: View) -> bool:
        return view.s.unit is not None

    def show_tool(self, tool: str) -> None:
        if tool in TOOLS:
            self.lens_index = ROOMS_LENS

    def knows(self, view: View, kind: str, item: str) -> bool:
        if self.lens_index == SURE_LENS:
            return kind == "room"
        return self.lens_index == ROOMS_LENS and kind in ("room", "indoor_unit", "outdoor_unit", "line")

    def headline(self, view: View) -> Headline:
        x = view.s.equipment.chosen
        if x is None:
            return Headline("none", "no unit", "", "pick a candidate")
        if len(view.r.systems) > 1:
            picked = [s for s in view.r.systems.values() if s.unit is not None]
            size = sum(s.unit.nominal_w for s in picked if s.unit is not None)
            return Headline(
                self.mark(view), str(len(view.r.systems)), "units", f"{view.text('tons', size)}, {len(picked)} picked"
            )
        second = f"balance {view.text('temperature', x.balance_c, 0)}" if x.balance_c is not None else x.unit.name
        return Headline(
            self.mark(view),
            view.num("tons", x.unit.nominal_w),
            f"{view.unit('tons')} · {_pct(x.total_share)}",
            second,
        )

    def lens(self, view: View) -> Lens:
        if self.lens_index == ROOMS_LENS:
            return equipment_rooms.lens(view, self.lenses[ROOMS_LENS])
        ld = view.r.loads
        sums = {
            s.id: view.num(
                "kpower", sum(float(ld.cooling_w[i]) for i, r in enumerate(view.job.rooms) if r.storey == s.id)
            )
            for s in view.job.storeys
        }
        return Lens(self.lenses[self.lens_index], storey_figures=sums, storey_unit=view.unit("kpower"))

    def default_selection(self, view: View) -> tuple[str, str] | None:
        if self.lens_index == ROOMS_LENS:
            return ("indoor_unit", view.indoor.id)
        if view.indoor.unit:
            return ("unit", view.indoor.unit)
        best = view.s.equipment.candidates if view.job.rooms else ()
        return ("unit", best[0].unit.id) if best else None

    def strip(self, view: View) -> Strip:
        return equipment_rooms.strip(view)

    def shown_unit(self, view: View) -> Candidate | None:
        """The unit that card and chart are of."""
        wanted = view.selected("unit")
        e = view.s.equipment
        return next((x for x in e.candidates if x.unit.id == wanted), None) or e.chosen

    def canvas(self, view: View) -> Canvas | None:
        if self.lens_index == ROOMS_LENS:
            return None
        if self.lens_index == SURE_LENS:
            return equipment_sure.canvas(view, self.surely(view))

        def draw(p: QPainter, r: QRectF) -> None:
            split = min(r.width() * 0.4, 420.0)
            equipment_house.draw(p, QRectF(r.left(), r.top(), split, r.height()), view)
            p.setPen(QPen(view.theme("outline"), 1))
            p.drawLine(QPointF(split, r.top()), QPointF(split, r.bottom()))
            x = self.shown_unit(view)
            if x is not None:
                box = QRectF(split + 16, r.top(), r.width() - split - 30, r.height())
                if self.lens_index == COIL_LENS:
                    equipment_moist.moist(
                        p, box, view, x, self._coil.of((x, view.r.conditions), lambda: coil_air(x, view.r.conditions))
                    )
                    return
                equipment_chart.capacity(
                    p, box.adjusted(0, _say_none(p, box, view), 0, 0), view, x, self.curves_of(view, x)
                )

        return Canvas(draw)

    def ledger(self, view: View) -> Ledger:
        if self.lens_index == ROOMS_LENS:
            return equipment_rooms.ledger(view)
        if self.lens_index == SURE_LENS:
            return equipment_sure.ledger(view, self.surely(view))
        columns, e, ld = _table(view), view.s.equipment, view.s.loads
        rows = tuple(row(view, columns, ("unit", x.unit.id), x) for x in e.candidates)
        house = "House" if len(view.r.systems) == 1 else view.indoor.tag
        total = {
            "Candidate": house,
            "of load": view.num("kpower", ld.house_cooling_w),
            "Sensible": view.num("kpower", ld.house_sensible_w),
            "Latent": view.num("kpower", ld.house_latent_w),
            "share of heat": view.num("kpower", ld.house_heating_w),
            "Says": view.unit("kpower"),
        }
        wanted = {
            "Candidate": "Wanted",
            "of load": "by kind",
            "Sensible": f"over {view.job.sizing.least * 100:.0f}",
            "Latent": f"{view.job.sizing.latent * 100:.0f}",
            "share of heat": "–",
            "Says": "with backup",
        }
        return Ledger(headings(view, columns), rows, (said(columns, wanted),), said(columns, total))

    def card(self, view: View) -> Card:
        if self.lens_index == ROOMS_LENS:
            return equipment_rooms.card(view)
        if self.lens_index == SURE_LENS:
            return equipment_sure.card(view, self.surely(view))
        x = self.shown_unit(view)
        if x is None:
            return Card("Equipment", "No unit to weigh", "none", hero_note="Draw the rooms first: press 1")
        job, c, ld, e = view.job, view.r.conditions, view.s.loads, view.s.equipment
        picked = x.unit.id == view.indoor.unit
        place = [k.unit.id for k in e.candidates].index(x.unit.id) + 1
        kicker = f"Candidate {place} of {len(e.candidates)} · {KIND_WORDS[x.unit.kind]}, {STAGE_WORDS[x.unit.stages]}"
        checks = self._checks(view, x, picked)
        pick = Button("pick", f"Pick the {x.unit.name}", "K", lambda: view.act.command("equipment.pick"), True)
        limits = Button("limits", "Keep limits", "^K", lambda: view.act.command("equipment.limits"))
        own = Button("own", "Your own unit", "T", lambda: view.act.command("equipment.own"))
        sections: list[Section] = [
            *_sorted_checks(checks),
            Fields("Change it" if picked else "Weigh another", _unit_fields(view, x)[: None if picked else 1]),
            Arith(explain_capacity(x, c, ld)),
            Arith(explain_balance(x, e, c, ld), False),
            Arith(explain_leaving(x, c), False),
            *_year(view, x),
            *_limits(view),
            Buttons((own, limits) if picked else (pick, own)),
        ]
        return Card(
            kicker,
            f"{x.unit.maker} {x.unit.name}",
            mark_of(x),
            "Picked" if picked else f"{reason(view, x)}, not picked",
            ((_pct(x.total_share).removesuffix(" %"), "% of cooling", "ink"),),
            f"{view.num('kpower', x.total_w)} of {view.num('kpower', ld.house_cooling_w)} {view.unit('kpower')} at {view.text('temperature', job.climate.summer_c, 0)}",
            (
                (_pct(x.heating_share), "of heat", "ink"),
                (view.num("kpower", x.heating_w), f"of {view.num('kpower', ld.house_heating_w)}", "ink"),
            ),
            tuple(sections),
        )

    def _checks(self, view: View, x: Candidate, picked: bool) -> tuple[ListRow, ...]:
        ld = view.s.loads
        low, high = x.limits
        backup = view.indoor.heater_kw if x.unit.takes_kit else 0.0
        rows = [
            ListRow(
                "Cooling, next size made" if x.next_size else "Cooling, total",
                _pct(x.total_share),
                f"{low * 100:.0f} – {high * 100:.0f}",
                _mark(low <= x.total_share <= high, _missed(x)),
            ),
            ListRow(
                "Cooling, sensible",
                _pct(x.sensible_share),
                f"over {low * 100:.0f}",
                _mark(x.sensible_share >= low, "look" if near(x.sensible_share, low) else "fails"),
            ),
            ListRow(
                "Cooling, latent",
                _pct(x.latent_share),
                f"over {x.sizing.latent * 100:.0f}",
                _mark(x.latent_share >= x.sizing.latent, "look"),
            ),
            _heat_row(ld.house_heating_w, x.heating_w + backup * 1000, backup),
        ]
        if view.s.unit is None:
            air, load = view.s.airflow.total_m3_s, ld.house_cooling_w
            rate = view.text("air_per_load", air / load if load > 0 else 0.0)
            rows.append(ListRow("Air until one is picked", view.text("flow", air), rate))
        b = view.s.blower
        if picked and b is not None:
            static = float(b.external_static_pa[0])
            rows.append(
                ListRow(
                    f"Blower, {view.text('flow', float(b.flow_m3_s[0]))} at",
                    view.num("pressure", static),
                    f"{view.text('pressure', x.unit.blower.limit_pa)}",
                    _mark(static <= x.unit.blower.limit_pa),
                )
            )
            speed = filter_velocity_m_s(view.indoor.filter, view.s.airflow.total_m3_s)
            rows.append(
                ListRow(
                    "Filter face",
                    view.num("velocity", speed),
                    f"under {view.text('velocity', FACE_LIMIT['filter'])}",
                    _mark(not exceeds(speed, FACE_LIMIT["filter"]), "look"),
                )
            )
        rows += [
            ListRow(
                f"Beyond its table: {b.what.lower()}",
                view.num("temperature", b.here_c),
                f"to {view.text('temperature', b.edge_c, 0)}",
                "look",
            )
            for b in beyond_table(x, view.r.conditions)
        ]
        rows.append(
            ListRow(
                "Backup, hours a year",
                view.num("hours", x.backup_hours),
                f"{view.num('number', x.season.year('backup_kwh'))} kWh",
            )
        )
        rows += _backup_rows(view, x)
        if x.backup_range_kwh is not None:
            least, most = (view.num("number", v) for v in x.backup_range_kwh)
            rows.append(
                ListRow(
                    "Backup, other hours",
                    f"{least} to {most} kWh",
                    mark="look",
                    second="by the hours of every typical climate",
                )
            )
        rows.append(ListRow("Cycles on and off", view.num("hours", x.cycling_hours), "h a year"))
        return tuple(rows)


def _missed(x: Candidate) -> str:
    """The mark of a unit outside its limits: to be looked at where it is but a little outside."""
    low, high = x.limits
    beyond = high if x.total_share > high else low
    share = x.sensible_share if low <= x.total_share <= high else x.total_share
    return "look" if near(share, beyond) else "fails"


def mark_of(x: Candidate) -> str:
    """The mark of a candidate."""
    return _missed(x) if x.verdict in ("small", "big") else MARK[x.verdict]


def _sorted_checks(rows: tuple[ListRow, ...]) -> Iterator[List_]:
    """What is off first; what holds, and what is for the record, may lie behind."""
    off = tuple(r for r in rows if r.mark in ("fails", "look"))
    rest = tuple(r for r in rows if r not in off)
    held = sum(r.mark == "good" for r in rest)
    yield List_("Checks", "limit", off or (ListRow(f"All {held} hold", "", mark="good"),))
    yield List_(f"{held} checks hold" if off else "Checks that hold", "limit", rest, behind=True)


def reason(view: View, x: Candidate) -> str:
    """Why a unit does or does not do, in a few words."""
    low, high = x.limits
    if x.unit.kind in IN_ROOM and view.indoor.kind == "ducted":
        return "one room only"
    if x.verdict == "small":
        return f"under {_pct(low)}{'' if x.total_share < low else ' sensible'}"
    if x.verdict == "big":
        return f"over {_pct(high)}"
    if x.verdict == "heat":
        short = view.s.loads.house_heating_w - x.heating_w
        kit = next((k for k in x.unit.heater_kw if k * 1000 >= short), None)
        if x.unit.kind == "furnace_coil":
            return f"heat {_pct(x.heating_share)}"
        return f"needs a {kit:g} kW heater" if kit is not None else f"heat short by {view.text('kpower', short)}"
    return SAYS[x.verdict]


def none_fits(view: View) -> tuple[str, ...]:
    """What a unit of this house would have to do, where none that is known does; empty when one fits."""
    e, ld = view.s.equipment, view.s.loads
    if e.fitting or not view.job.rooms or ld.house_cooling_w <= 0:
        return ()
    low, high = view.job.sizing.least, view.job.sizing.variable
    if e.candidates and e.candidates[0].verdict == "heat":
        return (f"None heats the house alone: {e.candidates[0].unit.name} {reason(view, e.candidates[0])}.",)
    return (
        f"None of {len(e.candidates)} fits {'this house' if len(view.r.systems) == 1 else 'its rooms'}. What would:",
        f"cooling {view.num('kpower', low * ld.house_cooling_w)} to {view.text('kpower', high * ld.house_cooling_w)} at "
        f"{view.text('temperature', view.job.climate.summer_c, 0)}, sensible {view.text('kpower', low * ld.house_sensible_w)} "
        f"and more, heat {view.text('kpower', ld.house_heating_w)} with its backup; or two units, or less load (Loads, What if).",
    )


def _table(view: View) -> tuple[Told[Candidate], ...]:
    """The units of the list against the load."""
    place = {x.unit.id: k for k, x in enumerate(view.s.equipment.candidates, 1)}

    def cooling(x: Candidate) -> Cell:
        low, high = x.limits
        return Cell(bar=_bar(x.total_share, 1.6), tick=1 / 1.6, band=(low / 1.6, high / 1.6))

    def heat(x: Candidate) -> Cell:
        return Cell(bar=_bar(x.heating_share, 1.2), bar_color="heating", tick=1 / 1.2)

    def says(x: Candidate) -> str:
        return "picked" if x.unit.id == view.indoor.unit and x.verdict == "fits" else reason(view, x)

    winter = f"at {view.text('temperature', view.job.climate.winter_c, 0)}"
    return (
        Told("", 26, lambda x: str(place[x.unit.id]), align="l", bold=True),
        Told("Candidate", 148, lambda x: f"{x.unit.maker} {x.unit.name}", align="l", bold=True),
        Told("Size", 52, lambda x: x.unit.nominal_w, "tons"),
        Told("Kind", 98, lambda x: KIND_SHORT[x.unit.kind], align="l"),
        Told("Cooling", 58, cooling, align="l"),
        Told("of load", 52, lambda x: _pct(x.total_share), bold=True),
        Told("Sensible", 62, lambda x: _pct(x.sensible_share)),
        Told("Latent", 50, lambda x: _pct(x.latent_share)),
        Told("Heat", 84, heat, align="l", unit=winter),
        Told("", 46, lambda x: _pct(x.heating_share), bold=True, key="share of heat"),
        Told("Balance", 68, lambda x: x.balance_c, "temperature", decimals=0),
        Told("Low", 52, lambda x: _pct(x.unit.cooling.min_fraction)),
        Told("Says", 172, says, align="l"),
        Told("", 24, lambda x: Cell(mark=mark_of(x))),
    )


def _unit_fields(view: View, x: Candidate) -> tuple[Field_, ...]:
    """Which unit, and what is set on it; its own settings count once it is picked."""
    own = view.indoor
    units = tuple(
        (k.unit.id, f"{k.unit.maker} {k.unit.name}, {reason(view, k)}") for k in view.s.equipment.candidates
    )
    heaters = tuple((str(float(k)), f"{k:g} kW") for k in (0.0, *x.unit.heater_kw))
    taps = tuple((str(k + 1), f"tap {k + 1}") for k in range(len(x.unit.blower.taps_m3_s)))
    return (
        Field_(
            "system.unit", "Unit", "text", x.unit.id, lambda j, v: pick_unit(j, own.id, str(v)), "Pick unit", units, 2
        ),
        of("indoor_units", own, "heater_kw", key="system.heater", options=heaters),
        of("indoor_units", own, "room_heat_w", key="system.room_heat"),
        of("indoor_units", own, "flow_m3_s", key="system.flow", value=view.s.airflow.total_m3_s),
        of("indoor_units", own, "tap", key="system.tap", options=taps),
        of("indoor_units", own, "heat_share", key="system.heat_share"),
        *_lockouts(view, x),
        *_line_fields(view),
        *(
            of_sub("indoor_units", own, "filter", f"{side}_m", key=f"filter.{side}")
            for side in ("width", "height")
            if own.kind == "ducted"
        ),
    )


def _year(view: View, x: Candidate) -> Iterator[Section]:
    """What a year costs, and the prices it is worked out with."""
    worked, energy, job = explain_cost(x, view.job.energy), view.job.energy, view.job
    if worked is None:
        return
    yield Arith(worked, False)
    burns = {"electric", energy.present, x.unit.fuel} | ({"gas"} if x.unit.furnace_output_w else set())
    prices = [f for f in ("electric", "gas", "propane", "oil") if f in burns]
    today = []
    if energy.present != "unknown":
        usual = energy.present_efficiency is None
        today = [
            of_part(
                job,
                "energy",
                "present_efficiency",
                label=f"AFUE or COP{', usual' if usual else ''}",
                value=energy.present_efficiency or USUAL_EFFICIENCY[energy.present],
            ),
            of_part(job, "energy", "present_cooling"),
        ]
    yield Fields(
        "Prices and today's system",
        (
            *(of_part(job, "energy", f"{f}_per_kwh") for f in prices),
            of_part(job, "energy", "present"),
            *today,
            of_part(job, "energy", "cost_in"),
            of_part(job, "energy", "rebate"),
        ),
    )
    yield Fields(
        "Today's power, measured",
        tuple(of_part(job, "energy", k) for k in ("present_volts", "present_amps", "power_factor")),
    )
    power = explain_power(x, energy, view.r.conditions.density_kg_m3)
    if power is not None:
        yield Arith(power, False)


def _limits(view: View) -> Iterator[Section]:
    """What size is judged by, to choose, to change and to keep."""
    job = view.job
    sets = limit_sets(job.sizing)
    choice = Field_(
        "sizing.set",
        "Size limits",
        "text",
        job.sizing.id,
        lambda j, v: changed(j, j.name, sizing=next(x for x in limit_sets(j.sizing) if x.id == v)),
        "Choose size limits",
        tuple((x.id, x.name) for x in sets),
        2,
    )
    names = ("least", "latent", "single", "two", "variable", "furnace_least", "furnace", "backup")
    more = ("next_size", "cold_dry_w", "name", "basis")
    yield Fields("Size limits", (choice, *(of_part(job, "sizing", k) for k in (*names, *more))), behind=True)


def _line_fields(view: View) -> Iterator[Field_]:
    """Length and lift of the refrigerant line; emptied, they go as drawn again."""
    line, own = view.line, view.indoor.id
    for name, label, value, source in (
        ("length_m", "Line set", line.length_m, line.length_from),
        ("lift_m", "Line lift", line.lift_m, line.lift_from),
    ):
        edit = partial(_measured_line, unit=own, field=name)
        yield Field_(
            f"line.{name}",
            label + SOURCE_WORDS[source],
            "length",
            value,
            edit,
            f"Change {label.lower()}",
            optional=True,
        )


def _measured_line(job: Job, value: float | str, unit: str, field: str) -> Job:
    return with_line(job, unit, **{field: None if value == "" else float(value)})


def _bar(share: float, most: float) -> float | None:
    """Length of a bar; none where nothing is asked."""
    return share / most if share == share else None


def _pct(v: float) -> str:
    if v != v:
        return "–"
    return f"{v * 100:.0f} %" if v < 9.995 else "> 10×"


def _lockouts(view: View, x: Candidate) -> Iterator[Field_]:
    """Outdoor temperatures at which compressor and backup are kept off."""
    system = next(s for s in view.job.design.systems if s.id == view.indoor.system)
    if x.unit.heating is not None:
        yield of("systems", system, "lockout_c")
        if x.unit.takes_kit:
            yield of("systems", system, "heater_lockout_c")


def _backup_rows(view: View, x: Candidate) -> Iterator[ListRow]:
    """When each stage of the backup comes on, and what is left cold where it is kept off."""
    stages = backup_stages(x, view.s.equipment, view.r.conditions, view.s.loads)
    before = 0.0
    for k, (upto, below) in enumerate(stages, 1):
        words = f"Backup stage {k}, {view.num('electric', upto - before, 0)} kW"
        yield ListRow(words, f"below {view.num('temperature', below, 0)}", view.unit("temperature"))
        before = upto
    short = x.season.in_state("heating_short")
    if short > 0:
        yield ListRow("Short, backup kept off", view.num("hours", short), "h a year", "fails")


def _heat_row(need_w: float, have_w: float, backup: float) -> ListRow:
    """What it heats of what is asked of it; no judgement where other heat carries all."""
    if need_w <= 0:
        return ListRow("Heat, kept as it is", "–", "none asked")
    share = have_w / need_w
    return ListRow(
        f"Heat with {backup:g} kW backup" if backup else "Heat",
        _pct(share),
        "over 100",
        _mark(carries(have_w, need_w)),
    )


def _mark(ok: bool, bad: str = "fails") -> str:
    return "good" if ok else bad


def _say_none(p: QPainter, box: QRectF, view: View) -> float:
    """Tell over the chart that no unit fits; returns the height it took."""
    lines = [part for text in none_fits(view) for part in paint.wrap(text, 12.5, box.width() - 26)]
    if not lines:
        return 0.0
    tall = 17.0 * len(lines) + 12
    p.fillRect(QRectF(box.left(), box.top() + 6, box.width(), tall), view.theme("look_soft"))
    paint.mark(p, "look", box.left() + 12, box.top() + 20, view.theme, 6)
    for k, line in enumerate(lines):
        paint.text(p, box.left() + 24, box.top() + 24 + 17 * k, line, 12.5, 600 if k == 0 else 500, view.theme("ink"))
    return tall + 6
