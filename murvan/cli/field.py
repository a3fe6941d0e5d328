"""Commands of the second half of the job: a simulated visit, and what readings say."""

from __future__ import annotations

import argparse
import json
from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING, cast

from murvan.cli.common import InputError, add_units, check_outputs, computed, guarded, named, open_job, put, text_of
from murvan.model.job import Job, Reading
from murvan.units import Units, text

if TYPE_CHECKING:
    from murvan.field import Built, Diagnosis, House
    from murvan.field.visit import Fault


Command = Callable[..., argparse.ArgumentParser]


def add_field(command: Command) -> None:
    """`import`, `visit`, `instruments`, `diagnose` and `balance`."""
    sub = command("import", taken_in, "take readings from a CSV file into a job")
    sub.add_argument("csv", metavar="CSV")
    sub.add_argument("--out", metavar="FILE", help="where to save; the job itself when left out")
    add_leave_out(sub)
    add_units(sub)
    sub = command(
        "visit", visit, "what a simulated visit to the house with faults reads, marked simulated", job=False
    )
    sub.add_argument("job", metavar="JOB", nargs="?")
    _of_a_house(sub)
    sub.add_argument("--quick", action="store_true", help="statics, temperatures and power alone, ten minutes")
    sub.add_argument("--kinds", action="store_true", help="list the kinds of faults")
    sub.add_argument(
        "--sheet",
        metavar="FILE",
        help="write the field sheet to be filled instead: .pdf to print, .csv to fill and read back",
    )
    sub.add_argument("--out", metavar="FILE", help="the readings as CSV; - is standard output (default)", default="-")
    add_units(sub)
    sub = command(
        "instruments", instruments, "instruments over the line protocol: simulated ones of a house", job=False
    )
    sub.add_argument("--simulate", metavar="JOB", required=True, help="the job whose house is read")
    _of_a_house(sub)
    sub.add_argument("--port", metavar="N", type=int, default=7215, help="where they listen on this machine")
    for what in ("drop", "garble", "late"):
        sub.add_argument(
            f"--{what}", metavar="SHARE", type=float, default=0.0, help=f"lines that {WORDS[what]}, 0 to 1"
        )
    sub = command("balance", balance, "which damper next by the readings, and what its register then reads")
    sub.add_argument("--readings", metavar="CSV", help="by these, not the job's own")
    add_leave_out(sub)
    sub.add_argument(
        "--within", metavar="PERCENT", type=float, default=10.0, help="of its part of the air (default 10)"
    )
    sub.add_argument("--json", metavar="FILE", help="write it; - is standard output")
    add_units(sub)
    sub = command("diagnose", diagnose, "what is wrong, by all readings at once, and what to read next")
    sub.add_argument("--readings", metavar="CSV", help="fit these, not the job's own")
    add_leave_out(sub)
    sub.add_argument("--json", metavar="FILE", help="write it; - is standard output")
    add_units(sub)


def add_leave_out(sub: argparse.ArgumentParser) -> None:
    sub.add_argument("--leave-out", action="store_true", help="lines that can't be read, or are odd")


WORDS = {"drop": "get lost", "garble": "come garbled", "late": "come too late"}


def _of_a_house(sub: argparse.ArgumentParser) -> None:
    sub.add_argument(
        "--fault",
        metavar="KIND[:WHERE[:AMOUNT]]",
        action="append",
        default=[],
        help="what is wrong; see visit --kinds. WHERE is a tag of a run, register, unit or room",
    )
    sub.add_argument("--seed", metavar="N", type=int, default=1, help="another house and other errors (default 1)")


def instruments(args: argparse.Namespace) -> int:
    """`murvan instruments`: until it is interrupted."""
    import signal
    from threading import Event

    from murvan.field import Visit
    from murvan.field.instruments import Faulty, served
    from murvan.field.places import places

    shares = (args.drop, args.garble, args.late)
    if min(shares) < 0 or sum(shares) > 1:
        raise InputError("--drop, --garble and --late are shares that come to 1 at most")
    job = open_job(args.simulate)
    built, faults = _built(job, args.fault)
    house = guarded(job, lambda: Visit(built.r, built, faults, args.seed))
    with served(house, places(job), args.port, Faulty(*shares, seed=args.seed)) as port:
        ended = Event()
        # a shell that starts it beside others has it ignore Ctrl+C
        before = {s: signal.signal(s, lambda *_: ended.set()) for s in (signal.SIGINT, signal.SIGTERM)}
        print(f"Simulated instruments of {job.name} at 127.0.0.1:{port}; Ctrl+C ends", flush=True)
        ended.wait()
        for s, handler in before.items():
            signal.signal(s, handler)
    return 0


