"""Patterns as files: read back by ezdxf, out of the PDF, folded from it as from paper, and by the command line."""

import base64
import csv
import re
import tempfile
import unittest
import zlib
from contextlib import redirect_stderr, redirect_stdout
from io import StringIO
from pathlib import Path
from xml.etree import ElementTree

import ezdxf
import numpy as np
import shapely
from shapely.geometry import LineString, Polygon
from shapely.ops import polygonize, unary_union

from murvan.cli import main
from murvan.design.metal.develop import patterns
from murvan.design.metal.solids import Hole, box, elbow, square_to_round
from murvan.documents.patterns import Named, drawn_bends, svg_text, write_dxf
from murvan.documents.patterns_pdf import size_words, tiles, write_pdf
from murvan.model.shop import Shop

PLAIN = Shop(slip_m=0, drive_m=0, end_m=0, lock_pocket_m=0, lock_flange_m=0, hem_m=0)
HOLES = [("front", Hole(0, 0.15, 0.35, (0.2,), "S1")), ("back", Hole(0, 0.2, 0.3, (0.15, 0.1), "T1"))]


def named(solid, shop=None):
    return [Named(f"{k:03d}", f"Piece, {p.name}", (k,), p) for k, p in enumerate(patterns(solid, shop or Shop()), 1)]


class Files(unittest.TestCase):
    def setUp(self):
        self.folder = Path(self.enterContext(tempfile.TemporaryDirectory()))

    def test_dxf_read_back_gives_the_same_lengths(self):
        for solid in (box(0.5, 0.4, 0.6, HOLES), square_to_round((0.4, 0.3), 0.25, 0.3), elbow(0.4, 0.2, 0.1)):
            for x in named(solid):
                write_dxf(x, self.folder / "one.dxf")
                space = ezdxf.readfile(self.folder / "one.dxf").modelspace()
                rings = [Polygon([(a, b) for a, b, *_ in e.get_points()]) for e in space.query("LWPOLYLINE")]
                outline = max(rings, key=lambda r: r.area)
                self.assertAlmostEqual(outline.length, 1000 * x.pattern.outline.exterior.length, 6)
                bends = [
                    float((e.dxf.end - e.dxf.start).magnitude) for e in space.query("LINE") if e.dxf.layer == "BEND"
                ]
                wanted = [1000 * LineString([b.start_m, b.end_m]).length for b in drawn_bends(x.pattern)]
                np.testing.assert_allclose(sorted(bends), sorted(wanted), atol=1e-6)
                round_ = [e.dxf.radius for e in space.query("CIRCLE")]
                self.assertEqual(
                    sorted(round_), sorted(500 * h.size_m[0] for h in x.pattern.holes if len(h.size_m) == 1)
                )
                self.assertLessEqual({e.dxf.layer for e in space}, {"CUT", "BEND", "MARK"})

    def test_svg_is_as_large_as_the_sheet(self):
        for x in named(box(0.5, 0.4, 0.6, HOLES)):
            root = ElementTree.fromstring(svg_text(x))
            w, h = (float(root.attrib[k].removesuffix("mm")) for k in ("width", "height"))
            np.testing.assert_allclose((w, h), [1000 * v for v in x.pattern.size_m], atol=1e-3)
            path = root.find("{http://www.w3.org/2000/svg}path").attrib["d"]
            ring = Polygon([tuple(map(float, q.split())) for q in path[1:-1].split("L")])
            self.assertAlmostEqual(ring.length, 1000 * x.pattern.outline.exterior.length, 1)

    def test_words_of_a_size(self):
        self.assertEqual(
            [size_words(v * 0.0254, "ip") for v in (10, 10.5, 0.25, 7.19, 9.999)],
            ["10 in", "10 1/2 in", "1/4 in", "7 3/16 in", "10 in"],
        )
        self.assertEqual(size_words(0.1234, "si"), "123.4 mm")

    def test_a_box_is_built_of_paper_from_the_pdf(self):
        """The full-size lines of a tile, cut along, folded by 90 degrees at every bend, and measured."""
        (wrap, _) = named(box(0.5, 0.4, 0.6), PLAIN)
        write_pdf((wrap,), self.folder / "one.pdf", "si")
        across, up = tiles(wrap, "si")
        pages = streams(self.folder / "one.pdf")
        self.assertEqual(len(pages), 1 + across * up)
        outline, bends = lines_of(pages[1])
        faces = sorted(polygonize(unary_union([outline.exterior, *bends])), key=lambda p: p.centroid.x)
        self.assertEqual(len(faces), 4)
        widths = [p.bounds[2] - p.bounds[0] for p in faces]
        np.testing.assert_allclose(widths, [0.5, 0.4, 0.5, 0.4], atol=0.4e-3)
        np.testing.assert_allclose([p.bounds[3] - p.bounds[1] for p in faces], 0.6, atol=0.4e-3)
        # folded up: each side goes on from the end of the one before, a right angle on
        at, way = np.zeros(2), np.array([1.0, 0.0])
        corners = [at]
        for w in widths:
            at = at + w * way
            way = np.array([-way[1], way[0]])
            corners.append(at)
        self.assertLess(np.linalg.norm(corners[-1] - corners[0]), 0.4e-3)
        np.testing.assert_allclose(corners[2], (0.5, 0.4), atol=0.4e-3)

    def test_tiles_cover_the_sheet(self):
        for x in named(box(0.5, 0.4, 0.6)):
            for units, page in (("si", (210, 297)), ("ip", (215.9, 279.4))):
                for count, size, side in zip(tiles(x, units), x.pattern.size_m, page, strict=True):
                    step = side - 24 - 10
                    self.assertGreaterEqual(count * step + 10, 1000 * size - 0.01)
                    self.assertLess((count - 1) * step + 10, 1000 * size + 0.01)


