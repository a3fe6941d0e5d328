"""Assemblies of the shell: taken from the library, assumed by age and look, edited layer by layer.

What is assumed stays marked so until somebody changes it: `Construction.assumed`.
"""

from __future__ import annotations

from dataclasses import dataclass

from murvan.catalog import library, materials, studs
from murvan.model.edit import changed, free_id, replace
from murvan.model.errors import JobValueError
from murvan.model.job import Glazing, Job, Layer, Leakage

ROLES = ("wall", "partition", "ceiling", "roof", "floor", "raised", "basement", "knee", "door")
ROLE_WORDS = {
    "wall": "Outside walls",
    "partition": "Partitions",
    "ceiling": "Ceilings under the attic",
    "roof": "Slopes and vaults",
    "floor": "Ground floor",
    "raised": "Floors over outdoors, garage, crawl",
    "basement": "Walls below grade",
    "knee": "Knee walls",
    "door": "Outside doors",
}
KINDS = {
    "wall": ("wall",),
    "partition": ("partition",),
    "ceiling": ("ceiling",),
    "roof": ("roof", "ceiling"),
    "floor": ("slab", "floor"),
    "raised": ("floor",),
    "basement": ("wall",),
    "knee": ("wall",),
    "door": ("door",),
}
"""Kinds of construction that fit a role."""


@dataclass(frozen=True)
class Era:
    """What houses of a time were usually built with. All from memory and common practice: a starting point."""

    name: str
    walls: dict[str, str]
    ceiling: str
    roof: str
    raised: str
    slab: str
    basement: str
    door: str
    glazing: str
    ach50: float
    """1/h at 50 Pa."""


LOOKS = {
    "frame": "Wood or vinyl siding",
    "brick": "Brick face",
    "stucco": "Stucco",
    "masonry": "Solid masonry or block",
    "log": "Logs",
}


def _walls(frame: str, brick: str, stucco: str, masonry: str, log: str = "log-6") -> dict[str, str]:
    return {"frame": frame, "brick": brick, "stucco": stucco, "masonry": masonry, "log": log}


ERAS: dict[str, Era] = {
    "before-1940": Era(
        "before 1940",
        _walls("frame-2x4-empty-plaster", "frame-2x4-brick-empty", "frame-2x4-empty-plaster", "brick-12", "log-8"),
        "ceiling-old-4",
        "roof-2x6-empty",
        "floor-empty",
        "slab-bare",
        "base-stone-18",
        "door-panel-storm",
        "glass-single-storm",
        15.0,
    ),
    "1940s-50s": Era(
        "1940s and 50s",
        _walls("frame-2x4-r7", "frame-2x4-brick-empty", "frame-2x4-r7", "block-8-bare"),
        "ceiling-old-4",
        "roof-2x6-empty",
        "floor-empty",
        "slab-bare",
        "base-block-8",
        "door-panel-storm",
        "glass-single-storm",
        13.0,
    ),
    "1960s": Era(
        "1960s",
        _walls("wall-2x4-r11", "frame-2x4-brick-r11", "frame-2x4-stucco-r11", "block-8-bare"),
        "ceiling-r11",
        "roof-2x6-empty",
        "floor-empty",
        "slab-bare",
        "base-block-8",
        "door-panel-storm",
        "glass-single",
        11.0,
    ),
    "1970s": Era(
        "1970s",
        _walls("wall-2x4-r11", "frame-2x4-brick-r11", "frame-2x4-stucco-r11", "block-8-furred"),
        "ceiling-r19",
        "roof-2x6-r19",
        "floor-r11",
        "slab-bare",
        "base-block-8",
        "door-wood",
        "glass-single-storm",
        10.0,
    ),
    "1980s": Era(
        "1980s",
        _walls("wall-2x4-r13", "frame-2x4-brick-r13", "frame-2x4-stucco-r13", "block-8-furred"),
        "ceiling-r25",
        "roof-2x8-r25",
        "floor-r11",
        "slab-bare",
        "base-concrete-8",
        "door-insulated",
        "glass-double-metal",
        9.0,
    ),
    "1990s": Era(
        "1990s",
        _walls("wall-2x4-r13", "frame-2x4-brick-r13", "frame-2x4-stucco-r13", "block-8-furred"),
        "ceiling-r30",
        "roof-2x10-r30",
        "floor-r19",
        "slab-r5",
        "base-concrete-8",
        "door-insulated",
        "glass-double-vinyl",
        7.0,
    ),
    "2000s": Era(
        "2000s",
        _walls("frame-2x4-r15", "frame-2x4-brick-r13", "frame-2x4-stucco-r13", "icf-6"),
        "ceiling-r38-blown",
        "roof-2x10-r30",
        "floor-r19",
        "slab-r5",
        "base-concrete-frame",
        "door-insulated",
        "glass-034",
        5.0,
    ),
    "since-2010": Era(
        "since 2010",
        _walls("wall-2x6-r21", "frame-2x6-r21-brick", "wall-2x6-r21", "icf-6"),
        "ceiling-r49",
        "roof-2x12-r38",
        "floor-r30",
        "slab-r10",
        "base-concrete-frame",
        "door-fibreglass",
        "glass-lowe-low",
        3.5,
    ),
}