def _built(job: Job, faults: list[str]) -> tuple[Built, list[Fault]]:
    from murvan.field import Built, has_ducts, parse_fault

    r = computed(job)
    if not has_ducts(r):
        raise InputError(f"{job.name}: no unit with ducts has supply and return")
    built = Built(r)
    return built, [parse_fault(built, x) for x in faults]


def visit(args: argparse.Namespace) -> int:
    """`murvan visit`."""
    from murvan.field import readings_csv, visited
    from murvan.model.edit import insert

    if args.kinds:
        print(_kinds())
        return 0
    if args.job is None:
        raise InputError("name a job; visit --kinds lists the faults (see: murvan --help)")
    job = open_job(args.job)
    check_outputs(args, "out", "sheet")
    if args.sheet is not None:
        return _sheet(args, job)
    built, faults = _built(job, args.fault)
    readings = guarded(job, lambda: visited(built, faults, args.seed, args.quick))
    units = cast(Units, args.units)
    put(args.out, readings_csv(insert(_unread(job), "readings", *readings), units))
    return 0


def _sheet(args: argparse.Namespace, job: Job) -> int:
    """The field sheet of a visit."""
    from murvan.documents.field_sheet import write_field_sheet
    from murvan.field import visit_to
    from murvan.field.readings import sheet_csv

    r, units, path = computed(job), cast(Units, args.units), args.sheet
    whole = visit_to(r)
    steps = whole.steps[: whole.quick] if args.quick else whole.steps
    if not steps:
        raise InputError(f"{job.name}: nothing can be read, no unit is picked")
    if path.lower().endswith(".pdf"):
        pages = guarded(job, lambda: write_field_sheet(r, whole, steps, Path(path), units))
        print(f"Wrote {path}: {pages} sheet{'s' if pages > 1 else ''}, about {sum(x.minutes for x in steps):.0f} min")
    else:
        put(path, sheet_csv(steps, job.design.stands, units))
    return 0


def _unread(job: Job) -> Job:
    return job.model_copy(update={"design": job.design.model_copy(update={"readings": ()})})


def _kinds() -> str:
    from murvan.kinds.faults import FAULTS

    rows = [("KIND", "WHERE", "USUAL", "AMOUNT SAYS", "WHAT IT IS")]
    for k in FAULTS.values():
        rows.append((k.id, k.at, f"{k.usual:g}", k.amount or "(none)", k.name.format("…")))
    widths = [max(len(r[i]) for r in rows) for i in range(4)]
    return "\n".join("  ".join(c.ljust(w) for c, w in zip(r, (*widths, 0), strict=True)).rstrip() for r in rows)


def balance(args: argparse.Namespace) -> int:
    """`murvan balance`."""
    from murvan.field import balanced
    from murvan.field.diagnosis_json import balance_data

    if not 1 <= args.within <= 50:
        raise InputError("--within is a percentage from 1 to 50")
    job, h = _read_house(args)
    found = guarded(job, lambda: balanced(h, job, args.within / 100))
    if found is None:
        raise InputError(f"{job.name} has fewer than two registers read")
    if args.json is not None:
        put(args.json, json.dumps(balance_data(found), indent=1, allow_nan=False) + "\n")
        return 0
    units = cast(Units, args.units)
    for n, m in enumerate(found.moves, 1):
        way = "close" if m.closes else "open"
        now, then = (text("flow", v, units) for v in (m.now_m3_s, m.reads_m3_s))
        print(f"{n:2}  {way} {m.tag} until it reads {then}, now {now} (about {m.opening * 100:.0f} % open)")
    ends = f"within {found.worst * 100:.0f} % of their part of {found.share * 100:.0f} % of the design's air"
    print(f"Then all registers are {ends}" if found.moves else f"No damper has to be moved: {ends}")
    if found.out:
        print(
            f"No damper brings {', '.join(found.out)} there: something chokes it (murvan diagnose), or its duct is small"
        )
    return 0


