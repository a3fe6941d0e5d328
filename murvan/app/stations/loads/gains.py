"""People and things that warm a room: its list on the Loads card, and the card of one appliance."""

from __future__ import annotations

from murvan.app.stations.base import Button, Buttons, Card, Field_, Fields, List_, ListRow, View
from murvan.app.stations.fields import of
from murvan.catalog import appliances
from murvan.model import Job, insert, remove
from murvan.model.edit import changed

NEW = ""


def listed(view: View, i: int) -> List_:
    """The things in a room, each a row to pick."""
    room = view.job.rooms[i]
    mine = [x for x in view.job.appliances if x.room == room.id]
    rows = tuple(
        ListRow(
            x.name if x.count == 1 else f"{x.count} × {x.name}",
            view.num("power", x.count * x.sensible_w),
            f"+ {view.num('power', x.count * x.latent_w)} lat" if x.latent_w else view.unit("power"),
            key=("appliance", x.id),
            second=hours(x.from_hour, x.to_hour),
        )
        for x in mine
    )
    return List_(
        "Things that warm it", f"{view.unit('power')}, besides the usual", rows or (ListRow("None listed", "–"),)
    )


def hours(start: int, end: int) -> str:
    """'17:00 to 19:00'."""
    return "all day" if end - start in (24, 0) else f"{start}:00 to {end}:00"


def adder(room: str) -> Field_:
    """A choice that puts a thing of the list into a room."""

    def take(job: Job, value: float | str) -> Job:
        return job if value == NEW else add(job, room, str(value))

    options = ((NEW, "Choose a thing"), *((name, name) for name in appliances()))
    return Field_(
        f"{room}.add_thing", "Add a thing that gives off heat", "text", NEW, take, "Add a thing", options, 2
    )


def add(job: Job, room: str, name: str) -> Job:
    """The job with one more thing of the shipped list in a room. Raises JobValueError."""
    taken = {x.id for x in job.appliances}
    item = next(f"thing{k}" for k in range(1, len(taken) + 2) if f"thing{k}" not in taken)
    return insert(job, "appliances", changed(appliances()[name], name, id=item, room=room))


def room_of(job: Job, item: str) -> str | None:
    return next((x.room for x in job.appliances if x.id == item), None)


def card(view: View, item: str) -> Card:
    """One appliance."""
    x = next(a for a in view.job.appliances if a.id == item)
    room = next(r for r in view.job.rooms if r.id == x.room)

    def drop() -> None:
        if view.act.edit(f"Remove {x.name}"[:80], lambda job: remove(job, "appliances", x.id)):
            view.act.select("room", room.id)

    names = ("name", "count", "radiant", "sensible_w", "latent_w", "from_hour", "to_hour")
    fields = tuple(of("appliances", x, name) for name in names)
    return Card(
        f"Thing in {room.name}",
        x.name,
        None,
        "",
        ((view.num("power", x.count * x.sensible_w), view.unit("power"), "ink"),),
        hours(x.from_hour, x.to_hour),
        ((view.num("power", x.count * x.latent_w), "latent", "cooling"),),
        (
            Fields("What it gives off", fields),
            Buttons(
                (
                    Button("room", f"Back to {room.name}", "", lambda: view.act.select("room", room.id), True),
                    Button("drop", "Remove", "", drop),
                )
            ),
        ),
    )
