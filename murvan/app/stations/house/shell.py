"""The cards of the shell: the whole house, an assembly, one of its layers."""

from __future__ import annotations

from collections.abc import Callable

from murvan.app.stations.base import (
    Arith,
    Button,
    Buttons,
    Card,
    Field_,
    Fields,
    List_,
    ListRow,
    Picture,
    Section,
    View,
)
from murvan.app.stations.field_choices import GROUNDS
from murvan.app.stations.fields import of, of_job, of_part
from murvan.app.stations.makeup_view import draw_layers
from murvan.catalog import materials, studs
from murvan.design.explain import explain_u
from murvan.design.house import (
    CLASSES,
    ERAS,
    LOOKS,
    ROLE_WORDS,
    ROLES,
    add_layer,
    assembly,
    assume,
    assumptions,
    by_class,
    by_flow,
    choices,
    class_of,
    drop_layer,
    flow50_m3_s,
    glazing_choices,
    ground_floor,
    material_of,
    own_copy,
    set_all_glazing,
    set_layer,
    set_material,
    set_role,
    set_stud,
    shift_layer,
    stand_on,
    stud_of,
    used_glazing,
)
from murvan.model import Job
from murvan.model.edit import changed
from murvan.model.house import floor_heights
from murvan.model.job import Construction, Storey, Structure

Apply = Callable[[Job, float | str], Job]
CHOOSE = (("", "choose…"),)


def house_card(view: View, _: str = "") -> Card:
    """The house as a whole: north, area by the papers, age and look, what the shell is made of."""
    job, g = view.job, view.r.geometry
    typed = job.typed_area_m2
    said = assumptions(job)
    return Card(
        f"Whole house · {len(job.rooms)} rooms",
        job.name,
        "look" if said else "good",
        f"{len(said)} assumed" if said else "all looked at",
        ((view.num("area", g.total_area_m2 or None, 0), view.unit("area"), "ink"),),
        f"by the papers {view.text('area', typed, 0)}" if typed else "heated floor on the plan",
        ((view.num("volume", g.total_volume_m3 or None, 0), view.unit("volume"), "ink"),),
        (_facts(view), _age(view), _roles(view), *((_said(said),) if said else ()), *_storeys(view)),
    )


def _facts(view: View) -> Fields:
    job = view.job
    return Fields(
        "Facts",
        (
            of_part(job, "site", "north_deg"),
            of_job(job, "typed_area_m2"),
            of_job(job, "bedrooms"),
            of_part(job, "leakage", "ach50"),
            Field_(
                "house.cfm50",
                "Blower door, 50 Pa",
                "flow",
                flow50_m3_s(view.job, view.r.geometry),
                lambda job, v: by_flow(job, view.r.geometry, float(v)),
                "Set the blower door's flow",
            ),
            Field_(
                "house.leak_class",
                "Or by class",
                "text",
                class_of(view.job),
                lambda job, v: by_class(job, str(v)),
                "Assume a leakage class",
                (("", "own figure"), *((k, words) for k, (words, _) in CLASSES.items())),
            ),
            of_part(job, "leakage", "measured"),
            of_part(job, "site", "shielding"),
        ),
    )


ERA_CHOICES = (*CHOOSE, *((k, e.name) for k, e in ERAS.items()))


def _age(view: View) -> Fields:
    """Choosing a time sets the whole shell at once, as an assumption."""
    look, ground = _look(view.job), ground_floor(view.job)
    return Fields(
        "By age and look, assumed",
        (
            Field_(
                "house.era",
                "Built",
                "text",
                _era(view.job),
                lambda job, v: assume(job, str(v), _look(job), ground_floor(job)) if v else job,
                "Assume the shell by age",
                ERA_CHOICES,
            ),
            Field_(
                "house.look",
                "Walls look like",
                "text",
                look,
                lambda job, v: assume(job, _era(job) or "1970s", str(v), ground_floor(job)),
                "Assume the shell by look",
                tuple(LOOKS.items()),
            ),
            Field_("house.ground", "Stands on", "text", ground, _stand_on, "Assume what it stands on", GROUNDS),
        ),
    )


def _stand_on(job: Job, value: float | str) -> Job:
    """By the assumed shell where there is one; a shell of the user's own keeps its assemblies."""
    if _era(job):
        return assume(job, _era(job), _look(job), str(value))
    return stand_on(job, str(value))


def _era(job: Job) -> str:
    """The time whose usual walls and ceiling the job has assumed; '' when none."""
    for key, era in ERAS.items():
        walls = {f"{w}.assumed" for w in era.walls.values()}
        if job.wall_construction in walls and job.ceiling_construction == f"{era.ceiling}.assumed":
            return key
    return ""


def _look(job: Job) -> str:
    for era in ERAS.values():
        for look, made in era.walls.items():
            if job.wall_construction == f"{made}.assumed":
                return look
    return "frame"


