"""The house as it stands: what the plan encloses and what it is made of.

What the next stages call: `measuring.measure` makes the `geometry.Geometry`; `surfaces.assembly` a U-factor;
`levels` heights and slopes; `underfloor` what lies below; `duct_spaces` what ducts lie in; `assemblies` and `drawing`
edit the job.
"""

import lazy_loader

__getattr__, __dir__, __all__ = lazy_loader.attach_stub(__name__, __file__)
