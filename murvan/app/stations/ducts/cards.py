"""What can be changed of a run, a trunk or the ducted unit on the card of Ducts."""

from __future__ import annotations

from dataclasses import replace

from murvan.app.later import Later
from murvan.app.stations.base import Button, Buttons, Card, Field_, Fields, List_, ListRow, View
from murvan.app.stations.fields import of, of_many, of_part
from murvan.design import lay
from murvan.design.drawing import room_at
from murvan.design.ducts import ROUND_SIZES_IN, boxed, frame_m
from murvan.design.space import cabinet, misfits, place_here, suggested
from murvan.model.design import DuctRun, IndoorUnit
from murvan.model.job import Job, Ref
from murvan.units import INCH

SCOPES = (
    ("run", "this run"),
    ("trunk", "its trunk"),
    ("beyond", "it and all beyond"),
    ("branches", "all branches"),
    ("side", "all of its side"),
)


def ducted_in_hand(view: View) -> str:
    """The ducted unit in hand, or the first there is; '' without one."""
    own = view.indoor
    if own.kind == "ducted":
        return own.id
    return next((x.id for x in view.job.design.indoor_units if x.kind == "ducted"), "")


class Bulk:
    """What is to be changed of several runs at once: chosen first, done by a button that says of how many."""

    def __init__(self) -> None:
        self._run, self._scope = "", "run"
        self._wanted: dict[str, tuple[Field_, float | str]] = {}

    def follow(self, selection: Ref | None) -> None:
        """Another thing is selected: a change is for one run again."""
        if selection != Ref("run", self._run):
            self.take(selection.id if selection is not None and selection.kind == "run" else "", "run")

    def scope(self, run: str) -> str:
        """Which runs a change on the card of a run is for: with each selection this one alone again."""
        return self._scope if run == self._run else "run"

    def take(self, run: str, scope: str) -> None:
        """Changes on the card of a run are for other runs from now on; what was chosen for others before is dropped."""
        self._run, self._scope, self._wanted = run, scope, {}

    def shown(self) -> tuple[object, ...]:
        """What the card depends on."""
        return (self._run, self._scope, *((k, v) for k, (_, v) in self._wanted.items()))

    def wanted(self, run: str) -> tuple[tuple[Field_, float | str], ...]:
        return tuple(self._wanted.values()) if run == self._run else ()

    def drafted(self, f: Field_, view: View) -> Field_:
        """A field whose value is kept until the button is pressed."""

        def keep(value: float | str) -> None:
            self._wanted[f.key] = (f, value)
            view.act.select(*(view.selection.kind, view.selection.id) if view.selection else ("house", "house"))

        value = self._wanted[f.key][1] if f.key in self._wanted else f.value
        return replace(f, value=value, pick=keep)


def run_fields(view: View, run: DuctRun, bulk: Bulk) -> Fields:
    """What can be changed of a run, or of all runs of a scope at once, and the practice they are sized by."""
    scope = bulk.scope(run.id)
    ids = lay.alike_in(view.job.design, run.id, scope)
    runs = {r.id: r for r in view.job.design.runs}
    alike = tuple(i for i in ids if runs[i].shape == run.shape)
    sizes = ("diameter_m",) if run.shape == "round" else ("width_m", "height_m")
    fields = [
        of_many(
            "runs", run, name, alike, **({"options": _sizes(view, run.diameter_m)} if name == "diameter_m" else {})
        )
        for name in sizes
    ]
    fields.append(of_many("runs", run, "held", ids))
    fields.append(of_many("runs", run, "shape", ids))
    fields += [of_many("runs", run, name, ids) for name in ("material", "insulation_r_m2k_w")]
    if scope == "run":
        fields.append(of("runs", run, "damper"))
    if run.made_of.bends:
        fields.append(of_many("runs", run, "stretched", tuple(i for i in ids if runs[i].made_of.bends)))
    fields.append(_level(view, run, ids))
    title = "Change it" if len(ids) == 1 else f"Change {len(ids)} runs"
    if scope != "run":
        fields = [bulk.drafted(f, view) for f in fields]

    def take(value: float | str) -> None:
        bulk.take(run.id, str(value))
        view.act.select("run", run.id)

    meant = Field_(f"{run.id}.scope", "A change is for", "text", scope, None, "", SCOPES, pick=take)
    return Fields(title, (*fields, meant, of_part(view.job, "air", "velocity_profile")))


