"""Odd houses on every lens of Loads: nothing that is no number is ever shown, and bad entries leave the job as it was."""

from __future__ import annotations

import re
import unittest
from unittest import mock

from PyQt6.QtWidgets import QLineEdit

from murvan.app import paint
from murvan.app.stations.start import draft_job
from murvan.model import Room, Site
from murvan.model.edit import changed
from tests.app.base import WindowTest
from tests.houses import box, demo, two_rooms

NO_NUMBER = re.compile(r"\b(nan|inf)\b|^None$", re.I)


def bare(job):
    """The job without constructions, glazings and what refers to them."""
    roles = ("wall", "partition", "ceiling", "floor", "door", "roof", "raised", "basement", "knee")
    return changed(job, "", constructions=(), openings=(), **{f"{r}_construction": None for r in roles})


def odd_jobs():
    inner = Room(id="c", name="Store without outside walls", storey="g", outline_m=((1, 1), (2, 1), (2, 2), (1, 2)))
    ring = changed(two_rooms(), "", rooms=(*two_rooms().rooms, inner))
    south = changed(demo(), "", site=changed(demo().site, "", latitude_deg=-38.0))
    return {
        "nothing drawn": draft_job(),
        "no windows": box(6, 4, openings=()),
        "no constructions": bare(box(6, 4, openings=())),
        "a room without outside walls": ring,
        "sun at midnight": box(6, 4, site=Site(latitude_deg=71)),
        "southern": south,
        "winter warmer than the room": changed(
            box(6, 4), "", climate=changed(box().climate, "", winter_c=25.0, summer_c=34.0)
        ),
        "summer colder than the room": changed(
            box(6, 4), "", climate=changed(box().climate, "", summer_c=16.0, summer_wet_bulb_c=12.0, winter_c=-30.0)
        ),
        "one tiny room": box(0.4, 0.4, openings=()),
        "long names": changed(
            demo(),
            "",
            rooms=tuple(
                changed(r, "", name=f"{r.name} of the very long name {k}" * 3) for k, r in enumerate(demo().rooms)
            ),
        ),
    }


class OddHouses(WindowTest):
    open_demo = False

    def shown(self):
        """Every text that the window paints or has in its fields."""
        seen = []
        real = paint._laid_out

        def laid_out(s, size, weight):
            seen.append(s)
            return real(s, size, weight)

        with mock.patch.object(paint, "_laid_out", laid_out):
            self.window.grab()
        return seen + [x.text() for x in self.window.findChildren(QLineEdit) if x.isVisible()]

    def each_lens(self):
        for lens in range(len(self.window.station.lenses)):
            self.window.set_lens(lens)
            self.settle()
            hour = (17, 3)[lens % 2]
            self.window.set_hour(hour)
            self.settle(0.03)
            yield lens, hour

    def test_nothing_that_is_no_number_is_shown(self):
        for name, job in odd_jobs().items():
            self.window.document.stack.setClean()
            self.window.document.open_job(job, None)
            self.settle()
            self.station(2)
            self.window.prefs.set(units="si" if len(name) % 2 else "ip")
            for lens, hour in self.each_lens():
                with self.subTest(name, lens=lens, hour=hour):
                    self.assertEqual([s for s in self.shown() if NO_NUMBER.search(s)], [])

    def test_every_room_of_an_odd_house_has_a_card(self):
        for name in ("a room without outside walls", "no constructions", "one tiny room"):
            job = odd_jobs()[name]
            self.window.document.stack.setClean()
            self.window.document.open_job(job, None)
            self.settle()
            self.station(2)
            for room in job.rooms:
                for lens in range(3):
                    with self.subTest(name, room=room.id, lens=lens):
                        self.window.set_lens(lens)
                        self.window.select("room", room.id)
                        self.settle()
                        self.assertEqual(self.card.title, room.name)
                        self.assertEqual([s for s in self.shown() if NO_NUMBER.search(s)], [])


class BadEntries(WindowTest):
    def test_each_is_refused_in_words_and_the_job_stays(self):
        self.station(2)
        self.window.set_lens(self.window.station.lenses.index("Climate"))
        self.settle()
        fields = [f.key for s in self.card.sections for f in getattr(s, "fields", ())]
        self.assertTrue(fields)
        tried = 0
        before = self.job
        for key in fields:
            field = self.window.card.field(key)
            if not isinstance(field, QLineEdit) or not field.isVisible():
                continue
            for text in ("300 %", "-9999", "1e400", "nan", "warm"):
                with self.subTest(key, text=text):
                    self.type_into(key, text)
                    self.settle()
                    tried += 1
                    if key in ("climate.name", "site.place"):
                        # a name takes any words
                        self.window.document.stack.undo()
                        self.settle()
                    self.assertEqual(self.job, before)
        self.assertGreater(tried, 20)


if __name__ == "__main__":
    unittest.main()
