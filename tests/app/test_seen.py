"""What the eye meets: nothing cut in the demo, colours where they should be, marks that differ in shape."""

import itertools
from unittest import mock

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QImage, QPainter

from murvan.app import paint
from murvan.app.theme import DARK, LIGHT
from murvan.model import replace, with_design
from tests.app.base import WindowTest


class TestNothingCut(WindowTest):
    def texts_cut(self, units, dark=False):
        """Every text that is cut with an ellipsis while walking all stations, storeys and lenses."""
        cut = set()
        plain = paint.elided

        def watched(text, size, weight, width):
            out = plain(text, size, weight, width)
            if out != text:
                cut.add((self.window.station.name, text, round(width)))
            return out

        with mock.patch.object(paint, "elided", watched):
            self.window.prefs.set(units=units, dark=dark)
            for number in range(1, 9):
                self.window.go(number)
                for storey in ("ground", "upper"):
                    if number not in (3, 8):
                        self.window.set_storey(storey)
                    for k in range(max(len(self.window.station.lenses), 1)):
                        self.window.set_lens(k)
                        self.settle(0.3 if number == 8 else 0)
                        self.study()
                        self.window.plan.redraw()
                        self.window.grab()
                    self.window.set_lens(0)
        return cut

    def study(self):
        """Where alternatives are shown, wait for them."""
        document = self.window.document
        for _ in range(400):
            known = document.figures.study
            if not self.window.station.wants or (known is not None and known.job is self.job):
                return
            self.settle(0.02)
        self.fail("the study does not land")

    def test_ip_at_1280_by_800(self):
        cut = self.texts_cut("ip")
        # the sheets' names under their thumbnails may be cut; they stand in full on the card
        self.assertEqual({c for c in cut if not (c[0] == "Handover" and c[1][:1].isdigit())}, set())

    def test_si_at_1280_by_800(self):
        cut = self.texts_cut("si", dark=True)
        self.assertEqual({c for c in cut if not (c[0] == "Handover" and c[1][:1].isdigit())}, set())

    def test_a_cut_cell_and_a_cut_heading_can_be_read_by_pointing(self):
        long = "Seal, insulate, new windows and shade the west side for good"
        self.window.edit("Name", lambda job: replace(job, "alternatives", "seal", name=long))
        self.window.go(2)
        self.window.set_lens(self.window.station.lenses.index("What if"))
        self.study()
        self.settle()
        ledger = self.window.ledger
        x, w, _ = next(c for c in ledger._columns() if c[2].title == long)
        self.assertEqual(ledger.cut_text(QPointF(x + w / 2, 10)), long)
        self.assertEqual(ledger.cut_text(QPointF(20, 10)), "")