# ---- from the library -----------------------------------------------------------------------------------------


def with_construction(job: Job, construction_id: str) -> Job:
    """The job with a construction of the library in it, if it is not there yet. Raises JobValueError."""
    if any(c.id == construction_id for c in job.constructions):
        return job
    made = library()[0].get(construction_id)
    if made is None:
        raise JobValueError(f"There is no assembly '{construction_id}' in the library.")
    return changed(job, job.name, constructions=(*job.constructions, made))


def with_glazing(job: Job, glazing_id: str) -> Job:
    """The job with a glazing of the library in it. Raises JobValueError."""
    if any(g.id == glazing_id for g in job.glazings):
        return job
    pane = library()[1].get(glazing_id)
    if pane is None:
        raise JobValueError(f"There is no glazing '{glazing_id}' in the library.")
    return changed(job, job.name, glazings=(*job.glazings, pane))


def set_role(job: Job, role: str, construction_id: str) -> Job:
    """Give a common role (`wall`, `ceiling`, ...) another assembly, of the job or the library; '' for none.

    Raises:
        JobValueError: no such assembly, or it is of another kind.
    """
    if not construction_id:
        return changed(job, job.name, **{f"{role}_construction": None})
    after = with_construction(job, construction_id)
    kind = next(c.kind for c in after.constructions if c.id == construction_id)
    if kind not in KINDS[role]:
        raise JobValueError(f"{ROLE_WORDS[role]} can't be made like a {kind}.")
    return changed(after, job.name, **{f"{role}_construction": construction_id})


def choices(job: Job, role: str) -> tuple[tuple[str, str], ...]:
    """(id, name) of what fits a role: the job's own first, then the rest of the library."""
    return choices_of(job, KINDS[role])


def choices_of(job: Job, kinds: tuple[str, ...]) -> tuple[tuple[str, str], ...]:
    """(id, name) of the job's assemblies of these kinds, then the library's that it has not."""
    own = [(c.id, f"{c.name}{' (assumed)' if c.assumed else ''}") for c in job.constructions if c.kind in kinds]
    taken = {i for i, _ in own}
    return (*own, *((c.id, c.name) for c in library()[0].values() if c.kind in kinds and c.id not in taken))


def glazing_choices(job: Job) -> tuple[tuple[str, str], ...]:
    """(id, name) of the job's glazings, then the library's that it has not."""
    own = [(g.id, g.name) for g in job.glazings]
    taken = {i for i, _ in own}
    return (*own, *((g.id, g.name) for g in library()[1].values() if g.id not in taken))


# ---- by age and look ------------------------------------------------------------------------------------------


USUAL = "1970s"
"""Time whose assemblies stand in where nothing is known."""


def assume(job: Job, era: str, look: str, ground: str = "slab") -> Job:
    """The whole shell as houses of a time and look usually are, all marked as assumed.

    Args:
        ground: 'slab', 'crawl' or 'basement'.

    Raises:
        JobValueError: the time or the look is not known.
    """
    e = ERAS.get(era)
    if e is None or look not in e.walls:
        raise JobValueError("Choose when it was built and what its walls look like.")
    roles = {
        "wall": e.walls[look],
        "partition": "partition-plaster" if era in ("before-1940", "1940s-50s") else "partition-2x4",
        "ceiling": e.ceiling,
        "roof": e.roof,
        "floor": e.raised if ground == "crawl" else "slab-basement" if ground == "basement" else e.slab,
        "raised": e.raised,
        "basement": e.basement,
        "knee": e.walls["frame"],
        "door": e.door,
    }
    after = job
    for role, made in roles.items():
        after = _assumed(after, made)
        after = set_role(after, role, f"{made}.assumed")
    after = with_glazing(after, e.glazing)
    windows = tuple(changed(o, glazing=e.glazing) if o.kind == "window" else o for o in after.openings)
    leakage = after.leakage if after.leakage.measured else Leakage(ach50=e.ach50)
    return changed(after, job.name, openings=windows, leakage=leakage, foundation=ground)


def stand_on(job: Job, ground: str) -> Job:
    """The job on another foundation; a floor over it without an assembly gets the usual one, marked as assumed."""
    after = changed(job, job.name, foundation=ground)
    kinds = {c.id: c.kind for c in job.constructions}
    if ground == "slab" or kinds.get(job.raised_construction or job.floor_construction or "") == "floor":
        return after
    made = ERAS[USUAL].raised
    return set_role(_assumed(after, made), "raised", f"{made}.assumed")


def _assumed(job: Job, construction_id: str) -> Job:
    """The job with a copy of a library assembly that is marked as assumed."""
    new = f"{construction_id}.assumed"
    if any(c.id == new for c in job.constructions):
        return job
    copy = changed(library()[0][construction_id], id=new, assumed=True)
    return changed(job, job.name, constructions=(*job.constructions, copy))


