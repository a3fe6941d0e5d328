"""Equipment: what each unit gives at its air and weather, what it costs in a year, where heads and outdoor units go."""

import lazy_loader

__getattr__, __dir__, __all__ = lazy_loader.attach_stub(__name__, __file__)
