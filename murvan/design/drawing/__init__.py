"""Edits of the plan: rooms, walls, openings, things, storeys; each a function from job to job."""

import lazy_loader

__getattr__, __dir__, __all__ = lazy_loader.attach_stub(__name__, __file__)
