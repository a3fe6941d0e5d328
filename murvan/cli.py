"""The command line: murvan [open | demo | solve | report | export | import | climate | units | propose | section | check].

Exit 0 when all went well, 1 when `check` found something that fails, 2 for wrong input (one line on stderr,
nothing written).
"""

from __future__ import annotations

import argparse
import io
import json
import math
import os
import sys
import time
from collections.abc import Callable, Sequence
from pathlib import Path
from typing import TYPE_CHECKING, NoReturn, TypeVar, cast

from murvan import __version__
from murvan.model.atomic import write_atomic
from murvan.model.equipment import KIND_WORDS, STAGE_WORDS, MultiUnit
from murvan.model.errors import JobError
from murvan.model.files import load_job, opened, save_job
from murvan.model.job import Job
from murvan.units import Units, text

if TYPE_CHECKING:
    from murvan.design import Results
    from murvan.design.weather import Weather
    from murvan.model.equipment import Unit


class InputError(Exception):
    """Wrong input; its text is the one line shown."""


class _Parser(argparse.ArgumentParser):
    def error(self, message: str) -> NoReturn:
        raise InputError(f"{message} (see: murvan --help)")


OUTDOOR = "outdoor"
"""Of `--kind`: outdoor units with several ports."""


def main(argv: Sequence[str] | None = None) -> int:
    """Run a command; returns the exit status."""
    for stream in (sys.stdout, sys.stderr):
        if isinstance(stream, io.TextIOWrapper):
            stream.reconfigure(errors="backslashreplace")  # a terminal that knows ASCII only
    try:
        code = _run(argv)
        sys.stdout.flush()
        return code
    except BrokenPipeError:
        # whoever read has had enough; what is left must not complain at the end
        os.dup2(os.open(os.devnull, os.O_WRONLY), sys.stdout.fileno())
        return 0


def _run(argv: Sequence[str] | None) -> int:
    try:
        args = _parser().parse_args(argv)
        if args.command is None:
            return _open(argparse.Namespace(job=None))
        return cast(Callable[[argparse.Namespace], int], args.function)(args)
    except (InputError, JobError) as exc:
        print(f"murvan: {' '.join(str(exc).split())}", file=sys.stderr)
        return 2
    except BrokenPipeError:
        raise
    except OSError as exc:
        print(f"murvan: {exc.strerror or exc}: {exc.filename or ''}", file=sys.stderr)
        return 2
    except ValueError as exc:
        if "null byte" not in str(exc):
            raise
        print("murvan: that is no name for a file", file=sys.stderr)
        return 2


