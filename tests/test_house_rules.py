"""House rules as small checks of the tree."""

import re
import subprocess
import sys
import unittest
from pathlib import Path

import numpy as np
from grimp import build_graph
from scipy.sparse import coo_array
from scipy.sparse.csgraph import connected_components

ROOT = Path(__file__).resolve().parent.parent
HEAVY = (
    *("reportlab", "openpyxl", "ezdxf", "fontTools", "PIL", "rectpack", "scipy"),
    *("CoolProp", "fluids", "pandas", "pvlib", "matplotlib", "networkx", "hypothesis"),
)
"""Libraries that are loaded where they are used."""
LATER = (
    "murvan.design.lay.ducts",
    "murvan.design.propose.offer",
    "murvan.design.metal.solids",
    "murvan.documents.pdf",
)
PACKAGES = ("model", "physics", "catalog", "design", "field", "documents", "demo")


def sources(folder="murvan"):
    return sorted((ROOT / folder).rglob("*.py"))


class TestTree(unittest.TestCase):
    def test_every_module_says_what_it_is(self):
        for path in sources():
            self.assertTrue(path.read_text("utf-8").lstrip().startswith('"""'), path.name)

    def test_core_imports_without_qt(self):
        code = "import sys; sys.modules['PyQt6'] = None; import murvan.cli, murvan.design, murvan.field, murvan.documents.pdf, murvan.demo; print('fine')"
        done = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, cwd=ROOT)
        self.assertEqual(done.stdout.strip(), "fine", done.stderr)

    def test_core_starts_light(self):
        """Heavy libraries are loaded where they are used, not at start."""
        code = f"import sys, murvan.cli, murvan.design, murvan.field; print([m for m in {HEAVY} if m in sys.modules])"
        done = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, cwd=ROOT)
        self.assertEqual(done.stdout.strip(), "[]", done.stderr)

    def test_no_module_imports_in_a_circle(self):
        """Also not within functions, and not for types alone."""
        graph = build_graph("murvan")
        names = sorted(graph.modules)
        place = {n: k for k, n in enumerate(names)}
        arrows = [(place[a], place[b]) for a in names for b in graph.find_modules_directly_imported_by(a)]
        ends = np.array(arrows).T
        matrix = coo_array((np.ones(len(arrows)), (ends[0], ends[1])), (len(names), len(names)))
        count, circle = connected_components(matrix, connection="strong")
        met = np.flatnonzero(np.bincount(circle) > 1)
        self.assertGreater(count, 300)
        self.assertEqual([[n for n, c in zip(names, circle, strict=True) if c == k] for k in met], [])

    def test_the_window_starts_light(self):
        code = (
            f"import sys, murvan.app.main, murvan.app.window; print([m for m in {HEAVY + LATER} if m in sys.modules])"
        )
        done = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, cwd=ROOT)
        self.assertEqual(done.stdout.strip(), "[]", done.stderr)

    def test_fonts_and_icons_ship_with_licence(self):
        self.assertTrue((ROOT / "murvan" / "fonts" / "OFL.txt").is_file())
        self.assertEqual(len(list((ROOT / "murvan" / "fonts").glob("*.ttf"))), 4)
        self.assertGreater(len(list((ROOT / "murvan" / "app" / "theme" / "icons").glob("*.svg"))), 80)
        self.assertIn("GNU GENERAL PUBLIC LICENSE", (ROOT / "LICENSE").read_text("utf-8"))

    def test_readme_links_every_picture(self):
        readme = (ROOT / "README.md").read_text("utf-8")
        pictures = list((ROOT / "docs" / "screenshots").glob("*.png"))
        self.assertTrue(10 <= len(pictures) < 20)
        for p in pictures:
            self.assertIn(f"docs/screenshots/{p.name}", readme)

    def test_lock_pins_every_requirement(self):
        text = (ROOT / "requirements.lock").read_text().replace("\\\n", " ")
        lines = [x for x in text.splitlines() if x.strip() and not x.startswith("#")]
        pin = r"[A-Za-z0-9_.-]+==[A-Za-z0-9.+!]+( +--hash=sha256:[0-9a-f]{64})+ *"
        self.assertEqual([x for x in lines if not re.fullmatch(pin, x)], [])
        self.assertIn("--require-hashes", (ROOT / "run").read_text())
        pinned = {x.split("==")[0].lower().replace("_", "-") for x in lines}
        wanted = re.findall(
            r'"([A-Za-z0-9-]+)(?:>=[\d.]+)?"',
            (ROOT / "pyproject.toml").read_text().split("dependencies")[1].split("]")[0],
        )
        self.assertFalse({w.lower() for w in wanted} - pinned)

    def test_sources_keep_from_memory_values_labelled(self):
        """The tables of the domain that come from memory say so."""
        for name in ("ductflow", "sun", "heat"):
            self.assertIn("from memory", (ROOT / "murvan" / "physics" / f"{name}.py").read_text("utf-8"))
