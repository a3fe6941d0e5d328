"""Flat patterns as files: DXF with layers, SVG, and a list of the pieces. All in mm, 1:1."""

from __future__ import annotations

from collections.abc import Iterator
from math import cos, radians, sin
from pathlib import Path
from typing import TYPE_CHECKING, NamedTuple

from shapely.geometry import Polygon

from murvan.design.metal import Bend, Pattern, ShopPiece

if TYPE_CHECKING:
    from ezdxf.document import Drawing

MM = 1000.0
LAYERS = {"CUT": 7, "BEND": 3, "MARK": 1}
"""Layer and its colour in the DXF index."""
DRAWN_DEG = 0.5
"""Bends of less are not drawn: sheets lie flat there as they come."""
TEXT_MM = 8.0


class Named(NamedTuple):
    """A pattern with the name of its file, and the pieces that are cut by it."""

    file: str
    words: str
    numbers: tuple[int, ...]
    pattern: Pattern

    @property
    def title(self) -> str:
        """What is written on it: piece, sheet, and the numbers on the cut list."""
        many = f", {self.pattern.count} off" if self.pattern.count > 1 else ""
        return f"{self.words}{many}: No. {', '.join(map(str, self.numbers))}"


def named(pieces: tuple[ShopPiece, ...]) -> tuple[Named, ...]:
    """Every pattern once, named after the first piece that is cut by it."""
    numbers: dict[int, list[int]] = {}
    first: dict[int, tuple[str, Pattern]] = {}
    for x in pieces:
        for p in x.patterns:
            numbers.setdefault(id(p), []).append(x.piece.number)
            first.setdefault(id(p), (f"{x.piece.what}, {p.name}", p))
    return tuple(
        Named(f"{numbers[i][0]:03d}-{_plain(words)}", words, tuple(numbers[i]), p) for i, (words, p) in first.items()
    )


def _plain(words: str) -> str:
    return "-".join(words.lower().replace(",", "").replace("°", "").split())


def drawn_bends(pattern: Pattern) -> Iterator[Bend]:
    """Bends that are drawn: not those of a sheet that is rolled, but the flanges of each."""
    for b in pattern.bends:
        flange = b.between[1] < 0
        if flange or (not pattern.rolled and abs(b.angle_deg) >= DRAWN_DEG):
            yield b


def bend_words(bend: Bend) -> str:
    """'up 90°': how far, and to which side of who looks at the drawing, the outside of the piece above."""
    return f"{'down' if bend.angle_deg > 0 else 'up'} {abs(bend.angle_deg):.0f}°"


def new_drawing() -> Drawing:
    """An empty drawing in mm with its layers."""
    from ezdxf.filemanagement import new
    from ezdxf.units import MM as MILLIMETRES

    drawing = new("R2010", units=MILLIMETRES)
    for layer, colour in LAYERS.items():
        drawing.layers.add(layer, color=colour)
    return drawing


def write_dxf(x: Named, target: Path) -> None:
    """One pattern: layers CUT, BEND and MARK, mm."""
    drawing = new_drawing()
    space = drawing.modelspace()
    cut, bend, mark = ({"layer": name} for name in LAYERS)
    space.add_lwpolyline(_mm(x.pattern.outline.exterior.coords), close=True, dxfattribs=cut)
    for h in x.pattern.holes:
        at = (h.at_m[0] * MM, h.at_m[1] * MM)
        if len(h.size_m) == 1:
            space.add_circle(at, h.size_m[0] / 2 * MM, dxfattribs=cut)
        else:
            space.add_lwpolyline(
                [(px * MM, py * MM) for px, py in corners(h.at_m, h.size_m, h.turn_deg)], close=True, dxfattribs=cut
            )
        space.add_text(hole_words(h.name, h.size_m, h.from_edges_m), height=TEXT_MM, dxfattribs=mark).set_placement(
            at
        )
    for b in drawn_bends(x.pattern):
        start, end = ((px * MM, py * MM) for px, py in (b.start_m, b.end_m))
        space.add_line(start, end, dxfattribs=bend)
    for words, at_m in (*x.pattern.names, *edge_words(x.pattern), (x.title, _inside(x.pattern.outline))):
        space.add_text(words, height=TEXT_MM, dxfattribs=mark).set_placement((at_m[0] * MM, at_m[1] * MM))
    drawing.saveas(target)


