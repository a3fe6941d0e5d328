"""Where ducts, plenums and units lie: what a run lies in and crosses, plenums as boxes, how a unit stands."""

import lazy_loader

__getattr__, __dir__, __all__ = lazy_loader.attach_stub(__name__, __file__)
