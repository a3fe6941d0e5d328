"""The house paced out: table, layout, loads as drawn, CSV in and out."""

from __future__ import annotations

import unittest

from hypothesis import given, settings
from hypothesis import strategies as st
from shapely.geometry import Polygon
from shapely.ops import unary_union

from murvan.design import solve
from murvan.design.drawing.pace import (
    PaceRow,
    add_row,
    arrange,
    cell_text,
    clean_sides,
    from_csv,
    import_rows,
    layout,
    rows_of,
    set_row,
    settle_overrides,
    to_csv,
    with_cell,
)
from murvan.design.drawing.rooms import draw_room
from murvan.design.drawing.things import add_furniture
from murvan.design.drawing.turning import move_rooms, shift
from murvan.model import JobValueError
from murvan.model.edit import changed
from tests.houses import FT, box

HOUSE = (
    PaceRow("Living", 5.0, 4.5, None, "NW", (3.0, 0.0, 0.0, 2.0)),
    PaceRow("Bedroom 1", 4.0, 4.5, None, "NE", (0.0, 2.0, 0.0, 0.0)),
    PaceRow("Kitchen", 5.0, 3.5, None, "SW", (0.0, 0.0, 2.4, 0.0)),
    PaceRow("Bath", 4.0, 3.5, 2.3, "ES", (0.0, 0.0, 0.6, 0.0)),
)


def empty():
    return changed(box(), "", rooms=(), openings=())


def drawn():
    """The same house drawn: rooms by rectangle, windows as the table places them."""
    job = empty()
    for row, (x, y) in zip(HOUSE, ((0, 0), (5, 0), (0, 4.5), (5, 4.5)), strict=True):
        outline = ((x, y), (x + row.length_m, y), (x + row.length_m, y + row.width_m), (x, y + row.width_m))
        job = draw_room(job, "g", outline, row.name).job
    rooms = tuple(changed(r, height_m=2.3) if r.name == "Bath" else r for r in job.rooms)
    paced = import_rows(empty(), "g", HOUSE)
    return changed(job, "", rooms=rooms, openings=paced.openings)