def _parser() -> argparse.ArgumentParser:
    parser = _Parser(
        prog="murvan",
        description="Draw a house, work out its heating and cooling, lay out the ducts, prove the result.",
    )
    parser.add_argument("--version", action="version", version=f"Murvan {__version__}")
    commands = parser.add_subparsers(dest="command", parser_class=_Parser, metavar="COMMAND")

    def command(
        name: str, function: Callable[[argparse.Namespace], int], text: str, *, job: bool = True
    ) -> argparse.ArgumentParser:
        sub = commands.add_parser(name, help=text, description=text)
        if job:
            sub.add_argument(
                "job",
                metavar="JOB",
                help="a .murvan or .json job; the words demo, bungalow and narrow stand for the demo jobs",
            )
        sub.set_defaults(function=function)
        return sub

    sub = command("open", _open, "open the window, with a job if one is named", job=False)
    sub.add_argument("job", metavar="JOB", nargs="?")
    sub = command("demo", _demo, "open the window with the demo job, or save a copy of it", job=False)
    sub.add_argument("which", metavar="WHICH", nargs="?", default="demo", choices=("demo", "bungalow", "narrow"))
    sub.add_argument("--save", metavar="FILE", help="write the demo job there instead of opening the window")
    sub = command("solve", _solve, "compute a job and write the results in SI")
    sub.add_argument("--json", metavar="FILE", default="-", help="where to write; - is standard output (default)")
    sub = command("report", _report, "write the PDF set, or the load report")
    sub.add_argument("--pdf", metavar="FILE", help="the whole set")
    sub.add_argument("--loads", metavar="FILE", help="the load report, line by line")
    _units(sub)
    sub = command("export", _export, "write the schedules")
    sub.add_argument("--csv", metavar="FOLDER")
    sub.add_argument("--xlsx", metavar="FILE")
    _units(sub)
    sub = command("import", _import, "take readings from a CSV file into a job")
    sub.add_argument("csv", metavar="CSV")
    sub.add_argument("--out", metavar="FILE", help="where to save; the job itself when left out")
    _units(sub)
    sub = command("climate", _climate, "print the design weather that an EPW, DDY or STAT file gives", job=False)
    sub.add_argument("file", metavar="FILE")
    sub.add_argument("--json", metavar="OUT", help="write all of it as JSON; - is standard output")
    _units(sub)
    sub = command("propose", _propose, "offer complete designs for a house, the best first")
    sub.add_argument("--json", metavar="FILE", help="write them; - is standard output")
    sub.add_argument("--take", metavar="N", type=int, help="take the Nth up and save the job to --out")
    sub.add_argument("--out", metavar="FILE", help="where the job with the design taken up is saved")
    _units(sub)
    sub = command("layout", _layout, "lay ducts from the unit to every room, sized and balanced, the best first")
    sub.add_argument("--json", metavar="FILE", help="write them; - is standard output")
    sub.add_argument("--take", metavar="N", type=int, help="take the Nth and save the job to --out")
    sub.add_argument("--out", metavar="FILE", help="where the job with the ducts is saved")
    sub.add_argument("--place", metavar="X,Y,STOREY", help="put the unit there first, metres on the plan")
    _units(sub)
    sub = command("section", _section, "cut the house along a line: each duct with the height it needs and has")
    sub.add_argument(
        "--at",
        metavar="WHERE",
        required=True,
        help="metres on the plan: x=3.2 or y=4.5 through the whole house, or from X,Y to X,Y as X,Y,X,Y",
    )
    sub.add_argument("--svg", metavar="FILE", help="write the drawing, 1:50; - is standard output")
    _units(sub)
    sub = command("prices", _prices, "what the ducts, their parts and the work cost by the job's book of prices")
    sub.add_argument("--csv", metavar="FILE", help="write the book; - is standard output")
    sub.add_argument("--take", metavar="FILE", help="take a book from a CSV file into the job and save that to --out")
    sub.add_argument("--out", metavar="FILE", help="where the job with the prices is saved")
    _units(sub)
    sub = command("patterns", _patterns, "write the flat patterns of all sheet metal, and a list of the pieces")
    sub.add_argument("--out", metavar="FOLDER", required=True, help="where they go; pieces.csv always with them")
    sub.add_argument(
        "--dxf", action="store_true", help="a DXF each, mm, layers CUT, BEND and MARK; this where none is named"
    )
    sub.add_argument("--svg", action="store_true", help="an SVG each, mm")
    sub.add_argument(
        "--pdf", action="store_true", help="patterns.pdf: each to scale with sizes, and at full size in tiles"
    )
    _units(sub)
    sub = command("zones", _zones, "every combination of zones that call: air, static, coil, findings")
    sub.add_argument("--json", metavar="FILE", help="write them; - is standard output")
    _units(sub)
    sub = command(
        "units", _list_units, "list the equipment Murvan knows, or check units and add them to your own", job=False
    )
    sub.add_argument(
        "--kind",
        choices=(*KIND_WORDS, OUTDOOR),
        help="those of one kind alone; outdoor: those that several units hang on",
    )
    sub.add_argument("--csv", metavar="FILE", help="write them with all their tables; - is standard output")
    sub.add_argument("--json", metavar="FILE", help="the same as JSON; - is standard output")
    sub.add_argument("--add", metavar="FILE", help="check the units of a CSV or JSON file and add them to your own")
    _units(sub)
    sub = command("check", _check, "print the punch list; exit 1 when something fails")
    _units(sub)
    return parser