def _roles(view: View) -> Fields:
    job = view.job
    fields = [
        Field_(
            f"role.{role}",
            ROLE_WORDS[role],
            "text",
            getattr(job, f"{role}_construction") or "",
            _to_role(role),
            f"Change {ROLE_WORDS[role].lower()}",
            ((("", "as the common one"),) if role in ("roof", "raised", "basement", "knee") else ())
            + choices(job, role),
            2,
        )
        for role in ROLES
    ]
    glass = used_glazing(job)
    fields.append(
        Field_(
            "role.glass",
            "All windows",
            "text",
            glass.id if glass else "",
            lambda job, v: set_all_glazing(job, str(v)) if v else job,
            "Change all windows",
            ((() if glass else (("", "no windows yet"),)) + glazing_choices(job)),
            2,
        )
    )
    return Fields("What it is made of", tuple(fields))


def _to_role(role: str) -> Apply:
    return lambda job, value: set_role(job, role, str(value))


def _said(said: tuple[str, ...]) -> List_:
    return List_(
        "Assumed, not looked at",
        "",
        tuple(ListRow(s.partition(":")[0].capitalize(), "", mark="look", second=s.partition(": ")[2]) for s in said),
    )


def _storeys(view: View) -> tuple[Section, ...]:
    rows = tuple(
        ListRow(s.name, view.num("feet", s.height_m), "high", key=("storey-card", s.id)) for s in view.job.storeys
    )
    return (List_("Storeys", "click for height and structure", rows),)


def storey_card(view: View, storey_id: str) -> Card:
    """A storey: its height, where it stands, what carries its floor and ceiling."""
    s = next((x for x in view.job.storeys if x.id == storey_id), None)
    if s is None:
        return house_card(view)
    z = floor_heights(view.job.storeys)[s.id]
    area = sum(a for a, r in zip(view.r.geometry.area_m2, view.job.rooms, strict=True) if r.storey == s.id)
    fields = Fields(
        "Change it",
        (
            of("storeys", s, "name"),
            of("storeys", s, "height_m"),
            of("storeys", s, "floor_m", value=z),
            of("storeys", s, "ceiling_space_m"),
            of("storeys", s, "duct_place"),
        ),
    )
    return Card(
        "Storey",
        s.name,
        "good",
        "below the ground" if z < -0.02 else "",
        ((view.num("area", area or None, 0), view.unit("area"), "ink"),),
        f"floor {view.text('feet', abs(z))} {'below' if z < 0 else 'over'} the ground outside",
        (),
        (fields, _structure(s, "floor"), _structure(s, "ceiling")),
    )


STRUCTURES = (
    ("", "not known"),
    ("joists", "Joists"),
    ("i_joists", "I-joists"),
    ("open_web", "Open-web trusses"),
    ("trusses", "Roof trusses"),
    ("slab", "Slab"),
)
RUNS = (("x", "across the plan"), ("y", "up and down it"))


def _structure(storey: Storey, which: str) -> Fields:
    field = f"{which}_structure"
    now: Structure | None = getattr(storey, field)

    def change(**changes: object) -> Callable[[Job], Job]:
        def edit(job: Job) -> Job:
            s = next(x for x in job.storeys if x.id == storey.id)
            old = getattr(s, field) or Structure()
            new = changed(s, s.name, **{field: changed(old, f"{s.name}, {which}", **changes)})
            return changed(job, job.name, storeys=tuple(new if x.id == s.id else x for x in job.storeys))

        return edit

    def kind(job: Job, value: float | str) -> Job:
        if value:
            return change(kind=value)(job)
        s = next(x for x in job.storeys if x.id == storey.id)
        bare = changed(s, s.name, **{field: None})
        return changed(job, job.name, storeys=tuple(bare if x.id == s.id else x for x in job.storeys))

    key = f"{storey.id}.{which}"
    name = f"Change {which} structure"
    fields = [Field_(f"{key}.kind", "Made of", "text", now.kind if now else "", kind, name, STRUCTURES)]
    if now is not None:
        fields += [
            Field_(f"{key}.runs", "Run", "text", now.runs, lambda job, v: change(runs=v)(job), name, RUNS),
            Field_(f"{key}.depth", "Depth", "size1", now.depth_m, lambda job, v: change(depth_m=v)(job), name),
            Field_(
                f"{key}.spacing", "Spacing", "size1", now.spacing_m, lambda job, v: change(spacing_m=v)(job), name
            ),
        ]
    title = "What carries the floor" if which == "floor" else "What carries the ceiling"
    return Fields(title, tuple(fields))


# ---- assemblies -------------------------------------------------------------------------------------------------


