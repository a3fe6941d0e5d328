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
from typing import TYPE_CHECKING, NoReturn, cast

from murvan import __version__
from murvan.cli.common import (
    InputError,
    add_units,
    check_outputs,
    computed,
    guarded,
    named,
    open_job,
    put,
    text_of,
    write_whole,
)
from murvan.cli.equipment import add_equipment
from murvan.cli.field import add_field
from murvan.cli.training import add_training
from murvan.model.atomic import write_atomic
from murvan.model.errors import JobError
from murvan.model.files import load_job, save_job
from murvan.model.job import Job
from murvan.units import Units, text

if TYPE_CHECKING:
    from murvan.design.weather import Weather


class _Parser(argparse.ArgumentParser):
    def error(self, message: str) -> NoReturn:
        raise InputError(f"{message} (see: murvan --help)")


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
    add_units(sub)
    sub = command("export", _export, "write the schedules")
    sub.add_argument("--csv", metavar="FOLDER")
    sub.add_argument("--xlsx", metavar="FILE")
    add_units(sub)
    sub = command("climate", _climate, "print the design weather that an EPW, DDY or STAT file gives", job=False)
    sub.add_argument("file", metavar="FILE")
    sub.add_argument("--json", metavar="OUT", help="write all of it as JSON; - is standard output")
    add_units(sub)
    sub = command("propose", _propose, "offer complete designs for a house, the best first")
    sub.add_argument("--json", metavar="FILE", help="write them; - is standard output")
    sub.add_argument("--take", metavar="N", type=int, help="take the Nth up and save the job to --out")
    sub.add_argument("--out", metavar="FILE", help="where the job with the design taken up is saved")
    add_units(sub)
    sub = command("layout", _layout, "lay ducts from the unit to every room, sized and balanced, the best first")
    sub.add_argument("--json", metavar="FILE", help="write them; - is standard output")
    sub.add_argument("--take", metavar="N", type=int, help="take the Nth and save the job to --out")
    sub.add_argument("--out", metavar="FILE", help="where the job with the ducts is saved")
    sub.add_argument("--place", metavar="X,Y,STOREY", help="put the unit there first, metres on the plan")
    add_units(sub)
    sub = command("section", _section, "cut the house along a line: each duct with the height it needs and has")
    sub.add_argument(
        "--at",
        metavar="WHERE",
        required=True,
        help="metres on the plan: x=3.2 or y=4.5 through the whole house, or from X,Y to X,Y as X,Y,X,Y",
    )
    sub.add_argument("--svg", metavar="FILE", help="write the drawing, 1:50; - is standard output")
    add_units(sub)
    sub = command("prices", _prices, "what the ducts, their parts and the work cost by the job's book of prices")
    sub.add_argument("--csv", metavar="FILE", help="write the book; - is standard output")
    sub.add_argument("--take", metavar="FILE", help="take a book from a CSV file into the job and save that to --out")
    sub.add_argument("--out", metavar="FILE", help="where the job with the prices is saved")
    add_units(sub)
    sub = command("patterns", _patterns, "write the flat patterns of all sheet metal, and a list of the pieces")
    sub.add_argument("--out", metavar="FOLDER", required=True, help="where they go; pieces.csv always with them")
    sub.add_argument(
        "--dxf", action="store_true", help="a DXF each, mm, layers CUT, BEND and MARK; this where none is named"
    )
    sub.add_argument("--svg", action="store_true", help="an SVG each, mm")
    sub.add_argument(
        "--pdf", action="store_true", help="patterns.pdf: each to scale with sizes, and at full size in tiles"
    )
    add_units(sub)
    add_field(command)
    add_training(command)
    sub = command("zones", _zones, "every combination of zones that call: air, static, coil, findings")
    sub.add_argument("--json", metavar="FILE", help="write them; - is standard output")
    add_units(sub)
    add_equipment(command)
    sub = command("check", _check, "print the punch list; exit 1 when something fails")
    add_units(sub)
    return parser


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
        named(args.save)
        save_job(open_job(args.which), args.save)
        print(f"Saved the demo job to {args.save}")
        return 0
    return _open(argparse.Namespace(job=args.which))


def _climate(args: argparse.Namespace) -> int:
    from dataclasses import asdict

    from murvan.design.weather import BIN_STEP_K, read_weather

    w = read_weather(args.file)
    if args.json is not None:
        named(args.json)
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

    job = open_job(args.job)
    check_outputs(args, "json")
    r = computed(job)
    text = json.dumps(results_data(r, verdict(job, r)), indent=1, ensure_ascii=False, allow_nan=False) + "\n"
    if args.json == "-":
        sys.stdout.write(text)
    else:
        write_whole(Path(args.json), lambda p: p.write_text(text, "utf-8"))
    return 0


def _report(args: argparse.Namespace) -> int:
    from murvan.documents.load_report import write_load_report
    from murvan.documents.pdf import write_pdf
    from murvan.field import verdict

    if args.pdf is None and args.loads is None:
        raise InputError("report: give --pdf FILE, --loads FILE or both")
    job = open_job(args.job)
    check_outputs(args, "pdf", "loads")
    r, units = computed(job), cast(Units, args.units)
    if args.pdf:
        write_whole(Path(args.pdf), lambda p: write_pdf(r, verdict(job, r), p, units))
        print(f"Wrote {args.pdf}")
    if args.loads:
        write_whole(Path(args.loads), lambda p: write_load_report(r, p, units))
        print(f"Wrote {args.loads}")
    return 0


