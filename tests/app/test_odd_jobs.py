"""Odd but allowed jobs at every station, in both units and themes: no exception, no figure that is none."""

import unittest

from murvan.catalog import units
from murvan.demo import demo_job
from murvan.model import Opening, Register, Room, with_design
from murvan.model.edit import changed, replace, replace_part
from tests.app.base import WindowTest
from tests.houses import box, fan, set_unit, two_rooms


def huge():
    job = box(300, 300)
    return changed(set_unit(job, unit="orvane-vh-30"), "", leakage=changed(job.leakage, "", ach50=60.0))


def odd():
    demo = demo_job()
    yield "huge", huge()
    yield "no runs", with_design(demo, readings=(), ticks=(), runs=(), registers=(), plenums=())
    yield "no rooms", changed(box(), "", rooms=(), openings=())
    yield "winter warmer than the room", replace_part(demo, "climate", winter_c=28.0)
    yield "as warm as inside", replace_part(demo, "climate", winter_c=demo.indoor.heating_c)
    yield "no load", changed(set_unit(box(6, 4, openings=()), unit="orvane-vh-30"), "", bedrooms=0)
    for kind in dict.fromkeys(u.kind for u in units().values()):
        unit = next(u.id for u in units().values() if u.kind == kind)
        yield f"{kind}", set_unit(demo, unit=unit, candidates=tuple(units()))
    yield "an unknown unit", set_unit(demo, unit="never-made")
    yield "no hours", replace_part(demo, "climate", bin_hours=())
    register = Register(indoor="unit1", id="x", tag="X", room="a", position_m=(1, 1), width_m=0.3, height_m=0.3)
    yield "register without a run", with_design(set_unit(box(), unit="orvane-vh-30"), registers=(register,))
    yield "fans", fan(demo, kind="exhaust", flow_m3_s=1.9)
    yield "high", replace_part(demo, "site", altitude_m=4500.0, latitude_deg=-72.0)
    yield "shut", with_design(demo, runs=tuple(changed(r, "", damper=0.0) for r in demo.design.runs))
    yield (
        "tiny ducts",
        with_design(demo, runs=tuple(changed(r, "", shape="round", diameter_m=0.021) for r in demo.design.runs)),
    )
    yield (
        "long names",
        changed(
            demo,
            "N" * 200,
            name="N" * 200,
            rooms=tuple(changed(r, "", name=f"{r.name} {'long ' * 30}"[:200]) for r in demo.rooms),
        ),
    )
    yield "control characters", replace(demo, "rooms", demo.rooms[0].id, name="Li\x07ving\x00")
    door = Opening(id="d", tag="D", kind="door", room="a", wall=0, offset_m=1, width_m=0.9, height_m=2, inside=True)
    yield "a door to nowhere", changed(two_rooms(), "", openings=(door,))
    small = Room(id="c", name="Cupboard", storey="g", outline_m=((0, 0), (0.3, 0), (0.3, 0.3), (0, 0.3)))
    yield "a cupboard", changed(box(), "", rooms=(small,), openings=())


class OddJobs(WindowTest):
    open_demo = False

    def test_every_station(self):
        for k, (name, job) in enumerate(odd()):
            with self.subTest(name):
                self.window.document.stack.setClean()
                self.window.document.open_job(job, None, "odd")
                self.settle()
                self.assertEqual(self.window.document.trouble, "")
                for number in range(1, 9):
                    self.window.go(number)
                    self.settle()
                    # each job at every station, the jobs together at every lens
                    lenses = max(len(self.window.station.lenses), 1)
                    for lens in sorted({k % lenses, (k + 1) % lenses}):
                        self.window.set_lens(lens)
                        self.settle()
                        self.window.grab()
                    if number == 4:
                        self.window.prefs.set(units="si" if self.window.prefs.units == "ip" else "ip")
                self.window.command("show.punch")
                self.window.grab()
                self.window.command("show.punch")
                found, self.guard.reports[:] = [x[-900:] for x in self.guard.reports], []
                self.assertEqual(found, [], name)


if __name__ == "__main__":
    unittest.main()