def _units(sub: argparse.ArgumentParser) -> None:
    sub.add_argument("--units", choices=("ip", "si"), default="ip")


def _job(name: str) -> Job:
    from murvan.demo import BY_KEY, demo_job

    if name in BY_KEY:
        return demo_job(name)
    found = opened(name)
    for note in found.notes:
        print(f"murvan: {note}", file=sys.stderr)
    return found.job


def _open(args: argparse.Namespace) -> int:
    from murvan.demo import BY_KEY

    job = args.job
    if job is not None and job not in BY_KEY:
        load_job(job)  # a bad file is refused here, before a window opens
    if sys.platform.startswith("linux") and not any(
        os.environ.get(x) for x in ("DISPLAY", "WAYLAND_DISPLAY", "QT_QPA_PLATFORM")
    ):
        raise InputError("there is no display to open a window on; solve, report, export and check work without one")
    from murvan.app.main import run

    return run(job)


def _demo(args: argparse.Namespace) -> int:
    if args.save is not None:
        _named(args.save)
        save_job(_job(args.which), args.save)
        print(f"Saved the demo job to {args.save}")
        return 0
    return _open(argparse.Namespace(job=args.which))


def _climate(args: argparse.Namespace) -> int:
    from dataclasses import asdict

    from murvan.design.weather import BIN_STEP_K, read_weather

    w = read_weather(args.file)
    if args.json is not None:
        _named(args.json)
        text_ = json.dumps({**asdict(w), "bin_step_k": BIN_STEP_K}, indent=1, ensure_ascii=False) + "\n"
        if args.json == "-":
            sys.stdout.write(text_)
            return 0
        write_atomic(Path(args.json), lambda p: p.write_text(text_, "utf-8"))
    for line in _climate_lines(w, args.units):
        print(line)
    return 0


def _climate_lines(w: Weather, units: Units) -> list[str]:
    from murvan.design.weather import BIN_STEP_K

    def t(value: float) -> str:
        return text("temperature1", value, units)

    high = text("length", w.altitude_m, units)
    lines = [f"{w.place}, latitude {w.latitude_deg:.2f}°, longitude {w.longitude_deg:.2f}°, {high} above the sea"]
    lines += [f"heating {k} %: {t(v)}" for k, v in w.winter_c.items()]
    lines += [f"cooling {k} %: {t(v)}, wet bulb {t(w.wet_bulb_c[k])}" for k, v in w.summer_c.items()]
    lines.append(f"daily range {text('difference', w.daily_range_k, units)}")
    lines += _month_lines(w, units)
    if w.bin_hours:
        lines += ["", "hours of the year by outdoor temperature"]
        starts = (w.bin_start_c + k * BIN_STEP_K for k in range(len(w.bin_hours)))
        lines += [f"  {t(a)} to {t(a + BIN_STEP_K)}: {h:,.0f} h" for a, h in zip(starts, w.bin_hours, strict=True)]
        lines.append(f"  in all {sum(w.bin_hours):,.0f} h")
    return [*lines, w.source]


def _month_lines(w: Weather, units: Units) -> list[str]:
    """Mean, daily range and hot days of each month, as far as the file has them."""
    from murvan.design.weather import MONTHS

    columns = (
        ("mean", "temperature1", w.month_mean_c),
        ("daily range", "difference", w.month_range_k),
        ("2 % of hours above", "temperature1", w.month_summer_c),
    )
    given = [(name, kind, values) for name, kind, values in columns if len(values) == 12]
    if not given:
        return []
    lines = ["", "month by month: " + ", ".join(name for name, _, _ in given)]
    for m, month in enumerate(MONTHS):
        lines.append(f"  {month}: " + ", ".join(text(kind, values[m], units) for _, kind, values in given))
    return lines


