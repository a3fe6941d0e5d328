"""Capacity and charge on the card of Readings."""

from __future__ import annotations

from collections.abc import Callable

from murvan.app.stations.base import Arith, Field_, Fields, List_, ListRow, Section, View
from murvan.field.capacity import Proof, explain_proof
from murvan.field.charge import CAUTION, Charge, explain_charge
from murvan.field.places import Place
from murvan.field.safety import Record
from murvan.kinds.refrigerants import REFRIGERANTS
from murvan.model import Job, replace
from murvan.model.edit import changed

LINES = ("vapour_line", "liquid_line")


def proven_sections(view: View, place: Place) -> list[Section]:
    """What is proven of the unit that a place is of; the plate where its lines are read."""
    own = view.figures.proven.of(place.at.id)
    lines = place.hole in LINES
    out: list[Section] = [_plate(view, place.at.id)] if lines else []
    rows = [_row(view, x) for x in own.proofs] + [_charge_row(view, x) for x in own.charges]
    rows += [_record_row(view, x) for x in own.records]
    if rows:
        out.append(List_("Proven", "simulated" if own.simulated else "", tuple(rows)))
    if lines:
        out += [Arith(explain_charge(x)) for x in own.charges]
        out.append(List_("Caution", "", (ListRow(CAUTION, "", mark="look"),)))
    elif place.quantity in ("temperature", "wet_bulb"):
        cools = view.job.design.stands.mode == "cooling"
        out += [Arith(explain_proof(x, view.r)) for x in own.proofs if x.cools == cools or len(own.proofs) == 1]
    return out


def _row(view: View, x: Proof) -> ListRow:
    season = "Cooling" if x.cools else "Heating"
    what = season if x.total or not x.cools else f"{season}, sensible"
    second = view.text("power", x.delivered_w) + ("" if x.flow.read else ", by air that is predicted")
    if x.share is None:
        return ListRow(
            what, view.text("power", x.delivered_w), second="note the outdoor temperature to judge it", mark="none"
        )
    if x.enough is not None:
        second = f"{second}; {x.enough * 100:.0f} % of the load at design"
    return ListRow(f"{what}, of its table", f"{x.share * 100:.0f} ± {x.sd * 100:.0f} %", second=second, mark=x.mark)


def _charge_row(view: View, x: Charge) -> ListRow:
    told = [
        f"{name} {view.text('difference', value)}"
        + (f" of {view.text('difference', wanted)}" if wanted is not None else "")
        for name, value, wanted in (
            ("superheat", x.superheat_k, x.wanted_superheat_k),
            ("subcooling", x.subcooling_k, x.wanted_subcooling_k),
        )
        if value is not None
    ]
    return ListRow(f"Charge: {x.says[:1].lower()}{x.says[1:]}", "", second=", ".join(told), mark=x.mark)


def _record_row(view: View, x: Record) -> ListRow:
    value = ", ".join(view.num(kind, v) for kind, v in x.figures)
    return ListRow(x.what, f"{value} {view.unit(x.figures[0][0])}", second=x.says, mark=x.mark)


REFRIGERANT_CHOICES = (("", "not known"), *((x, x) for x in REFRIGERANTS))
METERING = (("valve", "Expansion valve"), ("orifice", "Fixed orifice"))


def _plate(view: View, unit: str) -> Fields:
    plate = next(u.plate for u in view.job.design.indoor_units if u.id == unit)
    fields = [
        Field_(
            "plate.refrigerant",
            "Refrigerant",
            "text",
            plate.refrigerant or "",
            _set(unit, "refrigerant"),
            "Refrigerant",
            REFRIGERANT_CHOICES,
        ),
        Field_("plate.metering", "Metering", "text", plate.metering, _set(unit, "metering"), "Metering", METERING),
    ]
    if plate.metering == "valve":
        fields.append(
            Field_(
                "plate.subcooling",
                "Subcooling by the plate",
                "difference",
                plate.subcooling_k,
                _set(unit, "subcooling_k"),
                "Subcooling by the plate",
                width=2,
                optional=True,
            )
        )
    return Fields("The outdoor unit's plate", tuple(fields))


def _set(unit: str, name: str) -> Callable[[Job, float | str], Job]:
    def put(job: Job, value: float | str) -> Job:
        own = next(u for u in job.design.indoor_units if u.id == unit)
        given = None if value == "" else value
        return replace(job, "indoor_units", unit, plate=changed(own.plate, f"Plate of {own.tag}", **{name: given}))

    return put