class TestColours(WindowTest):
    def picture(self, widget):
        self.app.processEvents()
        return widget.grab().toImage()

    def count(self, image, color, tolerance=2):
        """Pixels of a colour."""
        c, n = QColor(color), 0
        for x, y in itertools.product(range(0, image.width(), 2), range(0, image.height(), 2)):
            q = image.pixelColor(x, y)
            n += (
                abs(q.red() - c.red()) <= tolerance
                and abs(q.green() - c.green()) <= tolerance
                and abs(q.blue() - c.blue()) <= tolerance
            )
        return n

    def test_selected_row_is_yellow_and_only_it(self):
        self.station(2)
        self.row("room", "study")
        image = self.picture(self.window.ledger)
        rect = self.window.ledger.row_rect(("room", "study"))
        self.assertEqual(image.pixelColor(4, int(rect.center().y())).name(), LIGHT.name("select").lower())
        other = self.window.ledger.row_rect(("room", "hall"))
        self.assertNotEqual(image.pixelColor(4, int(other.center().y())).name(), LIGHT.name("select").lower())

    def test_room_shade_follows_its_load(self):
        self.station(2)
        self.row("room", "hall")
        before = self.picture(self.window.plan).pixelColor(self.at_room("kitchen", 60, -40))
        self.window.edit("Gain", lambda job: replace(job, "rooms", "kitchen", appliances_w=4000.0))
        self.settle()
        after = self.picture(self.window.plan).pixelColor(self.at_room("kitchen", 60, -40))
        self.assertNotEqual(before.name(), after.name())
        self.assertEqual(after.name(), LIGHT.name("load4").lower())

    def test_heating_lens_has_its_own_colours(self):
        self.station(2)
        cool = self.picture(self.window.plan).pixelColor(self.at_room("study", 60, -40))
        self.key(".")
        heat = self.picture(self.window.plan).pixelColor(self.at_room("study", 60, -40))
        self.assertGreater(cool.blue(), cool.red())
        self.assertGreater(heat.red(), heat.blue())

    def test_sun_bars_only_by_day(self):
        self.station(2)
        self.window.set_hour(15)
        self.settle()
        noon = self.count(self.picture(self.window.plan), LIGHT.name("sun"))
        self.window.set_hour(1)
        self.settle()
        night = self.count(self.picture(self.window.plan), LIGHT.name("sun"))
        self.assertGreater(noon, 200)
        self.assertEqual(night, 0)

    def test_ducts_are_drawn_in_their_colours(self):
        self.station(5)
        self.window.select("room", "hall")
        self.window.set_storey("ground")
        self.settle()
        image = self.picture(self.window.plan)
        for role, least in (("supply", 400), ("return", 300), ("fresh", 30)):
            self.assertGreater(self.count(image, LIGHT.name(role)), least, role)

    def test_wider_duct_is_drawn_wider(self):
        self.station(5)
        self.window.set_storey("ground")
        self.settle()
        before = self.count(self.picture(self.window.plan), LIGHT.name("return"))
        self.window.edit("Wide", lambda job: replace(job, "runs", "RT1", width_m=1.0))
        self.settle()
        after = self.count(self.picture(self.window.plan), LIGHT.name("return"))
        self.assertGreater(after, before * 1.3)

    def test_selected_run_is_ringed_in_yellow_down_to_the_plenum(self):
        self.station(5)
        self.window.select("run", "A5")
        self.settle()
        self.assertEqual(self.window.plan.sheet.selected_path(), {"A5", "SA4", "SA3", "SA2", "SA1"})
        self.assertGreater(self.count(self.picture(self.window.plan), LIGHT.name("select")), 300)

    def test_failed_room_is_tinted_on_the_readings_plan(self):
        self.station(7)
        self.window.select("register", "B4")
        self.settle()
        self.assertEqual(
            self.picture(self.window.plan).pixelColor(self.at_m(2.2, 0.4)).name(), LIGHT.name("fails_soft").lower()
        )

    def test_pieces_still_to_hang_are_hollow(self):
        self.station(6)
        self.window.set_storey("ground")
        self.settle()
        self.assertTrue(self.window.plan.sheet.face_hanging("A1"))
        self.assertFalse(self.window.plan.sheet.face_hanging("A4"))

    def test_active_station_has_the_yellow_boot(self):
        for number in (1, 4, 8):
            self.station(number)
            image = self.picture(self.window.jobline)
            cell = self.window.jobline.cell_rect(number)
            self.assertEqual(image.pixelColor(int(cell.left() + 28), 30).name(), LIGHT.name("select").lower())

    def test_trunk_is_solid_as_far_as_the_job_has_got(self):
        self.assertEqual(self.window.jobline.reached, 7)
        self.window.edit("Unbuilt", lambda job: with_design(job, readings=(), ticks=()))
        self.settle()
        self.assertEqual(self.window.jobline.reached, 5)

    def test_strip_marks_the_hour(self):
        self.station(2)
        self.window.set_hour(10)
        self.settle()
        image = self.picture(self.window.strip)
        r = self.window.strip.chart_rect()
        x = r.left() + 14 + (r.width() - 14) * 9.5 / 24
        self.assertEqual(image.pixelColor(int(x), 30).name(), LIGHT.name("select").lower())


