"""Commands of the catalogue: what equipment Murvan knows."""

from __future__ import annotations

import argparse
from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING, cast

from murvan.cli.common import InputError, add_units, put
from murvan.model.equipment import KIND_WORDS, STAGE_WORDS, MultiUnit
from murvan.units import Units, text

if TYPE_CHECKING:
    from murvan.model.equipment import Unit

OUTDOOR = "outdoor"
"""Of `--kind`: outdoor units with several ports."""


def add_equipment(command: Callable[..., argparse.ArgumentParser]) -> None:
    """`units`."""
    sub = command(
        "units", list_units, "list the equipment Murvan knows, or check units and add them to your own", job=False
    )
    sub.add_argument(
        "--kind",
        choices=(*KIND_WORDS, OUTDOOR),
        help="those of one kind alone; outdoor: those that several units hang on",
    )
    sub.add_argument("--csv", metavar="FILE", help="write them with all their tables; - is standard output")
    sub.add_argument("--json", metavar="FILE", help="the same as JSON; - is standard output")
    sub.add_argument("--add", metavar="FILE", help="check the units of a CSV or JSON file and add them to your own")
    add_units(sub)


def list_units(args: argparse.Namespace) -> int:
    """`murvan units`."""
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
        put(args.csv, units_csv((*listed, *multis), units))
    if args.json is not None:
        put(args.json, units_json(listed, multis))
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