def construction_card(view: View, construction_id: str) -> Card:
    """An assembly: its layers in section, U live, every layer a click away."""
    c = next((x for x in view.job.constructions if x.id == construction_id), None)
    if c is None:
        return house_card(view)
    a = assembly(c)
    fields = [
        of("constructions", c, "name"),
        of("constructions", c, "framing_fraction"),
        of("constructions", c, "absorptance"),
    ]
    if c.kind == "slab":
        fields.append(of("constructions", c, "edge_f_w_mk"))
    rows = tuple(
        ListRow(
            x.name,
            view.num("r_value", x.resistance_m2k_w),
            view.text("size1", x.thickness_m) if x.thickness_m else "",
            key=("layer", f"{c.id}/{k}"),
        )
        for k, x in enumerate(c.layers)
    )
    area = sum(s.area_m2 for s in view.r.factors.surfaces if s.construction == c.id)
    buttons = Buttons(
        (
            Button("construction.add", "Add a layer", "", lambda: _add(view, c), True),
            Button("construction.copy", "Copy it", "", lambda: _copy(view, c)),
        )
    )
    return Card(
        f"Assembly · {c.kind}",
        c.name,
        "look" if c.assumed else "good",
        "assumed" if c.assumed else "looked at",
        ((view.num("u_factor", a.u_w_m2k), f"U {view.unit('u_factor')}", "ink"),),
        f"on {view.text('area', area, 0)} of the shell" if area else "not used in the shell",
        ((("R-" if view.units == "ip" else "R ") + view.num("r_value", 1 / a.u_w_m2k, 1), "", "ink"),),
        (
            Picture("Section", "outside to inside", 106, lambda p, r: draw_layers(p, r, view, c)),
            Fields("Change it", tuple(fields)),
            List_("Layers", "R, thickness", rows),
            Arith(explain_u(c)),
            buttons,
        ),
    )


def _add(view: View, c: Construction) -> None:
    if view.act.edit("Add a layer", lambda job: add_layer(job, c.id, len(c.layers) - 1)):
        view.act.select("layer", f"{c.id}/{len(c.layers)}")


def _copy(view: View, c: Construction) -> None:
    made: list[str] = []

    def change(job: Job) -> Job:
        job, new = own_copy(job, c.id)
        made.append(new)
        return job

    if view.act.edit(f"Copy {c.name}", change) and made:
        view.act.select("construction", made[-1])


def layer_card(view: View, layer_id: str) -> Card:
    """One layer: material, thickness or resistance, the wood that stands in it."""
    construction_id, _, n = layer_id.rpartition("/")
    c = next((x for x in view.job.constructions if x.id == construction_id), None)
    if c is None or not n.isdigit() or int(n) >= len(c.layers):
        return construction_card(view, construction_id)
    k = int(n)
    x = c.layers[k]

    def step(by: int) -> None:
        if view.act.edit("Move the layer", lambda job: shift_layer(job, c.id, k, by)):
            view.act.select("layer", f"{c.id}/{min(max(k + by, 0), len(c.layers) - 1)}")

    def drop() -> None:
        if view.act.edit(f"Take {x.name} out", lambda job: drop_layer(job, c.id, k)):
            view.act.select("construction", c.id)

    a = assembly(c)
    return Card(
        f"Layer {k + 1} of {len(c.layers)} · {c.name}",
        x.name,
        "look" if c.assumed else "good",
        "assumed" if c.assumed else "",
        ((view.num("r_value", x.resistance_m2k_w), "R", "ink"),),
        "outermost" if k == 0 else "innermost" if k == len(c.layers) - 1 else "between",
        ((view.num("u_factor", a.u_w_m2k), "U of all", "ink"),),
        (
            Picture("Section", "outside to inside", 106, lambda p, r: draw_layers(p, r, view, c, k)),
            _layer_fields(c, k),
            List_("Back to", "", (ListRow(c.name, "", key=("construction", c.id)),)),
            Buttons(
                (
                    Button("layer.out", "Outwards", "", lambda: step(-1)),
                    Button("layer.in", "Inwards", "", lambda: step(1)),
                    Button("layer.drop", "Take out", "", drop),
                )
            ),
        ),
    )


def _layer_fields(c: Construction, k: int) -> Fields:
    x, key = c.layers[k], f"{c.id}/{k}"
    known = material_of(x)
    made_of = (() if known else (("", x.name),)) + tuple((m.id, m.name) for m in materials().values())
    stud = stud_of(x)
    wood = (("", "none"), *((s, s.replace("x", "×")) for s in studs()), *((("own", "own"),) if stud == "own" else ()))
    fields = [
        Field_(
            f"{key}.material",
            "Material",
            "text",
            known,
            lambda job, v: set_material(job, c.id, k, str(v)),
            "Change material",
            made_of,
            2,
        ),
        Field_(
            f"{key}.thick",
            "Thickness",
            "size1",
            x.thickness_m,
            lambda job, v: set_layer(job, c.id, k, thickness_m=v),
            "Change thickness",
        ),
        Field_(
            f"{key}.stud",
            "Wood standing in it",
            "text",
            stud,
            lambda job, v: set_stud(job, c.id, k, str(v)) if v != "own" else job,
            "Change framing of the layer",
            wood,
        ),
    ]
    if x.r_m2k_w is not None:
        resistance = Field_(
            f"{key}.r",
            "Resistance",
            "r_value",
            x.r_m2k_w,
            lambda job, v: set_layer(job, c.id, k, r_m2k_w=v),
            "Change resistance",
        )
        fields.insert(2, resistance)
    return Fields("Change it", tuple(fields))


CARDS: dict[str, Callable[[View, str], Card]] = {
    "house": house_card,
    "storey-card": storey_card,
    "construction": construction_card,
    "layer": layer_card,
}
