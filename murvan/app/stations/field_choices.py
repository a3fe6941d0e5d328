"""What a field with fixed choices offers: each value with its words on the card."""

from __future__ import annotations

from murvan.design.space import PLACE_WORDS
from murvan.kinds.duct_materials import DUCT_MATERIALS
from murvan.kinds.obstacles import OBSTACLES
from murvan.kinds.registers import REGISTERS

Options = tuple[tuple[str, str], ...]


def words(names: tuple[str, ...]) -> Options:
    """Values whose words are their own names."""
    return tuple((x, x.replace("_", " ").capitalize()) for x in names)


USES = words(
    ("living", "dining", "kitchen", "bedroom", "bath", "powder", "hall", "landing", "study", "utility", "other")
)
OVER = (("auto", "By the plan"), ("attic", "Attic"), ("roof", "Roof itself"), ("heated", "Heated room"))
UNDER = (
    ("auto", "By the plan"),
    ("slab", "Slab"),
    ("crawl", "Crawl space"),
    ("basement", "Unheated basement"),
    ("outdoors", "Outdoors"),
    ("garage", "Garage"),
    ("heated", "Heated room"),
)
UNIT_WAYS = (("upflow", "up"), ("downflow", "down"), ("left", "lying, to the left"), ("right", "lying, to the right"))
FRONTS = (("0", "down the plan"), ("90", "left"), ("180", "up the plan"), ("270", "right"))
MATERIALS = tuple((m.id, m.name) for m in DUCT_MATERIALS.values())
RETURNS = (("central", "one central"), ("storey", "one a storey"), ("room", "one a closed room"))
HELD = (("yes", "held as typed"), ("no", "free to be sized"))
DUCT_SHAPES = words(("round", "rectangular", "oval"))
GROUNDS = (("slab", "Slab"), ("crawl", "Crawl space"), ("basement", "Basement"))
DUCT_PLACES = tuple(PLACE_WORDS.items())
REASONS = (
    ("panel", "Electrical panel"),
    ("filter", "Filter access"),
    ("hatch", "Hatch"),
    ("flue", "Flue"),
    ("stairs", "Stairs"),
    ("other", "Other"),
)
OBSTACLE_KINDS = tuple((k.id, k.name) for k in OBSTACLES.values())
FUELS = (
    ("", "none"),
    ("gas", "Gas"),
    ("oil", "Oil"),
    ("propane", "Propane"),
    ("electric", "Electric"),
    ("wood", "Wood"),
)
CONDITIONS = (("unknown", "not looked at"), ("good", "Good"), ("worn", "Worn"), ("broken", "Broken"))
SHELTERS = words(("exposed", "typical", "sheltered"))
ASSUMED = (("no", "assumed"), ("yes", "measured"))
CLOCKS = (("ahead", "An hour ahead"), ("same", "Stays as it is"))
WAYS_BACK = (("undercut", "Undercut"), ("grille", "Transfer grille"), ("jump", "Jump duct"))
REGISTER_KINDS = tuple((k.id, k.name) for k in REGISTERS.values())
BYPASSES: Options = (("barometric", "weighted blade"), ("modulating", "with a motor"))
SCHOOLS: Options = (("central", "central unit"), ("fan_coil", "slim unit"))
CANVAS: Options = (("yes", "canvas"), ("no", "screwed on"))