class CommandLine(unittest.TestCase):
    def run_(self, *words):
        out, err = StringIO(), StringIO()
        with redirect_stdout(out), redirect_stderr(err):
            status = main(list(words))
        return status, out.getvalue(), err.getvalue()

    def test_every_piece_is_in_the_list_and_every_file_there(self):
        with tempfile.TemporaryDirectory() as folder:
            status, out, _ = self.run_("patterns", "bungalow", "--out", folder, "--dxf", "--svg", "--pdf")
            self.assertEqual(status, 0)
            self.assertIn("patterns for", out)
            rows = list(csv.DictReader((Path(folder) / "pieces.csv").open(encoding="utf-8")))
            files = {r["file"] for r in rows if r["file"]}
            for end in (".dxf", ".svg"):
                found = {p.stem for p in Path(folder).glob(f"*{end}") if not p.stem.startswith("sheet-")}
                self.assertEqual(found, files)
            self.assertGreater((Path(folder) / "patterns.pdf").stat().st_size, 10_000)
            self.assertTrue(all(bool(r["file"]) != bool(r["bought"]) for r in rows))
            nest = list(csv.DictReader((Path(folder) / "sheets.csv").open(encoding="utf-8")))
            self.assertEqual(len(nest), sum(int(r["count"]) for r in rows if r["file"]))
            last = max(int(r["sheet"]) for r in nest)
            self.assertEqual(len(list(Path(folder).glob("sheet-*.dxf"))), last)
            one = ezdxf.readfile(next(Path(folder).glob("sheet-01-*.dxf"))).modelspace()
            self.assertEqual(len(one.query("TEXT")), sum(r["sheet"] == "1" for r in nest))
            self.assertGreater((Path(folder) / "nesting.pdf").stat().st_size, 2000)
            plenum = next(r for r in rows if r["piece"] == "Supply plenum" and r["sheet"] == "wrap")
            self.assertGreater(float(plenum["cut_m2"]), 0.5)

    def test_without_ducts_it_is_said(self):
        with tempfile.TemporaryDirectory() as folder:
            job = Path(folder) / "bare.murvan"
            from murvan.model import save_job
            from tests.houses import box as bare

            save_job(bare(), job)
            status, _, err = self.run_("patterns", str(job), "--out", folder)
            self.assertEqual(status, 2)
            self.assertIn("no sheet metal yet", err)


def streams(path):
    """The drawing of every page, as text."""
    found = []
    for raw in re.findall(rb"stream\r?\n(.*?)endstream", path.read_bytes(), re.S):
        try:
            text = zlib.decompress(base64.a85decode(raw.strip().removesuffix(b"~>"))).decode("latin-1")
        except (ValueError, zlib.error):
            continue
        if " cm" in text and ("BT" in text):
            found.append(text)
    return found


def lines_of(text):
    """The longest path of a page and its dashed lines, in m of paper."""
    ops = re.findall(r"(-?[\d.]+) (-?[\d.]+) (m|l)\b", text)
    paths, path = [], []
    for x, y, op in ops:
        if op == "m":
            path = []
            paths.append(path)
        path.append((float(x) * 0.0254 / 72, float(y) * 0.0254 / 72))
    outline = Polygon(max(paths, key=len))
    inside = outline.buffer(1e-4)
    whole = [LineString(p) for p in paths if len(p) == 2 and len(set(p)) == 2]
    bends = [x for x in whole if inside.covers(x) and x.length > 0.1]
    return outline, [shapely.affinity.scale(x, 1.001, 1.001) for x in bends]


if __name__ == "__main__":
    unittest.main()