def _read_house(args: argparse.Namespace) -> tuple[Job, House]:
    """The job with the readings that are meant, and its house."""
    from murvan.field import house
    from murvan.model.edit import insert

    job = open_job(args.job)
    check_outputs(args, "json")
    if args.readings is not None:
        job = insert(_unread(job), "readings", *read_file(_unread(job), args.readings, args))
    r = computed(job)
    h = guarded(job, lambda: house(r))
    if h is None:
        raise InputError(f"{job.name}: no unit with ducts has supply and return")
    return job, h


def taken_in(args: argparse.Namespace) -> int:
    """`murvan import`."""
    from murvan.demo import BY_KEY
    from murvan.model.edit import insert
    from murvan.model.files import save_job

    job = open_job(args.job)
    if args.job in BY_KEY and not args.out:
        raise InputError("the demo can't be changed in place; name a file with --out")
    readings = read_file(job, args.csv, args)
    if args.out is not None:
        named(args.out)
    save_job(insert(job, "readings", *readings), args.out or args.job)
    print(f"Took {len(readings)} readings into {args.out or args.job}")
    return 0


def read_file(job: Job, path: str, args: argparse.Namespace) -> tuple[Reading, ...]:
    """The readings of a CSV file. Raises InputError: its faults, and what is odd in it unless that is left out."""
    from murvan.field import read_csv

    taken = read_csv(job, text_of(path), cast(Units, args.units), computed(job))
    if taken.told and not args.leave_out:
        lines = "\n  ".join(taken.told)
        raise InputError(
            f"{path} takes some settling; nothing is read. Mend it, say yes in a column “sure”, or --leave-out these lines:\n  {lines}"
        )
    return taken.plain if args.leave_out else taken.readings


def diagnose(args: argparse.Namespace) -> int:
    """`murvan diagnose`."""
    from murvan.field import diagnose as fitted
    from murvan.field import diagnosis_data

    job, h = _read_house(args)
    found = guarded(job, lambda: fitted(h, job))
    if found is None:
        raise InputError(f"{job.name} has fewer than three readings that can be fitted")
    if args.json is not None:
        put(args.json, json.dumps(diagnosis_data(h, found), indent=1, ensure_ascii=False, allow_nan=False) + "\n")
        return 0
    print("\n".join(_lines(found, cast(Units, args.units))))
    return 0


def _lines(d: Diagnosis, units: Units) -> list[str]:
    from murvan.kinds.readings import QUANTITIES

    f = d.fitted
    out = ["From simulated readings"] if d.simulated else []
    if f.nothing_wrong:
        out.append(f"As designed: {f.nothing * 100:.0f} %. Nothing is likelier to be wrong.")
    if f.unknown:
        out.append(f"Something that is not on the list: {f.other * 100:.0f} %")
    for g in f.groups():
        if len(g.of) > 1:
            out.append(f"{g.share * 100:3.0f} %  one of these, not told apart:")
        for s in g.of:
            amount = s.spot.amount_words(s.amount)
            words = f"{s.share * 100:3.0f} %  {s.spot.title}" + (f" ({amount})" if amount else "")
            out.append(f"   {words}" if len(g.of) > 1 else words)
    if d.next is not None:
        out.append(("Enough: " if d.next.enough else "Next: ") + d.next.words)
    if d.splits is not None and d.splits.place is not None:
        out.append(f"Read {d.splits.place.name} to tell {f.suspects[0].spot.title} from its like")
    for x in sorted(f.residuals, key=lambda x: -abs(x.off))[:3]:
        kind = QUANTITIES[x.place.quantity].shown_as
        out.append(
            f"   {x.place.name}: read {text(kind, x.read, units)}, explained {text(kind, x.predicted, units)} "
            f"({x.off:+.1f} standard deviations)"
        )
    return out