def _level(view: View, run: DuctRun, ids: tuple[str, ...]) -> Field_:
    """How high the runs lie over their storey's floor, at their middle."""
    end = next(j for j in view.job.design.joints if j.id == run.end)

    def put(job: Job, value: float | str) -> Job:
        return lay.set_level(job, ids, float(value))

    return Field_(f"{run.id}.level", "Level over floor", "feet", end.height_m, put, f"Change level of {run.tag}"[:80])


def run_buttons(view: View, run: DuctRun, bulk: Bulk) -> Buttons:
    """What is done with all runs; while several are to be changed, that, and how many they are."""
    scope = bulk.scope(run.id)
    ids, wanted = lay.alike_in(view.job.design, run.id, scope), bulk.wanted(run.id)
    if scope != "run":
        return Buttons(
            (
                Button(
                    "apply", f"Change {len(ids)} runs", "", lambda: _apply(view, run, bulk, len(ids)), bool(wanted)
                ),
                Button("one", "This run alone", "", lambda: _alone(view, run, bulk)),
            )
        )
    return Buttons(
        (
            Button("size_all", "Size all", "Z", lambda: view.act.command("ducts.size_all")),
            Button("balance", "Balance", "D", lambda: view.act.command("ducts.balance"), True),
            Button("away", "Take away", "Del", lambda: view.act.command("ducts.remove")),
        )
    )


def _alone(view: View, run: DuctRun, bulk: Bulk) -> None:
    bulk.take(run.id, "run")
    view.act.select("run", run.id)


def _apply(view: View, run: DuctRun, bulk: Bulk, count: int) -> None:
    """One step to undo for all that was chosen."""
    wanted = bulk.wanted(run.id)
    if not wanted:
        view.act.say("Choose a size, material or level for them first")
        return
    name = wanted[0][0].name if len(wanted) == 1 else f"Change {count} runs"

    def change(job: Job) -> Job:
        for f, value in wanted:
            job = f.apply(job, value) if f.apply is not None else job
        return job

    if view.act.edit(name, change):
        _alone(view, run, bulk)


def box_card(view: View, item: str) -> Card:
    """A soffit or chase: how large it is inside, what lies in it and what that wants."""
    found = next((x for x in boxed(view.job, view.r.laid) if x.place.id == item), None)
    if found is None:
        return Card("Ducts", "Nothing here")
    x = found.place
    fields = [of("places", x, "name"), of("places", x, "kind")]
    if x.kind == "soffit":
        fields.append(of("places", x, "clear_m"))
    inside = "{} × {}".format(*(view.num("size", v) for v in found.clear_m))
    want = "{} × {}".format(*(view.num("size", v) for v in found.want_m))
    rows = tuple(
        ListRow(f"Run {r.tag}", "{} × {}".format(*(view.num("size", v) for v in frame_m(r))), view.unit("size"))
        for r in found.runs
    )
    mark = "none" if not found.runs else "good" if found.fits else "fails"
    return Card(
        f"{x.kind.capitalize()} · {view.storey_name(x.storey)}",
        x.name,
        mark,
        "",
        ((inside, view.unit("size"), "ink"),),
        f"inside; its ducts want {want}" if found.runs else "inside; no duct lies in it yet",
        (),
        (
            Fields("Change it", tuple(fields)),
            *((List_("Ducts in it", "with insulation and an inch round", rows),) if rows else ()),
            Buttons((Button("away", "Take away", "Del", lambda: view.act.command("ducts.remove")),)),
        ),
    )


def _sizes(view: View, now: float | None) -> tuple[tuple[str, str], ...]:
    sizes = [s * INCH for s in ROUND_SIZES_IN]
    if now is not None and all(abs(now - s) > 1e-4 for s in sizes):
        sizes = sorted([*sizes, now])
    return tuple((f"{s:.4f}", view.text("size", s)) for s in sizes)


# ---- the unit -------------------------------------------------------------------------------------------------


