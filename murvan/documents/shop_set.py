"""What the shop cuts from: every pattern, the nested sheets, and the list of the pieces, as one set of files."""

from __future__ import annotations

import csv
import os
from pathlib import Path

from murvan.design.metal import ShopPiece, nested
from murvan.documents.nesting import write_nested
from murvan.documents.patterns import MM, Named, drawn_bends, named, svg_text, write_dxf
from murvan.documents.patterns_pdf import write_pdf
from murvan.model.atomic import write_set
from murvan.units import Units


def write_shop_set(
    pieces: tuple[ShopPiece, ...], folder: Path, kinds: frozenset[str], units: Units
) -> tuple[Named, ...]:
    """The list and every pattern, of the kinds 'dxf', 'svg' and 'pdf' that are asked for; returns the patterns. They take the
    place of the set that was there, whole or not at all; the list comes last. Raises OSError."""
    once = named(pieces)

    def write(made: Path) -> None:
        for x in once:
            if "dxf" in kinds:
                write_dxf(x, made / f"{x.file}.dxf")
            if "svg" in kinds:
                (made / f"{x.file}.svg").write_text(svg_text(x), encoding="utf-8")
        if "pdf" in kinds:
            write_pdf(once, made / "patterns.pdf", units)
        write_nested(nested(pieces), made, kinds, units)
        write_list(pieces, made / LIST)

    write_set(folder, "patterns", write, LIST, _of_an_earlier_set(folder / LIST))
    return once


LIST = "pieces.csv"


def _of_an_earlier_set(listing: Path) -> list[str]:
    """Patterns that a list of pieces names, as they may lie beside it."""
    try:
        with listing.open(newline="", encoding="utf-8") as rows:
            files = {os.path.basename(row.get("file") or "") for row in csv.DictReader(rows)} - {""}
    except (OSError, UnicodeDecodeError, csv.Error):
        return []
    nested = [x.name for x in listing.parent.glob("sheet-[0-9][0-9]-*ga.dxf")]
    return nested + [f"{x}.{kind}" for x in files for kind in ("dxf", "svg")]


COLUMNS = (
    "number",
    "piece",
    "sheet",
    "count",
    "where",
    "run",
    "gauge",
    "width_mm",
    "height_mm",
    "cut_m2",
    "bends",
    "holes",
    "file",
    "bought",
)


def write_list(pieces: tuple[ShopPiece, ...], target: Path) -> None:
    """A row for every sheet, and one for every piece that is bought."""
    files = {id(x.pattern): x.file for x in named(pieces)}  # shared by pieces that are made alike
    with target.open("w", newline="", encoding="utf-8") as out:
        rows = csv.writer(out)
        rows.writerow(COLUMNS)
        for x in pieces:
            p = x.piece
            head = (p.number, p.what)
            if not x.patterns:
                rows.writerow((*head, "", "", p.where, p.run or "", p.gauge or "", "", "", "", "", "", "", x.bought))
            for one in x.patterns:
                w, h = one.size_m
                sizes = (f"{w * MM:.1f}", f"{h * MM:.1f}", f"{one.outline.area:.4f}")
                made = (len(list(drawn_bends(one))), len(one.holes), files[id(one)], "")
                rows.writerow((*head, one.name, one.count, p.where, p.run or "", p.gauge or "", *sizes, *made))
