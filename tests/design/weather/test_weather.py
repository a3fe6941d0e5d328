"""Weather files: an hourly year made in the test against NumPy percentiles, design days, and what is wrong with them."""

from __future__ import annotations

import tempfile
import unittest
from pathlib import Path

import numpy as np
import psychrolib

from murvan.design import solve
from murvan.design.weather.days import parse_ddy
from murvan.design.weather.epw import parse_epw
from murvan.design.weather.files import read_weather
from murvan.design.weather.place import climate_of, take_weather
from murvan.design.weather.stat import parse_stat
from murvan.model.errors import JobFileError
from tests.houses import box

HEAD = (
    "LOCATION,Brindlewick,BW,Nowhere,invented,000000,40.5,-90.25,-6.0,120.0",
    "DESIGN CONDITIONS,0",
    "TYPICAL/EXTREME PERIODS,0",
    "GROUND TEMPERATURES,1,.5,,,,2,1,3,7,12,16,19,20,18,14,9,5",
    "HOLIDAYS/DAYLIGHT SAVINGS,No,0,0,0",
    "COMMENTS 1,invented",
    "COMMENTS 2,",
    "DATA PERIODS,1,1,Data,Sunday, 1/ 1,12/31",
)
DAYS = (31, 28, 31, 30, 31, 30, 31, 31, 30, 31, 30, 31)


def year():
    """Dry bulb of 8,760 hours: a season, a day, and weather that wanders."""
    h = np.arange(8760)
    rng = np.random.default_rng(4)
    wander = np.convolve(rng.normal(0, 1.2, 8760 + 47), np.ones(48) / 48**0.5, "valid")
    return 11 - 14 * np.cos(2 * np.pi * (h / 24 - 15) / 365) - 5.5 * np.cos(2 * np.pi * (h % 24 - 3) / 24) + wander


def epw(dry=None, rh=55.0, change=None):
    dry = year() if dry is None else dry
    months = [m + 1 for m, d in enumerate(DAYS) for _ in range(24 * d)]
    rows = []
    for k, t in enumerate(dry):
        day, hour = k // 24, k % 24 + 1
        cells = ["2001", str(months[k]), str(day % 28 + 1), str(hour), "0", "?9"]
        cells += [f"{t:.3f}", "5.0", f"{rh:.1f}", "99800"] + ["0"] * 11 + [f"{3 + (k % 7) * 0.5:.1f}"] + ["0"] * 13
        rows.append(cells)
    if change:
        change(rows)
    return "\n".join((*HEAD, *(",".join(r) for r in rows))) + "\n"


