"""What would you put in? Complete designs for a house, from which one is taken up."""

import lazy_loader

__getattr__, __dir__, __all__ = lazy_loader.attach_stub(__name__, __file__)