def _solve(args: argparse.Namespace) -> int:
    from murvan.documents.results_json import results_data
    from murvan.field import verdict

    job = _job(args.job)
    _outputs(args, "json")
    r = _computed(job)
    text = json.dumps(results_data(r, verdict(job, r)), indent=1, ensure_ascii=False, allow_nan=False) + "\n"
    if args.json == "-":
        sys.stdout.write(text)
    else:
        _write(Path(args.json), lambda p: p.write_text(text, "utf-8"))
    return 0


def _report(args: argparse.Namespace) -> int:
    from murvan.documents.load_report import write_load_report
    from murvan.documents.pdf import write_pdf
    from murvan.field import verdict

    if args.pdf is None and args.loads is None:
        raise InputError("report: give --pdf FILE, --loads FILE or both")
    job = _job(args.job)
    _outputs(args, "pdf", "loads")
    r, units = _computed(job), cast(Units, args.units)
    if args.pdf:
        _write(Path(args.pdf), lambda p: write_pdf(r, verdict(job, r), p, units))
        print(f"Wrote {args.pdf}")
    if args.loads:
        _write(Path(args.loads), lambda p: write_load_report(r, p, units))
        print(f"Wrote {args.loads}")
    return 0


def _export(args: argparse.Namespace) -> int:
    from murvan.documents.schedules import all_schedules, write_csv, write_xlsx
    from murvan.field import verdict

    if args.csv is None and args.xlsx is None:
        raise InputError("export needs --csv FOLDER or --xlsx FILE")
    job = _job(args.job)
    _outputs(args, "csv", "xlsx")
    r = _computed(job)
    units = cast(Units, args.units)
    schedules = all_schedules(r, verdict(job, r), units)
    if args.csv:
        for path in write_csv(schedules, Path(args.csv), units):
            print(f"Wrote {path}")
    if args.xlsx:
        _write(Path(args.xlsx), lambda p: write_xlsx(schedules, p, units))
        print(f"Wrote {args.xlsx}")
    return 0


def _text(name: str) -> str:
    """What a file holds. Raises InputError where that is no text, OSError where it can't be read."""
    try:
        return Path(name).read_text("utf-8")
    except UnicodeDecodeError:
        raise InputError(f"{name} is not a text file") from None


def _import(args: argparse.Namespace) -> int:
    from murvan.field import import_csv
    from murvan.model.edit import insert

    job = _job(args.job)
    from murvan.demo import BY_KEY

    if args.job in BY_KEY and not args.out:
        raise InputError("the demo can't be changed in place; name a file with --out")
    readings = import_csv(job, _text(args.csv), cast(Units, args.units))
    if args.out is not None:
        _named(args.out)
    save_job(insert(job, "readings", *readings), args.out or args.job)
    print(f"Took {len(readings)} readings into {args.out or args.job}")
    return 0


def _propose(args: argparse.Namespace) -> int:
    from murvan.design.propose import proposals, taken_up
    from murvan.documents.proposals_json import proposals_data

    if (args.take is None) != (args.out is None):
        raise InputError("--take N and --out FILE go together")
    job = _job(args.job)
    _outputs(args, "json", "out")
    found = _guarded(job, lambda: proposals(job))
    if not found:
        raise InputError(f"{job.name} has no rooms to serve")
    if args.take is not None and not 1 <= args.take <= len(found):
        raise InputError(f"there are {len(found)} proposals; --take {args.take} is none of them")
    if args.json is not None:
        _put(args.json, json.dumps(proposals_data(job, found), indent=1, ensure_ascii=False, allow_nan=False) + "\n")
    if args.take is not None:
        save_job(taken_up(job, found[args.take - 1]), args.out)
        print(f"Took up {found[args.take - 1].name} and saved {args.out}")
    if args.json is None and args.take is None:
        units = cast(Units, args.units)
        for k, p in enumerate(found, 1):
            year = "" if p.cost_year is None else f", {text('money', p.cost_year, units)} a year"
            print(f"{k}  {p.name}: {', '.join(x.unit.name for _, x in p.chosen)}")
            print(f"   cools {text('power', p.cooling_w, units)}, heats {text('power', p.heating_w, units)}{year}")
            print(f"   {'; '.join(p.reasons)}")
            print(f"   gives up: {'; '.join(p.gives_up) or 'nothing Murvan sees'}")
    return 0


