"""Every command: its name, its keys, when it can run. Menus, shortcuts and the key sheet read this one table."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class Command:
    """`when`: 'always', 'job', or the number of a station as text. Letters are off inside fields."""

    id: str
    name: str
    keys: tuple[str, ...]
    group: str
    when: str = "job"


COMMANDS: tuple[Command, ...] = (
    *(
        Command(f"go.{k}", f"Go to {name}", (str(k),), "Stations")
        for k, name in enumerate(("House", "Loads", "Equipment", "Air", "Ducts", "Build", "Readings", "Handover"), 1)
    ),
    Command("file.new", "New job", ("Ctrl+N",), "Job", "always"),
    Command("file.open", "Open a job", ("Ctrl+O",), "Job", "always"),
    Command("file.demo", "Open the sample house", ("Ctrl+E",), "Job", "always"),
    Command("file.bungalow", "Open the sample bungalow", ("Ctrl+Alt+B",), "Job", "always"),
    Command("file.narrow", "Open the sample narrow house", ("Ctrl+Alt+N",), "Job", "always"),
    Command("file.recover", "Bring back unsaved work", ("Ctrl+R",), "Job", "always"),
    Command("file.save", "Save", ("Ctrl+S",), "Job"),
    Command("file.save_as", "Save as", ("Ctrl+Shift+S",), "Job"),
    Command("file.close", "Close the job", ("Ctrl+W",), "Job"),
    Command("file.pdf", "Write the PDF set", ("Ctrl+P",), "Job"),
    Command("file.xlsx", "Write the schedules (XLSX)", ("Ctrl+Shift+X",), "Job"),
    Command("file.csv", "Write the schedules (CSV)", ("Ctrl+Shift+C",), "Job"),
    Command("file.quit", "Quit", ("Ctrl+Q",), "Job", "always"),
    Command("edit.undo", "Undo", ("Ctrl+Z",), "Edit"),
    Command("edit.redo", "Redo", ("Ctrl+Y", "Ctrl+Shift+Z"), "Edit"),
    Command("edit.card", "Edit the card", ("Return", "Enter"), "Edit"),
    Command("view.up", "Storey up", ("PgUp",), "View"),
    Command("view.down", "Storey down", ("PgDown",), "View"),
    Command("view.lens", "Next lens", (".",), "View"),
    Command("view.next", "Next thing", ("Down", "Tab"), "View"),
    Command("view.previous", "Previous thing", ("Up", "Shift+Tab"), "View"),
    Command("view.fit", "Fit the plan", ("Ctrl+0",), "View"),
    Command("view.zoom_in", "Zoom in", ("Ctrl++", "Ctrl+="), "View"),
    Command("view.zoom_out", "Zoom out", ("Ctrl+-",), "View"),
    Command("view.hour_back", "An hour earlier", ("[",), "View", "2"),
    Command("view.hour_on", "An hour later", ("]",), "View", "2"),
    Command("loads.report", "Write the load report, line by line (PDF)", ("Ctrl+L",), "Loads", "2"),
    Command("loads.weather", "Take a weather file (EPW, DDY, STAT)", ("Ctrl+I",), "Loads", "2"),
    Command("view.units", "IP or SI", ("Ctrl+U",), "View", "always"),
    Command("view.theme", "Light or dark", ("Ctrl+T",), "View", "always"),
    Command("view.glove", "Glove mode", ("Ctrl+G",), "View", "always"),
    Command("tool.select", "Select", ("V",), "Tools"),
    Command("tool.measure", "Measure", ("M",), "Tools"),
    Command("show.arithmetic", "Show the arithmetic", ("=",), "Show"),
    Command("show.punch", "Punch list", ("!",), "Show"),
    Command("show.find", "Find a thing", ("/",), "Show"),
    Command("show.keys", "This key sheet", ("?", "F1"), "Show", "always"),
    Command("tool.room", "Draw a room", ("R",), "House", "1"),
    Command("tool.polygon", "Draw a room corner by corner", ("P",), "House", "1"),
    Command("tool.split", "Split a room with a new wall", ("S",), "House", "1"),
    Command("tool.join", "Join the room to another", ("J",), "House", "1"),
    Command("tool.bump", "Bump a wall out", ("B",), "House", "1"),
    Command("tool.window", "Put in a window", ("W",), "House", "1"),
    Command("tool.door", "Put in a door", ("D",), "House", "1"),
    Command("tool.archway", "Open a wall between rooms", ("A",), "House", "1"),
    Command("tool.garage", "Draw a garage or porch", ("G",), "House", "1"),
    Command("house.pace", "Room list: pace the house out", ("T",), "Survey, tracing", "1"),
    Command("house.pace_arrange", "Arrange the boxes of the room list", ("Ctrl+L",), "Survey, tracing", "1"),
    Command("house.pace_import", "Take a room list (CSV)", ("Ctrl+Shift+I",), "Survey, tracing", "1"),
    Command("house.pace_export", "Write the room list (CSV)", ("Ctrl+Shift+E",), "Survey, tracing", "1"),
    Command("house.trace", "Take a picture, PDF, DXF or room list", ("Ctrl+I",), "Survey, tracing", "1"),
    Command("tool.skylight", "Put in a skylight", ("K",), "House", "1"),
    Command("tool.furniture", "Place a bed or seat", ("F",), "Survey, tracing", "1"),
    Command("tool.place", "Draw a place for equipment", ("N",), "Survey, tracing", "1"),
    Command("tool.keep", "Draw floor to keep clear", ("C",), "Survey, tracing", "1"),
    Command("tool.existing", "Note what is there already", ("E",), "Survey, tracing", "1"),
    Command("tool.patch", "Draw a part with something else under or over it", ("O",), "Survey, tracing", "1"),
    Command("house.photo", "Add a photo of what is there", ("Ctrl+Shift+P",), "Survey, tracing", "1"),
    Command("house.whole", "The whole house: shell and make-ups", ("H",), "House", "1"),
    Command("tool.scale", "Put the picture to scale", ("L",), "Survey, tracing", "1"),
    Command("tool.underlay", "Move the picture under the plan", ("U",), "Survey, tracing", "1"),
    Command("house.remove", "Take away what is selected", ("Delete",), "House", "1"),
    Command("house.turn_room", "Turn the room", ("Shift+R",), "House", "1"),
    Command("house.mirror_room", "Mirror the room", ("Shift+M",), "House", "1"),
    Command("house.turn_house", "Turn the whole house", ("Ctrl+Shift+R",), "House", "1"),
    Command("house.mirror_house", "Mirror the whole house", ("Ctrl+Shift+M",), "House", "1"),
    Command("house.storey_up", "Copy the storey up", ("Ctrl+PgUp",), "House", "1"),
    Command("house.storey_add", "Add an empty storey above", ("Ctrl+Shift+PgUp",), "House", "1"),
    Command("house.storey_below", "Add a basement below", ("Ctrl+Shift+PgDown",), "House", "1"),
    Command("equipment.pick", "Pick the unit shown", ("K",), "Equipment", "3"),
    Command("ducts.size_all", "Size all runs", ("Z",), "Ducts", "5"),
    Command("ducts.balance", "Balance the dampers", ("D",), "Ducts", "5"),
    Command("build.hang", "Hang the piece, or take it down", ("H",), "Build", "6"),
    Command("build.next", "Next to hang", ("N",), "Build", "6"),
    Command("readings.next", "Simulate the next register", ("Space",), "Readings", "7"),
    Command("readings.simulate", "Simulate the selected register", ("S",), "Readings", "7"),
    Command("readings.forget", "Forget the last reading here", ("Delete",), "Readings", "7"),
    Command("readings.import", "Import readings (CSV)", ("Ctrl+I",), "Readings", "7"),
)
BY_ID = {c.id: c for c in COMMANDS}
TOOLS: dict[int, tuple[tuple[str, str], ...]] = {
    0: (),
    1: (
        ("tool.room", "room"),
        ("tool.polygon", "polygon"),
        ("tool.split", "wall"),
        ("tool.window", "window"),
        ("tool.door", "door"),
        ("tool.archway", "archway"),
        ("tool.skylight", "skylight"),
        ("tool.bump", "bump-out"),
        ("tool.join", "join"),
        ("tool.garage", "garage"),
        ("house.pace", "sheet"),
    ),
    2: (("loads.weather", "climate"), ("loads.report", "report")),
    3: (),
    4: (),
    5: (("ducts.size_all", "trunk"), ("ducts.balance", "damper")),
    6: (("build.hang", "hang"), ("build.next", "next")),
    7: (("readings.simulate", "flow-hood"), ("readings.import", "open-job")),
    8: (("file.pdf", "print"), ("file.xlsx", "sheet")),
}
"""Station to (command, icon) beside select and measure."""
LENS_TOOLS: dict[tuple[int, int], tuple[tuple[str, str], ...]] = {
    (1, 3): (
        ("tool.furniture", "bed"),
        ("tool.place", "indoor-unit"),
        ("tool.keep", "hold-point"),
        ("tool.existing", "tag"),
        ("tool.patch", "patch"),
        ("tool.scale", "plan-picture"),
        ("tool.underlay", "swap"),
    )
}
"""The same for a lens that has tools of its own."""
SURVEY_TOOLS = ("place", "keep", "existing", "patch", "furniture")
EVERYWHERE = (("show.punch", "punch-list"), ("view.fit", "zoom"))
