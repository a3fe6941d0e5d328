"""Every command: its name, its keys, when it can run. Menus, shortcuts and the key sheet read this one table."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class Command:
    """`when`: 'always', 'job', or the key of the station that it is of. Letters are off inside fields."""

    id: str
    name: str
    keys: tuple[str, ...]
    group: str
    when: str = "job"

    @property
    def station(self) -> str:
        """The station it is of; '' for all."""
        return self.when if self.when not in ("always", "job") else ""


COMMANDS: tuple[Command, ...] = (
    *(
        Command(f"go.{k}", f"Go to {name}", (str(k), f"Alt+{k}"), "Stations")
        for k, name in enumerate(("House", "Loads", "Equipment", "Air", "Ducts", "Build", "Readings", "Handover"), 1)
    ),
    Command("file.new", "New job", ("Ctrl+N",), "Job", "always"),
    Command("file.open", "Open a job", ("Ctrl+O",), "Job", "always"),
    Command("file.demo", "Open the sample house", ("Ctrl+E",), "Job", "always"),
    Command("file.bungalow", "Open the sample bungalow", ("Ctrl+Alt+B",), "Job", "always"),
    Command("file.narrow", "Open the narrow sample", ("Ctrl+Alt+N",), "Job", "always"),
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
    Command("design.list", "Designs: set aside, take up", ("Ctrl+D",), "Edit"),
    Command("design.aside", "Set this design aside", ("Ctrl+Shift+D",), "Edit"),
    Command("view.up", "Storey up", ("PgUp",), "View"),
    Command("view.down", "Storey down", ("PgDown",), "View"),
    Command("view.lens", "Next lens", (".",), "View"),
    Command("view.unit", "Next unit", (",",), "View"),
    Command("view.next", "Next thing", ("Down", "Tab"), "View"),
    Command("view.previous", "Previous thing", ("Up", "Shift+Tab"), "View"),
    Command("view.fit", "Fit the plan", ("Ctrl+0",), "View"),
    Command("view.zoom_in", "Zoom in", ("Ctrl++", "Ctrl+="), "View"),
    Command("view.zoom_out", "Zoom out", ("Ctrl+-",), "View"),
    Command("view.hour_back", "An hour earlier", ("[",), "View", "loads"),
    Command("view.hour_on", "An hour later", ("]",), "View", "loads"),
    Command("loads.report", "Write the load report (PDF)", ("Ctrl+L",), "Loads", "loads"),
    Command("loads.weather", "Take a weather file", ("Ctrl+I",), "Loads", "loads"),
    Command("view.units", "IP or SI", ("Ctrl+U",), "View", "always"),
    Command("view.theme", "Light or dark", ("Ctrl+T",), "View", "always"),
    Command("view.glove", "Glove mode", ("Ctrl+G",), "View", "always"),
    Command("tool.select", "Select", ("V",), "Tools"),
    Command("tool.measure", "Measure", ("M",), "Tools"),
    Command("show.arithmetic", "Show the arithmetic", ("=",), "Show"),
    Command("show.punch", "Punch list", ("!",), "Show"),
    Command("show.find", "Find a thing", ("/",), "Show"),
    Command("show.keys", "This key sheet", ("?", "F1"), "Show", "always"),
    Command("tool.room", "Draw a room", ("R",), "House", "house"),
    Command("tool.polygon", "Draw a room corner by corner", ("P",), "House", "house"),
    Command("tool.split", "Split a room with a new wall", ("S",), "House", "house"),
    Command("tool.join", "Join the room to another", ("J",), "House", "house"),
    Command("tool.bump", "Bump a wall out", ("B",), "House", "house"),
    Command("tool.window", "Put in a window", ("W",), "House", "house"),
    Command("tool.door", "Put in a door", ("D",), "House", "house"),
    Command("tool.archway", "Open a wall between rooms", ("A",), "House", "house"),
    Command("tool.garage", "Draw a garage or porch", ("G",), "House", "house"),
    Command("house.pace", "Room list: pace the house out", ("T",), "Survey, tracing", "house"),
    Command("house.pace_arrange", "Arrange the boxes of the room list", ("Ctrl+L",), "Survey, tracing", "house"),
    Command("house.pace_import", "Take a room list (CSV)", ("Ctrl+Shift+I",), "Survey, tracing", "house"),
    Command("house.pace_export", "Write the room list (CSV)", ("Ctrl+Shift+E",), "Survey, tracing", "house"),
    Command("house.trace", "Take a picture, PDF or DXF", ("Ctrl+I",), "Survey, tracing", "house"),
    Command("tool.skylight", "Put in a skylight", ("K",), "House", "house"),
    Command("tool.furniture", "Place a bed or seat", ("F",), "Survey, tracing", "house"),
    Command("tool.place", "Draw a place for equipment", ("N",), "Survey, tracing", "house"),
    Command("tool.keep", "Draw floor to keep clear", ("C",), "Survey, tracing", "house"),
    Command("tool.existing", "Note what is there already", ("E",), "Survey, tracing", "house"),
    Command("tool.patch", "Draw a part with a floor of its own", ("O",), "Survey, tracing", "house"),
    Command("house.photo", "Add a photo of what is there", ("Ctrl+Shift+P",), "Survey, tracing", "house"),
    Command("house.whole", "The whole house: shell and assemblies", ("H",), "House", "house"),
    Command("tool.scale", "Put the picture to scale", ("L",), "Survey, tracing", "house"),
    Command("tool.underlay", "Move the picture under the plan", ("U",), "Survey, tracing", "house"),
    Command("house.remove", "Take away what is selected", ("Delete",), "House", "house"),
    Command("house.turn_room", "Turn the room", ("Shift+R",), "House", "house"),
    Command("house.mirror_room", "Mirror the room", ("Shift+M",), "House", "house"),
    Command("house.turn_house", "Turn the whole house", ("Ctrl+Shift+R",), "House", "house"),
    Command("house.mirror_house", "Mirror the whole house", ("Ctrl+Shift+M",), "House", "house"),
    Command("house.storey_up", "Copy the storey up", ("Ctrl+PgUp",), "House", "house"),
    Command("house.storey_add", "Add an empty storey", ("Ctrl+Shift+PgUp",), "House", "house"),
    Command("house.storey_below", "Add a basement below", ("Ctrl+Shift+PgDown",), "House", "house"),
    Command("equipment.pick", "Pick the unit shown", ("K",), "Equipment", "equipment"),
    Command("equipment.propose", "What would you put in?", ("P",), "Equipment", "equipment"),
    Command("tool.head", "Hang a head in a room", ("H",), "Equipment", "equipment"),
    Command("tool.serve", "Give rooms to the unit in hand", ("S",), "Equipment", "equipment"),
    Command("tool.outdoor", "Place the outdoor unit", ("O",), "Equipment", "equipment"),
    Command("equipment.limits", "Keep the size limits of this job", ("Ctrl+K",), "Equipment", "equipment"),
    Command("equipment.ducted", "Another ducted unit", ("D",), "Equipment", "equipment"),
    Command("equipment.serve", "Give the selected room to the next unit", ("Space",), "Equipment", "equipment"),
    Command("equipment.remove", "Take the unit away", ("Delete",), "Equipment", "equipment"),
    Command("equipment.own", "Your own unit: type or paste its tables", ("T",), "Equipment", "equipment"),
    Command("equipment.own_keep", "Keep your own unit", ("Ctrl+Return",), "Equipment", "equipment"),
    Command(
        "equipment.own_restart", "Start your own unit from the one shown", ("Ctrl+Shift+N",), "Equipment", "equipment"
    ),
    Command("equipment.own_forget", "Forget your own unit", ("Ctrl+Shift+Delete",), "Equipment", "equipment"),
    Command("equipment.own_import", "Take units (CSV, JSON)", ("Ctrl+I",), "Equipment", "equipment"),
    Command("equipment.own_export", "Write your own unit (CSV)", ("Ctrl+Shift+E",), "Equipment", "equipment"),
    Command("air.lay", "Lay the registers of every room", ("L",), "Air", "air"),
    Command("tool.register", "Place a register", ("R",), "Air", "air"),
    Command("tool.grille", "Place a return grille", ("G",), "Air", "air"),
    Command("air.copy", "Another register like this one", ("C",), "Air", "air"),
    Command("air.remove", "Take the register away", ("Delete",), "Air", "air"),
    Command("ducts.lay", "Lay the ducts: the best layout", ("L",), "Ducts", "ducts"),
    Command("ducts.lay_next", "Lay the ducts another way", ("Shift+L",), "Ducts", "ducts"),
    Command("tool.trunk", "Draw a trunk", ("T",), "Ducts", "ducts"),
    Command("tool.branch", "Draw a branch", ("B",), "Ducts", "ducts"),
    Command("tool.riser", "Draw a riser", ("R",), "Ducts", "ducts"),
    Command("tool.damper", "Balancing damper in or out", ("K",), "Ducts", "ducts"),
    Command("tool.zone_damper", "Zone damper in or out", ("N",), "Ducts", "ducts"),
    Command("tool.unit", "Place the unit", ("U",), "Ducts", "ducts"),
    Command("ducts.turn", "Turn the unit by a quarter", ("Shift+U",), "Ducts", "ducts"),
    Command("ducts.remove", "Take the run away", ("Delete",), "Ducts", "ducts"),
    Command("ducts.size_all", "Size all runs", ("Z",), "Ducts", "ducts"),
    Command("ducts.balance", "Balance the dampers", ("D",), "Ducts", "ducts"),
    Command("build.hang", "Hang the piece, or take it down", ("H",), "Build", "build"),
    Command("build.next", "Next to hang", ("N",), "Build", "build"),
    Command("readings.next", "Simulate the next register", ("Space",), "Readings", "readings"),
    Command("readings.simulate", "Simulate the selected register", ("S",), "Readings", "readings"),
    Command("readings.forget", "Forget the last reading here", ("Delete",), "Readings", "readings"),
    Command("readings.import", "Import readings (CSV)", ("Ctrl+I",), "Readings", "readings"),
)
BY_ID = {c.id: c for c in COMMANDS}
SURVEY_TOOLS = ("place", "keep", "existing", "patch", "furniture")
EVERYWHERE = (("show.punch", "punch-list"), ("view.fit", "zoom"))

HELP = {
    "tool.select": "Click a thing to see and change it; drag walls and registers. Arrow keys step through the table.",
    "tool.measure": "Click two points: the length stands beside the tape.",
    "tool.room": "Press and drag from corner to corner; type both lengths on the way, Tab between them. Alt draws freely.",
    "tool.polygon": "Click corner by corner; Enter or a click on the first one closes it. Lengths can be typed.",
    "tool.split": "Drag right across a room: the new wall cuts it in two.",
    "tool.join": "Click a room, then its neighbour: the wall between them goes.",
    "tool.bump": "Press on a wall and drag: a bay or closet grows out of it.",
    "tool.window": "Click an outside wall; slide it along afterwards. Width can be typed.",
    "tool.door": "Click a wall: between two rooms it is an inside door.",
    "tool.archway": "Click a wall between two rooms: air and light go through.",
    "tool.garage": "Drag the garage or porch beside the rooms; what it touches becomes a wall to it.",
    "tool.skylight": "Click in a room: it lies in its ceiling.",
    "tool.furniture": "Beds and seats: registers keep off them.",
    "tool.place": "Where equipment may stand, with the height there.",
    "tool.keep": "Floor before a panel, filter or hatch that must stay free.",
    "tool.existing": "What is there already: furnace, filter, thermostat.",
    "tool.patch": "A part of the floor or ceiling with something else under or over it.",
    "tool.scale": "Drag along a length you know on the picture and type it.",
    "tool.underlay": "Drag the picture under the plan.",
    "house.pace": "No drawing yet? Type rooms as paced; then arrange them. CSV goes in and out.",
    "loads.weather": "EPW, DDY or STAT file of the place.",
    "loads.report": "Every line of the loads as a PDF.",
    "equipment.propose": "Complete designs for this house, side by side; one is taken up in a step.",
    "tool.head": "Press in a room: it hangs at the nearest wall and serves the room and what is open to it.",
    "tool.serve": "Press or drag over rooms: they go to the unit in hand. A room can also be dragged to a unit.",
    "air.lay": "Registers by each room's air, before the glass, off beds; a return grille a storey.",
    "tool.register": "Press in a room: kind and size follow; drag it with V.",
    "tool.grille": "Press in a hall or room: not in a bath or kitchen.",
    "tool.outdoor": "Press where the outdoor unit stands; its lines follow.",
    "equipment.own": "Type a unit, or paste its maker's tables from a spreadsheet.",
    "ducts.lay": "From the unit to every register and grille: drawn, sized, balanced and proved.",
    "tool.trunk": "From a plenum or run, corner by corner; type lengths, Tab for its width. Drag it with V.",
    "tool.branch": "From a run to a register, or from the register to a run: the take-off is made.",
    "tool.riser": "Press on a duct: up to the next storey, with Alt down.",
    "tool.damper": "Press on a run: a damper goes in or comes out.",
    "tool.unit": "Press where it stands; plenums and ducts come along. Shift+U turns it.",
    "ducts.size_all": "Sizes every run at its friction rate and sets the dampers.",
    "ducts.balance": "Sets every damper so that the paths take the same pressure.",
    "show.punch": "What is to settle, with limits and remedies.",
    "view.fit": "Brings the whole plan into view; the wheel zooms.",
}
"""A line of help for each tool, shown with its name."""
