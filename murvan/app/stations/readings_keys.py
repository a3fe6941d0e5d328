"""What is selected to type a reading somewhere."""

from __future__ import annotations

from murvan.field.places import Place


def place_key(place: Place) -> tuple[str, str]:
    """Kind and id of the thing: a register, a run that is traversed, else the word of the hole."""
    if place.at.kind == "run":
        return ("run", place.at.id)
    flow = place.quantity == "flow" and place.hole is None
    return ("register", place.at.id) if flow and place.at.kind == "register" else ("hole", place.word)