def unit_card(view: View, kept: Later[tuple[IndoorUnit, ...]]) -> Card:
    """The ducted unit in hand: where it could stand and how it does, whether it goes in, and what is still to do before its
    ducts work. `kept` keeps the places found."""
    own = next((x for x in view.job.design.indoor_units if x.id == ducted_in_hand(view)), None)
    if own is None:
        return Card(
            "Ducts", "No ducted unit", "none", hero_note="Ducts belong to a ducted unit: press 3 and pick one"
        )
    tight = list(misfits(view.job, own, cabinet(view.job, own)))
    words = [m.words.format(view.text("size", m.need_m), view.text("size", m.has_m)) for m in tight]
    mark = "none" if own.storey is None else "fails" if tight else "good"
    job, unit = view.job, cabinet(view.job, own)
    spots = kept.of((job.rooms, job.places, job.storeys, own.id, unit), lambda: tuple(suggested(job, own.id))) or ()
    note = f"It {words[0]}" if words else _stands(view, own, spots)
    return Card(
        f"Unit · {view.storey_name(own.storey)}" if own.storey else "Unit",
        own.tag,
        mark,
        hero_note=note,
        sections=(
            Fields(
                "How it stands",
                (_spot(view, own, spots), of("indoor_units", own, "way"), of("indoor_units", own, "turn_deg")),
            ),
            Fields(
                "Where ducts run",
                tuple(of("storeys", s, "duct_place", label=s.name, width=2) for s in view.job.storeys),
            ),
            _to_do(view, own),
            _unit_buttons(view, own),
        ),
    )


def _fits(job: Job, own: IndoorUnit) -> bool:
    return not any(True for _ in misfits(job, own, cabinet(job, own)))


def _spot(view: View, own: IndoorUnit, spots: tuple[IndoorUnit, ...]) -> Field_:
    """The places found for the unit as a choice; it is put there as it goes in."""

    def words(x: IndoorUnit) -> str:
        place, room = place_here(view.job, x.storey, x.position_m), room_at(view.job, x.storey or "", x.position_m)
        where = place.name if place is not None else room.name if room is not None else "Outside the rooms"
        fit = "" if place is None else ", goes in" if _fits(view.job, x) else ", tight"
        return f"{where}, {view.storey_name(x.storey or '')}{fit}"

    def put(job: Job, value: float | str) -> Job:
        if value == "":  # where it stands already
            return job
        x = spots[int(value)]
        return lay.placed_unit(job, own.id, x.storey or "", x.position_m, None, x.way, x.turn_deg).job

    here = [k for k, x in enumerate(spots) if (x.storey, x.position_m) == (own.storey, own.position_m)]
    other = () if here else (("", words(own) if own.storey else "not yet"),)
    options = (*other, *((str(k), words(x)) for k, x in enumerate(spots)))
    return Field_(
        f"{own.id}.spot", "Stands in", "text", str(here[0]) if here else "", put, "Place the unit", options, 2
    )


def _stands(view: View, own: IndoorUnit, spots: tuple[IndoorUnit, ...]) -> str:
    if own.storey is None:
        places = [x for x in spots if _fits(view.job, x)]
        where = f"; it goes in on {view.storey_name(places[0].storey)}" if places and places[0].storey else ""
        return f"It has no place yet: U places it, L finds one{where}"
    surveyed = any(p.storey == own.storey for p in view.job.places)
    return "It goes in where it stands" if surveyed else "No place for it is surveyed, so its fit is not judged"


def _to_do(view: View, own: IndoorUnit) -> List_:
    """The steps from an empty house to ducts, with those that are done."""
    d = view.job.design
    faces = [x for x in d.registers if x.indoor == own.id]
    hung = {r.register_id for r in d.runs if r.indoor == own.id and r.register_id}
    rest = len(faces) - len(hung)
    rows = (
        ("Unit picked", own.unit is not None, "Equipment, K"),
        ("Unit placed", own.storey is not None, "U"),
        ("Registers and grilles", {x.side for x in faces} == {"supply", "return"}, "L, or Air"),
        (
            "Every face on a run",
            bool(faces) and rest == 0,
            f"{rest} to go: L, or T and B" if rest else "L, or T and B",
        ),
    )
    return List_(
        "To do",
        "",
        tuple(ListRow(name, "" if done else key, mark="good" if done else "look") for name, done, key in rows),
    )


def _unit_buttons(view: View, own: IndoorUnit) -> Buttons:
    return Buttons(
        (
            Button("lay", "Lay ducts", "L", lambda: view.act.command("ducts.lay"), True),
            Button("place", "Place", "U", lambda: view.act.command("tool.unit")),
            Button("turn", "Turn", "⇧U", lambda: view.act.command("ducts.turn")),
        )
    )
