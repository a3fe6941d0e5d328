"""`murvan train`: a house with something wrong, read by words; with what is named, how it went."""

from __future__ import annotations

import argparse
from collections.abc import Callable
from datetime import date
from typing import TYPE_CHECKING, cast

from murvan.cli.common import InputError, add_units, computed, guarded, open_job
from murvan.units import Units, text

if TYPE_CHECKING:
    from murvan.field.training import Answer, Case, Review, Training

Command = Callable[..., argparse.ArgumentParser]


def add_training(command: Command) -> None:
    """`train`."""
    sub = command("train", train, "a case of training: read a house with something wrong, and name it")
    sub.add_argument("--grade", metavar="N", type=int, default=1, help="1 to 3 (default 1)")
    sub.add_argument("--seed", metavar="N", type=int, default=1, help="another house (default 1)")
    sub.add_argument(
        "--day", metavar="DATE", help="the case of a day, 2026-12-02 or today, in place of grade and seed"
    )
    sub.add_argument("--read", metavar="PLACES", default="", help="what to read, in order: static-supply,B4,…")
    sub.add_argument(
        "--name",
        metavar="KIND[:WHERE]",
        action="append",
        default=[],
        help="what is wrong, see visit --kinds; nothing, where nothing is",
    )
    add_units(sub)


def train(args: argparse.Namespace) -> int:
    """`murvan train`."""
    from murvan.field import has_ducts
    from murvan.field.training import GRADES, Training, fresh

    case, job = _case(args), fresh(open_job(args.job))
    if case.grade not in GRADES:
        raise InputError(f"--grade is {', '.join(map(str, GRADES))}")
    r = computed(job)
    if not has_ducts(r):
        raise InputError(f"{job.name}: no unit with ducts has supply and return")
    t = guarded(job, lambda: Training(r, case))
    print(f"{case.name}, {GRADES[case.grade].lower()}. Simulated readings.")
    _read(t, args)
    if args.name:
        _told(t, args.name)
    return 0


def _case(args: argparse.Namespace) -> Case:
    from murvan.field.training import Case

    if args.day is None:
        return Case(args.grade, args.seed)
    try:
        return Case.of_day(date.today() if args.day == "today" else date.fromisoformat(args.day))
    except ValueError:
        raise InputError(f"--day is a date such as 2026-12-02, not “{args.day}”") from None


def _read(t: Training, args: argparse.Namespace) -> None:
    """The readings that are asked for, with the clock."""
    from murvan.field.places import places, standing
    from murvan.kinds.readings import QUANTITIES

    job, units = t.built.job, cast(Units, args.units)
    known = places(job)
    for word in (w.strip() for w in args.read.split(",") if w.strip()):
        if word not in known:
            raise InputError(f"there is no place “{word}” to read; places are {', '.join(list(known)[:12])}, …")
        place = standing(known[word], job.design.stands, job)
        try:
            reading = t.read(job, place, "x")
        except KeyError:
            raise InputError(f"nothing can be read at {word} as the house stands") from None
        kind = QUANTITIES[place.quantity].shown_as
        print(f"{t.minutes:5.1f} min  {place.name}: {text(kind, reading.value, units)}")


def _told(t: Training, named: list[str]) -> None:
    from murvan.field import house
    from murvan.field.training import review
    from murvan.model.edit import insert

    job = insert(t.built.job, "readings", *(t.visit.take(x.place, f"r{k}") for k, (x, _) in enumerate(t.taken)))
    h = house(computed(job))
    if h is None:
        raise InputError("the house can't be looked back at")
    print("\n".join(_lines(review(t, h, [a for x in named for a in _answers(t, x)]))))


def _answers(t: Training, text_: str) -> list[Answer]:
    from murvan.field import parse_fault
    from murvan.field.training import Answer

    if text_ == "nothing":
        return [Answer("", "")]
    spot, _ = parse_fault(t.built, text_)
    return [Answer(*spot.key)]


def _lines(x: Review) -> list[str]:
    truth = "; ".join(s.title for s, _ in x.truth) or "Nothing was wrong"
    out = [
        f"{x.points} points: {'found' if x.solved else 'not found'}. {truth}",
        f"{x.minutes:.0f} min on site, $ {x.cost:,.0f}; {len(x.needless)} of {len(x.read)} readings needless",
    ]
    return out + [f"{r.share * 100:4.0f} %  after {r.place.name}" for r in x.read]
