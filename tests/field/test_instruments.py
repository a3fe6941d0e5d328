"""Instruments over a line: what comes is what was read, and a bad line never loses or invents a reading."""

import os
import pty
import socket
import threading
import unittest

from murvan.field import Visit
from murvan.field.instruments import Faulty, Instrument, InstrumentError, served
from murvan.field.instruments.lines import GarbledError, Line, parsed
from murvan.field.places import key_of, places
from tests.field.fitted import fitted_house
from tests.houses import demo


class TestLines(unittest.TestCase):
    def test_there_and_back(self):
        line = Line("=", 7, ("B4", "flow", "35.1", "cfm", "Flow | hood*", "sim"))
        self.assertEqual(parsed(line.text()), Line("=", 7, ("B4", "flow", "35.1", "cfm", "Flow / hoodx", "sim")))

    def test_one_changed_letter_is_seen(self):
        text = Line("=", 7, ("B4", "flow", "35.1", "cfm", "Hood", "")).text()
        for k in range(len(text)):
            other = text[:k] + ("0" if text[k] != "0" else "1") + text[k + 1 :]
            with self.assertRaises(GarbledError, msg=other):
                parsed(other)

    def test_nonsense(self):
        for text in ("", "*", "hello", "=x|B4*00000000", "=1|" + "a" * 500):
            with self.assertRaises(GarbledError):
                parsed(text)


class TestInstruments(unittest.TestCase):
    def setUp(self):
        b = fitted_house().built
        self.visit = Visit(b.r, b, (), 5)
        self.places = places(demo())

    def take(self, address, word="B4", wait_s=1.0):
        with Instrument(address, wait_s) as line:
            return line.read(demo(), self.places[word], "m1", "Fri 09:10", "ks")

    def test_a_reading_comes_in_and_says_it_is_simulated(self):
        with served(self.visit, self.places) as port:
            for word in ("B4", "static-supply", "temp-supply", "unit1", "B4.boot"):
                r = self.take(f"127.0.0.1:{port}", word)
                self.assertTrue(r.simulated)
                self.assertEqual(key_of(r), self.places[word].key)
                least = {"flow": 0.002, "static": 2.0, "temperature": 1.2, "power": 12.0}[r.quantity]
                self.assertAlmostEqual(r.value, self.visit.shown(self.places[word]), delta=0.1 * abs(r.value) + least)
        self.assertEqual((r.taken, r.person), ("Fri 09:10", "ks"))

    def test_dropped_garbled_and_late_lines_lose_and_invent_nothing(self):
        """Forty readings over a line that spoils four in ten: each is the instrument's own answer, or an error."""
        with served(self.visit, self.places, faulty=Faulty(0.15, 0.15, 0.1, 0.25, 3)) as port:
            came, failed = 0, 0
            words = ["B1", "B2", "A4", "static-supply"]
            for k in range(40):
                word = words[k % 4]
                try:
                    r = self.take(f"127.0.0.1:{port}", word, 0.15)
                except InstrumentError:
                    failed += 1
                    continue
                came += 1
                self.assertEqual(r.at.id, self.places[word].at.id)
                self.assertAlmostEqual(r.value, self.visit.shown(self.places[word]), delta=0.1 * abs(r.value) + 2.0)
        self.assertEqual(came + failed, 40)
        self.assertGreater(came, 30)

    def test_a_late_answer_is_not_taken_for_the_next_reading(self):
        """The answer for A4 comes after B4 was asked for: B4's own is what counts."""
        listener = socket.create_server(("127.0.0.1", 0))

        def slow():
            with listener.accept()[0] as s, s.makefile("rw", encoding="utf-8", newline="\n") as f:
                first = parsed(f.readline())
                second = parsed(f.readline())
                for q, figure in ((first, "99"), (second, "21")):
                    f.write(Line("=", q.number, (q.fields[1], "flow", figure, "L/s", "Hood", "")).text() + "\n")
                f.flush()

        thread = threading.Thread(target=slow, daemon=True)
        thread.start()
        with Instrument(f"127.0.0.1:{listener.getsockname()[1]}", 0.3) as line:
            r = line.read(demo(), self.places["B4"], "m1")
        thread.join(2)
        listener.close()
        self.assertAlmostEqual(r.value, 0.021)
        self.assertFalse(r.simulated)

    def test_what_can_not_be_is_refused_in_words(self):
        cases = (
            (("B4", "flow", "-5", "L/s", "Hood", ""), "can't be what is read there"),
            (("B4", "flow", "20", "in wc", "Hood", ""), "B4"),
            (("B4", "flow", "20", "", "Hood", ""), "can't be"),
            (("A4", "flow", "20", "L/s", "Hood", ""), "something else"),
            (("B4", "flow", "twenty", "L/s", "Hood", ""), "B4"),
        )
        for fields, words in cases:
            with self.subTest(fields=fields), self.assertRaisesRegex(InstrumentError, words):
                self.take(self.answering("=", fields))
        with self.assertRaisesRegex(InstrumentError, "says “battery low”"):
            self.take(self.answering("!", ("battery low",)))

    def answering(self, sort, fields):
        listener = socket.create_server(("127.0.0.1", 0))
        self.addCleanup(listener.close)

        def once():
            with listener.accept()[0] as s, s.makefile("rw", encoding="utf-8", newline="\n") as f:
                f.write(Line(sort, parsed(f.readline()).number, fields).text() + "\n")
                f.flush()

        threading.Thread(target=once, daemon=True).start()
        return f"127.0.0.1:{listener.getsockname()[1]}"

    def test_over_a_serial_line(self):
        ours, theirs = pty.openpty()
        name = os.ttyname(theirs)

        def answer():
            got = b""
            while b"\n" not in got:
                got += os.read(ours, 100)
            q = parsed(got.decode())
            os.write(
                ours, (Line("=", q.number, ("B4", "flow", "42", "cfm", "Flow hood 1", "")).text() + "\n").encode()
            )

        threading.Thread(target=answer, daemon=True).start()
        r = self.take(name)
        self.assertAlmostEqual(r.value, 42 * 0.000471947, places=6)
        os.close(ours)
        os.close(theirs)

    def test_nobody_there(self):
        with socket.create_server(("127.0.0.1", 0)) as s:
            free = s.getsockname()[1]
        with self.assertRaisesRegex(InstrumentError, "No instrument answers at 127.0.0.1"):
            self.take(f"127.0.0.1:{free}")
        with self.assertRaisesRegex(InstrumentError, "a host with its port"):
            self.take("hood:front")
        with self.assertRaisesRegex(InstrumentError, "No instrument answers at /dev/null"):
            self.take("/dev/null")
        with self.assertRaisesRegex(InstrumentError, "No instrument answers at /nowhere"):
            self.take("/nowhere")