def _patterns(args: argparse.Namespace) -> int:
    from murvan.catalog.own_shop import own_shop_said
    from murvan.design.metal import shop_pieces
    from murvan.documents.shop_set import write_shop_set

    job = _job(args.job)
    r = _computed(job)
    shop, said = own_shop_said()
    if said:
        print(f"murvan: {said}", file=sys.stderr)
    found = _guarded(job, lambda: shop_pieces(r, shop))
    if not any(x.patterns for x in found):
        raise InputError("the job has no sheet metal yet: lay its ducts first")
    folder = Path(args.out)
    kinds = frozenset(k for k in ("dxf", "svg", "pdf") if getattr(args, k)) or frozenset({"dxf"})
    try:
        once = write_shop_set(found, folder, kinds, cast(Units, args.units))
    except OSError as exc:
        raise InputError(f"can't write to {folder}: {exc.strerror}") from None
    print(f"{len(once)} patterns for {sum(bool(x.patterns) for x in found)} pieces in {folder}")
    return 0


def _zones(args: argparse.Namespace) -> int:
    from murvan.design.zones import SHUT_M3_S, zone_calls
    from murvan.documents.zones_json import zones_data

    job = _job(args.job)
    _outputs(args, "json")
    r = _computed(job)
    try:
        calls = _guarded(job, lambda: zone_calls(r))
    except JobError as exc:
        raise InputError(str(exc)) from None
    if args.json is not None:
        _put(args.json, json.dumps(zones_data(r, calls), indent=1, ensure_ascii=False, allow_nan=False) + "\n")
        return 0
    units, names = cast(Units, args.units), {z.id: z.name for z in job.design.zones}
    for x in calls:
        told = [f"{text('flow', x.flow_m3_s, units)} at {text('pressure', x.static_pa, units)}, tap {x.tap}"]
        if x.bypass_m3_s > SHUT_M3_S:
            told.append(f"{text('flow', x.bypass_m3_s, units)} back by the bypass")
        if x.coil is not None:
            told.append(f"leaves the coil at {text('temperature1', x.coil.leaving_c, units)}")
        print(f"{' + '.join(names[i] for i in x.zones)}: {', '.join(told)}")
        for words in x.findings:
            print(f"   {words}")
    return 0


def _layout(args: argparse.Namespace) -> int:
    from murvan.design.lay import whole_layouts
    from murvan.documents.layouts_json import layouts_data

    if (args.take is None) != (args.out is None):
        raise InputError("--take N and --out FILE go together")
    job = _job(args.job)
    _outputs(args, "json", "out")
    began = time.perf_counter()
    try:
        place = _place(args.place)
        found = _guarded(job, lambda: whole_layouts(job, place))
    except JobError as exc:
        raise InputError(str(exc)) from None
    if args.take is not None and not 1 <= args.take <= len(found):
        raise InputError(f"there are {len(found)} layouts; --take {args.take} is none of them")
    if args.json is not None:
        data = layouts_data(job, found, time.perf_counter() - began)
        _put(args.json, json.dumps(data, indent=1, ensure_ascii=False, allow_nan=False) + "\n")
    if args.take is not None:
        save_job(found[args.take - 1].job, args.out)
        print(f"Took {found[args.take - 1].name} and saved {args.out}")
    if args.json is None and args.take is None:
        units = cast(Units, args.units)
        for k, x in enumerate(found, 1):
            static = f"{text('pressure', x.static_pa, units)} of {text('pressure', x.limit_pa, units)}"
            print(f"{k}  {x.name}: static {static}, {x.fittings} fittings")
            print(f"   {x.why}")
    return 0


