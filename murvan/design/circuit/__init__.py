"""The air circuit of the whole house with all its blowers, in every situation at once."""

import lazy_loader

__getattr__, __dir__, __all__ = lazy_loader.attach_stub(__name__, __file__)
