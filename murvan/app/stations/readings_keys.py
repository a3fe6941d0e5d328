"""What is selected to type a reading somewhere."""

from __future__ import annotations

from murvan.field.places import Place


def place_key(place: Place) -> tuple[str, str]:
    """Kind and id of the thing: a register, else the word of the hole."""
    flow = place.quantity == "flow" and place.hole is None
    return ("register", place.at.id) if flow and place.at.kind == "register" else ("hole", place.word)