def _section(args: argparse.Namespace) -> int:
    from murvan.design.space import section
    from murvan.documents.section_svg import section_svg, section_words

    job = _job(args.job)
    _outputs(args, "svg")
    if not job.rooms:
        raise InputError("there is no room in this job to cut")
    ends = _line(args.at, job)
    found = _computed(job)
    cut = section(found.job, found.laid, ends)
    units = cast(Units, args.units)
    if not cut.rooms:
        raise InputError(f"--at {args.at} meets no room of this job")
    if args.svg is not None:
        _put(args.svg, section_svg(cut, units))
    if args.svg != "-":
        for line in section_words(cut, units):
            print(line)
        if not cut.ducts:
            print("No duct is cut there")
    return 0


def _line(said: str, job: Job) -> tuple[tuple[float, float], tuple[float, float]]:
    """The ends of a section line."""
    xs, ys = zip(*(q for r in job.rooms for q in r.outline_m), strict=True)
    axis, _, value = said.partition("=")
    try:
        if axis.strip() in ("x", "y") and value:
            v = float(value)
            low, high = (min(ys), max(ys)) if axis.strip() == "x" else (min(xs), max(xs))
            low, high = low - 0.4, high + 0.4
            ends = ((v, low), (v, high)) if axis.strip() == "x" else ((low, v), (high, v))
        else:
            ax, ay, bx, by = (float(p) for p in said.split(","))
            ends = ((ax, ay), (bx, by))
        if not all(map(math.isfinite, (*ends[0], *ends[1]))) or math.dist(*ends) < 0.01:
            raise ValueError
    except ValueError:
        raise InputError(
            f"--at wants x=3.2 or y=4.5 in metres, or two places such as 1,2,8,2; '{said}' is not that"
        ) from None
    return ends


def _place(said: str | None) -> tuple[tuple[float, float], str] | None:
    if said is None:
        return None
    parts = said.split(",", 2)
    try:
        return (float(parts[0]), float(parts[1])), parts[2].strip()
    except (ValueError, IndexError):
        raise InputError(
            f"--place wants X,Y,STOREY in metres, such as 3.5,2.0,ground; '{said}' is not that"
        ) from None


def _prices(args: argparse.Namespace) -> int:
    from murvan.catalog import CatalogError, prices_csv, prices_from_csv
    from murvan.design.parts import cost_of
    from murvan.kinds.prices import counted_in
    from murvan.model.edit import changed

    if (args.take is None) != (args.out is None):
        raise InputError("--take FILE and --out FILE go together")
    job = _job(args.job)
    _outputs(args, "csv", "out")
    if args.take is not None:
        try:
            book = prices_from_csv(_text(args.take), Path(args.take).stem)
        except CatalogError as exc:
            raise InputError(str(exc)) from None
        job = changed(job, job.name, prices=book)
        save_job(job, args.out)
    if args.csv is not None:
        _put(args.csv, prices_csv(job.prices, cast(Units, args.units)))
    if args.csv != "-":
        found = cost_of(_computed(job).cuts.pieces, job.prices)
        for x in found.lines:
            per, one = counted_in(x.price.per, cast(Units, args.units))
            print(f"{x.price.name:36} {x.quantity / one:9.1f} {per:5} {x.material:10,.0f} {x.hours:8.1f} h")
        print(f"{'Together':36} {'':15} {found.material:10,.0f} {found.hours:8.1f} h   {found.money:,.0f}")
        print(f"by '{job.prices.name}', an hour at {found.hour:,.2f}; units and outdoor units are not in it")
    return 0


def _list_units(args: argparse.Namespace) -> int:
    from murvan.catalog import (
        CatalogError,
        keep_units,
        known_multis,
        known_units,
        own_units,
        readable_own_multis,
        units_csv,
        units_in,
        units_json,
    )

    try:
        if args.add is not None:
            new, multis = units_in(Path(args.add))
            keep_units(new, multis)
            print("\n".join(f"Added {u.maker} {u.name}" for u in (*new, *multis)))
            return 0
        own, own_multis = own_units(), readable_own_multis()
    except CatalogError as exc:
        raise InputError(str(exc)) from None
    units = cast(Units, args.units)
    listed = tuple(u for u in known_units((), own).values() if args.kind in (None, u.kind))
    multis = tuple(known_multis((), own_multis).values()) if args.kind in (None, OUTDOOR) else ()
    if args.csv is not None:
        _put(args.csv, units_csv((*listed, *multis), units))
    if args.json is not None:
        _put(args.json, units_json(listed, multis))
    if args.csv is None and args.json is None:
        mine = {u.id for u in (*own, *own_multis)}
        lines = [*(_unit_line(u, units, u.id in mine) for u in listed)]
        lines += [_multi_line(m, units, m.id in mine) for m in multis]
        print("\n".join(lines))
    return 0