EDGE_WORDS = {"pocket": "lock, pocket", "lock": "lock, flange"}
"""Where the kind of an edge is not the word for it."""


def edge_words(pattern: Pattern) -> Iterator[tuple[str, tuple[float, float]]]:
    """What is added at each edge, and where that is."""
    for e in pattern.edgings:
        middle = Polygon(e.outline_m).representative_point()
        yield EDGE_WORDS.get(e.kind, e.kind), (middle.x, middle.y)


def hole_words(name: str, size_m: tuple[float, ...], from_edges_m: tuple[float, float]) -> str:
    """'S1 dia 150.0, 125.0 from the left, 200.0 from the foot', mm."""
    size = f"dia {size_m[0] * MM:.1f}" if len(size_m) == 1 else " x ".join(f"{s * MM:.1f}" for s in size_m)
    left, foot = (f"{v * MM:.1f}" for v in from_edges_m)
    return f"{name} {size}, {left} from the left, {foot} from the foot".strip()


def corners(at_m: tuple[float, float], size_m: tuple[float, ...], turn_deg: float) -> list[tuple[float, float]]:
    """Of a rectangular hole, m."""
    w, h = size_m[0] / 2, size_m[1] / 2
    c, s = cos(radians(turn_deg)), sin(radians(turn_deg))
    return [(at_m[0] + x * c - y * s, at_m[1] + x * s + y * c) for x, y in ((-w, -h), (w, -h), (w, h), (-w, h))]


def _mm(coords: object) -> list[tuple[float, float]]:
    return [(x * MM, y * MM) for x, y in list(coords)[:-1]]  # type: ignore[call-overload]


def _inside(outline: Polygon) -> tuple[float, float]:
    p = outline.representative_point()
    return float(p.x), float(p.y)


def svg_text(x: Named) -> str:
    """One pattern as SVG, mm."""
    w, h = (v * MM for v in x.pattern.size_m)
    out = [
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{w:.3f}mm" height="{h:.3f}mm" viewBox="0 0 {w:.3f} {h:.3f}">',
        f"<title>{_escaped(x.title)}</title>",
        f'<path d="{_path(x.pattern.outline.exterior.coords, h)}" fill="none" stroke="black" stroke-width="0.3"/>',
    ]
    for hole in x.pattern.holes:
        cx, cy = hole.at_m[0] * MM, h - hole.at_m[1] * MM
        if len(hole.size_m) == 1:
            out.append(
                f'<circle cx="{cx:.3f}" cy="{cy:.3f}" r="{hole.size_m[0] / 2 * MM:.3f}" fill="none" stroke="black" stroke-width="0.3"/>'
            )
        else:
            ring = corners(hole.at_m, hole.size_m, hole.turn_deg)
            out.append(f'<path d="{_path([*ring, ring[0]], h)}" fill="none" stroke="black" stroke-width="0.3"/>')
    for b in drawn_bends(x.pattern):
        (ax, ay), (bx, by) = b.start_m, b.end_m
        out.append(
            f'<line x1="{ax * MM:.3f}" y1="{h - ay * MM:.3f}" x2="{bx * MM:.3f}" y2="{h - by * MM:.3f}" '
            'stroke="green" stroke-width="0.3" stroke-dasharray="4 2"/>'
        )
    for words, (px, py) in (*x.pattern.names, *edge_words(x.pattern), (x.title, _inside(x.pattern.outline))):
        out.append(
            f'<text x="{px * MM:.1f}" y="{h - py * MM:.1f}" font-size="{TEXT_MM}" fill="red">{_escaped(words)}</text>'
        )
    return "\n".join([*out, "</svg>", ""])


def _path(coords: object, high: float) -> str:
    points = [f"{x * MM:.3f} {high - y * MM:.3f}" for x, y in list(coords)[:-1]]  # type: ignore[call-overload]
    return f"M {' L '.join(points)} Z"


def _escaped(words: str) -> str:
    return words.replace("&", "&amp;").replace("<", "&lt;")
