"""How a shop joins sheet: what it adds at ends, seams and open edges, and which side it draws on. Kept on the machine."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from murvan.model.record import Record
from murvan.units import INCH


class Shop(Record):
    """Widths that are added to a flat pattern, m; common practice, editable."""

    joint: Literal["slip_drive", "flange"] = "slip_drive"
    """Of flat ducts: slips on the long sides and drives on the short ones, or a flange all round."""
    slip_m: float = Field(1.0 * INCH, ge=0, le=0.2)
    drive_m: float = Field(0.5 * INCH, ge=0, le=0.2)
    """Turned back on a short side, for the drive."""
    flange_m: float = Field(1.0 * INCH, ge=0, le=0.2)
    end_m: float = Field(1.0 * INCH, ge=0, le=0.2)
    """At a round end, to be crimped or beaded."""
    lock_pocket_m: float = Field(1.125 * INCH, ge=0, le=0.2)
    """Of a corner lock, the side with the pocket."""
    lock_flange_m: float = Field(0.25 * INCH, ge=0, le=0.2)
    """Of a corner lock, the side that goes into it."""
    hem_m: float = Field(0.5 * INCH, ge=0, le=0.2)
    """At an edge that stands alone, or is screwed: caps, collars."""
    lining_m: float = Field(1.0 * INCH, ge=0, le=0.1)
    """Of lined ducts, which are cut larger by it all round."""
    light_to_m: float = Field(14 * INCH, ge=0.05, le=4)
    """Largest side of ducts of 26 gauge; larger ones are 24. From memory, the local code goes before it."""
    painted: Literal["outside", "inside"] = "outside"
    """Which side is up on the drawing, where it is scribed and painted."""