class Table(unittest.TestCase):
    def test_the_same_house_typed_gives_the_same_loads_as_drawn(self):
        a, b = solve(import_rows(empty(), "g", HOUSE)).loads, solve(drawn()).loads
        for x, y in zip(a.heating_w, b.heating_w, strict=True):
            self.assertAlmostEqual(x, y, places=6)
        for x, y in zip(a.sensible_w, b.sensible_w, strict=True):
            self.assertAlmostEqual(x, y, places=6)

    def test_what_the_plan_shows_by_itself_needs_no_override(self):
        self.assertEqual(import_rows(empty(), "g", HOUSE).wall_overrides, ())

    def test_glass_lies_on_the_side_typed_with_the_area_typed(self):
        rows = rows_of(import_rows(empty(), "g", HOUSE), "g")
        for typed, read in zip(HOUSE, rows, strict=True):
            self.assertEqual(read.outside, typed.outside, typed.name)
            for x, y in zip(read.glass_m2, typed.glass_m2, strict=True):
                self.assertAlmostEqual(x, y, places=4)

    def test_an_inner_wall_stays_one_though_nothing_lies_beyond_it(self):
        job = add_row(empty(), "g", PaceRow("Flat", 6, 5, None, "S")).job
        g = solve(job).geometry
        self.assertEqual({w.compass for w in g.walls if w.other == "outdoors"}, {"S"})

    def test_left_open_the_plan_decides(self):
        job = add_row(empty(), "g", PaceRow("Flat", 6, 5)).job
        self.assertEqual(rows_of(job, "g")[0].outside, "NESW")
        self.assertEqual(job.wall_overrides, ())

    def test_an_override_goes_when_the_plan_comes_to_show_it(self):
        job = add_row(empty(), "g", PaceRow("West", 4, 4, None, "NSW")).job
        job = add_row(job, "g", PaceRow("East", 4, 4, None, "NES")).job
        apart = move_rooms(job, {"room2"}, shift(3.0, 0.0))
        self.assertEqual(len(settle_overrides(apart, {"room1", "room2"}).wall_overrides), len(apart.wall_overrides))
        self.assertEqual(settle_overrides(job, {"room1", "room2"}).wall_overrides, ())

    def test_one_cell_changes_only_what_it_names(self):
        job = import_rows(empty(), "g", HOUSE)
        row = next(r for r in rows_of(job, "g") if r.name == "Kitchen")
        longer = set_row(job, with_cell(row, "length", "6 m", "si")).job
        self.assertAlmostEqual(next(r for r in rows_of(longer, "g") if r.id == row.id).length_m, 6.0)
        self.assertEqual([r for r in longer.rooms if r.id != row.id], [r for r in job.rooms if r.id != row.id])
        more = set_row(job, with_cell(row, "glass_s", "40", "ip")).job
        self.assertAlmostEqual(rows_of(more, "g")[2].glass_m2[2], 40 * FT * FT, places=4)
        none = set_row(job, with_cell(row, "glass_s", "", "ip")).job
        self.assertEqual(rows_of(none, "g")[2].glass_m2[2], 0.0)

    def test_windows_stay_on_their_sides_when_a_room_grows(self):
        job = import_rows(empty(), "g", HOUSE)
        row = rows_of(job, "g")[0]
        bigger = set_row(job, with_cell(with_cell(row, "length", "8 m", "si"), "width", "7 m", "si")).job
        self.assertEqual(rows_of(bigger, "g")[0].glass_m2, row.glass_m2)

    def test_a_wall_too_short_for_its_window_is_said(self):
        job = import_rows(empty(), "g", HOUSE)
        with self.assertRaisesRegex(JobValueError, "Living G1 is wider than the wall of 1.00 m"):
            set_row(job, with_cell(rows_of(job, "g")[0], "length", "1 m", "si"))

    def test_what_stands_in_a_room_goes_along_when_the_boxes_are_arranged(self):
        job = move_rooms(import_rows(empty(), "g", HOUSE), {"room2"}, shift(20.0, 3.0))
        x0, y0 = job.rooms[1].outline_m[0]
        job = add_furniture(job, "g", (x0 + 2.0, y0 + 2.0)).job
        bed = arrange(job, "g").furniture[0]
        x1, y1 = arrange(job, "g").rooms[1].outline_m[0]
        self.assertAlmostEqual(bed.position_m[0] - x1, 2.0)
        self.assertAlmostEqual(bed.position_m[1] - y1, 2.0)

    def test_an_l_shaped_room_keeps_its_walls(self):
        job = draw_room(
            draw_room(empty(), "g", ((0, 0), (3, 0), (3, 3), (0, 3)), "Study").job,
            "g",
            ((0, 0), (5, 0), (5, 5), (0, 5)),
            "Hall",
        ).job
        row = next(r for r in rows_of(job, "g") if r.name == "Hall")
        self.assertFalse(row.box)
        with self.assertRaisesRegex(JobValueError, "no box"):
            set_row(job, with_cell(row, "length", "9", "si"))
        self.assertEqual(arrange(job, "g").rooms[1].outline_m, job.rooms[1].outline_m)

    def test_wrong_cells_are_said_with_their_place(self):
        row = PaceRow("Den", 4, 3)
        for column, typed, words in (
            ("length", "abc", "Den, length: Can't read"),
            ("height", "0", None),
            ("glass_n", "-4", "less than nothing"),
        ):
            with self.subTest(column):
                if words:
                    with self.assertRaisesRegex(JobValueError, words):
                        with_cell(row, column, typed, "si")
        for bad, words in (
            (PaceRow("", 4, 3), "name"),
            (PaceRow("Den", 0.0, 3), "length of 0.00 m"),
            (PaceRow("Den", 4, 300), "width of 300"),
            (PaceRow("Den", 4, 3, None, "NX"), "“X” is none"),
            (PaceRow("Den", 4, 3, None, "N", (40.0, 0, 0, 0)), "does not go into its north wall"),
            (PaceRow("Den", 4, 3, 0.0), "height"),
        ):
            with self.subTest(words), self.assertRaisesRegex(JobValueError, words):
                add_row(empty(), "g", bad)

    def test_sides_are_read_as_people_write_them(self):
        for typed, sides in (
            ("n, west", "NW"),
            ("NW", "NW"),
            ("s/e", "ES"),
            ("none", ""),
            ("", None),
            ("North East", "NE"),
            ("wwn", "NW"),
        ):
            with self.subTest(typed):
                self.assertEqual(clean_sides(typed), sides)

    def test_cells_show_both_units(self):
        row = PaceRow("Den", 4 * FT, 3.0, None, "NE", (1.0, 0, 0, 0))
        self.assertEqual(cell_text(row, "length", "ip"), "4′ 0″")
        self.assertEqual(cell_text(row, "width", "si"), "3.00")
        self.assertEqual(cell_text(row, "outside", "si"), "N E")
        self.assertEqual(cell_text(row, "height", "si"), "")


