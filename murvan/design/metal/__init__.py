"""Sheet metal: solids, their flat patterns, and how they lie on stock sheets."""

import lazy_loader

__getattr__, __dir__, __all__ = lazy_loader.attach_stub(__name__, __file__)