def _export(args: argparse.Namespace) -> int:
    from murvan.documents.schedules import all_schedules, write_csv, write_xlsx
    from murvan.field import verdict

    if args.csv is None and args.xlsx is None:
        raise InputError("export needs --csv FOLDER or --xlsx FILE")
    job = open_job(args.job)
    check_outputs(args, "csv", "xlsx")
    r = computed(job)
    units = cast(Units, args.units)
    schedules = all_schedules(r, verdict(job, r), units)
    if args.csv:
        for path in write_csv(schedules, Path(args.csv), units):
            print(f"Wrote {path}")
    if args.xlsx:
        write_whole(Path(args.xlsx), lambda p: write_xlsx(schedules, p, units))
        print(f"Wrote {args.xlsx}")
    return 0


def _propose(args: argparse.Namespace) -> int:
    from murvan.design.propose import proposals, taken_up
    from murvan.documents.proposals_json import proposals_data

    if (args.take is None) != (args.out is None):
        raise InputError("--take N and --out FILE go together")
    job = open_job(args.job)
    check_outputs(args, "json", "out")
    found = guarded(job, lambda: proposals(job))
    if not found:
        raise InputError(f"{job.name} has no rooms to serve")
    if args.take is not None and not 1 <= args.take <= len(found):
        raise InputError(f"there are {len(found)} proposals; --take {args.take} is none of them")
    if args.json is not None:
        put(args.json, json.dumps(proposals_data(job, found), indent=1, ensure_ascii=False, allow_nan=False) + "\n")
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

    job = open_job(args.job)
    r = computed(job)
    shop, said = own_shop_said()
    if said:
        print(f"murvan: {said}", file=sys.stderr)
    found = guarded(job, lambda: shop_pieces(r, shop))
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

    job = open_job(args.job)
    check_outputs(args, "json")
    r = computed(job)
    try:
        calls = guarded(job, lambda: zone_calls(r))
    except JobError as exc:
        raise InputError(str(exc)) from None
    if args.json is not None:
        put(args.json, json.dumps(zones_data(r, calls), indent=1, ensure_ascii=False, allow_nan=False) + "\n")
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
    job = open_job(args.job)
    check_outputs(args, "json", "out")
    began = time.perf_counter()
    try:
        place = _place(args.place)
        found = guarded(job, lambda: whole_layouts(job, place))
    except JobError as exc:
        raise InputError(str(exc)) from None
    if args.take is not None and not 1 <= args.take <= len(found):
        raise InputError(f"there are {len(found)} layouts; --take {args.take} is none of them")
    if args.json is not None:
        data = layouts_data(job, found, time.perf_counter() - began)
        put(args.json, json.dumps(data, indent=1, ensure_ascii=False, allow_nan=False) + "\n")
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

    job = open_job(args.job)
    check_outputs(args, "svg")
    if not job.rooms:
        raise InputError("there is no room in this job to cut")
    ends = _line(args.at, job)
    found = computed(job)
    cut = section(found.job, found.laid, ends)
    units = cast(Units, args.units)
    if not cut.rooms:
        raise InputError(f"--at {args.at} meets no room of this job")
    if args.svg is not None:
        put(args.svg, section_svg(cut, units))
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
    job = open_job(args.job)
    check_outputs(args, "csv", "out")
    if args.take is not None:
        try:
            book = prices_from_csv(text_of(args.take), Path(args.take).stem)
        except CatalogError as exc:
            raise InputError(str(exc)) from None
        job = changed(job, job.name, prices=book)
        save_job(job, args.out)
    if args.csv is not None:
        put(args.csv, prices_csv(job.prices, cast(Units, args.units)))
    if args.csv != "-":
        found = cost_of(computed(job).cuts.pieces, job.prices)
        for x in found.lines:
            per, one = counted_in(x.price.per, cast(Units, args.units))
            print(f"{x.price.name:36} {x.quantity / one:9.1f} {per:5} {x.material:10,.0f} {x.hours:8.1f} h")
        print(f"{'Together':36} {'':15} {found.material:10,.0f} {found.hours:8.1f} h   {found.money:,.0f}")
        print(f"by '{job.prices.name}', an hour at {found.hour:,.2f}; units and outdoor units are not in it")
    return 0


def _check(args: argparse.Namespace) -> int:
    r = computed(open_job(args.job))
    units = cast(Units, args.units)
    for f in r.findings:
        print(f"{'FAILS' if f.severity == 'fails' else 'look '}  {f.text(units)}  [{f.rule.basis_text(units)}]")
    fails = sum(f.severity == "fails" for f in r.findings)
    print(f"{len(r.findings)} to settle, {fails} fail" if r.findings else "Nothing to settle")
    return 1 if fails else 0


if __name__ == "__main__":
    sys.exit(main())