class Layout(unittest.TestCase):
    @given(
        st.lists(
            st.tuples(
                st.floats(1.5, 8),
                st.floats(1.5, 8),
                st.sampled_from(["NW", "N", "NE", "W", "", "E", "SW", "S", "SE"]),
            ),
            min_size=1,
            max_size=14,
        )
    )
    @settings(max_examples=80, deadline=None)
    def test_boxes_never_overlap_and_hang_together(self, boxes):
        rows = [PaceRow(f"R{k}", w, d, None, s) for k, (w, d, s) in enumerate(boxes)]
        shapes = [
            Polygon([(x, y), (x + r.length_m, y), (x + r.length_m, y + r.width_m), (x, y + r.width_m)])
            for r, (x, y) in zip(rows, layout(rows), strict=True)
        ]
        union = unary_union([s.buffer(1e-4) for s in shapes])
        self.assertAlmostEqual(unary_union(shapes).area, sum(s.area for s in shapes), places=2)
        self.assertEqual(union.geom_type, "Polygon")

    def test_nothing_to_arrange_is_said(self):
        with self.assertRaisesRegex(JobValueError, "no box"):
            arrange(empty(), "g")
        with self.assertRaisesRegex(JobValueError, "no rooms"):
            import_rows(empty(), "g", ())


class Csv(unittest.TestCase):
    def test_there_and_back_in_both_units(self):
        for units in ("ip", "si"):
            with self.subTest(units):
                back = from_csv(to_csv(HOUSE, units), "si" if units == "ip" else "ip")
                for a, b in zip(HOUSE, back, strict=True):
                    self.assertEqual((a.name, a.outside), (b.name, b.outside))
                    self.assertAlmostEqual(a.length_m, b.length_m, places=4)
                    self.assertAlmostEqual(sum(a.glass_m2), sum(b.glass_m2), places=3)

    def test_columns_in_any_order_with_other_names_and_typed_lengths(self):
        rows = from_csv("Width,Room,Length,Outside walls\n11' 6,Den,14 ft,n w\n3 m,Loft,4 m,\n", "ip")
        self.assertAlmostEqual(rows[0].width_m, 11.5 * FT)
        self.assertEqual((rows[0].outside, rows[1].outside), ("NW", None))
        self.assertEqual(rows[1].length_m, 4.0)

    def test_what_is_wrong_is_named_by_line_and_column(self):
        for text, words in (
            ("", "empty"),
            ("name,length\nDen,4\n", "no column “width”"),
            ("name,length,width\n", "no rooms"),
            ("name,length,width\nDen,4,x\n", "Line 2, width"),
            ("name,length,width\nDen,4,\n", "Line 2, Den: length and width"),
            ("name,length,width\nDen,4,3\n,4,3\n", "Line 3: Give the room a name"),
            ("name,length,width,outside\nDen,4,3,Q\n", "Line 2: Den: outside walls"),
            ('name,length,width\n"Den,4,3\n', "can't be read as CSV"),
        ):
            with self.subTest(words), self.assertRaisesRegex(JobValueError, words):
                from_csv(text, "si")


if __name__ == "__main__":
    unittest.main()
