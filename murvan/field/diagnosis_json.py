"""A diagnosis as data for other programs."""

from __future__ import annotations

from typing import Any

from murvan.field.balance import Balance
from murvan.field.diagnosing import Diagnosis, House
from murvan.field.fit import Suspected
from murvan.field.next_reading import Next
from murvan.field.places import Place
from murvan.field.spots import Spot

DIGITS = 6


def diagnosis_data(h: House, d: Diagnosis) -> dict[str, Any]:
    """SI; shares 0..1."""
    f = d.fitted
    groups = [[_spot(s.spot), *map(_spot, s.group)] for s in f.suspects if s.group and s.share >= 0.01]
    return {
        "simulated": d.simulated,
        "suspects": [_suspect(s) for s in f.suspects],
        "pair": [_spot(x) for x in f.both] if f.both else None,
        "nothing": round(f.nothing, DIGITS),
        "nothing_wrong": f.nothing_wrong,
        "not_on_the_list": round(f.other, DIGITS),
        "misfit": round(f.misfit, DIGITS),
        "not_told_apart": groups,
        "best_next": _next(d.next),
        "splits_the_group": _next(d.splits),
        "residuals": [
            {
                "place": x.place.word,
                "quantity": x.place.quantity,
                "read": round(x.read, DIGITS),
                "explained": round(x.predicted, DIGITS),
                "off": round(x.off, 3),
            }
            for x in f.residuals
        ],
        "places": [_place(p) for p in h.tracks.places],
    }


def balance_data(b: Balance) -> dict[str, Any]:
    """SI; openings and shares 0..1."""
    return {
        "moves": [
            {
                "register": m.register,
                "run": m.run,
                "tag": m.tag,
                "way": "close" if m.closes else "open",
                "opening": round(m.opening, 3),
                "reads_m3_s": round(m.reads_m3_s, DIGITS),
                "now_m3_s": round(m.now_m3_s, DIGITS),
            }
            for m in b.moves
        ],
        "after_m3_s": {i: round(q, DIGITS) for i, q in b.after.items()},
        "wanted_m3_s": {i: round(q, DIGITS) for i, q in b.wanted.items()},
        "worst": round(b.worst, DIGITS),
        "share_of_design": round(b.share, DIGITS),
        "out": list(b.out),
    }


def _spot(s: Spot) -> dict[str, str]:
    return {"fault": s.kind.id, "where": s.name, "id": s.where}


def _suspect(s: Suspected) -> dict[str, Any]:
    return {
        **_spot(s.spot),
        "title": s.spot.title,
        "share": round(s.share, DIGITS),
        "share_of_group": round(s.share_of_group, DIGITS),
        "amount": round(s.amount, DIGITS),
        "amount_says": s.spot.kind.amount,
        "explains": round(s.explains, DIGITS),
        "group": [x.kind.id for x in s.group],
        "group_where": [x.name for x in s.group],
        "to_try": s.spot.kind.to_try,
    }


def _place(p: Place) -> dict[str, str]:
    return {"place": p.word, "quantity": p.quantity, "name": p.name}


def _next(n: Next | None) -> dict[str, Any] | None:
    if n is None:
        return None
    return {
        "do": n.words,
        "place": n.place.word if n.place else None,
        "quantity": n.place.quantity if n.place else None,
        "look_at": _spot(n.look.spot) if n.look else None,
        "enough": n.enough,
        "bits": round(n.bits, 4),
        "minutes": n.minutes,
    }