def assumptions(job: Job) -> tuple[str, ...]:
    """What of the shell nobody has looked at, in words; empty when all is known."""
    by_id = {c.id: c for c in job.constructions}
    out = []
    for role in ROLES:
        made = by_id.get(getattr(job, f"{role}_construction") or "")
        if made is not None and made.assumed and role not in ("partition",):
            out.append(f"{ROLE_WORDS[role].lower()}: {made.name}")
    if not job.leakage.measured:
        out.append(f"leakage: {job.leakage.ach50:g} ACH50")
    return tuple(out)


# ---- layer by layer -------------------------------------------------------------------------------------------


def own_copy(job: Job, construction_id: str, name: str = "") -> tuple[Job, str]:
    """A copy of a construction to be edited; returns the job and the copy's id."""
    old = next((c for c in job.constructions if c.id == construction_id), None)
    if old is None:
        raise JobValueError("There is no such assembly in the job.")
    new = free_id("own", {c.id for c in job.constructions})
    copy = changed(old, id=new, name=name or f"{old.name}, own", assumed=False)
    return changed(job, job.name, constructions=(*job.constructions, copy)), copy.id


def _layers(job: Job, construction_id: str) -> tuple[Layer, ...]:
    made = next((c for c in job.constructions if c.id == construction_id), None)
    if made is None:
        raise JobValueError("There is no such assembly in the job.")
    return made.layers


def put_layers(job: Job, construction_id: str, layers: tuple[Layer, ...]) -> Job:
    """Other layers for a construction; it counts as looked at then. Raises JobValueError."""
    if not layers:
        raise JobValueError("An assembly needs at least one layer.")
    return replace(job, "constructions", construction_id, layers=layers, assumed=False)


def set_material(job: Job, construction_id: str, at: int, material: str) -> Job:
    """Another material for a layer, at its usual thickness or the one of the layer for what has a conductivity."""
    layers = _layers(job, construction_id)
    old = layers[at]
    m = materials().get(material)
    if m is None:
        raise JobValueError(f"There is no material '{material}'.")
    thick = old.thickness_m if m.conductivity_w_mk is not None and old.thickness_m > 0 else None
    return put_layers(job, construction_id, (*layers[:at], m.layer(thick, old.framing_r_m2k_w), *layers[at + 1 :]))


def set_layer(job: Job, construction_id: str, at: int, **changes: object) -> Job:
    """Other values for a layer. Raises JobValueError; the text names the assembly and the layer."""
    layers = _layers(job, construction_id)
    name = next(c.name for c in job.constructions if c.id == construction_id)
    new = changed(layers[at], f"{name}, {layers[at].name}", **changes)
    return put_layers(job, construction_id, (*layers[:at], new, *layers[at + 1 :]))


def set_stud(job: Job, construction_id: str, at: int, stud: str) -> Job:
    """The framing member that stands in a layer, such as '2x4'; '' for none."""
    return set_layer(job, construction_id, at, framing_r_m2k_w=studs()[stud] if stud else None)


def add_layer(job: Job, construction_id: str, after: int, material: str = "gypsum") -> Job:
    """A layer towards the inside of layer `after`."""
    layers = _layers(job, construction_id)
    return put_layers(
        job, construction_id, (*layers[: after + 1], materials()[material].layer(), *layers[after + 1 :])
    )


def drop_layer(job: Job, construction_id: str, at: int) -> Job:
    """The construction without a layer. Raises JobValueError when it is the last one."""
    layers = _layers(job, construction_id)
    return put_layers(job, construction_id, (*layers[:at], *layers[at + 1 :]))


def shift_layer(job: Job, construction_id: str, at: int, by: int) -> Job:
    """A layer moved outwards (-1) or inwards (+1)."""
    layers = list(_layers(job, construction_id))
    to = min(max(at + by, 0), len(layers) - 1)
    layers.insert(to, layers.pop(at))
    return put_layers(job, construction_id, tuple(layers))


def material_of(layer: Layer) -> str:
    """The library material a layer is of, by its name; '' for one's own."""
    return next((m.id for m in materials().values() if m.name == layer.name), "")


def stud_of(layer: Layer) -> str:
    """The stud size of a layer's framing; '' without, or for a resistance of one's own."""
    if layer.framing_r_m2k_w is None:
        return ""
    return next((k for k, r in studs().items() if abs(r - layer.framing_r_m2k_w) < 1e-3), "own")


def used_glazing(job: Job) -> Glazing | None:
    """The glazing most windows have."""
    used = [o.glazing for o in job.openings if o.kind == "window" and o.glazing]
    best = max(set(used), key=used.count) if used else None
    return next((g for g in job.glazings if g.id == best), None)


def set_all_glazing(job: Job, glazing_id: str) -> Job:
    """One glazing for every window. Raises JobValueError."""
    after = with_glazing(job, glazing_id)
    return changed(
        after,
        job.name,
        openings=tuple(changed(o, glazing=glazing_id) if o.kind == "window" else o for o in after.openings),
    )
