"""Large plain houses to time."""

from __future__ import annotations


def many_rooms(across: int, down: int) -> object:
    """A storey of boxes with windows along two sides."""
    from murvan.app.stations.start import draft_job
    from murvan.design.drawing.openings import place_opening, spot_at
    from murvan.design.drawing.rooms import draw_room

    job = draft_job()
    storey = job.storeys[0].id
    for r in range(down):
        for c in range(across):
            x, y = c * 3.5, r * 4.0
            job = draw_room(job, storey, ((x, y), (x + 3.5, y), (x + 3.5, y + 4), (x, y + 4))).job
    for c in range(across):
        for y in (0.0, down * 4.0):
            spot = spot_at(job, storey, (c * 3.5 + 1.7, y))
            assert spot is not None
            job = place_opening(job, spot, "window").job
    return job
