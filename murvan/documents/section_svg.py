"""A section through the house as a drawing at 1:50 in SVG, millimetres, and in words."""

from __future__ import annotations

from collections.abc import Iterator
from xml.sax.saxutils import escape, quoteattr

from murvan.design.parts import size_text
from murvan.design.space import DeckCut, DuctCut, Section
from murvan.units import Units, text

PER_M = 20.0
"""mm of drawing a metre: 1:50."""
EDGE_MM = 12.0
INK = {"supply": "#0B7A75", "return": "#8A3F86", "fresh": "#4B7A12", "unit": "#2C3A41"}
WOOD, FAINT = "#A47643", "#F3F5F4"
BOARD_M, JOIST_M, WALL_M = 0.018, 0.038, 0.11


def section_svg(x: Section, units: Units) -> str:
    """The drawing: rooms, what carries them, units, plenums and ducts with their tags, heights at the left."""
    points = [z for r in x.rooms for z in (r.floor_m, *(h for _, h in r.ceiling))]
    points += [z for d in x.decks for z in (d.low_m, d.high_m)] + [z for d in x.ducts for z in (d.low_m, d.high_m)]
    points += [z for roof in x.roofs for _, z in roof] + [0.0]
    low, high = min(points) - 0.3, max(points) + 0.3
    wide, tall = x.length_m * PER_M + 2 * EDGE_MM, (high - low) * PER_M + 2 * EDGE_MM
    out = [
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{wide:.1f}mm" height="{tall:.1f}mm" '
        f'viewBox="0 0 {wide:.2f} {tall:.2f}" font-family="Inter, sans-serif" font-size="2.6">',
        f'<g transform="translate({EDGE_MM} {EDGE_MM + high * PER_M:.2f}) scale({PER_M} -{PER_M})" stroke-width="0.012">',
        *_house(x),
        *(_duct(d) for d in x.ducts),
        "</g>",
        *_words(x, units, high),
        "</svg>",
    ]
    return "\n".join(out) + "\n"


def _rect(s0: float, s1: float, z0: float, z1: float, style: str) -> str:
    return f'<rect x="{s0:.4f}" y="{z0:.4f}" width="{s1 - s0:.4f}" height="{z1 - z0:.4f}" {style}/>'


def _house(x: Section) -> Iterator[str]:
    for r in x.rooms:
        ring = [*r.ceiling, (r.span[1], r.floor_m), (r.span[0], r.floor_m)]
        points = " ".join(f"{s:.4f},{z:.4f}" for s, z in ring)
        yield f'<polygon points="{points}" fill="{FAINT}" stroke="#66747A"/>'
        for s, z in (r.ceiling[0], r.ceiling[-1]):
            yield _rect(s - WALL_M / 2, s + WALL_M / 2, r.floor_m, z, 'fill="#66747A"')
    for deck in x.decks:
        yield from _deck(deck)
    for roof in x.roofs:
        points = " ".join(f"{s:.4f},{z:.4f}" for s, z in roof)
        yield f'<polyline points="{points}" fill="none" stroke="{WOOD}" stroke-width="0.04"/>'
    for b in x.blocks:
        style = f'fill="{INK[b.block.kind]}" fill-opacity="0.35" stroke="#10181B"'
        yield _rect(*b.span, b.block.low[2], b.block.high[2], style)
    for o in x.obstacles:
        yield _rect(*o.span, o.solid.low_m, o.solid.high_m, 'fill="#C9D2D0" stroke="#10181B"')


def _deck(d: DeckCut) -> Iterator[str]:
    if d.kind == "slab":
        yield _rect(*d.span, d.low_m, d.high_m, 'fill="#98A4A2" stroke="#3D4A50"')
        return
    style = f'fill="{WOOD}" fill-opacity="0.4" stroke="{WOOD}"'
    if d.kind != "ceiling":
        yield _rect(*d.span, d.high_m - BOARD_M, d.high_m, style)
    if d.kind != "floor":
        yield _rect(*d.span, d.low_m, d.low_m + BOARD_M, style)
    if d.structure is not None:
        low, high = d.members_m
        for m in d.members:
            yield _rect(m - JOIST_M / 2, m + JOIST_M / 2, low, high, style)


def _duct(d: DuctCut) -> str:
    ink = INK[d.run.side] if d.run.side in INK else INK["fresh"]
    s0, s1 = d.at_m - d.width_m / 2, d.at_m + d.width_m / 2
    tight = d.left_m is not None and d.left_m < 0
    style = f'fill="{ink}" fill-opacity="{0.9 if d.how == "across" else 0.35}" stroke="{"#C4202B" if tight else "#10181B"}"'
    wrap = f'fill="none" stroke="{ink}"'
    if d.run.shape == "round" and d.how == "across":
        cx, cy, rx, ry = (s0 + s1) / 2, (d.low_m + d.high_m) / 2, (s1 - s0) / 2, (d.high_m - d.low_m) / 2
        return (
            f'<ellipse cx="{cx:.4f}" cy="{cy:.4f}" rx="{rx + d.wrap_m:.4f}" ry="{ry + d.wrap_m:.4f}" {wrap}/>'
            f'<ellipse cx="{cx:.4f}" cy="{cy:.4f}" rx="{rx:.4f}" ry="{ry:.4f}" {style}/>'
        )
    w = d.wrap_m
    return _rect(s0 - w, s1 + w, d.low_m - w, d.high_m + w, wrap) + _rect(s0, s1, d.low_m, d.high_m, style)


def _words(x: Section, units: Units, high: float) -> Iterator[str]:
    def at(s: float, z: float) -> tuple[float, float]:
        return EDGE_MM + s * PER_M, EDGE_MM + (high - z) * PER_M

    for r in x.rooms:
        px, py = at(r.span[0] + WALL_M, r.floor_m + 0.1)
        yield f'<text x="{px:.2f}" y="{py:.2f}" fill="#3D4A50">{escape(r.name)}</text>'
    for z in sorted({round(v, 3) for r in x.rooms for v in (r.floor_m, r.ceiling[0][1])}):
        _, py = at(0, z)
        yield f'<text x="1" y="{py:.2f}" fill="#3D4A50" font-size="2">{escape(text("length", z, units, 2))}</text>'
    for d in x.ducts:
        px, py = at(d.at_m, d.high_m + d.wrap_m + 0.03)
        label = f"{d.run.tag} {_size(d, units)}"
        yield f'<text x="{px:.2f}" y="{py:.2f}" text-anchor="middle" data-run={quoteattr(d.run.id)}>{escape(label)}</text>'


def _size(d: DuctCut, units: Units) -> str:
    run = d.run
    return size_text(
        (run.diameter_m or 0.0,) if run.shape == "round" else (run.width_m or 0.0, run.height_m or 0.0), units
    )


def section_words(x: Section, units: Units) -> Iterator[str]:
    """A line for every duct that is cut."""
    for d in x.ducts:
        place = f"{text('length', d.at_m, units)} along, underside {text('length', d.low_m - d.wrap_m, units, 2)}"
        need = f"needs {text('size1', d.needs_m, units)}"
        free = f" of {text('size1', d.free_m, units)} ({d.words})" if d.left_m is not None else ""
        wrong = ", does not go in" if d.left_m is not None and d.left_m < 0 else ""
        wrong += ", in another duct" if d.run.id in x.in_each_other else ""
        yield f"{d.run.tag:6} {_size(d, units):10} {d.how:8} {place}; {need}{free}{wrong}"
