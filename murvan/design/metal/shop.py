"""How a shop joins sheet: what it adds at ends, seams and open edges. Its own habits go before these."""

from __future__ import annotations

from pydantic import Field

from murvan.model.record import Record
from murvan.units import INCH


class Shop(Record):
    """Widths that are added to a flat pattern, m; common practice, editable."""

    end_m: float = Field(1.0 * INCH, ge=0, le=0.2)
    """At an end that joins the next piece, for slips and drives."""
    lock_pocket_m: float = Field(1.125 * INCH, ge=0, le=0.2)
    """Of a corner lock, the side with the pocket."""
    lock_flange_m: float = Field(0.25 * INCH, ge=0, le=0.2)
    """Of a corner lock, the side that goes into it."""
    hem_m: float = Field(0.5 * INCH, ge=0, le=0.2)
    """At an edge that stands alone, or is screwed: caps, collars."""