class Hourly(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.weather = parse_epw(epw(), "brindlewick.epw")

    def test_percentiles_are_those_of_numpy(self):
        dry = np.round(year(), 3)
        for share, q in (("99", 1.0), ("99.6", 0.4)):
            self.assertAlmostEqual(self.weather.winter_c[share], np.percentile(dry, q), places=6)
        for share, q in (("1", 99.0), ("0.4", 99.6)):
            self.assertAlmostEqual(self.weather.summer_c[share], np.percentile(dry, q), places=6)

    def test_the_coincident_wet_bulb_against_psychrolib(self):
        psychrolib.SetUnitSystem(psychrolib.SI)
        t = self.weather.summer_c["1"]
        self.assertAlmostEqual(
            self.weather.wet_bulb_c["1"], psychrolib.GetTWetBulbFromRelHum(t, 0.55, 99800.0), delta=0.02
        )

    def test_range_and_months_by_hand(self):
        dry = np.round(year(), 3)
        july = dry[sum(DAYS[:6]) * 24 : sum(DAYS[:7]) * 24].reshape(-1, 24)
        self.assertAlmostEqual(self.weather.month_mean_c[6], july.mean(), places=6)
        hottest = int(np.argmax(self.weather.month_mean_c))
        self.assertEqual(self.weather.daily_range_k, self.weather.month_range_k[hottest])

    def test_bins_hold_every_hour(self):
        self.assertEqual(sum(self.weather.bin_hours), 8760)
        self.assertLessEqual(self.weather.bin_start_c, year().min())

    def test_place_ground_and_wind(self):
        w = self.weather
        self.assertEqual((w.place, w.latitude_deg, w.longitude_deg), ("Brindlewick, BW, Nowhere", 40.5, -90.25))
        self.assertAlmostEqual(w.ground_c, np.mean([2, 1, 3, 7, 12, 16, 19, 20, 18, 14, 9, 5]))
        self.assertAlmostEqual(w.ground_swing_k, 9.5)
        self.assertTrue(3 < w.wind_winter_m_s < 6)

    def test_it_says_that_it_is_one_typical_year(self):
        self.assertIn("one typical year", self.weather.source)


class Wrong(unittest.TestCase):
    def refused(self, text, words):
        with self.assertRaisesRegex(JobFileError, words):
            parse_epw(text, "x.epw")

    def test_cut_short(self):
        lines = epw().splitlines()
        self.refused("\n".join(lines[:4000]), r"x.epw has 3,992 hours after line 8; a year has 8,760")

    def test_no_weather_at_all(self):
        for text in ("", "hello\n", "<html></html>"):
            self.refused(text, "first line is not LOCATION")
        self.refused("LOCATION,A,B\nDATA PERIODS,1\n", "line 1: LOCATION has no latitude")
        self.refused(HEAD[0] + "\n1,2,3\n", "DATA PERIODS is missing")

    def test_a_line_that_is_no_hour_is_named(self):
        self.refused(
            epw(change=lambda rows: rows.__setitem__(99, ["no", "hour"])),
            r"x.epw, line 108: the month is no number \(hour\)",
        )
        self.refused(
            epw(change=lambda rows: rows[10].__setitem__(6, "hot")), r"line 19: the dry bulb is no number \(hot\)"
        )
        self.refused(epw(change=lambda rows: rows[10].__setitem__(1, "9" * 40)), "line 19: it can't be read")
        self.refused(
            epw(change=lambda rows: rows.__setitem__(99, rows[99][:7])), "line 108: it has 7 values and no dew"
        )

    def test_a_place_that_is_none(self):
        self.refused(epw().replace("40.5", "140.5", 1), "line 1: a latitude of 140.5 can't be")
        with self.assertRaisesRegex(JobFileError, "line 2: a height of 9999 can't be"):
            parse_ddy(ddy(ALL).replace("120.0;", "9999;"), "x.ddy")

    def test_more_than_one_value_an_hour(self):
        lines = epw().splitlines()
        twice = [x for line in lines[8:] for x in (line, line)]
        self.refused("\n".join([*lines[:8], *twice]), "2 values an hour after line 8")

    def test_other_encodings(self):
        text = epw().replace("Brindlewick", "Bründlewick", 1)
        with tempfile.TemporaryDirectory() as folder:
            for encoding in ("utf-8", "utf-8-sig", "utf-16", "cp1252"):
                path = Path(folder) / "b.epw"
                path.write_text(text.replace("\n", "\r\n"), encoding)
                self.assertTrue(read_weather(path).place.startswith("Bründlewick"), encoding)

    def test_three_hundred_percent_humidity_is_named_with_its_line(self):
        self.refused(
            epw(change=lambda rows: rows[10].__setitem__(8, "300")), "line 19: a relative humidity of 300 can't be"
        )

    def test_marks_of_missing_values(self):
        def few(rows):
            for k in range(50, 60):
                rows[k][6] = "99.9"

        weather = parse_epw(epw(change=few))
        self.assertEqual(weather.missing_hours, 10)
        self.assertIn("10 hours had gaps", weather.source)
        self.assertLess(max(weather.summer_c.values()), 60)

        def many(rows):
            for row in rows[:2000]:
                row[6] = "99.9"

        self.refused(epw(change=many), "dry bulb is missing in 2,000 hours")

    def test_a_month_that_is_none(self):
        self.refused(epw(change=lambda rows: rows[3].__setitem__(1, "14")), "there is no month 14")

    def test_files_that_are_not_there_or_too_large(self):
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "big.epw"
            with self.assertRaisesRegex(JobFileError, "Can't read big.epw"):
                read_weather(path)
            with path.open("wb") as out:
                out.truncate(20_000_000)
            with self.assertRaisesRegex(JobFileError, "20 MB"):
                read_weather(path)


DAY = """
SizingPeriod:DesignDay,
  Brindlewick {name},  !- Name
  {month}, 21, {kind}, {dry}, {range}, DefaultMultipliers, ,
  Wetbulb, {wet}, , , , , 99900., {wind}, 270, No, No, No, ASHRAETau, , , 0.46, 2.05;
"""


def ddy(days):
    text = "! invented\nSite:Location,\n  Brindlewick,  !- Name\n  40.5, -90.2, -6.0, 120.0;\n"
    for name, kind, dry, wet, wide, wind in days:
        month = 1 if kind.startswith("Winter") else 7
        text += DAY.format(name=name, month=month, kind=kind, dry=dry, wet=wet, range=wide, wind=wind)
    return text


ALL = (
    ("Ann Htg 99.6% Condns DB", "WinterDesignDay", -16.2, -16.2, 0.0, 5.5),
    ("Ann Htg 99% Condns DB", "WinterDesignDay", -13.4, -13.4, 0.0, 5.0),
    ("Ann Clg .4% Condns DB=>MWB", "SummerDesignDay", 34.1, 24.3, 11.2, 4.1),
    ("Ann Clg 1% Condns DB=>MWB", "SummerDesignDay", 32.6, 23.8, 11.2, 4.1),
)


class DesignDays(unittest.TestCase):
    def test_they_are_taken_by_the_share_in_their_names(self):
        w = parse_ddy(ddy(ALL), "brindlewick.ddy")
        self.assertEqual(w.winter_c, {"99": -13.4, "99.6": -16.2})
        self.assertEqual(w.summer_c, {"1": 32.6, "0.4": 34.1})
        self.assertEqual(w.wet_bulb_c["1"], 23.8)
        self.assertEqual((w.daily_range_k, w.taub, w.taud), (11.2, 0.46, 2.05))
        self.assertEqual((w.latitude_deg, w.altitude_m), (40.5, 120.0))

    def test_without_shares_in_the_names_there_is_still_one(self):
        w = parse_ddy(ddy((("cold", "WinterDesignDay", -10, -10, 0, 5), ("hot", "SummerDesignDay", 33, 24, 10, 4))))
        self.assertEqual((w.winter_c["99"], w.summer_c["0.4"]), (-10.0, 33.0))

    def test_what_is_missing_is_said(self):
        for text, words in (
            ("", "no place"),
            (ddy(()), "no winter design day"),
            (ddy(ALL[:2]), "no summer design day"),
            (ddy(ALL).replace("32.6", "warm"), "no number"),
        ):
            with self.subTest(words), self.assertRaisesRegex(JobFileError, words):
                parse_ddy(text, "x.ddy")

    def test_a_value_that_is_no_number_is_named_with_its_line_and_day(self):
        text = ddy(ALL).replace("32.6", "warm")
        line = next(k for k, x in enumerate(text.splitlines()) if "Clg 1%" in x)
        with self.assertRaisesRegex(
            JobFileError, rf"x.ddy, line {line}, Brindlewick Ann Clg 1% .*dry bulb is no number \(warm\)"
        ):
            parse_ddy(text, "x.ddy")
        with self.assertRaisesRegex(JobFileError, r"line 2, Brindlewick: latitude is no number \(north\)"):
            parse_ddy(ddy(ALL).replace("40.5", "north"), "x.ddy")


STAT = """ Statistics for Brindlewick, invented
 Location -- Brindlewick
      {N 40\u00b0 30'} {W 90\u00b0 15'} {GMT -6.0 Hours}
 Elevation --   120m above sea level
 - Design values of the long record
\tDesign Stat\tColdestMonth\tDB996\tDB990\tDP996
\tUnits\t{}\t{C}\t{C}\t{C}
\tHeating\t1\t-16.2\t-13.4\t-20.5
\tDesign Stat\tHottestMonth\tDBR\tDB004\tWB_DB004\tDB010\tWB_DB010\tDB020\tWB_DB020
\tUnits\t{}\t{C}\t{C}\t{C}\t{C}\t{C}\t{C}\t{C}
\tCooling\t8\t11.2\t34.1\t24.3\t32.6\t23.8\t31.0\t23.1
 - Monthly Statistics for Dry Bulb temperatures
\t           \tJan\tFeb\tMar\tApr\tMay\tJun\tJul\tAug\tSep\tOct\tNov\tDec
\t Daily Avg\t-4.0\t-2.1\t4.0\t10.9\t16.7\t22.0\t24.2\t23.1\t18.9\t12.2\t5.1\t-1.8
 - Monthly clear sky optical depths
\t taub (beam)\t0.29\t0.30\t0.33\t0.36\t0.39\t0.42\t0.45\t0.47\t0.38\t0.34\t0.31\t0.29
\t taud (diffuse)\t2.5\t2.4\t2.3\t2.2\t2.2\t2.1\t2.05\t2.0\t2.3\t2.4\t2.5\t2.5
"""


class StatisticsReport(unittest.TestCase):
    def test_its_design_values_are_found_by_their_names(self):
        w = parse_stat(STAT, "b.stat")
        self.assertEqual(
            (w.place, w.latitude_deg, w.longitude_deg, w.altitude_m), ("Brindlewick", 40.5, -90.25, 120.0)
        )
        self.assertEqual(w.winter_c, {"99": -13.4, "99.6": -16.2})
        self.assertEqual(w.summer_c, {"1": 32.6, "0.4": 34.1})
        self.assertEqual(w.wet_bulb_c, {"1": 23.8, "0.4": 24.3})
        self.assertEqual((w.daily_range_k, w.taub, w.taud), (11.2, 0.47, 2.0))
        self.assertEqual(w.month_mean_c[6], 24.2)

    def test_a_job_takes_it_and_has_loads(self):
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "b.STAT"
            path.write_text(STAT, "utf-8")
            job = take_weather(box(), read_weather(path))
        self.assertEqual(job.climate.summer_c, 32.6)
        r = solve(job)
        self.assertTrue(np.isfinite(r.balance.parts_w).all())

    def test_south_and_below_the_sea(self):
        text = STAT.replace("{N 40", "{S 40").replace("{W 90", "{E 90").replace("120m above", "3m below")
        w = parse_stat(text)
        self.assertEqual((w.latitude_deg, w.longitude_deg, w.altitude_m), (-40.5, 90.25, -3.0))

    def test_what_is_wrong_is_said_with_its_line(self):
        for text, words in (
            ("", "no place"),
            (STAT.replace("Elevation", "High"), "no height"),
            (STAT.replace("{N 40", "{N 95"), "b.stat: a latitude of 95.5 can't be"),
            (STAT.replace("{N 40", "{N " + "9" * 400), "b.stat: a latitude of inf can't be"),
            (STAT.replace("\tHeating", "\tWinter"), "no row of Heating"),
            (STAT.replace("DB010\tWB_DB010", "X\tY"), "line 11: the row Cooling has no DB010"),
            (STAT.replace("32.6", "warm"), r"line 11: DB010 is no number \(warm\)"),
        ):
            with self.subTest(words), self.assertRaisesRegex(JobFileError, words):
                parse_stat(text, "b.stat")


class IntoAJob(unittest.TestCase):
    def test_the_job_takes_place_and_weather(self):
        job = take_weather(box(), parse_epw(epw(), "b.epw"), "99.6", "0.4")
        w = parse_epw(epw(), "b.epw")
        self.assertAlmostEqual(job.climate.winter_c, w.winter_c["99.6"], places=3)
        self.assertAlmostEqual(job.climate.summer_c, w.summer_c["0.4"], places=3)
        self.assertEqual(job.site.altitude_m, 120.0)
        self.assertEqual(sum(job.climate.bin_hours), 8760)
        self.assertTrue(solve(job).loads.house_heating_w > 0)

    def test_what_design_days_do_not_say_stays(self):
        before = box().climate
        after = climate_of(parse_ddy(ddy(ALL)), before=before)
        self.assertEqual((after.bin_hours, after.ground_c), (before.bin_hours, before.ground_c))
        self.assertEqual(after.taub, 0.46)


if __name__ == "__main__":
    unittest.main()