def _multi_line(m: MultiUnit, units: Units, own: bool) -> str:
    """'wexley-m24  Wexley M24 3-port · outdoor unit with 3 ports · cools 24,001 Btu/h'."""
    through = "" if m.feeds == "ports" else f" through a {m.feeds.replace('_', ' ')}"
    cool = f"cools {text('power', m.nominal_w, units)}"
    return f"{m.id}  {m.maker} {m.name} · outdoor unit with {m.ports} ports{through} · {cool}{' · your own' if own else ''}"


def _put(file: str, whole: str) -> None:
    if file == "-":
        sys.stdout.write(whole)
        return
    _write(Path(_named(file)), lambda p: p.write_text(whole, "utf-8"))
    print(f"Wrote {file}")


def _unit_line(u: Unit, units: Units, own: bool) -> str:
    """'quellin-c3  Quellin C3 · heat pump, single speed · cools 3.0 ton, heats 35,000 Btu/h at 47 °F'."""
    heat = "no heat"
    if u.furnace_output_w is not None:
        heat = f"heats {text('power', u.furnace_output_w, units)} with {u.fuel or 'gas'}"
    elif u.heating is not None:
        heat = f"heats {text('power', max(u.heating.max_w), units)} at most"
    cool = f"cools {text('power', u.nominal_w, units)}"
    kind = f"{KIND_WORDS[u.kind]}, {STAGE_WORDS[u.stages]}"
    return f"{u.id}  {u.maker} {u.name} · {kind} · {cool}, {heat}{' · your own' if own else ''}"


def _check(args: argparse.Namespace) -> int:
    r = _computed(_job(args.job))
    units = cast(Units, args.units)
    for f in r.findings:
        print(f"{'FAILS' if f.severity == 'fails' else 'look '}  {f.text(units)}  [{f.rule.basis_text(units)}]")
    fails = sum(f.severity == "fails" for f in r.findings)
    print(f"{len(r.findings)} to settle, {fails} fail" if r.findings else "Nothing to settle")
    return 1 if fails else 0


def _computed(job: Job) -> Results:
    """Raises InputError when Murvan can't compute the job."""
    from murvan.design import solve

    return _guarded(job, lambda: solve(job))


T = TypeVar("T")


def _guarded(job: Job, work: Callable[[], T]) -> T:
    """What comes of working on a job. Raises InputError when Murvan can't compute it, JobError as it comes."""
    try:
        return work()
    except (JobError, InputError):
        raise
    except Exception as trouble:
        raise InputError(f"{job.name} can't be computed ({type(trouble).__name__}: {trouble})") from None


def _named(name: str) -> str:
    if not name.strip():
        raise InputError("an output has an empty name")
    return name


def _outputs(args: argparse.Namespace, *names: str) -> None:
    """Refuse outputs without a name, onto the job itself, or onto each other."""
    taken = {os.path.realpath(args.job): "the job itself"}
    for name in names:
        given = getattr(args, name)
        if given is None or given == "-":
            continue
        place = os.path.realpath(_named(given))
        if place in taken:
            raise InputError(f"--{name} {given} is {taken[place]}; name another file")
        taken[place] = f"what --{name} names"


def _write(path: Path, write: Callable[[Path], object]) -> None:
    if not path.parent.is_dir():
        raise InputError(f"there is no folder {path.parent}")
    write_atomic(path, write)


if __name__ == "__main__":
    sys.exit(main())
