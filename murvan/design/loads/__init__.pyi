from .components import COLUMN as COLUMN
from .components import COMPONENT_WORDS as COMPONENT_WORDS
from .components import COMPONENTS as COMPONENTS
from .factors import sun_on_openings as sun_on_openings
from .gains import people_said as people_said
from .peaks import Peak as Peak
from .sun_patches import FloorSun as FloorSun
from .sun_patches import Patch as Patch