class TestPaint(WindowTest):
    open_demo = False

    def canvas(self, draw, width=40, height=40, theme=LIGHT):
        image = QImage(width, height, QImage.Format.Format_RGB32)
        image.fill(theme("paper"))
        p = QPainter(image)
        draw(p)
        p.end()
        return image

    def test_marks_differ_in_shape_without_colour(self):
        shapes = {}
        for theme in (LIGHT, DARK):
            for kind in ("none", "half", "good", "look", "fails", "stale"):
                image = self.canvas(
                    lambda p, kind=kind, theme=theme: paint.mark(p, kind, 20, 20, theme, 12), theme=theme
                )
                grey = tuple(image.pixelColor(x, y) != theme("paper") for x in range(40) for y in range(40))
                shapes[(theme.dark, kind)] = grey
            kinds = [v for k, v in shapes.items() if k[0] == theme.dark]
            self.assertEqual(len(set(kinds)), 6)

    def test_text_is_where_it_is_asked_for(self):
        image = self.canvas(lambda p: paint.text(p, 190, 30, "123", 20, 700, QColor("#000000"), "r"), 200, 40)
        dark = [x for x in range(200) for y in range(40) if image.pixelColor(x, y).lightness() < 120]
        self.assertLessEqual(max(dark), 190)
        self.assertGreater(min(dark), 130)

    def test_figures_have_one_width(self):
        widths = {paint.text_width(d * 4, 15, 700) for d in "0123456789"}
        self.assertEqual(len(widths), 1)

    def test_elided_fits(self):
        for width in (10, 40, 90, 300):
            self.assertLessEqual(
                paint.text_width(paint.elided("Bedroom 2 north wall", 13, 500, width), 13, 500), max(width, 14)
            )

    def test_wrap_keeps_every_word(self):
        text = (
            "Blower air times this room's need over all rooms' need, both seasons; the larger, scaled to the blower"
        )
        lines = paint.wrap(text, 12, 120)
        self.assertEqual(" ".join(lines), text)
        self.assertTrue(all(paint.text_width(line, 12, 500) <= 120 for line in lines))

    def test_bar_is_clipped_to_its_track(self):
        track = QRectF(5, 10, 100, 10)
        image = self.canvas(lambda p: paint.bar(p, track, 3.0, QColor("#FF0000"), LIGHT, 0.5), 120, 40)
        red = [x for x in range(120) if image.pixelColor(x, 12).red() > 200 and image.pixelColor(x, 12).green() < 90]
        self.assertLessEqual(max(red), 105)
        self.assertEqual(image.pixelColor(55, 9).name(), LIGHT.name("ink").lower())

    def test_value_and_unit(self):
        width = []
        image = self.canvas(
            lambda p: width.append(
                paint.value_unit(p, 10, 30, "114", "cfm", 24, 700, QColor("#000000"), QColor("#777777"))
            ),
            200,
            40,
        )
        self.assertFalse(image.isNull())
        self.assertGreater(width[0], paint.text_width("114", 24, 700) + paint.text_width("cfm", 12, 500))

    def test_key_cap_grows_with_its_label(self):
        sizes = []
        self.canvas(lambda p: sizes.extend(paint.key_cap(p, 0, 0, s, LIGHT) for s in ("V", "Ctrl+Shift+S")))
        self.assertGreater(sizes[1], sizes[0] + 40)

    def test_unknown_icon_is_empty_and_known_ones_take_the_colour(self):
        image = self.canvas(lambda p: paint.draw_icon(p, "no-such-icon", 5, 5, 20, QColor("#FF0000")))
        self.assertEqual(image, self.canvas(lambda p: None))
        image = self.canvas(lambda p: paint.draw_icon(p, "fan", 5, 5, 20, QColor("#FF0000")))
        self.assertTrue(
            any(
                image.pixelColor(x, y).red() > 200 and image.pixelColor(x, y).blue() < 120
                for x in range(40)
                for y in range(40)
            )
        )


class TestHover(WindowTest):
    def test_pointer_rings_a_room_without_drawing_the_plan_anew(self):
        from PyQt6.QtTest import QTest

        self.station(2)
        self.window.plan.grab()
        picture = self.window.plan._picture
        QTest.mouseMove(self.window.plan, self.at_room("kitchen", 30, 30))
        self.app.processEvents()
        self.window.plan.grab()
        self.assertEqual(self.window.plan._hover, ("room", "kitchen"))
        self.assertIs(self.window.plan._picture, picture)

    def test_tooltips_of_job_line_and_tools(self):
        from PyQt6.QtTest import QTest

        line = self.window.jobline
        QTest.mouseMove(line, line.cell_rect(3).center().toPoint())
        self.app.processEvents()
        self.assertIn("Equipment (3)", line.toolTip())
        tools = self.window.tools
        QTest.mouseMove(tools, tools.button_rect(1).center().toPoint())
        self.app.processEvents()
        self.assertIn("Measure", tools.toolTip())

    def test_ledger_scrolls_with_the_wheel(self):
        from PyQt6.QtCore import QPoint
        from PyQt6.QtGui import QWheelEvent

        self.station(6)
        ledger = self.window.ledger
        self.assertEqual(ledger.first, 0)
        down = QWheelEvent(
            QPointF(100, 80),
            QPointF(100, 80),
            QPoint(0, 0),
            QPoint(0, -120),
            Qt.MouseButton.NoButton,
            Qt.KeyboardModifier.NoModifier,
            Qt.ScrollPhase.NoScrollPhase,
            False,
        )
        ledger.wheelEvent(down)
        self.assertEqual(ledger.first, 1)
        for _ in range(500):
            ledger.wheelEvent(down)
        self.assertEqual(ledger.first, len(ledger.ledger.rows) - ledger._visible())

    def test_file_menu_lists_commands_with_their_keys(self):
        from PyQt6.QtWidgets import QMenu

        shown = []
        with mock.patch.object(QMenu, "exec", lambda menu, *_: shown.extend(a.text() for a in menu.actions())):
            self.click(self.window.jobline, QPointF(60, 40))
        self.assertTrue(
            {"New job", "Open a job", "Save", "Save as", "Write the PDF set", "Undo", "IP or SI"} <= set(shown)
        )
